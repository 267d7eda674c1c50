"""Formulas to begin from: forms that many fields use, with what their parameters mean."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class ReadyForm:
    """A formula that is offered.

    Attributes
    ----------
    label : str
    formula : str
    known : str
        What is known of its parameters.
    means : mapping of str to str
        What each parameter is, in words.
    """

    label: str
    formula: str
    known: str
    means: Mapping[str, str]


FORMS = (
    # A rectangular hyperbola through the origin.
    ReadyForm(
        "saturating",
        "top * x / (half + x)",
        "half > 0",
        {"top": "Ceiling", "half": "Half of the ceiling is reached at"},
    ),
    ReadyForm(
        "decay to a level",
        "level + height * exp(-rate * x)",
        "rate > 0",
        {"level": "Level it comes to", "height": "Height above it at 0", "rate": "Rate of decay"},
    ),
    ReadyForm(
        "growth to a ceiling",
        "top * (1 - exp(-rate * (x - start)))",
        "rate > 0",
        {"top": "Ceiling", "rate": "Rate of growth", "start": "It starts at"},
    ),
    ReadyForm(
        "peak",
        "base + height * exp(-((x - centre) / width)^2 / 2)",
        "width > 0",
        {
            "base": "Level beside the peak",
            "height": "Height of the peak",
            "centre": "The peak stands at",
            "width": "Width (standard deviation)",
        },
    ),
    # Gompertz 1825.
    ReadyForm(
        "asymmetric S-curve",
        "top * exp(-exp(-rate * (x - turn)))",
        "rate > 0",
        {"top": "Ceiling", "rate": "Rate of growth", "turn": "It grows fastest at"},
    ),
    ReadyForm(
        "dose and effect",
        "bottom + (top - bottom) / (1 + (x / half)^slope)",
        "half > 0, slope > 0",
        {
            "bottom": "Level at high doses",
            "top": "Level without a dose",
            "half": "Half of the effect is reached at",
            "slope": "Steepness on the log scale",
        },
    ),
)

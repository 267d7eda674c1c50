"""What a quantile line says: how many rows lie below it, and how far it moves with each step of x."""

from __future__ import annotations

from yarrowdew.core.equation import decimals_for
from yarrowdew.figures.sentences.base import ToSay, of_across, spoken_level, step_of
from yarrowdew.figures.words import GAP, in_sentence, number, with_unit


def sentence(say: ToSay) -> str:
    """Say what share of the rows lies below the line, and its slope where it has one."""
    share = f"{100 * say.settings.quantile:.3g}{GAP}%"
    below = f"{share} of the rows lie below the line."
    slope = say.coefficients.get("b")
    if slope is None:
        return below
    step, step_text = step_of(say.x, say.x_span)
    low, high = (slope.value if end is None else end for end in (slope.low, slope.high))
    decimals = decimals_for((high - low) * step / 2)
    moved = with_unit(number(slope.value * step, decimals), say.y.unit)
    said = f"{below} {step_text}{of_across(say.x)} moves it by {moved} of {in_sentence(say.y)}"
    if slope.low is None or slope.high is None:
        return f"{said}."
    return (
        f"{said} ({spoken_level(say.level)} interval {number(low * step, decimals)} to "
        f"{number(high * step, decimals)})."
    )

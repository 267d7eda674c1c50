"""What an S-curve says: between which levels y runs, and where it is halfway."""

from __future__ import annotations

from yarrowdew.core.equation import decimals_for
from yarrowdew.figures.text.sentences.base import ToSay, spoken_level
from yarrowdew.figures.text.words import ends, in_sentence, number, with_unit
from yarrowdew.tables.table import Kind


def sentence(say: ToSay) -> str:
    """Say the ends of the curve and where it is halfway, and R²."""
    return f"{_passing(say)}{say.share}"


def _passing(say: ToSay) -> str:
    x, y = say.x, say.y
    middle, lower, upper = (say.coefficients[k] for k in ("middle", "lower", "upper"))
    decimals = decimals_for((upper.value - lower.value) / 200)
    said = (
        f"{y.label} runs from {number(lower.value, decimals)} to "
        f"{with_unit(number(upper.value, decimals), y.unit)}."
    )
    if x.kind is Kind.DATE or middle.low is None or middle.high is None:
        return said
    decimals = decimals_for((middle.high - middle.low) / 2)
    return (
        f"{said} It is halfway at {in_sentence(x)} = "
        f"{with_unit(number(middle.value, decimals), x.unit)} ({spoken_level(say.level)} interval "
        f"{ends(middle.low, middle.high, decimals)})."
    )

"""What a quantile line says: how many rows lie below it, and how far it moves with each step of
x.
"""

from __future__ import annotations

from yarrowdew.figures.text.sentences.base import (
    ToSay,
    change_text,
    is_clear,
    no_clear_trend,
    per_step,
)
from yarrowdew.figures.text.words import GAP, count_of, in_sentence


def sentence(say: ToSay) -> str:
    """Say the slope of the line where it has one, and how many rows lie below it."""
    share = f"{100 * say.settings.quantile:.3g}{GAP}%"
    below = ""
    if say.below is not None and say.n is not None:
        under, on = say.below
        are = "is" if under == 1 else "are"
        lies = f", {on:,} on it" if on else ""
        below = f" {under:,} of {count_of(say.n, 'row')} {are} below the line{lies}."
    slope = say.coefficients.get("b")
    if slope is None:
        return f"The {share} quantile of {in_sentence(say.y)} along {in_sentence(say.x)}.{below}"
    step, per = per_step(say.x, say.x_span)
    change = change_text(slope, step, say.y.unit, say.level)
    said = f"{per}, the {share} quantile of {in_sentence(say.y)} is {change}."
    if slope.low is not None and not is_clear(slope, say):
        said = no_clear_trend(said)
    return f"{said}{below}"

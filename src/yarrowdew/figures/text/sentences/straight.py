"""What a line says, however it was fitted: by how much y differs for each step of x."""

from __future__ import annotations

from yarrowdew.figures.text.sentences.base import (
    ToSay,
    change_text,
    is_clear,
    no_clear_trend,
    nothing_to_say,
    per_step,
    tested,
)
from yarrowdew.figures.text.words import in_sentence


def sentence(say: ToSay) -> str:
    """Say what the slope means, and R²."""
    slope = say.coefficients["b"]
    of_mean = say.family.r_squared_about != "nothing"
    if of_mean and say.r_squared is None and slope.low is not None:
        return nothing_to_say(say.y)
    if slope.low == 0 == slope.high and say.p_value is not None and say.p_value < 1 - say.level:
        return (
            f"{say.y.label} goes with {in_sentence(say.x)} {tested('Kendall’s test', say.p_value)}, "
            f"but so many pairs of rows have the same {in_sentence(say.y)} that the median slope is 0."
        )
    step, per = per_step(say.x, say.x_span)
    change = change_text(slope, step, say.y.unit, say.level, on_average=True)
    said = f"{per}, {in_sentence(say.y)} is {change}."
    if slope.low is None or is_clear(slope, say):
        return f"{said}{say.share}"
    return no_clear_trend(said)

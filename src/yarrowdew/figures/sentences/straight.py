"""What a line says, however it was fitted: by how much y changes with each step of x."""

from __future__ import annotations

from yarrowdew.core.equation import decimals_for
from yarrowdew.figures.sentences.base import (
    ToSay,
    nothing_to_say,
    of_across,
    spoken_level,
    step_of,
)
from yarrowdew.figures.words import in_sentence, number, with_unit


def sentence(say: ToSay) -> str:
    """Say what the slope means, and what x accounts for."""
    x, y, slope = say.x, say.y, say.coefficients["b"]
    step, step_text = step_of(x, say.x_span)
    change = slope.value * step
    up = in_sentence(y)
    of = of_across(x)
    if slope.low is None or slope.high is None:
        return f"{step_text}{of} goes with {with_unit(number(change, 2), y.unit)} {up}."
    low, high = sorted((slope.low * step, slope.high * step))
    decimals = decimals_for((high - low) / 2)
    if say.r_squared is None:
        return nothing_to_say(y)
    spoken = spoken_level(say.level)
    if low <= 0 <= high and high > low:
        return (
            f"No clear trend: for {step_text[0].lower()}{step_text[1:]}{of}, {up} changes by "
            f"{with_unit(number(change, decimals), y.unit)}, and the {spoken} interval runs from "
            f"{number(low, decimals)} to {number(high, decimals)}."
        )
    way = "more" if change > 0 else "less"
    if change < 0:
        low, high = -high, -low
    return (
        f"{step_text}{of} goes with {with_unit(number(abs(change), decimals), y.unit)} "
        f"{way} {up} ({spoken} interval {number(low, decimals)} to {number(high, decimals)})."
        + (f" {say.share}" if say.r_squared >= 0 else "")
    )

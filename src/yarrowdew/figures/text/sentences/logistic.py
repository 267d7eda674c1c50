"""What a logistic regression says: by how much the odds differ with each step of x."""

from __future__ import annotations

import math

from yarrowdew.core.equation import decimals_for
from yarrowdew.figures.text.sentences.base import (
    ToSay,
    no_clear_trend,
    per_step,
    spoken_level,
    tested,
)
from yarrowdew.figures.text.words import ends, in_sentence, number

_LARGEST = 1e6


def sentence(say: ToSay) -> str:
    """Say the ratio of odds for a step of x, and whether the likelihood-ratio test is clear."""
    step, per = per_step(say.x, say.x_span)
    b = say.coefficients["b"]
    value = _ratio(b.value * step)
    low, high = (_ratio(None if end is None else end * step) for end in (b.low, b.high))
    y = in_sentence(say.y)
    if value is None or low is None or high is None:
        way = "rise" if b.value > 0 else "fall"
        said = f"The odds of {y} {way} with {in_sentence(say.x)}, too steeply to be put in numbers."
    else:
        decimals = decimals_for((high - low) / 2) if high > low else 2
        said = (
            f"{per}, the odds of {y} are {number(value, decimals)} times as high "
            f"({spoken_level(say.level)} interval {ends(low, high, decimals)})."
        )
    if say.p_value is not None and say.p_value >= 1 - say.level:
        return f"{no_clear_trend(said).removesuffix('.')} {tested('likelihood-ratio test', say.p_value)}."
    return said


def _ratio(log_odds: float | None) -> float | None:
    """Bring a difference of log odds back; None beyond what anybody would read."""
    if log_odds is None or log_odds > math.log(_LARGEST):
        return None
    return math.exp(log_odds)

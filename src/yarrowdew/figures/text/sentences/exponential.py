"""What an exponential curve says: the share by which y grows with each step of x."""

from __future__ import annotations

import math

from yarrowdew.figures.text.sentences.base import (
    ToSay,
    is_clear,
    no_clear_trend,
    per_step,
    share_text,
)
from yarrowdew.figures.text.words import in_sentence


def sentence(say: ToSay) -> str:
    """Say the share of change with each step, and R²."""
    step, per = per_step(say.x, say.x_span)
    b = say.coefficients["b"]
    shares = {
        end: None if value is None else grown(value * step)
        for end, value in (("value", b.value), ("low", b.low), ("high", b.high))
    }
    said = f"{per}, {in_sentence(say.y)} is {share_text(b, shares, say.level)}."
    return f"{said}{say.share}" if b.low is None or is_clear(b, say) else no_clear_trend(said)


def grown(rate: float) -> float:
    """The share that is added at a rate; infinite beyond what numbers reach."""
    return math.expm1(rate) if rate < 700 else math.inf

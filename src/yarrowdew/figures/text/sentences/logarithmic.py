"""What a logarithmic curve says: by how much y differs with each doubling of x."""

from __future__ import annotations

import math

from yarrowdew.figures.text.sentences.base import ToSay, change_text, is_clear, no_clear_trend
from yarrowdew.figures.text.words import in_sentence


def sentence(say: ToSay) -> str:
    """Say by how much y differs with each doubling of x, and R²."""
    b = say.coefficients["b"]
    change = change_text(b, math.log(2), say.y.unit, say.level, on_average=True)
    said = f"Each time {in_sentence(say.x)} doubles, {in_sentence(say.y)} is {change}."
    return f"{said}{say.share}" if b.low is None or is_clear(b, say) else no_clear_trend(said)

"""What a power law says: the share by which y grows with a tenth more of x."""

from __future__ import annotations

import math

from yarrowdew.figures.text.sentences.base import ToSay, is_clear, no_clear_trend, share_text
from yarrowdew.figures.text.sentences.exponential import grown
from yarrowdew.figures.text.words import GAP, in_sentence

_TENTH_MORE = math.log(1.1)


def sentence(say: ToSay) -> str:
    """Say the share of change with a tenth more of x, and R²."""
    b = say.coefficients["b"]
    shares = {
        end: None if value is None else grown(value * _TENTH_MORE)
        for end, value in (("value", b.value), ("low", b.low), ("high", b.high))
    }
    said = (
        f"Per 10{GAP}% more {in_sentence(say.x)}, {in_sentence(say.y)} is "
        f"{share_text(b, shares, say.level)}."
    )
    return f"{said}{say.share}" if b.low is None or is_clear(b, say) else no_clear_trend(said)

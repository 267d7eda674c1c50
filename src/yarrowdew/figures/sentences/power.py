"""What a power law says: the share by which y changes with a tenth more of x."""

from __future__ import annotations

from yarrowdew.figures.sentences.base import ToSay, change_text
from yarrowdew.figures.words import GAP, in_sentence


def sentence(say: ToSay) -> str:
    """Say the share of change with a tenth more of x, and what x accounts for."""
    change = change_text(say.coefficients["b"], say.level, lambda b: 1.1**b - 1)
    said = f"10{GAP}% more {in_sentence(say.x)} changes {in_sentence(say.y)} by {change}."
    return f"{said} {say.share}"

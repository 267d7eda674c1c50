"""What an exponential curve says: the share by which y changes with each step of x."""

from __future__ import annotations

import math

from yarrowdew.figures.sentences.base import ToSay, change_text, of_across, step_of
from yarrowdew.figures.words import in_sentence


def sentence(say: ToSay) -> str:
    """Say the share of change with each step, and what x accounts for."""
    step, step_text = step_of(say.x, say.x_span)
    change = change_text(say.coefficients["b"], say.level, lambda b: math.expm1(b * step))
    said = f"{step_text}{of_across(say.x)} changes {in_sentence(say.y)} by {change}."
    return f"{said} {say.share}"

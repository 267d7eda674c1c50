"""What every other form says: R², and whether the curve is more than chance."""

from __future__ import annotations

from yarrowdew.figures.text.sentences.base import ToSay, r_squared_text, tested
from yarrowdew.figures.text.words import TELLING, in_sentence, number


def sentence(say: ToSay) -> str:
    """Say how well the curve describes the rows."""
    if say.p_value is not None and say.p_value >= TELLING:
        return f"No clear trend along this curve {tested('F test', say.p_value)}."
    name = f"a smooth curve in {in_sentence(say.x)}" if say.family.is_smooth else "this curve"
    if say.family.is_smooth and say.parameters is not None:
        name += f" equivalent to {number(say.parameters, 1)} coefficients"
    share = say.share
    if not share:
        return f"{say.y.label} is described by {name}."
    return f"R² = {r_squared_text(say.r_squared or 0.0)} along {name}."

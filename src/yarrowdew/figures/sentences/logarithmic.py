"""What a logarithmic curve says: by how much y changes with each doubling of x."""

from __future__ import annotations

import math

from yarrowdew.core.equation import decimals_for
from yarrowdew.figures.sentences.base import ToSay, spoken_level
from yarrowdew.figures.words import in_sentence, number, with_unit


def sentence(say: ToSay) -> str:
    """Say by how much y changes with each doubling of x, and what x accounts for."""
    b, x, y = say.coefficients["b"], say.x, say.y
    low, high = (b.value if v is None else v for v in (b.low, b.high))
    step = math.log(2)
    decimals = decimals_for((high - low) * step / 2)
    return (
        f"Each doubling of {in_sentence(x)} goes with "
        f"{with_unit(number(b.value * step, decimals), y.unit)} of {in_sentence(y)} "
        f"({spoken_level(say.level)} interval {number(low * step, decimals)} to "
        f"{number(high * step, decimals)}). {say.share}"
    )

"""Functions of one number that a curve may be made of: their values, and how they change."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from yarrowdew.core.expressions import building as b
from yarrowdew.core.expressions.tree import Node


@dataclass(frozen=True, slots=True)
class Elementary:
    """A function of one number.

    Attributes
    ----------
    value : callable
        Over an array, element by element.
    slope : callable
        From what it is taken of to its derivative there.
    """

    value: Callable[[Any], Any]
    slope: Callable[[Node], Node]


ELEMENTARY: dict[str, Elementary] = {
    "ln": Elementary(np.log, lambda u: b.over(b.ONE, u)),
    "log10": Elementary(np.log10, lambda u: b.over(b.constant(1 / np.log(10)), u)),
    "exp": Elementary(np.exp, lambda u: b.call("exp", u)),
    "sqrt": Elementary(np.sqrt, lambda u: b.over(b.constant(0.5), b.call("sqrt", u))),
    "abs": Elementary(np.abs, lambda u: b.over(u, b.call("abs", u))),
    "sin": Elementary(np.sin, lambda u: b.call("cos", u)),
    "cos": Elementary(np.cos, lambda u: b.minus(b.ZERO, b.call("sin", u))),
    "tan": Elementary(np.tan, lambda u: b.over(b.ONE, b.raised(b.call("cos", u), b.TWO))),
    "atan": Elementary(np.arctan, lambda u: b.over(b.ONE, b.plus(b.ONE, b.raised(u, b.TWO)))),
    "tanh": Elementary(np.tanh, lambda u: b.minus(b.ONE, b.raised(b.call("tanh", u), b.TWO))),
}
"""By name; derived variables know them too."""

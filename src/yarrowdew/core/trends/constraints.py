"""What is known of parameters before they are fitted: values that are given, and ends."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass, field

from yarrowdew.core.errors import FitError

_NUMBER = r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?"
_PIECE = re.compile(
    rf"(?:(?P<low>{_NUMBER})\s*(?P<first><=?|>=?)\s*)?(?P<name>[^\W\d]\w*)\s*"
    rf"(?:(?P<second><=?|>=?|=)\s*(?P<high>{_NUMBER}))?"
)
EXAMPLE = "Write such as: b > 0, 0 < half < 40, c = 5."


@dataclass(slots=True)
class Known:
    """Parameters that are given, and between which ends others lie."""

    given: dict[str, float] = field(default_factory=dict)
    low: dict[str, float] = field(default_factory=dict)
    high: dict[str, float] = field(default_factory=dict)

    def ends(self, name: str) -> tuple[float, float]:
        """Between what a parameter lies."""
        return self.low.get(name, -math.inf), self.high.get(name, math.inf)


def known_of(text: str, parameters: Sequence[str]) -> Known:
    """Understand what is known of parameters.

    Parameters
    ----------
    text : str
        Such as ``b > 0, 0 < half < 40, c = 5``; empty where nothing is known.
    parameters : sequence of str
        Of which it may speak.

    Raises
    ------
    FitError
        If it cannot be understood, speaks of another name, or leaves nothing between two ends.
    """
    found = Known()
    for piece in filter(None, (part.strip() for part in re.split(r"[,;]|\band\b", text))):
        read = _PIECE.fullmatch(piece)
        if read is None or (read["first"] is None and read["second"] is None):
            raise FitError(f"“{piece}” is not a bound or fixed value of a parameter.", EXAMPLE)
        name = read["name"]
        if name not in parameters:
            raise FitError(
                f"“{piece}” names '{name}', which is no parameter of the formula.",
                f"Its parameters: {', '.join(parameters) or 'none'}.",
            )
        if read["second"] == "=":
            if read["first"] is not None:
                raise FitError(f"“{piece}” gives a value and an end.", EXAMPLE)
            found.given[name] = float(read["high"])
            continue
        if read["first"] is not None:
            _bound(found, name, float(read["low"]), is_low=read["first"].startswith("<"))
        if read["second"] is not None:
            _bound(found, name, float(read["high"]), is_low=read["second"].startswith(">"))
    for name in parameters:
        low, high = found.ends(name)
        if not low < high:
            raise FitError(
                f"Nothing lies between the ends of '{name}' ({low:g} and {high:g}).", EXAMPLE
            )
    return found


def _bound(found: Known, name: str, value: float, *, is_low: bool) -> None:
    if is_low:
        found.low[name] = max(value, found.low.get(name, -math.inf))
    else:
        found.high[name] = min(value, found.high.get(name, math.inf))

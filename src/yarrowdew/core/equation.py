"""A trend's equation in print, with enough digits to land on the line that was drawn."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from yarrowdew.core.arithmetic import between
from yarrowdew.core.sample import Array

Style = Literal["typographic", "plain"]

MOST_DIGITS = 17
MOST_DECIMALS = 17
TOLERANCE = 0.001
_POINTS = 257


@dataclass(frozen=True, slots=True)
class Slot:
    """A place in an equation's pattern where a coefficient stands.

    Attributes
    ----------
    index : int
        Which coefficient.
    joined : bool
        Whether it follows another term, so that its sign stands as + or − between the two.
    raised : bool
        Whether it stands raised, where a power of ten could not be raised once more.
    exact : bool
        Whether it is an origin of x, which is named in full and never rounded.
    """

    index: int
    joined: bool = False
    raised: bool = False
    exact: bool = False


@dataclass(frozen=True, slots=True)
class EquationForm:
    """The right-hand side of a trend's equation.

    Attributes
    ----------
    values : tuple of float
        Coefficients at full precision.
    evaluate : callable
        From coefficients and x, shape (m,), to y, shape (m,).
    pattern : tuple of str and Slot
        What is printed, in order; ``{x}`` stands for the name of x.
    units : tuple of tuple of int
        For each coefficient the powers of y and of x that it is counted in.
    """

    values: tuple[float, ...]
    evaluate: Callable[[tuple[float, ...], Array], Array]
    pattern: tuple[str | Slot, ...]
    units: tuple[tuple[int, int], ...] = ()

    def digits_needed(self, x_range: tuple[float, float], y_span: float, at_least: int = 3) -> int:
        """Fewest significant digits with which the printed equation lands on the line.

        It lands when, everywhere on the data, it is within 0.1 % of the range of y.

        Parameters
        ----------
        x_range : tuple of float
            Smallest and largest x of the data.
        y_span : float
            Range of y of the data.
        at_least : int
            Digits to start from.
        """
        x = between(*x_range, _POINTS)
        with np.errstate(all="ignore"):
            drawn = self.evaluate(self.values, x)
        known = np.isfinite(drawn)
        if not known.any():
            return at_least
        for digits in range(at_least, MOST_DIGITS):
            if self._off(digits, x[known], drawn[known]) <= TOLERANCE * y_span:
                return digits
        return MOST_DIGITS

    def lands(self, x: Array, y: Array, y_span: float) -> bool:
        """Whether the equation, with all its digits, lands on the line that goes through x and
        y.
        """
        known = np.isfinite(y)
        if not known.any():
            return True
        return self._off(MOST_DIGITS, x[known], y[known]) <= TOLERANCE * y_span / 2

    def _off(self, digits: int, x: Array, y: Array) -> float:
        exact = {part.index for part in self.pattern if isinstance(part, Slot) and part.exact}
        rounded = tuple(
            v if i in exact else round_to_digits(v, digits) for i, v in enumerate(self.values)
        )
        with np.errstate(all="ignore"):
            return float(np.abs(self.evaluate(rounded, x) - y).max())

    def text(self, digits: int, style: Style = "typographic", x: str = "x", y: str = "y") -> str:
        """Print the equation.

        Parameters
        ----------
        digits : int
            Significant digits of every coefficient.
        style : {"typographic", "plain"}
            True minus signs and powers of ten raised with ``^{}``, or ASCII that a program reads.
        x, y : str
            Names of the variables.
        """
        minus = "−" if style == "typographic" else "-"
        out = [f"{y} = "]
        for part in self.pattern:
            if isinstance(part, str):
                pieces = part.split("{x}")
                out.append(x.join(p.replace("{{", "{").replace("}}", "}") for p in pieces))
                continue
            value = self.values[part.index]
            if part.joined:
                out.append(f" {minus} " if value < 0 else " + ")
                value = abs(value)
            if part.exact:
                out.append(origin_text(value, style))
            elif part.raised:
                out.append(f"{value:.{digits}g}".replace("-", minus))
            else:
                out.append(number_text(value, digits, style))
        text = "".join(out)
        if style == "typographic":
            return text
        return _RAISED.sub(_plainly_raised, text).translate(_PLAIN)


_PLAIN = str.maketrans("−×", "-*")
_RAISED = re.compile(r"\^\{([^{}]*)\}")


def _plainly_raised(found: re.Match[str]) -> str:
    inside = found[1]
    return f"^{inside}" if inside.replace(".", "").isalnum() else f"^({inside})"


def round_to_digits(value: float, digits: int) -> float:
    """Round to significant digits."""
    return float(f"{value:.{digits - 1}e}")


def number_text(value: float, digits: int, style: Style = "typographic") -> str:
    """Print a number with so many significant digits; very large or small ones as m × 10^{k}."""
    if value == 0:
        return "0"
    mantissa, exponent_text = f"{value:.{digits - 1}e}".split("e")
    exponent = int(exponent_text)
    if -4 <= exponent < 6:
        text = f"{float(f'{value:.{digits - 1}e}'):.{max(0, digits - 1 - exponent)}f}"
    elif style == "plain":
        text = f"{mantissa}e{exponent}"
    else:
        text = f"{mantissa} × 10^{{{exponent}}}"
    return text.replace("-", "−") if style == "typographic" else text


def origin_text(value: float, style: Style = "typographic") -> str:
    """Print a place on an axis in full, with as few digits as name it."""
    for digits in range(1, MOST_DIGITS + 1):
        if round_to_digits(value, digits) == value:
            break
    text = number_text(value, digits, style)
    return text.rstrip("0").rstrip(".") if "." in text and "10^" not in text else text


def round_place(value: float, span: float) -> float:
    """Round a place on an axis to a step that is short against a range.

    Parameters
    ----------
    value, span : float
    """
    if not (math.isfinite(value) and 0 < span < math.inf):
        return value
    power = math.floor(math.log10(span))
    if abs(value) < 1e15 and power >= 0:
        step = 10.0**power
        return math.floor(value / step) * step
    return round(value, -power) if abs(power) < 300 else value


def decimals_for(half_width: float) -> int:
    """Decimals with which a value of this uncertainty is said.

    One digit of the uncertainty, or two where the first is 1 or 2.
    """
    if not math.isfinite(half_width) or half_width <= 0:
        return 2
    exponent = math.floor(math.log10(half_width))
    lead = half_width / 10.0**exponent if exponent > -300 else 1.0
    return min(MOST_DECIMALS, max(0, int(lead < 3) - exponent))

"""A trend's equation in print, with enough digits to land on the line that was drawn."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from yarrowdew.core.sample import Array

Style = Literal["typographic", "plain"]

MOST_DIGITS = 17
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
    """

    index: int
    joined: bool = False
    raised: bool = False


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
    """

    values: tuple[float, ...]
    evaluate: Callable[[tuple[float, ...], Array], Array]
    pattern: tuple[str | Slot, ...]

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
        x = np.linspace(*x_range, _POINTS)
        drawn = self.evaluate(self.values, x)
        known = np.isfinite(drawn)
        x, drawn = x[known], drawn[known]
        if not x.size:
            return at_least
        allowed = TOLERANCE * y_span
        for digits in range(at_least, MOST_DIGITS):
            rounded = tuple(round_to_digits(v, digits) for v in self.values)
            with np.errstate(over="ignore", invalid="ignore"):
                off = np.abs(self.evaluate(rounded, x) - drawn).max()
            if off <= allowed:
                return digits
        return MOST_DIGITS

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
                out.append(part.format(x=x))
                continue
            value = self.values[part.index]
            if part.joined:
                out.append(f" {minus} " if value < 0 else " + ")
                value = abs(value)
            if part.raised:
                out.append(f"{round_to_digits(value, digits):g}".replace("-", minus))
            else:
                out.append(number_text(value, digits, style))
        text = "".join(out)
        return text if style == "typographic" else _RAISED.sub(_plainly_raised, text)


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


def decimals_for(half_width: float) -> int:
    """Decimals with which a value of this uncertainty is said.

    One digit of the uncertainty, or two where the first is 1 or 2.
    """
    if not math.isfinite(half_width) or half_width <= 0:
        return 2
    exponent = math.floor(math.log10(half_width))
    return max(0, int(half_width / 10.0**exponent < 3) - exponent)

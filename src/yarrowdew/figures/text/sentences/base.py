"""What every family's sentence is made from, and the words that they share."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from yarrowdew.core.equation import decimals_for, number_text
from yarrowdew.core.trends import Coefficient, Family
from yarrowdew.figures.text.words import (
    GAP,
    NOTHING,
    ends,
    in_sentence,
    number,
    p_text,
    raised,
    with_unit,
)
from yarrowdew.tables.table import Kind, Variable

FEW_FOR_R_SQUARED = 8
"""Below so many rows R² is large by chance, and is not spoken of."""


@dataclass(frozen=True, slots=True)
class ToSay:
    """What a fitted trend has to say.

    Attributes
    ----------
    family : Family
    coefficients : mapping of str to Coefficient
        By name, with their intervals at `level`.
    r_squared, r_squared_log : float or None
        Of y as it stands, and of ln y where the fit is on logarithms.
    x, y : Variable
    x_span : float
        Range of x in the data, from which the step that is spoken of is chosen.
    level : float
    settings : dataclass
        What was set about the family.
    n : int or None
        Rows that it was fitted to.
    p_value : float or None
        Of the fit's own test.
    searched_p : float or None
        Of what was searched for: a break, a period.
    parameters : float or None
        How many coefficients a curve without an equation is worth.
    below : tuple of int or None
        How many rows lie below a line, and how many on it.
    """

    family: Family[object]
    coefficients: Mapping[str, Coefficient]
    r_squared: float | None
    x: Variable
    y: Variable
    x_span: float
    level: float
    settings: Any = None
    n: int | None = None
    p_value: float | None = None
    searched_p: float | None = None
    parameters: float | None = None
    below: tuple[int, int] | None = None
    r_squared_log: float | None = None

    @property
    def share(self) -> str:
        """R², as a sentence behind another; empty where it says nothing."""
        is_about_mean = self.family.r_squared_about == "mean"
        given = getattr(self.settings, "intercept", None)
        few = self.n is not None and self.n < FEW_FOR_R_SQUARED
        if few or given is not None or not is_about_mean:
            return ""
        if self.r_squared_log is not None:
            # On the scale of the fit: on that of y it may be low, or below zero, beside a good fit.
            return f" R² = {r_squared_text(self.r_squared_log)} (of ln {in_sentence(self.y)})."
        if self.r_squared is None or self.r_squared < 0:
            return ""
        return f" R² = {r_squared_text(self.r_squared)}."


def r_squared_text(r_squared: float) -> str:
    """Write R²; never rounded onto 1."""
    decimals = 2
    while decimals < 6 and r_squared < 1 and round(r_squared, decimals) == 1:
        decimals += 1
    return number(r_squared, decimals)


def nothing_to_say(y: Variable) -> str:
    """Say that y does not vary."""
    return f"{y.label} is the same in every row, so there is no variation to describe."


def spoken_level(level: float) -> str:
    """Write a level in percent."""
    return f"{100 * level:.4g}{GAP}%"


def is_clear(slope: Coefficient, say: ToSay) -> bool:
    """Whether the interval excludes zero; where it ends there, the test decides."""
    if slope.low is None or slope.high is None:
        return False
    nothing = NOTHING * max(abs(slope.low), abs(slope.high))
    if slope.low > nothing or slope.high < -nothing:
        return True
    if slope.low == 0 == slope.high:
        return False
    touches = min(abs(slope.low), abs(slope.high)) <= nothing
    return touches and say.p_value is not None and say.p_value < 1 - say.level


def change_text(
    c: Coefficient, step: float, unit: str, level: float, *, on_average: bool = False
) -> str:
    """Write how much higher or lower y is for a step of x, with its interval."""
    tail = " on average" if on_average else ""
    value = c.value * step
    if c.low is None or c.high is None:
        return _higher(with_unit(number(abs(value), _decimals(value)), unit), value) + tail
    low, high = sorted((c.low * step, c.high * step))
    largest = max(abs(low), abs(high))
    decimals = decimals_for((high - low) / 2)
    if high - low < NOTHING * largest:
        # A curve that passes through every row: what is left is rounding.
        decimals = _decimals(largest)
    # An interval that holds zero keeps its signs: the change is said with its own.
    if low < 0 < high:
        interval = f"{spoken_level(level)} interval {ends(low, high, decimals)}"
    else:
        low, high = sorted((abs(low), abs(high)))
        interval = f"{spoken_level(level)} interval {ends(low, high, decimals)}"
    if low < 0 < high and round(value, decimals) == 0:
        return f"about the same{tail} ({interval})"
    return f"{_higher(with_unit(number(abs(value), decimals), unit), value)}{tail} ({interval})"


def _decimals(value: float) -> int:
    return max(0, 2 - math.floor(math.log10(abs(value)))) if value else 0


def _higher(amount: str, value: float) -> str:
    return f"{amount} {'higher' if value >= 0 else 'lower'}"


def share_text(c: Coefficient, share_of: Mapping[str, float | None], level: float) -> str:
    """Write by how many percent y is higher or lower, with its interval.

    Parameters
    ----------
    c : Coefficient
    share_of : mapping
        Change of `value`, `low` and `high` as shares.
    level : float
    """
    value, low, high = (share_of[end] for end in ("value", "low", "high"))
    assert value is not None  # noqa: S101 (a coefficient has a value)
    unit = "%"
    percent = Coefficient(
        c.name,
        100 * value,
        None,
        None if low is None else 100 * low,
        None if high is None else 100 * high,
    )
    return change_text(percent, 1.0, unit, level)


def per_step(x: Variable, span: float) -> tuple[float, str]:
    """Choose a step of x that is neither lost in the data nor wider than they are, and name it."""
    step = 1.0
    if span > 0 and not 2 <= span <= 2000:
        step = 10.0 ** math.floor(math.log10(span / 5))
    amount = (
        number(step, max(0, -math.floor(math.log10(step))))
        if step < 1e6
        else raised(number_text(step, 1))
    )
    if x.kind is Kind.DATE:
        return step, "Per day" if step == 1 else f"Per {amount} days"
    if x.unit:
        return step, f"Per {with_unit(amount, x.unit)} more {in_sentence(x)}"
    return step, f"Per step of {amount} in {in_sentence(x)}"


def no_clear_trend(said: str) -> str:
    """Put before a sentence that the trend may be none."""
    return f"No clear trend: {said[0].lower()}{said[1:]}"


def tested(name: str, p: float) -> str:
    """Name a test and its p value, in brackets."""
    return f"({name}, {p_text(p)})"

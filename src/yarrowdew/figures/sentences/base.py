"""What every family's sentence is made from, and the words that they share."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from yarrowdew.core.equation import number_text
from yarrowdew.core.trends import Coefficient, Family
from yarrowdew.figures.words import GAP, in_sentence, number, percent, with_unit
from yarrowdew.tables.table import Kind, Variable


@dataclass(frozen=True, slots=True)
class ToSay:
    """What a fitted trend has to say.

    Attributes
    ----------
    family : Family
    coefficients : mapping of str to Coefficient
        By name, with their intervals at `level`.
    r_squared : float or None
    x, y : Variable
    x_span : float
        Range of x in the data, from which the step that is spoken of is chosen.
    level : float
    settings : dataclass
        What was set about the family.
    """

    family: Family[object]
    coefficients: Mapping[str, Coefficient]
    r_squared: float | None
    x: Variable
    y: Variable
    x_span: float
    level: float
    settings: Any = None

    @property
    def share(self) -> str:
        """What share of the variation x accounts for, as a sentence."""
        return _share_sentence(self.x, self.r_squared or 0.0)


def nothing_to_say(y: Variable) -> str:
    """Say that y does not vary."""
    return f"{y.label} is the same in every row, so there is nothing to account for."


def _share_sentence(x: Variable, r_squared: float) -> str:
    what = "Time" if x.kind is Kind.DATE else x.label
    return f"{what} accounts for {percent(max(r_squared, 0))} of the variation."


def of_across(x: Variable) -> str:
    """Say behind a step of x what it is a step of."""
    return "" if x.kind is Kind.DATE else f" of {in_sentence(x)}"


def spoken_level(level: float) -> str:
    """Write a level in percent."""
    return f"{100 * level:.4g}{GAP}%"


def change_text(c: Coefficient, level: float, share: Callable[[float], float]) -> str:
    """Write a relative change with its interval, in percent."""

    def text(value: float) -> str:
        value = 100 * share(value)
        decimals = 0 if abs(value) >= 10 else 1 if abs(value) >= 1 else 2
        return f"{'+' if value > 0 else ''}{number(value, decimals)}"

    if c.low is None or c.high is None:
        return f"{text(c.value)}{GAP}%"
    return f"{text(c.value)}{GAP}% ({spoken_level(level)} interval {text(c.low)} to {text(c.high)}{GAP}%)"


def step_of(x: Variable, span: float) -> tuple[float, str]:
    """Choose a step of x that is neither lost in the data nor wider than they are."""
    step = 1.0
    if span > 0 and not 2 <= span <= 2000:
        step = 10.0 ** math.floor(math.log10(span / 5))
    amount = (
        number(step, max(0, -math.floor(math.log10(step)))) if step < 1e6 else number_text(step, 1)
    )
    if x.kind is Kind.DATE:
        return step, "Each day" if step == 1 else f"Each {amount} days"
    if x.unit:
        return step, f"Each {with_unit(amount, x.unit)}"
    return step, f"Each step of {amount}"

"""Readings and cautions in plain words: short, and never more certain than the numbers."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence

from yarrowdew.core.equation import decimals_for, number_text
from yarrowdew.core.trends.base import Coefficient
from yarrowdew.tables.table import Kind, Variable

GAP = "\u00a0"
"""Before a unit: in the figure's font a fifth of an em, and never broken."""
MINUS = "−"


def in_sentence(variable: Variable) -> str:
    """Name a variable inside a sentence: its label, without the capital that it starts with."""
    label = variable.label
    first = label.split(" ", 1)[0].split("-", 1)[0]
    plain = len(first) > 1 and first[0].isupper() and first[1:].islower()
    return label[0].lower() + label[1:] if plain else label


def joined(words: Sequence[str]) -> str:
    """Join words as a sentence does: with commas, and "and" before the last."""
    if len(words) < 2:
        return "".join(words)
    return f"{', '.join(words[:-1])} and {words[-1]}"


def with_unit(text: str, unit: str) -> str:
    """Put a unit after a number, behind a thin space."""
    return f"{text}{GAP}{unit}" if unit else text


def number(value: float, decimals: int) -> str:
    """Write a number with so many decimals and a true minus sign; never minus zero."""
    if abs(value) >= 1e6 or (value and abs(value) < 1e-4):
        return number_text(value, 3)
    text = f"{value:.{decimals}f}"
    if not text.strip("-0."):
        text = text.lstrip("-")
    return text.replace("-", MINUS)


def p_text(p: float) -> str:
    """Write a p value; a very small one as below a bound, never as zero."""
    if p < 0.0001:
        return "p < 0.0001"
    return f"p = {p:.4f}" if p < 0.01 else f"p = {p:.2f}"


def count_of(n: int, what: str) -> str:
    """Write a count with its noun in the right number."""
    return f"{n:,} {what}" if n == 1 else f"{n:,} {what}s"


def percent(share: float) -> str:
    """Write a share in percent; near an end with a decimal, and never rounded onto it."""
    value = 100 * share
    if 0 < value < 1 or 99 < value < 100:
        value = min(max(value, 0.1), 99.9)
        return f"{value:.1f}{GAP}%"
    return f"{value:.0f}{GAP}%"


def slope_sentence(
    slope: Coefficient,
    r_squared: float | None,
    *,
    x: Variable,
    y: Variable,
    x_span: float,
    level: float,
) -> str:
    """Say what a straight line's slope means.

    Parameters
    ----------
    slope : Coefficient
        With its interval at `level`.
    r_squared : float or None
    x, y : Variable
    x_span : float
        Range of x in the data, from which the step that is spoken of is chosen.
    level : float
    """
    step, step_text = _step(x, x_span)
    change = slope.value * step
    up = in_sentence(y)
    dated = x.kind is Kind.DATE
    of_across = "" if dated else f" of {in_sentence(x)}"
    if slope.low is None or slope.high is None:
        return f"{step_text}{of_across} goes with {with_unit(number(change, 2), y.unit)} {up}."
    low, high = sorted((slope.low * step, slope.high * step))
    decimals = decimals_for((high - low) / 2)
    if r_squared is None:
        return f"{y.label} is the same in every row, so there is nothing to account for."
    spoken = f"{100 * level:.4g}{GAP}%"
    if low <= 0 <= high and high > low:
        return (
            f"No clear trend: for {step_text[0].lower()}{step_text[1:]}{of_across}, {up} changes by "
            f"{with_unit(number(change, decimals), y.unit)}, and the {spoken} interval runs from "
            f"{number(low, decimals)} to {number(high, decimals)}."
        )
    way = "more" if change > 0 else "less"
    if change < 0:
        low, high = -high, -low
    return (
        f"{step_text}{of_across} goes with {with_unit(number(abs(change), decimals), y.unit)} "
        f"{way} {up} ({spoken} interval {number(low, decimals)} to {number(high, decimals)})."
        + (f" {_share_sentence(x, r_squared)}" if r_squared >= 0 else "")
    )


def _share_sentence(x: Variable, r_squared: float) -> str:
    what = "Time" if x.kind is Kind.DATE else x.label
    return f"{what} accounts for {percent(max(r_squared, 0))} of the variation."


def trend_sentence(
    family: str,
    coefficients: Sequence[Coefficient],
    r_squared: float | None,
    *,
    x: Variable,
    y: Variable,
    x_span: float,
    level: float,
) -> str:
    """Say what a fitted trend means, and what share of the variation it accounts for.

    Parameters
    ----------
    family : str
    coefficients : sequence of Coefficient
        With their intervals at `level`.
    r_squared : float or None
    x, y : Variable
    x_span : float
        Range of x in the data.
    level : float
    """
    by_name = {c.name: c for c in coefficients}
    if family in ("straight", "origin", "resistant", "balanced"):
        return slope_sentence(by_name["b"], r_squared, x=x, y=y, x_span=x_span, level=level)
    if r_squared is None:
        return f"{y.label} is the same in every row, so there is nothing to account for."
    share = _share_sentence(x, r_squared)
    if family == "exponential":
        step, step_text = _step(x, x_span)
        change = _interval(by_name["b"], level, lambda b: math.expm1(b * step))
        said = f"{step_text}{_of(x)} changes {in_sentence(y)} by {change}."
    elif family == "power":
        change = _interval(by_name["b"], level, lambda b: 1.1**b - 1)
        said = f"10{GAP}% more {in_sentence(x)} changes {in_sentence(y)} by {change}."
    elif family == "logarithmic":
        said = _doubling_sentence(by_name["b"], x, y, level)
    elif family == "s-curve":
        said = _passing_sentence(by_name, x, y, level)
    else:
        curve = "a curve" if family == "polynomial" else "a smooth curve"
        return f"{share[:-1]}, along {curve}."
    return f"{said} {share}"


def _doubling_sentence(b: Coefficient, x: Variable, y: Variable, level: float) -> str:
    low, high = (b.value if v is None else v for v in (b.low, b.high))
    step = math.log(2)
    decimals = decimals_for((high - low) * step / 2)
    return (
        f"Each doubling of {in_sentence(x)} goes with "
        f"{with_unit(number(b.value * step, decimals), y.unit)} of {in_sentence(y)} "
        f"({_spoken(level)} interval {number(low * step, decimals)} to "
        f"{number(high * step, decimals)})."
    )


def _passing_sentence(
    by_name: Mapping[str, Coefficient], x: Variable, y: Variable, level: float
) -> str:
    middle, lower, upper = (by_name[k] for k in ("middle", "lower", "upper"))
    decimals = decimals_for((upper.value - lower.value) / 200)
    said = (
        f"{y.label} passes between {number(lower.value, decimals)} and "
        f"{with_unit(number(upper.value, decimals), y.unit)}."
    )
    if x.kind is Kind.DATE or middle.low is None or middle.high is None:
        return said
    decimals = decimals_for((middle.high - middle.low) / 2)
    return (
        f"{said} It is half way at {in_sentence(x)} = "
        f"{with_unit(number(middle.value, decimals), x.unit)} ({_spoken(level)} interval "
        f"{number(middle.low, decimals)} to {number(middle.high, decimals)})."
    )


def _of(x: Variable) -> str:
    return "" if x.kind is Kind.DATE else f" of {in_sentence(x)}"


def _spoken(level: float) -> str:
    return f"{100 * level:.4g}{GAP}%"


def _interval(c: Coefficient, level: float, share: Callable[[float], float]) -> str:
    """Write a relative change with its interval, in percent."""

    def text(value: float) -> str:
        value = 100 * share(value)
        decimals = 0 if abs(value) >= 10 else 1 if abs(value) >= 1 else 2
        return f"{'+' if value > 0 else ''}{number(value, decimals)}"

    if c.low is None or c.high is None:
        return f"{text(c.value)}{GAP}%"
    return (
        f"{text(c.value)}{GAP}% ({_spoken(level)} interval {text(c.low)} to {text(c.high)}{GAP}%)"
    )


def _step(x: Variable, span: float) -> tuple[float, str]:
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

"""The functions of expressions: what each takes, and what it gives. A new one is one entry."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise

import polars as pl

from yarrowdew.core.expressions.tree import Call, ExpressionError, Type
from yarrowdew.tables.expressions.typed import Checked, alike, need
from yarrowdew.tables.kinds import MOST_CATEGORIES

Values = Callable[[pl.Expr], pl.Series]
"""Works an expression out over the table, where what is made depends on all of its values."""


@dataclass(frozen=True, slots=True)
class Function:
    """A function of expressions.

    Attributes
    ----------
    check : callable
        From the call and what it is given to what it gives; raises ExpressionError.
    compile : callable
        From what was checked and the columns of its parts to its own column.
    """

    check: Callable[[Call, tuple[Checked, ...]], Checked]
    compile: Callable[[Checked, Sequence[pl.Expr], Values], pl.Expr]
    fewest_by_row: int | None = 0
    """With so many values or more it looks at one row at a time; never where None."""


def _taking(node: Call, parts: tuple[Checked, ...], types: tuple[Type, ...], fewest: int) -> None:
    """Check how many values a function is given, and of which types."""
    if not fewest <= len(parts) <= len(types):
        wanted = str(fewest) if fewest == len(types) else f"{fewest} to {len(types)}"
        raise ExpressionError(
            f"'{node.name}' takes {wanted} {'value' if wanted == '1' else 'values'}, "
            f"not {len(parts)}",
            node.position,
        )
    for part, wanted_type in zip(parts, types, strict=False):
        need(part, wanted_type, f"'{node.name}' needs {wanted_type.value} here")


def _of(
    type_: Type, compute: Callable[[pl.Expr], pl.Expr], fewest_by_row: int | None = 0
) -> Function:
    """Make a function that gives a number of one value."""

    def check(node: Call, parts: tuple[Checked, ...]) -> Checked:
        _taking(node, parts, (type_,), 1)
        return Checked(node, Type.NUMBER, parts)

    return Function(check, lambda _call, columns, _values: compute(columns[0]), fewest_by_row)


def _with_whole(
    compute: Callable[[pl.Expr, int], pl.Expr],
    default: int,
    most: float = 1e6,
    fewest_by_row: int | None = 0,
) -> Function:
    """Make a function of a number and a whole number that is written down, or left out."""

    def check(node: Call, parts: tuple[Checked, ...]) -> Checked:
        _taking(node, parts, (Type.NUMBER, Type.NUMBER), 1)
        if len(parts) > 1:
            _whole(node, parts[1], most)
        return Checked(node, Type.NUMBER, parts)

    def compiled(call: Checked, columns: Sequence[pl.Expr], _values: Values) -> pl.Expr:
        number = default if len(call.parts) == 1 else _number(call.parts[1])
        return compute(columns[0], int(number))

    return Function(check, compiled, fewest_by_row)


def _number(part: Checked) -> float:
    """A number that is written down, as was checked."""
    assert isinstance(part.constant, float)  # noqa: S101 (it was checked)
    return part.constant


def _whole(node: Call, part: Checked, most: float = 1e6) -> int:
    """Take a whole number that is written down."""
    value = part.constant
    if not isinstance(value, float) or not value.is_integer() or abs(value) > most:
        raise ExpressionError(f"'{node.name}' needs a whole number here", part.position)
    return int(value)


def _days_since(node: Call, parts: tuple[Checked, ...]) -> Checked:
    if len(parts) == 2:
        parts = alike(*parts)
    _taking(node, parts, (Type.DATE, Type.DATE), 1)
    return Checked(node, Type.NUMBER, parts)


def _if_else(node: Call, parts: tuple[Checked, ...]) -> Checked:
    if len(parts) != 3:
        raise ExpressionError(
            f"'if_else' takes a condition and two values, not {len(parts)} values", node.position
        )
    condition, yes, no = parts
    need(condition, Type.TRUTH, "'if_else' starts with a condition")
    if yes.type is not no.type:
        raise ExpressionError(
            f"Both values of 'if_else' must be of one kind, and these are {yes.type.value} and "
            f"{no.type.value}",
            no.position,
        )
    return Checked(node, yes.type, parts)


def _classes(node: Call, parts: tuple[Checked, ...]) -> Checked:
    _taking(node, parts, (Type.NUMBER, Type.NUMBER), 2)
    count = _whole(node, parts[1])
    if not 2 <= count <= MOST_CATEGORIES:
        raise ExpressionError(
            f"There can be 2 to {MOST_CATEGORIES} classes, not {count}", parts[1].position
        )
    return Checked(node, Type.TEXT, parts)


def _classes_at(node: Call, parts: tuple[Checked, ...]) -> Checked:
    if len(parts) < 2:
        raise ExpressionError("'classes_at' takes a number and its limits", node.position)
    for part in parts:
        need(part, Type.NUMBER, "'classes_at' needs numbers")
    limits = [part.constant for part in parts[1:]]
    numbers = [v for v in limits if isinstance(v, float)]
    if len(numbers) < len(limits) or sorted(set(numbers)) != numbers:
        raise ExpressionError("The limits must be numbers in increasing order", parts[1].position)
    return Checked(node, Type.TEXT, parts)


def _days(_call: Checked, columns: Sequence[pl.Expr], _values: Values) -> pl.Expr:
    since = columns[1] if len(columns) > 1 else columns[0].min()
    return (columns[0] - since).dt.total_seconds() / 86_400


def _chosen(call: Checked, columns: Sequence[pl.Expr], _values: Values) -> pl.Expr:
    condition, yes, no = columns
    if call.type is Type.TEXT:
        yes, no = yes.cast(pl.String), no.cast(pl.String)
    return pl.when(condition.is_null()).then(None).when(condition).then(yes).otherwise(no)


def _classed(limits: Callable[[pl.Series, int], list[float]]) -> Function:
    """Make a function that cuts a number into so many classes."""

    def compiled(call: Checked, columns: Sequence[pl.Expr], values: Values) -> pl.Expr:
        held = _finite(values(columns[0]))
        return pl.lit(_cut(held, limits(held.drop_nulls(), int(_number(call.parts[1])))))

    return Function(_classes, compiled, None)


def _classed_at(call: Checked, columns: Sequence[pl.Expr], values: Values) -> pl.Expr:
    return pl.lit(_cut(_finite(values(columns[0])), [_number(part) for part in call.parts[1:]]))


def _finite(values: pl.Series) -> pl.Series:
    numbers = values.cast(pl.Float64)
    return numbers.set(~numbers.is_finite(), None)


def _cut(values: pl.Series, limits: list[float]) -> pl.Series:
    """Name for each value the class that it lies in; a limit belongs to the class above it."""
    edges = sorted(set(limits))
    if not edges:
        return values.cast(pl.String)
    texts = _told_apart(edges)
    names = [f"below {texts[0]}"]
    names += [f"{a} to {b}" for a, b in pairwise(texts)]
    names.append(f"from {texts[-1]}")
    place = pl.Series(edges).search_sorted(values.fill_null(0.0), side="right")
    named = pl.Series(names, dtype=pl.Enum(names)).gather(place)
    return named.set(values.is_null(), None)


def _told_apart(edges: list[float]) -> list[str]:
    """Write limits with as few digits as tell them apart."""
    for digits in range(6, 17):
        texts = [f"{edge:.{digits}g}" for edge in edges]
        if len(set(texts)) == len(edges):
            return texts
    return [repr(edge) for edge in edges]


def _equal_width(values: pl.Series, count: int) -> list[float]:
    low, high = values.min(), values.max()
    if not isinstance(low, float) or not isinstance(high, float) or low == high:
        return []
    return [low + (high / count - low / count) * k for k in range(1, count)]


def _equal_count(values: pl.Series, count: int) -> list[float]:
    limits = [values.quantile(k / count, "midpoint") for k in range(1, count)]
    return [float(v) for v in limits if v is not None]


def _rounded(x: pl.Expr, digits: int) -> pl.Expr:
    """Round to so many decimals; a number that has none so far down stays what it is."""
    rounded = (x * 10.0**digits).round() / 10.0**digits
    return pl.when(rounded.is_finite()).then(rounded).otherwise(x)


FUNCTIONS: dict[str, Function] = {
    "ln": _of(Type.NUMBER, lambda x: x.log()),
    "log10": _of(Type.NUMBER, lambda x: x.log10()),
    "exp": _of(Type.NUMBER, lambda x: x.exp()),
    "sqrt": _of(Type.NUMBER, lambda x: x.sqrt()),
    "abs": _of(Type.NUMBER, lambda x: x.abs()),
    "round": _with_whole(_rounded, 0, most=300),
    "rank": _of(Type.NUMBER, lambda x: x.rank("average"), None),
    "standardise": _of(Type.NUMBER, lambda x: (x - x.mean()) / x.std(), None),
    "centre": _of(Type.NUMBER, lambda x: x - x.mean(), None),
    "lag": _with_whole(lambda x, rows: x.shift(rows), 1, fewest_by_row=None),
    "difference": _with_whole(lambda x, rows: x - x.shift(rows), 1, fewest_by_row=None),
    "cumulative": _of(Type.NUMBER, lambda x: x.cum_sum(), None),
    "year": _of(Type.DATE, lambda d: d.dt.year()),
    "month": _of(Type.DATE, lambda d: d.dt.month()),
    "day_of_year": _of(Type.DATE, lambda d: d.dt.ordinal_day()),
    "days_since": Function(_days_since, _days, 2),
    "if_else": Function(_if_else, _chosen),
    "classes_of_width": _classed(_equal_width),
    "classes_of_count": _classed(_equal_count),
    "classes_at": Function(_classes_at, _classed_at),
}
"""Every function there is, by name."""

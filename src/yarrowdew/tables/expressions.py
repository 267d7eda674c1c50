"""Derived variables: arithmetic over variable names, read by a small parser of our own.

The syntax is Python's own arithmetic: ``2 * yield / {air temperature} ** 2``, comparisons, ``and``,
``or``, ``not``, and the functions of `FUNCTIONS`. Names with spaces stand in braces; a brace that is
part of a name is written twice. Nothing is
ever handed to Python to be run: text becomes tokens, tokens become column expressions, and what is
not in the grammar is refused with its place.
"""

from __future__ import annotations

import datetime as dt
import math
import re
from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

import polars as pl
from polars import selectors

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import MOST_CATEGORIES
from yarrowdew.tables.table import Kind, Table, Variable

MOST_CHARACTERS = 2_000
MOST_DEPTH = 50


class Type(StrEnum):
    """What an expression gives for each row."""

    NUMBER = "a number"
    TEXT = "text"
    DATE = "a date"
    TRUTH = "yes or no"


class ExpressionError(TableError):
    """An expression that cannot be evaluated.

    Parameters
    ----------
    message, remedy : str
    position : int
        Where in the text it is wrong, from 0.
    """

    def __init__(self, message: str, position: int, remedy: str = "") -> None:
        super().__init__(f"{message} (at character {position + 1}).", remedy)
        self.position = position


@dataclass(frozen=True, slots=True)
class _Token:
    kind: str
    text: str
    position: int


@dataclass(frozen=True, slots=True)
class _Part:
    """A piece of the expression: its column expression, type, place, and value if constant."""

    expression: pl.Expr
    type: Type
    position: int
    constant: float | str | None = None


@dataclass(frozen=True, slots=True)
class Derived:
    """What an expression gives.

    Attributes
    ----------
    values : polars.Series
        Typed as a table's columns are; null where a source is missing or the result does not exist.
    kind : Kind
    sources : tuple of str
        Names of the variables that it is made from.
    """

    values: pl.Series
    kind: Kind
    sources: tuple[str, ...]


_TOKEN = re.compile(
    r"\s*(?:"
    r"(?P<number>\d+\.?\d*(?:[eE][+-]?\d+)?|\.\d+(?:[eE][+-]?\d+)?)"
    r"|(?P<name>[^\W\d]\w*|\{(?:[^{}]|\{\{|\}\})*\})"
    r"|(?P<text>'[^']*'|\"[^\"]*\")"
    r"|(?P<mark>\*\*|//|<=|>=|==|!=|[-+*/%<>(),])"
    r")"
)
_COMPARISONS: dict[str, Callable[[pl.Expr, pl.Expr], pl.Expr]] = {
    "<": lambda a, b: a < b,
    "<=": lambda a, b: a <= b,
    ">": lambda a, b: a > b,
    ">=": lambda a, b: a >= b,
    "==": lambda a, b: a == b,
    "!=": lambda a, b: a != b,
}
_SUMS = {"+": lambda a, b: a + b, "-": lambda a, b: a - b}
_PRODUCTS = {
    "*": lambda a, b: a * b,
    "/": lambda a, b: a / b,
    "//": lambda a, b: (a / b).floor(),
    "%": lambda a, b: a - b * (a / b).floor(),
}


def derive(table: Table, expression: str) -> Derived:
    """Evaluate an expression over a table's columns.

    Raises
    ------
    ExpressionError
        If it is not an expression, pointing at the place.
    """
    parser = _Parser(table, expression)
    part = parser.whole()
    values = _selected(table, part.expression)
    if len(values) == 1 and table.rows != 1:
        values = values.new_from_index(0, table.rows)
    kind, column = _as_column(values, part.type)
    return Derived(column, kind, tuple(parser.sources))


def _selected(table: Table, expression: pl.Expr) -> pl.Series:
    """Evaluate over the columns; what the arithmetic of columns refuses is said."""
    try:
        return table.frame.select(expression.alias("derived")).to_series()
    except pl.exceptions.PolarsError as error:
        reason = (str(error).splitlines() or [""])[0][:120].rstrip(".")
        raise ExpressionError(f"This cannot be worked out: {reason}", 0) from error


def sources_of(table: Table, expression: str) -> tuple[str, ...]:
    """Name the variables that an expression looks at; raise where it is not an expression."""
    parser = _Parser(table, expression)
    parser.whole()
    return tuple(parser.sources)


def _as_column(values: pl.Series, type_: Type) -> tuple[Kind, pl.Series]:
    if type_ is Type.NUMBER:
        numbers = values.cast(pl.Float64)
        return Kind.NUMBER, numbers.set(~numbers.is_finite(), None)
    if type_ is Type.TRUTH:
        words = pl.Enum(["no", "yes"])
        return Kind.CATEGORY, values.cast(pl.Int8).replace_strict(
            {0: "no", 1: "yes"}, default=None, return_dtype=words
        )
    if type_ is Type.DATE:
        return Kind.DATE, values
    if isinstance(values.dtype, pl.Enum):
        return Kind.CATEGORY, values
    distinct = values.drop_nulls().unique().sort()
    if len(distinct) <= MOST_CATEGORIES:
        return Kind.CATEGORY, values.cast(pl.Enum(distinct.to_list()))
    return Kind.TEXT, values


class _Parser:
    """Recursive descent; one method for each level of precedence, loosest first."""

    def __init__(self, table: Table, text: str) -> None:
        if len(text) > MOST_CHARACTERS:
            raise ExpressionError(
                f"The expression is longer than {MOST_CHARACTERS:,} characters", MOST_CHARACTERS
            )
        self._table = table
        self._tokens = _tokens(text)
        self._next = 0
        self._depth = 0
        self.sources: dict[str, None] = {}

    def whole(self) -> _Part:
        part = self._or()
        rest = self._peek()
        if rest.kind != "end":
            raise ExpressionError(f"'{rest.text}' is not expected here", rest.position)
        return part

    def _peek(self) -> _Token:
        return self._tokens[self._next]

    def _take(self, *texts: str) -> _Token | None:
        token = self._peek()
        if token.kind in ("mark", "name") and token.text in texts:
            self._next += 1
            return token
        return None

    def _expect(self, text: str) -> None:
        token = self._peek()
        if self._take(text) is None:
            found = f"'{token.text}'" if token.text else "the end"
            raise ExpressionError(f"'{text}' is expected instead of {found}", token.position)

    def _or(self) -> _Part:
        return self._logical(self._and, "or", lambda a, b: a | b)

    def _and(self) -> _Part:
        return self._logical(self._not, "and", lambda a, b: a & b)

    def _logical(
        self, below: Callable[[], _Part], word: str, join: Callable[[pl.Expr, pl.Expr], pl.Expr]
    ) -> _Part:
        left = below()
        while self._take(word):
            right = below()
            for part in (left, right):
                _check(part, Type.TRUTH, f"'{word}' joins conditions")
            left = _Part(join(left.expression, right.expression), Type.TRUTH, left.position)
        return left

    def _not(self) -> _Part:
        token = self._take("not")
        if token is None:
            return self._comparison()
        part = self._not()
        _check(part, Type.TRUTH, "'not' turns a condition round")
        return _Part(~part.expression, Type.TRUTH, token.position)

    def _comparison(self) -> _Part:
        left = self._sum()
        token = self._take(*_COMPARISONS)
        if token is None:
            return left
        right = self._sum()
        left, right = _alike(left, right)
        if left.type is not right.type:
            raise ExpressionError(
                f"{left.type.value.capitalize()} cannot be compared with {right.type.value}",
                token.position,
            )
        sides = (left.expression, right.expression)
        if left.type is Type.TEXT:
            # Classes have an order of their own, which a word to compare with does not know.
            sides = (sides[0].cast(pl.String), sides[1].cast(pl.String))
        joined = _COMPARISONS[token.text](*sides)
        return _Part(joined, Type.TRUTH, left.position)

    def _sum(self) -> _Part:
        left = self._product()
        while token := self._take(*_SUMS):
            right = self._product()
            if token.text == "-" and left.type is right.type is Type.DATE:
                days = (left.expression - right.expression).dt.total_seconds() / 86_400
                left = _Part(days, Type.NUMBER, left.position)
                continue
            left = _numbers_joined(left, right, _SUMS[token.text], token)
        return left

    def _product(self) -> _Part:
        left = self._unary()
        while token := self._take(*_PRODUCTS):
            left = _numbers_joined(left, self._unary(), _PRODUCTS[token.text], token)
        return left

    def _unary(self) -> _Part:
        token = self._take("-", "+")
        if token is None:
            return self._power()
        part = self._deeper(self._unary)
        _check(part, Type.NUMBER, f"'{token.text}' needs a number")
        minus = token.text == "-"
        constant = part.constant
        if isinstance(constant, float) and minus:
            constant = -constant
        expression = -part.expression if minus else part.expression
        return _Part(expression, Type.NUMBER, token.position, constant)

    def _power(self) -> _Part:
        base = self._atom()
        token = self._take("**")
        if token is None:
            return base
        # As in Python: 2 ** 3 ** 2 is 2 ** 9, and -2 ** 2 is -4.
        exponent = self._deeper(self._unary)
        return _numbers_joined(base, exponent, lambda a, b: a.pow(b), token)

    def _deeper(self, method: Callable[[], _Part]) -> _Part:
        self._depth += 1
        if self._depth > MOST_DEPTH:
            raise ExpressionError("The expression is nested too deeply", self._peek().position)
        part = method()
        self._depth -= 1
        return part

    def _atom(self) -> _Part:
        token = self._peek()
        if self._take("("):
            part = self._deeper(self._or)
            self._expect(")")
            return part
        self._next += 1
        if token.kind == "number":
            value = float(token.text)
            if not math.isfinite(value):
                raise ExpressionError(f"'{token.text}' is too large for a number", token.position)
            return _Part(pl.lit(value), Type.NUMBER, token.position, value)
        if token.kind == "text":
            word = token.text[1:-1]
            return _Part(pl.lit(word), Type.TEXT, token.position, word)
        if token.kind == "name":
            if not token.text.startswith("{") and self._peek().text == "(":
                return self._call(token)
            return self._variable(token)
        self._next -= 1
        found = f"'{token.text}'" if token.text else "the end"
        raise ExpressionError(f"A value is expected instead of {found}", token.position)

    def _variable(self, token: _Token) -> _Part:
        name = token.text
        if name.startswith("{"):
            name = name[1:-1].replace("{{", "{").replace("}}", "}")
        try:
            variable = self._table.called(name)
        except TableError as error:
            raise ExpressionError(
                f"There is no variable '{name}'", token.position, error.remedy
            ) from error
        self.sources[variable.name] = None
        return _Part(*_column(variable), token.position)

    def _call(self, token: _Token) -> _Part:
        function = FUNCTIONS.get(token.text)
        if function is None:
            known = ", ".join(FUNCTIONS)
            raise ExpressionError(
                f"There is no function '{token.text}'", token.position, f"There are: {known}."
            )
        self._expect("(")
        given: list[_Part] = []
        if not self._take(")"):
            given.append(self._deeper(self._or))
            while self._take(","):
                given.append(self._deeper(self._or))
            self._expect(")")
        return function(given, token, self._table)


def _tokens(text: str) -> list[_Token]:
    tokens = []
    position = 0
    while position < len(text.rstrip()):
        found = _TOKEN.match(text, position)
        if found is None:
            start = position + len(text[position:]) - len(text[position:].lstrip())
            raise ExpressionError(f"'{text[start]}' has no meaning here", start)
        kind = str(found.lastgroup)
        tokens.append(_Token(kind, found[kind], found.start(kind)))
        position = found.end()
    return [*tokens, _Token("end", "", len(text))]


def _column(variable: Variable) -> tuple[pl.Expr, Type]:
    # By its name as it is written: to Polars, a plain "*" or "^…$" would stand for many columns.
    column = selectors.by_name(variable.name).as_expr()
    if variable.kind is Kind.NUMBER:
        return column, Type.NUMBER
    if variable.kind is Kind.DATE:
        return column.cast(pl.Datetime("us")), Type.DATE
    return column.cast(pl.String), Type.TEXT


def _check(part: _Part, wanted: Type, what: str) -> None:
    if part.type is not wanted:
        raise ExpressionError(f"{what}, and this is {part.type.value}", part.position)


def _numbers_joined(
    left: _Part, right: _Part, join: Callable[[pl.Expr, pl.Expr], pl.Expr], token: _Token
) -> _Part:
    for part in (left, right):
        _check(part, Type.NUMBER, f"'{token.text}' needs numbers")
    return _Part(join(left.expression, right.expression), Type.NUMBER, left.position)


def _alike(left: _Part, right: _Part) -> tuple[_Part, _Part]:
    """Read a text beside a date as a date."""
    if left.type is Type.DATE and right.type is Type.TEXT:
        return left, _dated(right)
    if right.type is Type.DATE and left.type is Type.TEXT:
        return _dated(left), right
    return left, right


def _dated(part: _Part) -> _Part:
    try:
        moment = dt.datetime.fromisoformat(str(part.constant))
        if moment.tzinfo is not None:
            # Dates with a zone are kept in UTC.
            moment = moment.astimezone(dt.UTC).replace(tzinfo=None)
    except (ValueError, OverflowError) as error:
        raise ExpressionError(
            f"'{part.constant}' is not a date such as '2031-04-01'", part.position
        ) from error
    return _Part(pl.lit(moment), Type.DATE, part.position)


Function = Callable[[list[_Part], _Token, Table], _Part]


def _taking(types: tuple[Type, ...], given: list[_Part], token: _Token, fewest: int) -> None:
    """Check how many values a function is given, and of which types."""
    if not fewest <= len(given) <= len(types):
        wanted = str(fewest) if fewest == len(types) else f"{fewest} to {len(types)}"
        raise ExpressionError(
            f"'{token.text}' takes {wanted} {'value' if wanted == '1' else 'values'}, not {len(given)}",
            token.position,
        )
    for part, wanted_type in zip(given, types, strict=False):
        _check(part, wanted_type, f"'{token.text}' needs {wanted_type.value} here")


def _of_number(compute: Callable[[pl.Expr], pl.Expr]) -> Function:
    def call(given: list[_Part], token: _Token, _table: Table) -> _Part:
        _taking((Type.NUMBER,), given, token, 1)
        return _Part(compute(given[0].expression), Type.NUMBER, token.position)

    return call


def _of_date(compute: Callable[[pl.Expr], pl.Expr]) -> Function:
    def call(given: list[_Part], token: _Token, _table: Table) -> _Part:
        _taking((Type.DATE,), given, token, 1)
        return _Part(compute(given[0].expression), Type.NUMBER, token.position)

    return call


def _with_whole(
    compute: Callable[[pl.Expr, int], pl.Expr], default: int, most: float = 1e6
) -> Function:
    """Make a function of a number and a whole number given as such."""

    def call(given: list[_Part], token: _Token, _table: Table) -> _Part:
        _taking((Type.NUMBER, Type.NUMBER), given, token, 1)
        whole = default if len(given) == 1 else _whole(given[1], token, most)
        return _Part(compute(given[0].expression, whole), Type.NUMBER, token.position)

    return call


def _whole(part: _Part, token: _Token, most: float = 1e6) -> int:
    value = part.constant
    if not isinstance(value, float) or not value.is_integer() or abs(value) > most:
        raise ExpressionError(f"'{token.text}' needs a whole number here", part.position)
    return int(value)


def _days_since(given: list[_Part], token: _Token, _table: Table) -> _Part:
    if len(given) == 2:
        given = list(_alike(*given))
    _taking((Type.DATE, Type.DATE), given, token, 1)
    date = given[0].expression
    since = given[1].expression if len(given) == 2 else date.min()
    return _Part((date - since).dt.total_seconds() / 86_400, Type.NUMBER, token.position)


def _if_else(given: list[_Part], token: _Token, _table: Table) -> _Part:
    if len(given) != 3:
        raise ExpressionError(
            f"'if_else' takes a condition and two values, not {len(given)} values", token.position
        )
    condition, yes, no = given
    _check(condition, Type.TRUTH, "'if_else' starts with a condition")
    if yes.type is not no.type:
        raise ExpressionError(
            f"Both values of 'if_else' must be alike, and these are {yes.type.value} and {no.type.value}",
            no.position,
        )
    if yes.type is Type.TEXT:
        yes, no = (
            _Part(part.expression.cast(pl.String), Type.TEXT, part.position) for part in (yes, no)
        )
    chosen = (
        pl.when(condition.expression.is_null())
        .then(None)
        .when(condition.expression)
        .then(yes.expression)
        .otherwise(no.expression)
    )
    return _Part(chosen, yes.type, token.position)


def _classes(limits: Callable[[pl.Series, int], list[float]]) -> Function:
    """Make a function that cuts a number into so many classes."""

    def call(given: list[_Part], token: _Token, table: Table) -> _Part:
        _taking((Type.NUMBER, Type.NUMBER), given, token, 2)
        count = _whole(given[1], token)
        if not 2 <= count <= MOST_CATEGORIES:
            raise ExpressionError(
                f"There can be 2 to {MOST_CATEGORIES} classes, not {count}", given[1].position
            )
        values = _evaluated(given[0], table)
        classes = _cut(values, limits(values.drop_nulls(), count))
        return _Part(pl.lit(classes), Type.TEXT, token.position)

    return call


def _classes_at(given: list[_Part], token: _Token, table: Table) -> _Part:
    if len(given) < 2:
        raise ExpressionError("'classes_at' takes a number and its limits", token.position)
    for part in given:
        _check(part, Type.NUMBER, "'classes_at' needs numbers")
    limits = [part.constant for part in given[1:]]
    numbers = [v for v in limits if isinstance(v, float)]
    if len(numbers) < len(limits) or sorted(set(numbers)) != numbers:
        raise ExpressionError("The limits must be numbers that rise", given[1].position)
    classes = _cut(_evaluated(given[0], table), numbers)
    return _Part(pl.lit(classes), Type.TEXT, token.position)


def _evaluated(part: _Part, table: Table) -> pl.Series:
    values = _selected(table, part.expression.cast(pl.Float64))
    if len(values) == 1 and table.rows != 1:
        values = values.new_from_index(0, table.rows)
    return values.set(~values.is_finite(), None)


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
    "ln": _of_number(lambda x: x.log()),
    "log10": _of_number(lambda x: x.log10()),
    "exp": _of_number(lambda x: x.exp()),
    "sqrt": _of_number(lambda x: x.sqrt()),
    "abs": _of_number(lambda x: x.abs()),
    "round": _with_whole(_rounded, 0, most=300),
    "rank": _of_number(lambda x: x.rank("average")),
    "standardise": _of_number(lambda x: (x - x.mean()) / x.std()),
    "centre": _of_number(lambda x: x - x.mean()),
    "lag": _with_whole(lambda x, rows: x.shift(rows), 1),
    "difference": _with_whole(lambda x, rows: x - x.shift(rows), 1),
    "cumulative": _of_number(lambda x: x.cum_sum()),
    "year": _of_date(lambda d: d.dt.year()),
    "month": _of_date(lambda d: d.dt.month()),
    "day_of_year": _of_date(lambda d: d.dt.ordinal_day()),
    "days_since": _days_since,
    "if_else": _if_else,
    "classes_of_width": _classes(_equal_width),
    "classes_of_count": _classes(_equal_count),
    "classes_at": _classes_at,
}
"""Every function there is, by name."""

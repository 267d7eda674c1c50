"""What is asked of every part: small descriptions that go to whoever has the rows.

Each is plain data, and makes one partial of the rows of one part.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Generic, Protocol, TypeVar

import numpy as np
import numpy.typing as npt

from yarrowdew.core.aggregates.cell_counts import CellCounts, Grid
from yarrowdew.core.aggregates.numbers import NumberSums
from yarrowdew.core.aggregates.pair_sums import Ends, Logged, PairSums, Pivot, ResidualSums
from yarrowdew.core.aggregates.partials import Grouped, Partial
from yarrowdew.core.aggregates.polynomials import Known, PolynomialSums
from yarrowdew.core.aggregates.quantiles import Quantiles
from yarrowdew.core.aggregates.sampling import RowSample
from yarrowdew.core.sample import Array

Group = str | None
P_co = TypeVar("P_co", bound=Partial, covariant=True)
P = TypeVar("P", bound=Partial)


@dataclass(frozen=True, slots=True)
class Labels:
    """Which group each row belongs to.

    Attributes
    ----------
    codes : ndarray of int, shape (rows,)
        Place in `names`; −1 for none.
    names : sequence of str
    """

    codes: npt.NDArray[np.intp]
    names: Sequence[str]


@dataclass(frozen=True, slots=True)
class Rows:
    """The rows of one part.

    Attributes
    ----------
    numbers : mapping of str to ndarray, shape (rows,)
        NaN where missing.
    labels : mapping of str to Labels
    places : ndarray of int64, shape (rows,)
        Where each row stands in the whole.
    part : int
        Where the first row of the part stands, whether it is kept or not.
    """

    numbers: Mapping[str, Array]
    labels: Mapping[str, Labels]
    places: npt.NDArray[np.int64]
    part: int = 0
    _kept: dict[tuple[str, ...], Any] = field(default_factory=dict, repr=False, compare=False)

    def _once(self, what: tuple[str, ...], make: Callable[[], Any]) -> Any:
        """What several ask for is made once."""
        if what not in self._kept:
            self._kept[what] = make()
        return self._kept[what]

    def values_by(
        self, number: str, name: str | None, *, also_none: bool = False
    ) -> Iterator[tuple[Group, Array]]:
        """Give the numbers of each group, in the order of the rows; see `by`."""
        values = self.numbers[number]
        if name is None:
            yield None, values
            return
        order, ends, names = self._once((name,), lambda: self._order(name))
        ordered = self._once((number, name), lambda: values[order])
        for code, label in enumerate(names):
            if ends[code] < ends[code + 1]:
                yield label, ordered[ends[code] : ends[code + 1]]
        if also_none and ends[0]:
            yield None, ordered[: ends[0]]

    def _order(self, name: str) -> tuple[npt.NDArray[np.intp], npt.NDArray[np.intp], Sequence[str]]:
        labels = self.labels[name]
        # Short numbers are put in order by their digits, many times as fast.
        few = len(labels.names) < np.iinfo(np.int16).max
        codes = labels.codes.astype(np.int16) if few else labels.codes
        order = np.argsort(codes, kind="stable")
        ends = np.searchsorted(codes, np.arange(len(labels.names) + 1), sorter=order)
        return order, ends, labels.names

    def by(
        self, name: str | None, *, also_none: bool = False
    ) -> Iterator[tuple[Group, npt.NDArray[np.intp] | slice]]:
        """Give the rows of each group, and of none; all of them where they are not told apart."""
        if name is None:
            yield None, slice(None)
            return
        order, ends, names = self._once((name,), lambda: self._order(name))
        for code, label in enumerate(names):
            if ends[code] < ends[code + 1]:
                yield label, order[ends[code] : ends[code + 1]]
        if also_none and ends[0]:
            yield None, order[: ends[0]]


class Aggregation(Protocol[P_co]):
    """What is asked of every part."""

    @property
    def numbers(self) -> Sequence[str]:
        """Variables whose numbers it needs."""

    @property
    def labels(self) -> Sequence[str]:
        """Variables whose values tell groups apart."""

    def of(self, rows: Rows) -> P_co:
        """Make the partial of one part."""


class Total(Protocol):
    """Asks something of all parts, and merges what they answer."""

    def __call__(self, ask: Aggregation[P]) -> P:
        """The partial of all rows."""


@dataclass(frozen=True, slots=True)
class Together:
    """Several partials made of the same rows."""

    parts: tuple[Any, ...]

    def merge(self, other: Together) -> Together:
        """Merge each with its like."""
        return Together(tuple(a.merge(b) for a, b in zip(self.parts, other.parts, strict=True)))


@dataclass(frozen=True, slots=True)
class TogetherAggregation:
    """Several things asked in one look at the rows."""

    asks: tuple[Aggregation[Any], ...]

    @property
    def numbers(self) -> Sequence[str]:
        """Those of all of them."""
        return tuple(dict.fromkeys(name for ask in self.asks for name in ask.numbers))

    @property
    def labels(self) -> Sequence[str]:
        """Those of all of them."""
        return tuple(dict.fromkeys(name for ask in self.asks for name in ask.labels))

    def of(self, rows: Rows) -> Together:
        """Make all of them."""
        return Together(tuple(ask.of(rows) for ask in self.asks))


@dataclass(frozen=True, slots=True)
class NumberAggregation:
    """Sums and quantiles of one variable, and counts on a grid where one is given."""

    name: str
    pivot: float
    labels: Sequence[str] = ()

    @property
    def numbers(self) -> Sequence[str]:
        """The variable."""
        return (self.name,)

    def of(self, rows: Rows) -> Together:
        """Make `NumberSums` and `Quantiles`."""
        values = rows.numbers[self.name]
        return Together((NumberSums.of(values, self.pivot), Quantiles.of(values, self.pivot)))


@dataclass(frozen=True, slots=True)
class CountsAggregation:
    """Rows in the cells of a grid."""

    x: str
    across: Grid
    y: str | None = None
    up: Grid | None = None
    labels: Sequence[str] = ()

    @property
    def numbers(self) -> Sequence[str]:
        """The variables."""
        return (self.x,) if self.y is None else (self.x, self.y)

    def of(self, rows: Rows) -> CellCounts:
        """Count."""
        ys = None if self.y is None else rows.numbers[self.y]
        return CellCounts.of(self.across, rows.numbers[self.x], self.up, ys)


@dataclass(frozen=True, slots=True)
class PairAggregation(Generic[P]):
    """Something of two variables, of each group by itself."""

    x: str
    y: str
    by: str | None = None

    @property
    def numbers(self) -> Sequence[str]:
        """Both variables."""
        return (self.x, self.y)

    @property
    def labels(self) -> Sequence[str]:
        """What tells groups apart."""
        return () if self.by is None else (self.by,)

    def _each(self, rows: Rows, made: Callable[[Group, Array, Array], P | None]) -> Grouped[P]:
        xs, ys = (rows.values_by(name, self.by) for name in (self.x, self.y))
        found = {group: made(group, x, y) for (group, x), (_, y) in zip(xs, ys, strict=True)}
        return Grouped({group: one for group, one in found.items() if one is not None})


@dataclass(frozen=True, slots=True)
class PairsAggregation(PairAggregation[PairSums]):
    """Sums of two variables about a pivot; each group may have its own."""

    pivot: Pivot = Pivot(0.0, 0.0)
    own: Mapping[Group, Pivot] = field(default_factory=dict)
    logged: Logged = ""

    def of(self, rows: Rows) -> Grouped[PairSums]:
        """Add up."""

        def made(group: Group, x: Array, y: Array) -> PairSums:
            return PairSums.of(x, y, self.own.get(group, self.pivot), self.logged)

        return self._each(rows, made)


@dataclass(frozen=True, slots=True)
class PolynomialsAggregation(PairAggregation[PolynomialSums]):
    """Sums for polynomials, each group over its own range of x."""

    degree: int = 2
    over: Mapping[Group, Ends] = field(default_factory=dict)
    known: Mapping[Group, Known] = field(default_factory=dict)

    def of(self, rows: Rows) -> Grouped[PolynomialSums]:
        """Add up; of groups without a range nothing is asked."""

        def made(group: Group, x: Array, y: Array) -> PolynomialSums | None:
            if group not in self.over:
                return None
            known = self.known.get(group, (0.0,))
            return PolynomialSums.of(x, y, self.degree, self.over[group], known)

        return self._each(rows, made)


@dataclass(frozen=True, slots=True)
class ResidualAggregation(PairAggregation[ResidualSums]):
    """Sums of squares of what curves leave, each group by its own."""

    curves: Mapping[Group, Callable[[Array], Array]] = field(default_factory=dict)
    pivots: Mapping[Group, float] = field(default_factory=dict)

    def of(self, rows: Rows) -> Grouped[ResidualSums]:
        """Add up; of groups without a curve nothing is asked."""

        def made(group: Group, x: Array, y: Array) -> ResidualSums | None:
            if group not in self.curves:
                return None
            return ResidualSums.of(y, self.curves[group](x), self.pivots[group])

        return self._each(rows, made)


@dataclass(frozen=True, slots=True)
class RowsAggregation:
    """Some of the rows, of each group by itself; of those without a group where they are wanted."""

    names: tuple[str, ...]
    most: int
    by: str | None = None
    seed: int = 1
    also_none: bool = False

    @property
    def numbers(self) -> Sequence[str]:
        """What is kept of each row."""
        return self.names

    @property
    def labels(self) -> Sequence[str]:
        """What tells groups apart."""
        return () if self.by is None else (self.by,)

    def of(self, rows: Rows) -> Grouped[RowSample]:
        """Draw, of rows in which every number is there."""
        there = np.logical_and.reduce([np.isfinite(rows.numbers[name]) for name in self.names])
        out: dict[Group, RowSample] = {}
        for group, kept in rows.by(self.by, also_none=self.also_none):
            held = there[kept]
            columns = {name: rows.numbers[name][kept][held] for name in self.names}
            out[group] = RowSample.of(rows.places[kept][held], columns, self.most, self.seed)
        return Grouped(out)

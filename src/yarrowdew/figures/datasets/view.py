"""What is said of a dataset: the same reports as of a table, made of partials of its parts."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from collections.abc import Set as Names
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import Any, TypeVar

import numpy as np

from yarrowdew.core.aggregates.aggregation import (
    Aggregation,
    CountsAggregation,
    NumberAggregation,
    PairsAggregation,
    TogetherAggregation,
)
from yarrowdew.core.aggregates.category_counts import MOST_VALUES, LabelCounts, LabelsAggregation
from yarrowdew.core.aggregates.cell_counts import CellCounts, Grid
from yarrowdew.core.aggregates.numbers import NumberSums
from yarrowdew.core.aggregates.pair_sums import PairSums, Pivot
from yarrowdew.core.aggregates.partials import Partial
from yarrowdew.core.aggregates.quantiles import Quantiles
from yarrowdew.core.association import Correlation, correlation_of
from yarrowdew.core.errors import FitError
from yarrowdew.core.pairs import Pair, adjusted_pairs
from yarrowdew.core.sample import Sample
from yarrowdew.core.trends import TrendFit
from yarrowdew.core.trends.chunked import ChunkedFit, ChunkedRequest, fit_chunked
from yarrowdew.figures.datasets.cache import SMALL_BYTES, cached_per_dataset
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.pipeline.fitting import MOST_LINES, FitRequest, Fitted
from yarrowdew.tables.categories import CategoryLabel, CategoryValue
from yarrowdew.tables.dataset_files import open_dataset
from yarrowdew.tables.datasets import Dataset
from yarrowdew.tables.engines.base import Engine, Threads, engine_named
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import axis_kind
from yarrowdew.tables.summary import DISTRIBUTION_BINS, TableSummary, VariableSummary
from yarrowdew.tables.table import Kind, Variable

P = TypeVar("P", bound=Partial)
_NOTHING = np.empty(0)
MOST_GROUPS_KEPT = 10_000
"""Of so many values at most it is said how many rows have each."""


@dataclass(frozen=True, slots=True)
class FittedByParts(Fitted):
    """A line that was fitted to rows which were never together.

    Attributes
    ----------
    sums : PairSums
    sampled : int or None
        How many rows it was fitted to, where these are a sample.
    """

    sums: PairSums = PairSums.of(_NOTHING, _NOTHING, Pivot(0.0, 0.0))
    sampled: int | None = None

    @property
    def n(self) -> int:
        """How many rows have both values; of a sample, how many were drawn."""
        return self.sums.n if self.sampled is None else self.sampled

    @property
    def dropped(self) -> dict[str, int]:
        """How many rows were left out, by reason."""
        missing = {"missing": self.sums.missing}
        return missing if self.sampled is None else missing | {"not_drawn": self.sums.n - self.n}

    @property
    def y_span(self) -> float:
        """From the smallest y to the largest."""
        return self.sums.y_ends[1] - self.sums.y_ends[0]

    @property
    def said_first(self) -> str:
        """That it was fitted to a sample."""
        if self.sampled is None:
            return ""
        return f"Fitted to a sample of {self.sampled:,} of {self.sums.n:,} rows."

    @property
    def remarks(self) -> list[str]:
        """What has to be known of its rows."""
        if self.sampled is None:
            return []
        return [
            "Every row was as likely as any other to be in the sample. Intervals speak of its rows; "
            f"from all of them they would be about {math.sqrt(self.sums.n / self.sampled):.1f} "
            "times as narrow.",
        ]

    def correlation(self) -> Correlation:
        """How x and y go together, in all rows."""
        return correlation_of(self.sums.correlation(), self.sums.n, self.asked.level)

    def left_out_error(self, fit: TrendFit) -> float | None:
        """None: the rows are not looked at again one by one."""
        return None


@dataclass(frozen=True)
class DatasetView:
    """A dataset and who looks at its parts."""

    dataset: Dataset
    engine: Engine = Threads()

    def total(self, ask: Aggregation[P], origins: Mapping[str, float] | None = None) -> P:
        """The partial of all rows."""
        return self.engine.total(self.dataset, ask, origins or {})

    def sums(self, ask: Aggregation[P], origins: Mapping[str, float] | None = None) -> P:
        """The partial of all rows, remembered where it is sums of pairs: several ask for the
        same.
        """
        if not isinstance(ask, PairsAggregation):
            return self.total(ask, origins)
        return self.remembered(ask, origins, lambda: self.total(ask, origins))

    def remembered(
        self, ask: Aggregation[P], origins: Mapping[str, float] | None, make: Callable[[], P]
    ) -> P:
        """Find sums of pairs, or make them."""
        what = (ask, {name: at for name, at in (origins or {}).items() if at})
        return cached_per_dataset(self.dataset, what, make, lambda _: SMALL_BYTES * MOST_LINES)

    def labels(self, name: str) -> LabelCounts:
        """How many of all rows hold each value of a variable."""
        return cached_per_dataset(
            self.dataset,
            ("labels", name),
            lambda: self.total(LabelsAggregation(name)),
            lambda found: SMALL_BYTES + 200 * len(found.counts),
        )

    def variable(self, name: str) -> Variable:
        """The variable that a person means."""
        return self.dataset.head.called(name)

    def axis(self, name: str, place: str) -> AxisValues:
        """A variable that is to stand on an axis; dates count from the first one of all rows."""
        variable = self.dataset.head.axis_variable(self.variable(name).name, place)
        kind = axis_kind(variable.kind)
        # Where values are moved at all is told by values whose own origin is not 0.
        if not kind.origin(np.array([1.0])):
            return AxisValues(variable, _NOTHING, 0.0)
        ask = NumberAggregation(variable.name, self.near(variable.name))
        found = cached_per_dataset(
            self.dataset, ask, lambda: self.total(ask).parts[0], lambda _: SMALL_BYTES
        )
        origin = kind.origin(np.array([found.low])) if found.n else 0.0
        return AxisValues(variable, _NOTHING, origin)

    def near(self, name: str) -> float:
        """A value that is somewhere among the others: the mean of the first ones."""
        head = self.dataset.head
        values = axis_kind(head.variable(name).kind).places(head.frame[name])
        known = values[np.isfinite(values)]
        with np.errstate(all="ignore"):
            mean = float(known.mean()) if len(known) else 0.0
        return mean if math.isfinite(mean) else 0.0

    def fit(
        self,
        asked: FitRequest,
        x: AxisValues,
        y: AxisValues,
        by: str | None = None,
        labels: Mapping[CategoryValue, CategoryLabel] | None = None,
    ) -> list[Fitted]:
        """Fit a trend to all rows, or to each group; see `fit_groups`.

        Parameters
        ----------
        asked : FitRequest
        x, y : AxisValues
        by : str, optional
            The variable whose values are the groups.
        labels : mapping of CategoryValue to CategoryLabel, optional
            What figures call the groups, in the order of the lines; groups that it does not have
            are left out. Every value by itself, in alphabetical order, where None.

        Raises
        ------
        TableError
            If its groups are too many.
        FitError
            If the rows would have to be together for what is asked.
        """
        if asked.errors != "equal":
            raise FitError(
                "Intervals of this kind need all rows in memory, and a dataset is read in chunks.",
                "Use standard errors of constant variance, or import part of the rows.",
            )
        x_name, y_name = x.variable.name, y.variable.name
        if by is not None:
            self._check_groups(by)
        origins = {x_name: x.origin, y_name: y.origin}
        near = tuple(self.near(name) - origins[name] for name in (x_name, y_name))
        found = fit_chunked(
            lambda ask: self.sums(ask, origins),
            ChunkedRequest(x_name, y_name, by, (near[0], near[1])),
            asked.family,
            asked.settings,
        )
        if by is None:
            return [_fitted(asked, None, x, y, found[None])]
        if labels is None:
            values = sorted(CategoryValue(value) for value in found if value is not None)
            labels = {value: CategoryLabel(value) for value in values}
        return [
            _fitted(asked, label, x, y, found[value])
            for value, label in labels.items()
            if value in found
        ]

    def _check_groups(self, by: str) -> None:
        found = self.labels(by)
        count = len(found.counts) - (None in found.counts)
        if count > MOST_LINES or found.too_many:
            said = f"more than {MOST_VALUES:,}" if found.too_many else f"{count:,}"
            raise TableError(
                f"'{by}' has {said} values; a line can be fitted to each of at most {MOST_LINES}.",
                "Fit one line for all rows, or choose a variable with fewer values.",
                column=by,
            )

    def pairs(self, names: Sequence[str] | None = None, only: str | None = None) -> list[Pair]:
        """Correlate every pair of number variables, or those with one, strongest first.

        See `core.pairs.pairs`.
        """
        numbers = names or [v.name for v in self.dataset.variables if v.kind is Kind.NUMBER]
        couples = [(a, b) for i, a in enumerate(numbers) for b in numbers[i + 1 :]]
        couples = [couple for couple in couples if only is None or only in couple]

        found, _ = self.pair_sums(couples)
        return adjusted_pairs(
            [(a, b, correlation_of(one.correlation(), one.n)) for (a, b), one in found.items()]
        )

    def pair_sums(
        self, couples: Sequence[tuple[str, str]], beside: Sequence[Aggregation[Any]] = ()
    ) -> tuple[dict[tuple[str, str], PairSums], Sequence[Any]]:
        """The sums of several pairs, with all their digits.

        Parameters
        ----------
        couples : sequence of tuple of str
        beside : sequence of Aggregation
            What is asked in the same look at the rows.

        Returns
        -------
        dict
            By couple.
        sequence
            What came of what was asked beside them.
        """

        def sums(
            own: Mapping[tuple[str, str], Pivot], more: Sequence[Aggregation[Any]] = ()
        ) -> tuple[dict[tuple[str, str], PairSums], Sequence[Any]]:
            asks = tuple(PairsAggregation(a, b, pivot=pivot) for (a, b), pivot in own.items())
            parts = self.total(TogetherAggregation((*asks, *more))).parts
            nothing = PairSums.of(_NOTHING, _NOTHING, Pivot(0.0, 0.0))
            found = [part.groups.get(None, nothing) for part in parts[: len(asks)]]
            return dict(zip(own, found, strict=True)), parts[len(asks) :]

        near = {name: self.near(name) for name in dict.fromkeys(n for c in couples for n in c)}
        found, others = sums({(a, b): Pivot(near[a], near[b]) for a, b in couples}, beside)
        better: dict[tuple[str, str], Pivot] = {}
        for couple, one in found.items():
            # What cannot be worked out is said where r is wanted.
            with suppress(ArithmeticError, FitError):
                pivot = one.better()
                if pivot is not None:
                    better[couple] = pivot
        return (found | sums(better)[0] if better else found), others

    def summary(self, only: Names[str] | None = None) -> TableSummary:
        """Say what every variable holds, in one look at the rows and a second for distributions.

        Parameters
        ----------
        only : set of str, optional
            The variables that are looked at.
        """
        variables = [v for v in self.dataset.variables if only is None or v.name in only]
        first = self._looked_at(variables)
        grids = {
            name: Grid(one.low, one.high, DISTRIBUTION_BINS)
            for name, (one, _) in first.numbers.items()
            if one.n and one.low < one.high
        }
        names = list(grids)
        counts: dict[str, CellCounts] = {}
        if names:
            together = self.total(
                TogetherAggregation(tuple(CountsAggregation(n, grids[n]) for n in names))
            )
            counts = dict(zip(names, together.parts, strict=True))
        return TableSummary(
            rows=first.rows,
            variables=[_summary(v, first, counts.get(v.name)) for v in variables],
        )

    def _looked_at(self, variables: Sequence[Variable]) -> _VariableScan:
        asks: list[Aggregation[Partial]] = [
            NumberAggregation(v.name, self.near(v.name)) if v.on_axis else LabelsAggregation(v.name)
            for v in variables
        ]
        together = self.total(TogetherAggregation(tuple(asks)))
        numbers, labels = {}, {}
        for v, part in zip(variables, together.parts, strict=True):
            if v.on_axis:
                numbers[v.name] = (part.parts[0], part.parts[1])
            else:
                labels[v.name] = part
        return _VariableScan(numbers, labels)


@dataclass(frozen=True, slots=True)
class _VariableScan:
    numbers: Mapping[str, tuple[NumberSums, Quantiles]]
    labels: Mapping[str, LabelCounts]

    @property
    def rows(self) -> int:
        """How many rows were looked at."""
        for one, _ in self.numbers.values():
            return one.n + one.missing + one.infinite
        for counts in self.labels.values():
            return counts.n + counts.counts.get(None, 0)
        return 0


def _summary(
    variable: Variable, found: _VariableScan, counts: CellCounts | None
) -> VariableSummary:
    name = variable.name
    told: dict[str, Any] = {
        "name": name,
        "label": variable.label,
        "unit": variable.unit,
        "kind": variable.kind,
    }
    if name in found.labels:
        told_of = found.labels[name]
        held = dict(told_of.counts)
        missing = held.pop(None, 0)
        few = len(held) <= MOST_GROUPS_KEPT and not told_of.too_many
        counts_of = sorted((label, count) for label, count in held.items() if label is not None)
        return VariableSummary(
            **told,
            missing=missing,
            distinct=None if told_of.too_many else len(held),
            counts=dict(counts_of) if few else None,
        )
    sums, quantiles = found.numbers[name]
    written = axis_kind(variable.kind).written
    is_number = variable.kind is Kind.NUMBER
    quartiles = (
        [quantiles.middle(share) for share in (0.25, 0.5, 0.75)] if is_number else [None] * 3
    )
    return VariableSummary(
        **told,
        missing=sums.missing + sums.infinite,
        min=written(sums.low) if sums.n else None,
        max=written(sums.high) if sums.n else None,
        mean=sums.mean if is_number else None,
        sd=sums.sd if is_number else None,
        lower_quartile=quartiles[0],
        median=quartiles[1],
        upper_quartile=quartiles[2],
        distribution=_steps(sums.n, counts),
    )


def _steps(n: int, counts: CellCounts | None) -> list[int] | None:
    """Rows in each step; one step holds all rows of a variable that does not vary."""
    if counts is None:
        return [n] if n else None
    return [int(c) for c in counts.cells]


def _fitted(
    asked: FitRequest, group: CategoryLabel | None, x: AxisValues, y: AxisValues, found: ChunkedFit
) -> FittedByParts:
    sample = Sample(_NOTHING, _NOTHING, None, np.empty(0, dtype=np.intp))
    return FittedByParts(
        asked, group, x, y, sample, found.fit, found.problem or None, found.sums, found.sampled
    )


def view_of_dataset(path: Path, engine: str | None, where: str | None = None) -> DatasetView:
    """Open a dataset.

    Raises
    ------
    TableError
        If there is none, or no such engine.
    """
    return DatasetView(open_dataset(path).kept_where(where), engine_named(engine))

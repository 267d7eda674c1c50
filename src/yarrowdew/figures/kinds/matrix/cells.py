"""The cells of a scatterplot matrix: all its pairs, and what each says."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np

from yarrowdew.core.arithmetic import computed
from yarrowdew.core.association import Correlation, pearson
from yarrowdew.core.distributions.contours import Contour, contours, counted
from yarrowdew.core.errors import FitError
from yarrowdew.core.pairs import together
from yarrowdew.core.sample import Array, Mask, paired
from yarrowdew.core.trends import fit_trend
from yarrowdew.figures.document.matrix import Matrix
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.pipeline.curves import CurveAxes, curve_of
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.figures.pipeline.margins import MarginAnswer, margin_of
from yarrowdew.figures.wire.base import Number, OnWire
from yarrowdew.figures.wire.reports import TrendCurve
from yarrowdew.tables.table import Kind, Table, Variable

SHARES = (0.5, 0.8, 0.95)
CURVE_POINTS = 49


class MatrixVariable(OnWire):
    """A variable of the matrix, as its row and its column."""

    name: str
    label: str
    unit: str
    is_date: bool
    low: Number
    high: Number
    missing: int
    categories: list[str] | None = None
    """Of a variable whose rows stand in strips: its categories, each at its place from 0."""
    histogram: list[MarginAnswer]
    density: list[MarginAnswer]


class GroupR(OnWire):
    """r of one colour."""

    code: int
    n: int
    r: float


class ContourLine(OnWire):
    """A contour that encloses a share of the rows; points x and y in turn."""

    code: int | None
    share: float
    points: list[float]


class CountGrid(OnWire):
    """Rows counted in even cells, row by row from the lowest y."""

    code: int | None = None
    """Of their colour; null for all rows."""
    x_low: float
    x_high: float
    y_low: float
    y_high: float
    across: int
    counts: list[int]


class CellCurve(OnWire):
    """The trend of one colour, or of all rows."""

    code: int | None
    curve: TrendCurve


class MatrixCell(OnWire):
    """One pair: x is the column's variable, y the row's."""

    x: int
    y: int
    n: int
    strip: bool = False
    """Whether one of the two holds categories: marks in strips, and no r."""
    r: Number
    low: Number
    high: Number
    p_value: Number
    groups: list[GroupR] = []
    curves: list[CellCurve] = []
    contours: list[ContourLine] = []
    counts: list[CountGrid] = []


class MatrixAnswer(OnWire):
    """Everything that a matrix shows apart from its marks, whose columns are `v0`, `v1`, …"""

    variables: list[MatrixVariable]
    """In the order in which they are shown."""
    cells: list[MatrixCell]
    rows: int
    """How many rows there are to be shown."""
    complete: int
    """How many of them have every variable."""


def matrix_of(
    matrix: Matrix, table: Table, groups: Groups | None, aside: Mask
) -> tuple[MatrixAnswer, dict[str, Array]]:
    """Work out every cell of a matrix, and the columns of its marks.

    Raises
    ------
    TableError
        If a variable does not exist or holds free text.
    """
    axes = [_Side.of(table, name) for name in dict.fromkeys(matrix.variables)]
    present = np.column_stack([np.isfinite(axis.values) for axis in axes])
    whole = present.all(axis=1)
    shown = whole if matrix.missing == "complete" else np.ones(table.rows, dtype=bool)
    fitted = [np.where(shown & ~aside, axis.values, np.nan) for axis in axes]
    found = _correlations(axes, fitted)
    if matrix.order == "together":
        order = in_company(len(axes), {pair: c.r for pair, c in found.items()})
        axes, fitted = [axes[i] for i in order], [fitted[i] for i in order]
        found = {
            (a, b): found[tuple(sorted((order[a], order[b])))]  # type: ignore[index]
            for a in range(len(order))
            for b in range(a + 1, len(order))
        }
    codes = None if groups is None else groups.codes
    columns = {f"v{i}": np.where(shown, axis.values, np.nan) for i, axis in enumerate(axes)}
    parts = _by_colour(fitted, codes)
    cells = [
        _cell(matrix, (i, j), fitted, found[min(i, j), max(i, j)], parts)
        if axes[i].categories is None and axes[j].categories is None
        else _strip((i, j), fitted)
        for j in range(len(axes))
        for i in range(len(axes))
        if i != j
    ]
    answer = MatrixAnswer(
        variables=[_variable(matrix, axis, columns[f"v{i}"], codes) for i, axis in enumerate(axes)],
        cells=cells,
        rows=table.rows,
        complete=int(np.count_nonzero(whole)),
    )
    return answer, columns


def in_company(count: int, r: Mapping[tuple[int, int], float | None]) -> list[int]:
    """Put variables in an order in which those that go together stand together."""
    strength = np.eye(count)
    for (i, j), value in r.items():
        strength[i, j] = strength[j, i] = np.nan if value is None else value
    return together(strength)


@dataclass(frozen=True, slots=True)
class _Side:
    """A variable of the matrix: its values on the page, and its categories where it has them."""

    variable: Variable
    values: Array
    categories: list[str] | None = None

    @classmethod
    def of(cls, table: Table, name: str) -> _Side:
        if table.variable(name).kind is not Kind.CATEGORY:
            axis = AxisValues.of(table, name, "a variable of a matrix")
            return cls(axis.variable, axis.values)
        groups = Groups.of(table, name)
        places = np.where(groups.codes == Groups.NONE, np.nan, groups.codes.astype(np.float64))
        return cls(groups.variable, places, list[str](groups.labels))


def _strip(at: tuple[int, int], values: Sequence[Array]) -> MatrixCell:
    i, j = at
    n = int(np.count_nonzero(np.isfinite(values[i]) & np.isfinite(values[j])))
    return MatrixCell(x=i, y=j, n=n, strip=True, r=None, low=None, high=None, p_value=None)


def _bars(places: Array, count: int, codes: np.ndarray | None) -> list[MarginAnswer]:
    """Count the rows of each category, by colour."""
    parts: list[tuple[int | None, Array]] = [(None, places)]
    if codes is not None:
        parts = [(int(k), places[codes == k]) for k in np.unique(codes) if k != Groups.NONE]
    edges = [place - 0.5 for place in range(count + 1)]
    return [
        MarginAnswer(
            code=code,
            at=edges,
            height=np.bincount(own.astype(np.intp), minlength=count).astype(float).tolist(),
        )
        for code, own in parts
    ]


def _correlations(
    axes: Sequence[_Side], values: Sequence[Array]
) -> dict[tuple[int, int], Correlation]:
    none = Correlation(r=None, n=0, low=None, high=None, p_value=None)
    return {
        (i, j): none
        if axes[i].categories is not None or axes[j].categories is not None
        else pearson(paired(values[i], values[j]))
        for i in range(len(values))
        for j in range(i + 1, len(values))
    }


def _variable(
    matrix: Matrix, side: _Side, values: Array, codes: np.ndarray | None
) -> MatrixVariable:
    variable = side.variable
    known = np.isfinite(values)
    held = values[known]
    own = None if codes is None else codes[known]
    wants = matrix.diagonal
    if side.categories is not None:
        count = len(side.categories)
        return MatrixVariable(
            name=variable.name,
            label=variable.label,
            unit="",
            is_date=False,
            low=-0.5,
            high=count - 0.5,
            missing=len(values) - len(held),
            categories=side.categories,
            histogram=[] if wants == "nothing" else _bars(held, count, own),
            density=[],
        )
    return MatrixVariable(
        name=variable.name,
        label=variable.label,
        unit=variable.unit,
        is_date=variable.kind == "date",
        low=float(held.min()) if len(held) else None,
        high=float(held.max()) if len(held) else None,
        missing=len(values) - len(held),
        histogram=margin_of("histogram", held, own) if wants in ("histogram", "both") else [],
        density=margin_of("density", held, own) if wants in ("density", "both") else [],
    )


Parts = Sequence[tuple[int | None, Sequence[Array]]]
"""The variables in the rows of each colour, by its code."""


def _by_colour(values: Sequence[Array], codes: np.ndarray | None) -> Parts:
    """Take the rows of each colour together once, and not for every pair."""
    if codes is None:
        return [(None, values)]
    present = np.flatnonzero(np.bincount(codes, minlength=Groups.NONE + 1)[: Groups.NONE])
    rows = [(int(code), np.flatnonzero(codes == code)) for code in present]
    return [(code, [v[own] for v in values]) for code, own in rows]


def _both(x: Array, y: Array) -> tuple[Array, Array]:
    """Where both are there."""
    known = np.isfinite(x) & np.isfinite(y)
    return (x, y) if known.all() else (x[known], y[known])


def _cell(
    matrix: Matrix,
    at: tuple[int, int],
    values: Sequence[Array],
    c: Correlation,
    parts: Parts,
) -> MatrixCell:
    i, j = at
    region = matrix.below if j > i else matrix.above
    cell = MatrixCell(x=i, y=j, n=c.n, r=c.r, low=c.low, high=c.high, p_value=c.p_value)
    if region in ("points", "nothing"):
        return cell
    if region == "counts":
        cell.counts = _counts(*_both(values[i], values[j]))
        return cell
    for code, held in parts:
        x, y = _both(held[i], held[j])
        if not len(x) and code is not None:
            continue
        if region == "contours":
            cell.contours += contour_lines(code, partial(contours, x, y, SHARES))
        elif region == "trend":
            curve = _curve(matrix, x, y)
            if curve is not None:
                cell.curves.append(CellCurve(code=code, curve=curve))
        elif code is not None:
            own = pearson(paired(x, y))
            if own.r is not None:
                cell.groups.append(GroupR(code=code, n=own.n, r=own.r))
    return cell


def contour_lines(code: int | None, made: Callable[[], list[Contour]]) -> list[ContourLine]:
    """The contours of one colour; none where they cannot be worked out."""
    try:
        with computed("Contours"):
            found = made()
    except FitError:
        return []
    return [
        ContourLine(code=code, share=contour.share, points=line.ravel().tolist())
        for contour in found
        for line in contour.lines
        if np.isfinite(line).all()
    ]


def _curve(matrix: Matrix, x: Array, y: Array) -> TrendCurve | None:
    """Return the trend of a cell; none where it cannot be fitted, as in so small a picture."""
    trend = matrix.trend
    # Dates count from the first one, as they do on a figure.
    origin = float(np.floor(x.min())) if len(x) else 0.0
    try:
        fit = fit_trend(
            paired(x - origin, y), trend.family, trend.chosen(), trend.errors, trend.seed
        )
        return curve_of(fit, trend.bands[:1], CurveAxes(origin, 0.0), CURVE_POINTS)
    except FitError:
        return None


def _counts(x: Array, y: Array) -> list[CountGrid]:
    if not len(x):
        return []
    found = counted(x, y)
    if not (np.isfinite(found.x_edges).all() and np.isfinite(found.y_edges).all()):
        return []
    grid = CountGrid(
        x_low=float(found.x_edges[0]),
        x_high=float(found.x_edges[-1]),
        y_low=float(found.y_edges[0]),
        y_high=float(found.y_edges[-1]),
        across=len(found.x_edges) - 1,
        counts=found.counts.ravel().tolist(),
    )
    return [grid]

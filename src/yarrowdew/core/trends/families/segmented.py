"""A segmented line: two or three straight pieces that meet.

The residual sum of squares is a function of the breaks alone, and is worked out for any of them
from running sums. Its minimum is searched for over all places in the data, then found exactly:
within a stretch without rows the pieces are those of unconnected lines, if these meet there (Hudson
1966). The interval of a break is by likelihood ratio (Hinkley 1969); those of the coefficients, and
the band, are of the tangent plane in which the breaks, too, follow the rows (Seber and Wild 1989,
section 9.3).
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
import scipy

from yarrowdew.core.equation import EquationForm, Slot
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import check_level, t_quantile
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import (
    INDEPENDENT_ROWS,
    Assumption,
    of_curve,
    of_intervals,
    of_scatter,
)
from yarrowdew.core.trends.base import (
    BaseFit,
    Coefficient,
    Interval,
    Units,
    mean_one,
    needs_rows,
    settled,
    spread_of,
)
from yarrowdew.core.trends.family import Candidate, Entry, Family, setting
from yarrowdew.core.trends.intervals.best_of_many import p_of_the_best
from yarrowdew.core.trends.protocol import PointwiseKind, check_pointwise
from yarrowdew.core.trends.solvers.hinges import RunningSums, searched_breaks, settled_breaks

_APART = 1e-3
"""A break and a slope of which less is their own are not told apart."""
_TWO_ROWS = np.array([-1.0, 1.0]), np.zeros(2)


@dataclass(frozen=True, slots=True, kw_only=True)
class BrokenSettings:
    """Settings of a segmented line."""

    breaks: Literal[1, 2] = setting(
        1, "Breaks", "How many breakpoints the line has.", choices={1: "one", 2: "two"}
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class BrokenLine(BaseFit):
    """A fitted segmented line.

    Attributes
    ----------
    breaks : ndarray, shape (k,)
        Places where it is broken, in order.
    values : ndarray, shape (k + 2,)
        Of the columns 1, u and max(0, u − break), in u = (x − pivot) / scale.
    root : ndarray, shape (2 k + 2, 2 k + 2)
        Its product with its transpose is the inverse of JᵀWJ, of the columns and of the breaks.
    pivot, scale : float
    sums : RunningSums
        From which the residual sum of squares comes for any breaks.
    """

    breaks: Array
    values: Array
    root: Array
    pivot: float
    scale: float
    sums: RunningSums

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the intervals rest on."""
        return (
            of_curve("The mean of y changes along straight pieces that meet."),
            of_scatter("The scatter about them is the same everywhere and close to normal."),
            INDEPENDENT_ROWS,
            of_intervals(
                "Intervals of coefficients, and the band, are approximate, and short where the break "
                "is not clear; how sure its place is, is told by likelihood ratio."
            ),
        )

    @property
    def slopes(self) -> Array:
        """Of the pieces, from left to right."""
        return np.cumsum(self.values[1:]) / self.scale

    @property
    def form(self) -> EquationForm:
        """The line as printed."""
        at_zero = float(self.values[0] - self.values[1] * self.pivot / self.scale)
        return self._form(at_zero, None)

    def form_about(self, origin: float) -> EquationForm:
        """The line with its first piece counted from another origin."""
        return self._form(
            float(self.values[0] + self.values[1] * (origin - self.pivot) / self.scale), origin
        )

    def _form(self, level: float, origin: float | None) -> EquationForm:
        k = len(self.breaks)
        changes = (self.values[1:] / self.scale).tolist()
        values = [level, *changes, *(-self.breaks).tolist()]
        pattern: list[str | Slot] = [Slot(0), Slot(1, joined=True)]
        if origin is None:
            pattern.append(" {x}")
        else:
            values.append(-origin)
            pattern += [" ({x}", Slot(len(values) - 1, joined=True, exact=True), ")"]
        for i in range(k):
            pattern += [Slot(2 + i, joined=True), " max(0, {x}", Slot(2 + k + i, joined=True), ")"]
        units = ((1, 0), *((1, -1),) * (k + 1), *((0, 1),) * (len(values) - k - 2))

        def evaluate(given: tuple[float, ...], x: Array) -> Array:
            y = given[0] + given[1] * (x if origin is None else x + given[-1])
            for i in range(k):
                y = y + given[2 + i] * np.maximum(0.0, x + given[2 + k + i])
            return np.asarray(y)

        return EquationForm(tuple(values), evaluate, tuple(pattern), units)

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """Intercept, slopes of the pieces, and between them the breaks with their intervals."""
        half = t_quantile(level, self.degrees_of_freedom)
        out = []
        for piece, (name, row) in enumerate(self._rows()):
            out.append(self._of(name, row, half))
            if 0 < piece <= len(self.breaks):
                low, high = self._break_interval(piece - 1, level)
                at = float(self.breaks[piece - 1])
                out.append(Coefficient(f"break{piece}", at, None, low, high))
        return tuple(out)

    def coefficient_values(self) -> dict[str, float]:
        """Without the places that likelihood ratios rule out."""
        breaks = {f"break{i}": float(t) for i, t in enumerate(self.breaks, start=1)}
        return {name: float(row @ self.values) for name, row in self._rows()} | breaks

    def _of(self, name: str, row: Array, half: float) -> Coefficient:
        se = self.residual_sd * float(np.linalg.norm(row @ self.root[: len(row)]))
        return Coefficient.of(name, float(row @ self.values), se, half)

    def _break_interval(self, which: int, level: float) -> tuple[float | None, float | None]:
        """Every place of one break whose residuals are not much larger (Hinkley 1969).

        An end is None where no place up to the edge of the data is ruled out.
        """
        f = float(scipy.special.fdtri(1, self.degrees_of_freedom, check_level(level)))
        inner = self._inner
        most = self.sums.least_sse(inner) + f * self.sse / self.degrees_of_freedom
        low, high = (
            None if end is None else self.pivot + self.scale * end
            for end in self.sums.ruled_out(inner, which, most)
        )
        return low, high

    @property
    def _inner(self) -> Array:
        return (self.breaks - self.pivot) / self.scale

    def predict(self, x: Array) -> Array:
        """Fitted y."""
        return np.asarray(self._design(x) @ self.values)

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval:
        """Pointwise band."""
        check_pointwise(kind)
        variance = self._variance(x) + (1.0 if kind == "prediction" else 0.0)
        half = t_quantile(level, self.degrees_of_freedom) * self.residual_sd * np.sqrt(variance)
        fitted = self.predict(x)
        return Interval(fitted - half, fitted + half)

    def drawn_at(self, points: int) -> Array:
        """Evenly over the data, and at the breaks."""
        return np.unique(np.append(BaseFit.drawn_at(self, points), self.breaks))

    def refit(self, sample: Sample) -> BrokenLine:
        """Fit as many pieces to other rows, by a shorter search."""
        return _fitted(sample, len(self.breaks), shortly=True)

    def curve_alone(self) -> BrokenLine:
        """The line without the sums that tell how sure its breaks are."""
        return replace(self, sums=RunningSums(*_TWO_ROWS, 1.0))

    def leverage(self, sample: Sample) -> Array:
        """Diagonal of the tangent plane's hat matrix: the breaks, too, follow the rows."""
        own = (self.tangent(sample.x) ** 2).sum(axis=1) * mean_one(sample)
        return np.asarray(np.minimum(own, 1.0))

    def tangent(self, x: Array) -> Array:
        """Columns of the pieces and of the breaks, of unit length over the rows."""
        u = (x - self.pivot) / self.scale
        return np.asarray(_tangent(u, self._inner, self.values) @ self.root)

    def coefficient_tangents(self) -> dict[str, Array]:
        """Intercept and slopes in these columns."""
        return {name: row @ self.root[: len(row)] for name, row in self._rows()}

    def _rows(self) -> Iterator[tuple[str, Array]]:
        """Intercept and slopes as sums of what was fitted."""
        k = len(self.breaks)
        first = np.zeros(k + 2)
        first[:2] = 1.0, -self.pivot / self.scale
        yield "a", first
        for piece in range(k + 1):
            row = np.zeros(k + 2)
            row[1 : piece + 2] = 1 / self.scale
            yield f"b{piece + 1}", row

    def _design(self, x: Array) -> Array:
        return _columns((x - self.pivot) / self.scale, self._inner)

    def _variance(self, x: Array) -> Array:
        return np.asarray((self.tangent(x) ** 2).sum(axis=1))


def _columns(u: Array, breaks: Array) -> Array:
    return np.column_stack([np.ones_like(u), u, *(np.maximum(0.0, u - t) for t in breaks)])


def _tangent(u: Array, breaks: Array, values: Array) -> Array:
    """The columns, and by how much the line moves with each break."""
    steps = [-change * (u > at) for change, at in zip(values[2:], breaks, strict=True)]
    return np.column_stack([_columns(u, breaks), *steps])


def _root(u: Array, breaks: Array, values: Array, w: Array, of_pieces: Array) -> Array:
    """Of the tangent plane; see `BrokenLine`.

    Where a piece holds so few rows that its slope and its break cannot be told apart, it is that
    for the breaks as found.
    """
    tangent = _tangent(u, breaks, values)
    lengths = np.sqrt(w @ tangent**2)
    if lengths.min() > 0:
        r = np.linalg.qr(tangent / lengths * np.sqrt(w)[:, None], mode="r")
        if np.abs(np.diag(r)).min() > _APART:
            return np.asarray(np.linalg.inv(r) / lengths[:, None])
    out = np.zeros((tangent.shape[1], tangent.shape[1]))
    out[: len(of_pieces), : len(of_pieces)] = of_pieces
    return out


def fit(sample: Sample, settings: BrokenSettings) -> BrokenLine:
    """Fit straight pieces that meet, by (weighted) least squares.

    Raises
    ------
    FitError
        If there are too few rows or different x for so many pieces, or the rows lie on one line.
    """
    return _fitted(sample, int(settings.breaks))


def _fitted(sample: Sample, k: int, *, shortly: bool = False) -> BrokenLine:
    needs_rows(sample, 2 * k + 3, "A segmented line", distinct=2 * k + 2)
    pivot = float(sample.x.min()) / 2 + float(sample.x.max()) / 2
    scale = float(np.ptp(sample.x)) / 2
    u = (sample.x - pivot) / scale
    w = mean_one(sample)
    v = sample.y - float(np.average(sample.y, weights=sample.weights))
    sums = RunningSums(u, v, w)
    breaks = settled_breaks(sums, u, v, w, searched_breaks(sums, k, shortly=shortly))
    root = np.sqrt(w)
    design = _columns(u, breaks)
    weighted = design * (root[:, None] if isinstance(root, np.ndarray) else root)
    q, r = np.linalg.qr(weighted)
    if np.abs(np.diag(r)).min() < 1e-9 * np.abs(np.diag(r)).max():
        raise FitError(
            "The pieces of this segmented line are not determined by these rows.",
            "Choose fewer breaks, or add rows between them.",
        )
    values = np.linalg.solve(r, q.T @ (sample.y * root))
    tangent_root = _root(u, breaks, values, np.broadcast_to(w, (sample.n,)), np.linalg.inv(r))
    residual = sample.y - design @ values
    sst = spread_of(sample)
    return BrokenLine(
        family=FAMILY.name,
        n=sample.n,
        x_range=(float(sample.x.min()), float(sample.x.max())),
        sse=settled(float(np.sum(w * residual * residual)), sst, sample.n),
        sst=sst,
        degrees_of_freedom=sample.n - 2 * k - 2,
        parameters=2 * k + 2,
        breaks=pivot + scale * breaks,
        values=values,
        root=tangent_root,
        pivot=pivot,
        scale=scale,
        sums=sums,
    )


def _units(name: str) -> Units:
    if name.startswith("break"):
        return (0, 1)
    return (1, 0) if name == "a" else (1, -1)


_PLACES_TRIED = 80


def break_p(sample: Sample, _settings: BrokenSettings) -> float | None:
    """P value of a break anywhere against a straight line; see `p_of_the_best`."""

    def straight(x: Array) -> Array:
        return np.column_stack([np.ones_like(x), (x - x.mean()) / (np.ptp(x) or 1.0)])

    def broken(x: Array) -> Array:
        places = np.unique(x)[1:-1]
        some = np.linspace(0, len(places) - 1, min(len(places), _PLACES_TRIED)).astype(np.intp)
        return np.maximum(0.0, x[None, :] - places[some, None])[:, :, None]

    return p_of_the_best(sample, broken, straight)


FAMILY = Family(
    name="segmented",
    was=("broken",),
    label="segmented line",
    entry=Entry(
        method="exact least squares for any breaks (Hudson 1966)",
        intervals="slopes and band: tangent plane in which breaks are free (Seber and Wild 1989, 9.3); break: likelihood ratio (Hinkley 1969)",
        exactness="approximate, and short where the break is not clear",
    ),
    note="straight pieces that meet",
    settings=BrokenSettings,
    fit=fit,
    units=_units,
    candidates=(Candidate("segmented line", BrokenSettings()),),
    searched_p=break_p,
    coefficient_labels={
        "a": "Intercept a",
        "b1": "First slope",
        "b2": "Second slope",
        "b3": "Third slope",
        "break1": "Break",
        "break2": "Second break",
    },
)

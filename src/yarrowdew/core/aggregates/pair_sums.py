"""Two variables: the sums from which lines, curves on logarithms and correlations are made.

Sums are taken of x about a pivot and of y about a line through it. A pivot near the means keeps the
digits of the spread, and a line near the fitted one those of the residuals: where a first look at
the rows shows that digits were lost, a second look about what the first one found has them all
(Chan, Golub and LeVeque 1983, for rows that are seen in parts).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

import numpy as np

from yarrowdew.core.aggregates.exact_sums import ExactSums, stretches
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array

Logged = Literal["", "x", "y", "both"]
MOST_DISTINCT = 12
"""So many different x are told apart: more than any form asks for."""
_LOST = 1e3
"""A sum that is so many times what is left of it has lost digits that count."""
Ends = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Pivot:
    """About which sums are taken: a point, and the slope of a line through it."""

    x: float
    y: float
    slope: float = 0.0


@dataclass(frozen=True, slots=True)
class LineSums:
    """What a line is made from; see `StraightLine`."""

    n: int
    x_range: Ends
    pivot_x: float
    pivot_y: float
    spread: float
    slope: float
    sse: float
    sst: float


@dataclass(frozen=True, slots=True)
class PairSums:
    """Of two variables, where both are there.

    Attributes
    ----------
    pivot : Pivot
    logged : {"", "x", "y", "both"}
        What is taken in logarithms before it is added up.
    n, missing : int
        Rows with both values, and all others.
    unlogged : tuple of int
        Rows with both values whose x, and whose y, has no logarithm where one is taken.
    x_ends, y_ends : tuple of float
        Of the values themselves; infinite the wrong way round where there is none.
    distinct : tuple of float
        Up to `MOST_DISTINCT` different x.
    sums : ExactSums
        Of u, v, u², u v and v², where u is x less the pivot and v is y less the line through it.
    """

    pivot: Pivot
    logged: Logged
    n: int
    missing: int
    unlogged: tuple[int, int]
    x_ends: Ends
    y_ends: Ends
    distinct: tuple[float, ...]
    sums: ExactSums

    @classmethod
    def of(cls, x: Array, y: Array, pivot: Pivot, logged: Logged = "") -> PairSums:
        """Summarise pairs, shape (rows,) each; NaN where missing."""
        n, bad_x, bad_y = 0, 0, 0
        x_ends = y_ends = ends_of(x[:0])
        distinct: tuple[float, ...] = ()
        sums = ExactSums.zero(5)
        # All of it stretch by stretch: what is near the processor is looked at again for nothing.
        for some in stretches(len(x)):
            xs, ys = _known(x[some], y[some])
            if not len(xs):
                continue
            n += len(xs)
            x_ends, y_ends = wider(x_ends, ends_of(xs)), wider(y_ends, ends_of(ys))
            if len(distinct) < MOST_DISTINCT:
                distinct = merged_distinct(distinct, distinct_of(xs))
            if logged in ("x", "both"):
                bad_x += int(np.count_nonzero(xs <= 0))
            if logged in ("y", "both"):
                bad_y += int(np.count_nonzero(ys <= 0))
            if not (bad_x or bad_y):
                sums = sums.merge(
                    _sums(
                        np.log(xs) if logged in ("x", "both") else xs,
                        np.log(ys) if logged in ("y", "both") else ys,
                        pivot,
                    )
                )
        return cls(pivot, logged, n, len(x) - n, (bad_x, bad_y), x_ends, y_ends, distinct, sums)

    def merge(self, other: PairSums) -> PairSums:
        """The same of these rows and of others, about the same pivot."""
        if (self.pivot, self.logged) != (other.pivot, other.logged):
            raise ValueError("sums about different pivots are not merged")
        return PairSums(
            self.pivot,
            self.logged,
            self.n + other.n,
            self.missing + other.missing,
            (self.unlogged[0] + other.unlogged[0], self.unlogged[1] + other.unlogged[1]),
            wider(self.x_ends, other.x_ends),
            wider(self.y_ends, other.y_ends),
            merged_distinct(self.distinct, other.distinct),
            self.sums.merge(other.sums),
        )

    def line(self, intercept: float | None = None) -> LineSums:
        """What the line of least squares is made from, where x varies.

        Parameters
        ----------
        intercept : float, optional
            y at x = 0, where it is given.
        """
        if intercept is None:
            found = self._about_means()
            squares, cross, rest = found.uu, found.uv, found.vv
            x, y = found.x, found.y
        else:
            squares, cross, rest = self._about(Fraction(intercept))
            x, y = Fraction(0), Fraction(intercept)
        # v is what a line of the pivot's slope leaves: what is fitted to it is added to that slope.
        more = cross / squares
        tilt = Fraction(self.pivot.slope)
        return LineSums(
            n=self.n,
            x_range=self.x_ends,
            pivot_x=float(x),
            pivot_y=float(y),
            spread=float(squares),
            slope=float(tilt + more),
            sse=max(float(rest - more * cross), 0.0),
            sst=float(rest + 2 * tilt * cross + tilt * tilt * squares),
        )

    def better(self, intercept: float | None = None) -> Pivot | None:
        """The pivot about which another look has more digits; None where nothing is to be won."""
        if not self.varies:
            return None
        squares, left = self.sums.rounded()[[2, 4]]
        if intercept is None:
            found = self._about_means()
            if squares > _LOST * found.uu and (self.pivot.x, self.pivot.slope) != (
                at := float(found.x),
                0.0,
            ):
                # Nothing but the means is known well enough to go by.
                return Pivot(at, float(found.y))
        line = self.line(intercept)
        # A perfect fit leaves nothing, whatever is looked at.
        near = self.pivot.slope and math.isclose(self.pivot.slope, line.slope, rel_tol=1e-6)
        if near or left <= _LOST * line.sse:
            return None
        return Pivot(line.pivot_x, line.pivot_y, line.slope)

    @property
    def varies(self) -> bool:
        """Whether there are rows with different x, all of which can be added up."""
        return self.n > 1 and self.x_ends[0] < self.x_ends[1] and not any(self.unlogged)

    def correlation(self) -> float | None:
        """Pearson's r; None where a variable does not vary, for two rows, or beyond what can be
        added.
        """
        if self.n < 3 or not self.varies:
            return None
        try:
            line = self.line()
        except (ArithmeticError, FitError):
            # Sums beyond what numbers hold say nothing.
            return None
        if not (line.spread > 0 and line.sst > 0):
            return None
        return max(-1.0, min(1.0, line.slope * math.sqrt(line.spread / line.sst)))

    def balanced_left(self, slope: float) -> float:
        """Sum of squares of what a line of this slope through the means leaves."""
        found = self._about_means()
        off = Fraction(self.pivot.slope) - Fraction(slope)
        left = found.vv + 2 * off * found.uv + off * off * found.uu
        return max(float(left), 0.0)

    def _about_means(self) -> _AboutMeans:
        u, v, uu, uv, vv = self.sums.exact()
        n, pivot = self.n, self.pivot
        return _AboutMeans(
            Fraction(pivot.x) + u / n,
            Fraction(pivot.y) + Fraction(pivot.slope) * u / n + v / n,
            uu - u * u / n,
            uv - u * v / n,
            vv - v * v / n,
        )

    def _about(self, intercept: Fraction) -> tuple[Fraction, Fraction, Fraction]:
        """Sums of x², of x times what the tilted line through (0, intercept) leaves, and of its
        squares.
        """
        u, v, uu, uv, vv = self.sums.exact()
        n, x, tilt = self.n, Fraction(self.pivot.x), Fraction(self.pivot.slope)
        # That line lies so far from the one through the pivot.
        off = Fraction(self.pivot.y) - tilt * x - intercept
        squares = uu + 2 * x * u + n * x * x
        cross = uv + x * v + off * (u + n * x)
        return squares, cross, vv + 2 * off * v + n * off * off


@dataclass(frozen=True, slots=True)
class _AboutMeans:
    x: Fraction
    y: Fraction
    uu: Fraction
    uv: Fraction
    vv: Fraction


def _sums(x: Array, y: Array, pivot: Pivot) -> ExactSums:
    u, v = x - pivot.x, y - pivot.y
    if pivot.slope:
        v -= pivot.slope * u
    return ExactSums.of([float(s) for s in (u.sum(), v.sum(), u @ u, u @ v, v @ v)])


def _known(x: Array, y: Array) -> tuple[Array, Array]:
    """Keep the rows in which both are there."""
    # What is missing or infinite shows in the sum, which is quicker to look at than every value.
    if math.isfinite(float(x.sum()) + float(y.sum())):
        return x, y
    known = np.isfinite(x) & np.isfinite(y)
    return (x, y) if known.all() else (x[known], y[known])


def ends_of(values: Array) -> Ends:
    """Smallest and largest; infinite the wrong way round where there is none."""
    return (float(values.min()), float(values.max())) if len(values) else (math.inf, -math.inf)


def wider(one: Ends, other: Ends) -> Ends:
    """Ends of both."""
    return min(one[0], other[0]), max(one[1], other[1])


def distinct_of(x: Array) -> tuple[float, ...]:
    """Up to `MOST_DISTINCT` different values: of the first few, or of all where those are too
    few.
    """
    for some in (x[: 8 * MOST_DISTINCT], x):
        found = np.unique(some)
        if len(found) >= MOST_DISTINCT:
            break
    return tuple(float(v) for v in found[:MOST_DISTINCT])


def merged_distinct(one: tuple[float, ...], other: tuple[float, ...]) -> tuple[float, ...]:
    """Up to `MOST_DISTINCT` different values of both."""
    return tuple(sorted({*one, *other})[:MOST_DISTINCT])


@dataclass(frozen=True, slots=True)
class ResidualSums:
    """What a curve leaves of y: sums of squares on the scale of y.

    Attributes
    ----------
    pivot : float
        About which y itself is added up.
    n : int
        Rows at which the curve has a value.
    sums : ExactSums
        Of squares of what is left, of y less the pivot, and of its squares.
    """

    pivot: float
    n: int
    sums: ExactSums

    @classmethod
    def of(cls, y: Array, fitted: Array, pivot: float) -> ResidualSums:
        """Summarise rows, shape (rows,) each; NaN where missing."""
        known = np.isfinite(y) & np.isfinite(fitted)
        if not known.all():
            y, fitted = y[known], fitted[known]
        sums = ExactSums.zero(3)
        for some in stretches(len(y)):
            left, off = y[some] - fitted[some], y[some] - pivot
            sums = sums.merge(
                ExactSums.of((float(left @ left), float(off.sum()), float(off @ off)))
            )
        return cls(pivot, len(y), sums)

    def merge(self, other: ResidualSums) -> ResidualSums:
        """The same of these rows and of others."""
        if self.pivot != other.pivot:
            raise ValueError("sums about different pivots are not merged")
        return ResidualSums(self.pivot, self.n + other.n, self.sums.merge(other.sums))

    @property
    def sse(self) -> float:
        """Sum of squares of what is left."""
        return float(self.sums.exact()[0])

    @property
    def sst(self) -> float:
        """Sum of squares of y about its mean."""
        _, total, squares = self.sums.exact()
        return max(float(squares - total * total / self.n), 0.0)

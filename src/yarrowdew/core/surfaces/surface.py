"""Surfaces through rows that have three numbers: a plane, or one of second degree.

Least squares by a QR of centred and scaled columns (Golub and Van Loan 2013, section 5.3); intervals
by Student's t, as for lines.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from itertools import combinations_with_replacement
from typing import Literal

import numpy as np
import numpy.typing as npt
import scipy

from yarrowdew.core.arithmetic import computed, scaled
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import t_quantile
from yarrowdew.core.sample import Array, Mask
from yarrowdew.core.trends.protocol import BandKind, Coefficient, Interval

Degree = Literal[1, 2]
COEFFICIENTS = "abcdef"
"""Names of the coefficients: of 1, x, y, and for the second degree of x², xy and y²."""
TIED = 10.0
"""A condition of x and y from which on a plane tips freely (Belsley, Kuh and Welsch 1980, ch.
3)."""
SINGULAR = 1e-10


@dataclass(frozen=True, slots=True)
class Triples:
    """Rows in which all three numbers are there.

    Attributes
    ----------
    x, y, z : ndarray of float64, shape (n,)
    rows : ndarray of intp, shape (n,)
        Where each stood in the arrays given.
    dropped : dict of str to int
        How many rows were left out, by reason.
    """

    x: Array
    y: Array
    z: Array
    rows: npt.NDArray[np.intp]
    dropped: dict[str, int] = field(default_factory=dict)

    @property
    def n(self) -> int:
        """How many rows were kept."""
        return int(self.x.size)


def tripled(
    x: npt.ArrayLike, y: npt.ArrayLike, z: npt.ArrayLike, set_aside: Mask | None = None
) -> Triples:
    """Keep the rows in which all three numbers are there.

    Parameters
    ----------
    x, y, z : array_like, shape (rows,)
        NaN or infinite where missing.
    set_aside : ndarray of bool, shape (rows,), optional
        True for rows to leave out by choice; counted as such even where a number is missing.

    Raises
    ------
    FitError
        If the arrays differ in length.
    """
    of = [np.asarray(values, dtype=np.float64) for values in (x, y, z)]
    if any(values.shape != of[0].shape or values.ndim != 1 for values in of):
        raise FitError("x, y and z must be lists of the same length.")
    there = np.logical_and.reduce([np.isfinite(values) for values in of])
    kept = np.ones(there.size, dtype=bool) if set_aside is None else ~set_aside
    dropped = {"missing": int(np.count_nonzero(kept & ~there))}
    if set_aside is not None:
        dropped["set_aside"] = int(np.count_nonzero(set_aside))
    rows = np.flatnonzero(there & kept)
    return Triples(of[0][rows], of[1][rows], of[2][rows], rows, dropped)


@dataclass(frozen=True, slots=True)
class Scaling:
    """How a number is centred and scaled: first divided by a power of two, then about its
    middle.
    """

    exponent: int
    middle: float
    spread: float

    @classmethod
    def of(cls, values: Array) -> Scaling:
        inner, exponent = scaled(values)
        middle = float(inner.mean())
        middle += float((inner - middle).mean())
        spread = math.sqrt(float(np.mean((inner - middle) ** 2)))
        return cls(exponent, middle, spread)

    def __call__(self, values: npt.ArrayLike) -> Array:
        inner = np.ldexp(np.asarray(values, dtype=np.float64), -self.exponent)
        return np.asarray((inner - self.middle) / self.spread)


@dataclass(frozen=True, slots=True)
class FTest:
    """Whether z changes with x and y at all."""

    f: float
    df_fit: int
    df_rest: int
    p_value: float


@dataclass(frozen=True, slots=True, kw_only=True)
class SurfaceFit:
    """A surface z = a + bx + cy, or of second degree with + dx² + exy + fy².

    Attributes
    ----------
    degree : {1, 2}
    n : int
    x_range, y_range : tuple of float
        Of the rows fitted.
    sse, sst : float
        Sums of squares of z about the surface, and about its mean, in units of `z_exponent`.
    condition : float
        Of the two columns x and y, centred and scaled: 1 where nothing ties them, and without bound
        where they lie on one line.
    """

    degree: Degree
    n: int
    x_range: tuple[float, float]
    y_range: tuple[float, float]
    sse: float
    sst: float
    condition: float
    _x: Scaling
    _y: Scaling
    _z_exponent: int
    _inner: Array
    """Coefficients of the centred columns."""
    _inverse: Array
    """Of R: rows of X times it have the leverages as their squared lengths."""

    @property
    def parameters(self) -> int:
        """How many coefficients were fitted."""
        return len(self._inner)

    @property
    def degrees_of_freedom(self) -> int:
        """Residual degrees of freedom."""
        return self.n - self.parameters

    @property
    def residual_sd(self) -> float:
        """Residual standard deviation, in units of z."""
        return math.ldexp(math.sqrt(self.sse / self.degrees_of_freedom), self._z_exponent)

    @property
    def r_squared(self) -> float | None:
        """1 − SSE/SST; None where z does not vary."""
        return 1 - self.sse / self.sst if self.sst > 0 else None

    @property
    def adjusted_r_squared(self) -> float | None:
        """R² with each sum of squares over its degrees of freedom."""
        if self.sst <= 0:
            return None
        return 1 - (self.sse / self.degrees_of_freedom) / (self.sst / (self.n - 1))

    @property
    def f_test(self) -> FTest | None:
        """Test of the hypothesis that z changes with neither x nor y; None for a perfect fit."""
        if self.sse <= 0 or self.sst <= 0:
            return None
        df = self.parameters - 1
        f = ((self.sst - self.sse) / df) / (self.sse / self.degrees_of_freedom)
        p = float(scipy.special.fdtrc(df, self.degrees_of_freedom, max(f, 0.0)))
        return FTest(f, df, self.degrees_of_freedom, p)

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """Coefficients of x and y themselves, with intervals at `level`."""
        half = t_quantile(level, self.degrees_of_freedom)
        back = self._back()
        sd = math.sqrt(self.sse / self.degrees_of_freedom)
        out = []
        for name, row, (i, j) in zip(COEFFICIENTS, back, powers_of(self.degree), strict=False):
            units = self._z_exponent - i * self._x.exponent - j * self._y.exponent
            value = math.ldexp(float(row @ self._inner), units)
            se = math.ldexp(sd * float(np.linalg.norm(row @ self._inverse)), units)
            out.append(Coefficient.of(name, value, se, half))
        return tuple(out)

    def predict(self, x: npt.ArrayLike, y: npt.ArrayLike) -> Array:
        """Fitted z at each (x, y), shape (m,)."""
        return np.asarray(np.ldexp(self._columns(x, y) @ self._inner, self._z_exponent))

    def interval(
        self, x: npt.ArrayLike, y: npt.ArrayLike, level: float, kind: BandKind
    ) -> Interval:
        """Pointwise interval at each (x, y): for the mean, or for a new row."""
        columns = self._columns(x, y)
        own = np.sum((columns @ self._inverse) ** 2, axis=1) + (kind == "prediction")
        sd = math.sqrt(self.sse / self.degrees_of_freedom)
        half = t_quantile(level, self.degrees_of_freedom) * sd * np.sqrt(own)
        middle = columns @ self._inner
        low, high = (np.ldexp(end, self._z_exponent) for end in (middle - half, middle + half))
        return Interval(low, high)

    def leverage(self, of: Triples) -> Array:
        """Diagonal of the hat matrix, shape (n,)."""
        return np.asarray(np.sum((self._columns(of.x, of.y) @ self._inverse) ** 2, axis=1))

    def shifts(self, of: Triples) -> Array:
        """How far leaving each row out moves the slopes, in their own standard errors.

        Shape (n, parameters − 1); the differences of coefficients of Belsley, Kuh and Welsch (1980,
        section 2.1) with the residual standard deviation of all rows.
        """
        columns = self._columns(of.x, of.y)
        rest = 1 - np.sum((columns @ self._inverse) ** 2, axis=1)
        residual = np.ldexp(of.z - self.predict(of.x, of.y), -self._z_exponent)
        gain = (columns @ self._inverse) @ self._inverse.T
        sd = math.sqrt(self.sse / self.degrees_of_freedom)
        se = sd * np.linalg.norm(self._inverse, axis=1)
        with np.errstate(all="ignore"):
            moved = gain * (residual / np.where(rest > SINGULAR, rest, np.nan))[:, None] / se
        return np.asarray(moved[:, 1:])

    def _columns(self, x: npt.ArrayLike, y: npt.ArrayLike) -> Array:
        return _design(self._x(x), self._y(y), self.degree)

    def _back(self) -> Array:
        """From coefficients of the centred columns to those of x and y, each divided by its
        power.
        """
        powers = powers_of(self.degree)
        made = np.zeros((len(powers), len(powers)))
        one_x, one_y = ((1 / s.spread, -s.middle / s.spread) for s in (self._x, self._y))
        for column, (i, j) in enumerate(powers):
            for p in range(i + 1):
                for q in range(j + 1):
                    of_x = math.comb(i, p) * one_x[0] ** p * one_x[1] ** (i - p)
                    of_y = math.comb(j, q) * one_y[0] ** q * one_y[1] ** (j - q)
                    made[powers.index((p, q)), column] += of_x * of_y
        return made


def fit_surface(of: Triples, degree: Degree = 1) -> SurfaceFit:
    """Fit a plane, or a surface of second degree, by least squares.

    Parameters
    ----------
    of : Triples
    degree : {1, 2}

    Raises
    ------
    FitError
        If there are too few rows, or x and y lie so that there is no single surface.
    """
    powers = powers_of(degree)
    check_enough(of.n, degree)
    with computed(surface_named(degree)):
        x, y = Scaling.of(of.x), Scaling.of(of.y)
        for scaling, values in ((x, of.x), (y, of.y)):
            check_spread(scaling.spread, values[0], degree)
        z, z_exponent = scaled(of.z)
        columns = _design(x(of.x), y(of.y), degree)
        q, r = np.linalg.qr(columns)
        diagonal = np.abs(np.diag(r))
        if float(diagonal.min()) < SINGULAR * float(diagonal.max()):
            raise tips(degree)
        about = z - z.mean()
        about -= about.mean()
        inner = scipy.linalg.solve_triangular(r, q.T @ about)
        residual = about - columns @ inner
        # One step of refinement: what rounding left of the residual is fitted, too.
        more = scipy.linalg.solve_triangular(r, q.T @ residual)
        inner, residual = inner + more, residual - columns @ more
        inner[0] += float(z.mean())
        tie = abs(float(np.mean(columns[:, 1] * columns[:, 2])))
        return SurfaceFit(
            degree=degree,
            n=of.n,
            x_range=(float(of.x.min()), float(of.x.max())),
            y_range=(float(of.y.min()), float(of.y.max())),
            sse=float(residual @ residual),
            sst=float(about @ about),
            condition=condition_of(tie),
            _x=x,
            _y=y,
            _z_exponent=z_exponent,
            _inner=inner,
            _inverse=scipy.linalg.solve_triangular(r, np.eye(len(powers))),
        )


def surface_named(degree: Degree) -> str:
    """What it is called where a sentence begins."""
    return "A plane" if degree == 1 else "A surface of second degree"


def check_enough(n: int, degree: Degree) -> None:
    """Raise FitError where there are too few rows."""
    needed = len(powers_of(degree)) + 1
    if n < needed:
        raise FitError(
            f"{surface_named(degree)} needs at least {needed} rows with all three numbers; here "
            f"there {'is' if n == 1 else 'are'} {n}.",
            "Add rows, or bring some back.",
        )


def check_spread(spread: float, value: float, degree: Degree) -> None:
    """Raise FitError where an axis of the floor has one value alone."""
    if not spread > 0:
        raise FitError(
            f"{surface_named(degree)} needs numbers that differ on both axes of its floor; on one "
            f"of them every row has {value:g}.",
            "Put another variable there.",
        )


def tips(degree: Degree) -> FitError:
    """Say that rows lie so that there is no single surface."""
    return FitError(
        f"{surface_named(degree)} could tip about the rows freely: seen from above they lie on one "
        f"{'line' if degree == 1 else 'line or curve'}.",
        "Put another variable on one of the axes.",
    )


def condition_of(tie: float) -> float:
    """The condition of two columns, centred and scaled, by how much they are correlated."""
    return math.sqrt((1 + tie) / max(1 - tie, 1e-300))


def powers_of(degree: Degree) -> list[tuple[int, int]]:
    """The powers of x and of y of each column."""
    found = [(0, 0)]
    for total in range(1, degree + 1):
        for which in combinations_with_replacement((0, 1), total):
            found.append((which.count(0), which.count(1)))
    return found


def _design(x: Array, y: Array, degree: Degree) -> Array:
    return np.column_stack([x**i * y**j for i, j in powers_of(degree)])

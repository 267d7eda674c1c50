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
from scipy import special
from scipy.linalg import solve_triangular

from yarrowdew.core.arithmetic import computed, scaled
from yarrowdew.core.diagnostics import Diagnostics
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import t_quantile
from yarrowdew.core.sample import Array, Mask
from yarrowdew.core.trends.protocol import BandKind, Coefficient, Interval

Degree = Literal[1, 2]
COEFFICIENTS = "abcdef"
"""Names of the coefficients: of 1, x, y, and for the second degree of x², xy and y²."""
TIED = 10.0
"""A condition of x and y from which on a plane tips freely (Belsley, Kuh and Welsch 1980, ch. 3)."""
_SINGULAR = 1e-10
_TELLING = 0.01
"""The p value below which a surface is said to bend."""
_BENDS_BY = 0.1
"""The share of the scatter that a bent surface has to take away to be worth saying."""


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
class _Scaling:
    """How a number is centred and scaled: first divided by a power of two, then about its middle."""

    exponent: int
    middle: float
    spread: float

    @classmethod
    def of(cls, values: Array) -> _Scaling:
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
    _x: _Scaling
    _y: _Scaling
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
        p = float(special.fdtrc(df, self.degrees_of_freedom, max(f, 0.0)))
        return FTest(f, df, self.degrees_of_freedom, p)

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """Coefficients of x and y themselves, with intervals at `level`."""
        half = t_quantile(level, self.degrees_of_freedom)
        back = self._back()
        sd = math.sqrt(self.sse / self.degrees_of_freedom)
        out = []
        for name, row, (i, j) in zip(COEFFICIENTS, back, _powers(self.degree), strict=False):
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
            moved = gain * (residual / np.where(rest > _SINGULAR, rest, np.nan))[:, None] / se
        return np.asarray(moved[:, 1:])

    def _columns(self, x: npt.ArrayLike, y: npt.ArrayLike) -> Array:
        return _design(self._x(x), self._y(y), self.degree)

    def _back(self) -> Array:
        """From coefficients of the centred columns to those of x and y, each divided by its power."""
        powers = _powers(self.degree)
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
    powers = _powers(degree)
    what = "A plane" if degree == 1 else "A surface of second degree"
    if of.n <= len(powers):
        raise FitError(
            f"{what} needs at least {len(powers) + 1} rows with all three numbers; here there "
            f"{'is' if of.n == 1 else 'are'} {of.n}.",
            "Add rows, or bring some back.",
        )
    with computed(what):
        x, y = _Scaling.of(of.x), _Scaling.of(of.y)
        for scaling, values in ((x, of.x), (y, of.y)):
            if not scaling.spread > 0:
                raise FitError(
                    f"{what} needs numbers that differ on both axes of its floor; on one of them "
                    f"every row has {values[0]:g}.",
                    "Put another variable there.",
                )
        z, z_exponent = scaled(of.z)
        columns = _design(x(of.x), y(of.y), degree)
        q, r = np.linalg.qr(columns)
        diagonal = np.abs(np.diag(r))
        if float(diagonal.min()) < _SINGULAR * float(diagonal.max()):
            raise FitError(
                f"{what} could tip about the rows freely: seen from above they lie on one "
                f"{'line' if degree == 1 else 'line or curve'}.",
                "Put another variable on one of the axes.",
            )
        about = z - z.mean()
        about -= about.mean()
        inner = solve_triangular(r, q.T @ about)
        residual = about - columns @ inner
        # One step of refinement: what rounding left of the residual is fitted, too.
        more = solve_triangular(r, q.T @ residual)
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
            condition=math.sqrt((1 + tie) / max(1 - tie, 1e-300)),
            _x=x,
            _y=y,
            _z_exponent=z_exponent,
            _inner=inner,
            _inverse=solve_triangular(r, np.eye(len(powers))),
        )


def diagnose_surface(fit: SurfaceFit, of: Triples) -> Diagnostics:
    """Work out what each row does in a fit: as for lines, but for a single slope's change."""
    fitted = fit.predict(of.x, of.y)
    residual = of.z - fitted
    leverage = fit.leverage(of)
    # A row that fixes the surface alone has nothing to be compared with.
    rest = np.where(leverage < 1 - _SINGULAR, 1 - leverage, np.inf)
    studentised = residual / (fit.residual_sd * np.sqrt(rest)) if fit.sse > 0 else None
    cook = (
        None
        if studentised is None
        else np.asarray(studentised**2 * leverage / (rest * fit.parameters))
    )
    return Diagnostics(fitted, residual, leverage, studentised, cook, None)


@dataclass(frozen=True, slots=True)
class Bent:
    """How much less scatter a surface of second degree leaves than the plane."""

    share: float
    p_value: float


def bends(plane: SurfaceFit, of: Triples) -> Bent | None:
    """Whether the rows bend about a plane, by the F test of three further terms; None where not."""
    try:
        curved = fit_surface(of, 2)
    except FitError:
        return None
    if plane.sse <= 0 or curved.sse <= 0:
        return None
    f = ((plane.sse - curved.sse) / 3) / (curved.sse / curved.degrees_of_freedom)
    p = float(special.fdtrc(3, curved.degrees_of_freedom, max(f, 0.0)))
    share = 1 - math.sqrt(
        (curved.sse / curved.degrees_of_freedom) / (plane.sse / plane.degrees_of_freedom)
    )
    return Bent(share, p) if p < _TELLING and share > _BENDS_BY else None


@dataclass(frozen=True, slots=True)
class Pulls:
    """A row without which a slope is another one.

    Attributes
    ----------
    row : int
        Its place among the rows fitted.
    slope : int
        Which of the slopes it moves most: 0 for that along x, 1 for that along y.
    by : float
        How far, in its standard errors.
    """

    row: int
    slope: int
    by: float


def pulls(fit: SurfaceFit, of: Triples) -> Pulls | None:
    """Find the row that moves a slope most, if it moves it by more than its standard error."""
    if fit.sse <= 0:
        return None
    moved = np.nan_to_num(np.abs(fit.shifts(of))[:, :2])
    row, slope = np.unravel_index(int(moved.argmax()), moved.shape)
    by = float(moved[row, slope])
    return Pulls(int(row), int(slope), by) if by > 1 else None


def _powers(degree: Degree) -> list[tuple[int, int]]:
    """The powers of x and of y of each column."""
    found = [(0, 0)]
    for total in range(1, degree + 1):
        for which in combinations_with_replacement((0, 1), total):
            found.append((which.count(0), which.count(1)))
    return found


def _design(x: Array, y: Array, degree: Degree) -> Array:
    return np.column_stack([x**i * y**j for i, j in _powers(degree)])

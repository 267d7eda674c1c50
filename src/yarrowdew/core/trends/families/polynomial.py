"""The polynomial of degree 2 to 10, y = b0 + b1 x + … + bk xᵏ.

Least squares on polynomials that are orthogonal over the data, made by their three-term
recurrence (Forsythe 1957) on x scaled to −1 to 1: no matrix is formed that could be ill
conditioned. One step of refinement on the residuals takes out what rounding left. The coefficients
of powers of x itself come from the recurrence in exact rational arithmetic, so that the change of
basis costs no digits. Intervals are exact under normal scatter.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

import numpy as np
import scipy

from yarrowdew.core.aggregates.polynomials import Orthogonal, PolynomialSums
from yarrowdew.core.equation import EquationForm, Slot
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import t_quantile
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import EVEN_SCATTER, INDEPENDENT_ROWS, Assumption, of_curve
from yarrowdew.core.trends.base import (
    BaseFit,
    Coefficient,
    Interval,
    mean_one,
    needs_rows,
    needs_values,
    settled,
    spread_of,
)
from yarrowdew.core.trends.family import Candidate, Entry, Family, FromSums, setting
from yarrowdew.core.trends.protocol import PointwiseKind, check_pointwise

LOWEST_DEGREE, HIGHEST_DEGREE = 2, 10


@dataclass(frozen=True, kw_only=True)
class Polynomial(BaseFit):
    """A fitted polynomial.

    Attributes
    ----------
    centre, half : float
        Middle of the data across and half their range: t = (x − centre)/half.
    shifts, ratios : tuple of float
        Of the recurrence Pₖ₊₁ = (t − shiftₖ) Pₖ − ratioₖ Pₖ₋₁.
    norms : ndarray, shape (degree + 1,)
        Weighted sum of squares of each Pₖ over the data.
    weights : ndarray, shape (degree + 1,)
        Coefficients of the Pₖ.
    """

    centre: float
    half: float
    shifts: tuple[float, ...]
    ratios: tuple[float, ...]
    norms: Array
    weights: Array

    @property
    def degree(self) -> int:
        """Highest power of x."""
        return len(self.weights) - 1

    @property
    def p_value(self) -> float | None:
        """Of the hypothesis that every coefficient but b0 is zero (F test)."""
        if self.sst <= 0:
            return None
        if self.sse <= 0:
            return 0.0
        k, df = self.degree, self.degrees_of_freedom
        f = ((self.sst - self.sse) / k) / (self.sse / df)
        return float(scipy.special.fdtrc(k, df, max(f, 0.0)))

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the intervals rest on."""
        return (
            of_curve(f"The mean of y follows a polynomial of degree {self.degree} in x."),
            EVEN_SCATTER,
            INDEPENDENT_ROWS,
            of_curve("Outside the data a polynomial turns away quickly and says little."),
        )

    @property
    def form(self) -> EquationForm:
        """Powers of x, the constant first."""
        pattern: list[str | Slot] = [Slot(0)]
        for power in range(1, self.degree + 1):
            raised = " {x}" if power == 1 else f" {{x}}^{{{{{power}}}}}"
            pattern += [Slot(power, joined=True), raised]
        units = tuple((1, -power) for power in range(self.degree + 1))
        return EquationForm(self._powers, _horner, tuple(pattern), units)

    def form_about(self, origin: float) -> EquationForm:
        """Powers of x counted from another origin."""
        places = self.degree + 1
        pattern: list[str | Slot] = [Slot(0)]
        for power in range(1, places):
            # The origin is the same number in every term.
            pattern += [Slot(power, joined=True), " ({x}", Slot(places, joined=True, exact=True)]
            pattern.append(")" if power == 1 else f")^{{{{{power}}}}}")
        return EquationForm(
            (*_powers_about(self, origin), -origin),
            _horner_about,
            tuple(pattern),
            (*((1, -power) for power in range(places)), (0, 1)),
        )

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """b0 to bk."""
        half = t_quantile(level, self.degrees_of_freedom)
        spread = np.array([[float(v) for v in row] for row in self._change])
        ses = self.residual_sd * np.sqrt((spread**2 / self.norms[:, None]).sum(axis=0))
        return tuple(
            Coefficient.of(f"b{k}", value, float(se), half)
            for k, (value, se) in enumerate(zip(self._powers, ses, strict=True))
        )

    def predict(self, x: Array) -> Array:
        """Fitted y, from the orthogonal polynomials."""
        return np.asarray(_sum_of(self._basis(x), self.weights))

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval:
        """Pointwise band; a prediction is for one new row of weight 1."""
        check_pointwise(kind)
        fitted, variance = np.zeros(len(x)), np.zeros(len(x))
        for p, weight, norm in zip(self._basis(x), self.weights, self.norms, strict=True):
            fitted += weight * p
            variance += p * p / norm
        if kind == "prediction":
            variance += 1
        half = t_quantile(level, self.degrees_of_freedom) * self.residual_sd * np.sqrt(variance)
        return Interval(fitted - half, fitted + half)

    def leverage(self, sample: Sample) -> Array:
        """Diagonal of the hat matrix."""
        out = np.zeros(sample.n)
        for p, norm in zip(self._basis(sample.x), self.norms, strict=True):
            out += p * p / norm
        return np.asarray(out * mean_one(sample))

    def tangent(self, x: Array) -> Array:
        """The orthogonal polynomials, of unit length over the rows."""
        return np.column_stack(self._basis(x)) / np.sqrt(self.norms)

    def coefficient_tangents(self) -> dict[str, Array]:
        """Coefficients of powers of x in these columns."""
        spread = np.array([[float(v) for v in row] for row in self._change])
        rows = (spread / np.sqrt(self.norms)[:, None]).T
        return {f"b{k}": row for k, row in enumerate(rows)}

    def _basis(self, x: Array) -> list[Array]:
        return _recurrence((x - self.centre) / self.half, self.shifts, self.ratios)

    @cached_property
    def _change(self) -> list[list[Fraction]]:
        """Coefficients of powers of x in each Pₖ."""
        return _changed(self, 0.0)

    @cached_property
    def _powers(self) -> tuple[float, ...]:
        """Coefficients of powers of x."""
        return _powers_of(self, self._change)


def _changed(fit: Polynomial, origin: float) -> list[list[Fraction]]:
    """Coefficients of powers of x − origin in each Pₖ."""
    half = Fraction(fit.half)
    t = [(Fraction(origin) - Fraction(fit.centre)) / half, 1 / half]
    before: list[Fraction] = []
    now = [Fraction(1)]
    rows = [now]
    for shift, ratio in zip(fit.shifts, fit.ratios, strict=True):
        longer = _times(now, [t[0] - Fraction(shift), t[1]])
        for i, v in enumerate(before):
            longer[i] -= Fraction(ratio) * v
        before, now = now, longer
        rows.append(now)
    width = len(rows)
    return [row + [Fraction(0)] * (width - len(row)) for row in rows]


def _powers_of(fit: Polynomial, change: list[list[Fraction]]) -> tuple[float, ...]:
    weights = [Fraction(float(w)) for w in fit.weights]
    return tuple(
        float(sum((w * row[k] for w, row in zip(weights, change, strict=True)), Fraction()))
        for k in range(len(weights))
    )


def _powers_about(fit: Polynomial, origin: float) -> tuple[float, ...]:
    return _powers_of(fit, _changed(fit, origin))


@dataclass(frozen=True, slots=True, kw_only=True)
class PolynomialSettings:
    """Settings of a polynomial."""

    degree: int = setting(
        2,
        "Degree",
        "Of a polynomial.",
        low=LOWEST_DEGREE,
        high=HIGHEST_DEGREE,
        slider=(LOWEST_DEGREE, HIGHEST_DEGREE),
    )


def fit(sample: Sample, settings: PolynomialSettings) -> Polynomial:
    """Fit a polynomial by (weighted) least squares.

    Parameters
    ----------
    sample : Sample
        At least degree + 2 pairs with degree + 1 distinct x.
    settings : PolynomialSettings

    Raises
    ------
    FitError
        If there are too few rows or too few distinct x, or the degree is not offered.
    """
    degree = _offered(settings)
    needs_rows(sample, degree + 2, f"A polynomial of degree {degree}", distinct=degree + 1)
    low, high = sample.x_range
    centre, half = low / 2 + high / 2, high / 2 - low / 2
    t = (sample.x - centre) / half
    w = mean_one(sample)
    shifts, ratios, norms = _orthogonal(t, w, degree)
    weights = np.zeros(degree + 1)
    residual = sample.y.copy()
    for _ in range(2):
        # Each component is taken out before the next is found; the second round refines.
        for k, p in enumerate(_recurrence(t, shifts, ratios)):
            part = float(np.dot(residual if sample.weights is None else w * residual, p)) / norms[k]
            weights[k] += part
            residual -= part * p
    sse = float(np.dot(residual if sample.weights is None else w * residual, residual))
    return _from(
        Orthogonal(
            n=sample.n,
            x_range=(low, high),
            centre=centre,
            half=half,
            shifts=shifts,
            ratios=ratios,
            norms=norms,
            weights=weights,
            sse=sse,
            sst=spread_of(sample),
        )
    )


def _of_parts(sums: PolynomialSums) -> Polynomial:
    what = f"A polynomial of degree {sums.degree}"
    needs_values(sums.n, sums.distinct, sums.degree + 2, what, distinct=sums.degree + 1)
    return _from(sums.orthogonal())


def _from(made: Orthogonal) -> Polynomial:
    degree = len(made.weights) - 1
    return Polynomial(
        family=FAMILY.name,
        n=made.n,
        x_range=made.x_range,
        sse=settled(made.sse, made.sst, made.n),
        sst=made.sst,
        degrees_of_freedom=made.n - degree - 1,
        parameters=degree + 1,
        centre=made.centre,
        half=made.half,
        shifts=made.shifts,
        ratios=made.ratios,
        norms=made.norms,
        weights=made.weights,
    )


def _offered(settings: PolynomialSettings) -> int:
    """The degree, if it is one that is offered."""
    degree = settings.degree
    if not LOWEST_DEGREE <= degree <= HIGHEST_DEGREE:
        raise FitError(
            f"A polynomial of degree {degree} is not offered.",
            f"Choose a degree from {LOWEST_DEGREE} to {HIGHEST_DEGREE}.",
        )
    return degree


def _orthogonal(
    t: Array, w: Array | float, degree: int
) -> tuple[tuple[float, ...], tuple[float, ...], Array]:
    """Find the recurrence of polynomials that are orthogonal over t with weights w."""
    shifts: list[float] = []
    ratios: list[float] = []
    before, now = np.zeros_like(t), np.ones_like(t)
    norms = [float(np.sum(w * now))]
    for k in range(degree):
        weighted = w * now
        # The shift about the middle is what rounding would spoil; sums of t are of order one.
        shift = float(np.dot(weighted * now, t)) / norms[k]
        ratio = norms[k] / norms[k - 1] if k else 0.0
        before, now = now, (t - shift) * now - ratio * before
        shifts.append(shift)
        ratios.append(ratio)
        norms.append(float(np.dot(w * now, now)))
    return tuple(shifts), tuple(ratios), np.array(norms)


def _recurrence(t: Array, shifts: tuple[float, ...], ratios: tuple[float, ...]) -> list[Array]:
    out = [np.ones_like(t)]
    before = np.zeros_like(t)
    for shift, ratio in zip(shifts, ratios, strict=True):
        now = out[-1]
        longer = (t - shift) * now
        if ratio:
            longer -= ratio * before
        before = now
        out.append(longer)
    return out


def _sum_of(basis: list[Array], weights: Array) -> Array:
    out = np.zeros_like(basis[0])
    for p, weight in zip(basis, weights, strict=True):
        out += weight * p
    return out


def _times(a: list[Fraction], b: list[Fraction]) -> list[Fraction]:
    out = [Fraction(0)] * (len(a) + len(b) - 1)
    for i, u in enumerate(a):
        for j, v in enumerate(b):
            out[i + j] += u * v
    return out


def _horner_about(values: tuple[float, ...], x: Array) -> Array:
    return _horner(values[:-1], x + values[-1])


def _horner(values: tuple[float, ...], x: Array) -> Array:
    out = np.full_like(x, values[-1])
    for value in reversed(values[:-1]):
        out = out * x + value
    return out


FAMILY = Family(
    name="polynomial",
    label="polynomial",
    entry=Entry(
        method="least squares on orthogonal polynomials (Forsythe 1957)",
        intervals="Student's t; F test against a constant",
        exactness="exact under normal scatter",
    ),
    note="quadratic, cubic and so on",
    settings=PolynomialSettings,
    is_usual=True,
    fit=fit,
    units=lambda name: (1, -int(name[1:])),
    from_sums=FromSums(fit=lambda sums, _: _of_parts(sums), degree=_offered),
    candidates=(
        Candidate("quadratic", PolynomialSettings(degree=2)),
        Candidate("cubic", PolynomialSettings(degree=3)),
    ),
)

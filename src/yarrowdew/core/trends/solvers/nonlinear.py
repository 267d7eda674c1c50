"""Least squares for curves that are not linear in their coefficients, with delta-method bands.

The coefficients are found by a trust-region method (Moré 1978) from the family's own starting
values, on coefficients scaled by their columns of the Jacobian, and finished by Gauss–Newton steps
to full precision. Standard errors, bands and leverages are those of the tangent plane (Seber and
Wild 1989, ch. 5): approximate, and the closer the larger n is.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from yarrowdew.core.equation import EquationForm
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import t_quantile
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import (
    EVEN_SCATTER,
    INDEPENDENT_ROWS,
    Assumption,
    of_curve,
    of_intervals,
)
from yarrowdew.core.trends.base import (
    BaseFit,
    Coefficient,
    Correlation,
    Interval,
    mean_one,
    spread_of,
)
from yarrowdew.core.trends.protocol import PointwiseKind, check_pointwise
from yarrowdew.core.trends.solvers.blocked_lstsq import (
    Curve,
    Slopes,
    jacobian_of,
    triangle_of,
)
from yarrowdew.core.trends.solvers.identifiability import (
    check_minimum,
    inverse_of,
    offset_in,
    relative_offset,
)
from yarrowdew.core.trends.solvers.optimise import EXACT, MOST_SEARCHED, inside_of, minimum_of


@dataclass(frozen=True, slots=True, kw_only=True)
class NonlinearFit(BaseFit):
    """A fitted curve.

    Attributes
    ----------
    names : tuple of str
        Of all coefficients.
    values : ndarray, shape (coefficients,)
        All of them, with those that were given.
    free : tuple of int
        Which of them were fitted.
    curve, slopes : callable
    inverse : ndarray, shape (p, p)
        Inverse of JᵀWJ of the free coefficients at the solution.
    equation : callable
        From the coefficients to the equation as printed.
    meaning : str
        What the mean of y is taken to do, as a sentence.
    again : callable
        Fits the same curve to other rows, from `starts`.
    """

    names: tuple[str, ...]
    values: Array
    free: tuple[int, ...]
    curve: Curve
    slopes: Slopes
    inverse: Array
    equation: Callable[[Array], EquationForm]
    meaning: str
    again: Callable[..., NonlinearFit]

    @property
    def correlations(self) -> tuple[Correlation, ...]:
        """Of every two coefficients that were fitted, from the inverse of JᵀWJ."""
        sizes = np.sqrt(np.diag(self.inverse))
        r = self.inverse / np.outer(sizes, sizes)
        names = [self.names[i] for i in self.free]
        return tuple(
            Correlation(names[i], names[j], float(r[i, j]))
            for i in range(len(names))
            for j in range(i + 1, len(names))
        )

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the intervals rest on."""
        return (
            of_curve(self.meaning),
            EVEN_SCATTER,
            INDEPENDENT_ROWS,
            of_intervals(
                "Intervals are approximate (delta method): they hold the better the more rows there "
                "are."
            ),
        )

    @property
    def form(self) -> EquationForm:
        """The curve as printed."""
        return self.equation(self.values)

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """All of them; those given have no standard error."""
        half = t_quantile(level, self.degrees_of_freedom)
        ses = self.residual_sd * np.sqrt(np.diag(self.inverse))
        out = []
        for i, (name, value) in enumerate(zip(self.names, self.values.tolist(), strict=True)):
            if i in self.free:
                out.append(Coefficient.of(name, value, float(ses[self.free.index(i)]), half))
            else:
                out.append(Coefficient.given(name, value))
        return tuple(out)

    def predict(self, x: Array) -> Array:
        """Fitted y."""
        with np.errstate(all="ignore"):
            return self.curve(self.values, x)

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval:
        """Pointwise band by the delta method."""
        check_pointwise(kind)
        variance = self._variance(x)
        if kind == "prediction":
            variance = variance + 1
        half = t_quantile(level, self.degrees_of_freedom) * self.residual_sd * np.sqrt(variance)
        fitted = self.predict(x)
        return Interval(fitted - half, fitted + half)

    def leverage(self, sample: Sample) -> Array:
        """Diagonal of the tangent plane's hat matrix."""
        return np.asarray(np.minimum(self._variance(sample.x) * mean_one(sample), 1.0))

    def refit(self, sample: Sample) -> NonlinearFit:
        """Fit the curve to other rows, from where it lies."""
        return self.again(sample, [self.values])

    def tangent(self, x: Array) -> Array:
        """Columns of the Jacobian at the solution, of unit length over the rows."""
        with np.errstate(all="ignore"):
            slopes = self.slopes(self.values, x)[:, self.free]
        return np.asarray(slopes @ self._root)

    def coefficient_tangents(self) -> dict[str, Array]:
        """The fitted coefficients in these columns."""
        return dict(zip([self.names[i] for i in self.free], self._root, strict=True))

    @property
    def _root(self) -> Array:
        """A matrix L with LLᵀ the inverse of JᵀWJ."""
        sizes = np.sqrt(np.diag(self.inverse))
        return sizes[:, None] * np.linalg.cholesky(self.inverse / np.outer(sizes, sizes))

    def _variance(self, x: Array) -> Array:
        with np.errstate(all="ignore"):
            slopes = self.slopes(self.values, x)[:, self.free]
        return np.asarray(np.einsum("ij,jk,ik->i", slopes, self.inverse, slopes))


@dataclass(frozen=True, kw_only=True)
class CurveProblem:
    """A curve to be fitted by (weighted) least squares.

    Attributes
    ----------
    family, what : str
        Name of the family, and what a person calls it.
    names : tuple of str
        Of the coefficients.
    free : tuple of int
        Which coefficients are fitted; the others stay as they start.
    curve, slopes : callable
        From coefficients and x to y, and to its derivatives by the coefficients.
    equation : callable
        From coefficients to the curve as it is printed.
    meaning : str
        What the mean of y is taken to do, as a sentence.
    check : callable
        Raises FitError for coefficients that the rows cannot have meant.
    bounds : tuple of ndarray or None
        Shape (coefficients,) each. A coefficient that comes to lie at one of them is held there.
    """

    family: str
    what: str
    names: tuple[str, ...]
    free: tuple[int, ...]
    curve: Curve
    slopes: Slopes
    equation: Callable[[Array], EquationForm]
    meaning: str
    check: Callable[[Array], None] = lambda _: None
    bounds: tuple[Array, Array] | None = None

    def fit(self, sample: Sample, starts: Sequence[Array]) -> NonlinearFit:
        """Fit it from the best of several starting values.

        Raises
        ------
        FitError
            If no starting value leads to a minimum with finite, determined coefficients.
        """
        curve, slopes, bounds = self.curve, self.slopes, self.bounds
        best = minimum_of(
            sample, starts, list(self.free), curve, slopes, bounds=bounds, check=self.check
        )
        if best is None:
            raise FitError(
                f"{self.what} could not be fitted to these rows.", "Choose another form."
            )
        free = inside_of(sample, best, self.free, curve, bounds)
        sse, values = best
        self.check(values)
        jacobian, offset = self._curvature(sample, values, free)
        inverse = inverse_of(jacobian, self.what, [self.names[i] for i in free])
        if bounds is None and sse > EXACT * spread_of(sample):
            check_minimum(offset, self.what)
        return NonlinearFit(
            family=self.family,
            n=sample.n,
            x_range=(float(sample.x.min()), float(sample.x.max())),
            sse=sse,
            sst=spread_of(sample),
            degrees_of_freedom=sample.n - len(free),
            parameters=len(free),
            names=self.names,
            values=values,
            free=free,
            curve=curve,
            slopes=slopes,
            inverse=inverse,
            equation=self.equation,
            meaning=self.meaning,
            again=self.fit,
        )

    def _curvature(
        self, sample: Sample, values: Array, free: tuple[int, ...]
    ) -> tuple[Array, float]:
        """The Jacobian at a minimum, or its triangle of many rows, and the relative offset."""
        if sample.n > MOST_SEARCHED:
            triangle = triangle_of(sample, values, list(free), self.curve, self.slopes)
            return triangle[:-1, :-1], offset_in(triangle, sample.n)
        root = np.sqrt(mean_one(sample))
        jacobian = jacobian_of(values, sample.x, root, list(free), self.slopes)
        residuals = (self.curve(values, sample.x) - sample.y) * root
        return jacobian, relative_offset(jacobian, residuals)

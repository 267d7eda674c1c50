"""Least squares for curves that are not linear in their coefficients, with delta-method bands.

The coefficients are found by a trust-region method (Moré 1978) from the family's own starting
values, on coefficients scaled by their columns of the Jacobian, and finished by Gauss–Newton steps
to full precision. Standard errors, bands and leverages are those of the tangent plane (Seber and
Wild 1989, ch. 5): approximate, and the closer the larger n is.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np
import scipy
from scipy import special

from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.equation import EquationForm
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import t_quantile
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.base import (
    BandKind,
    BaseFit,
    Coefficient,
    Correlation,
    Interval,
    mean_one,
    spread_of,
)
from yarrowdew.core.trends.determined import (
    MOST_OFFSET,
    check_minimum,
    inverse_of,
    relative_offset,
)
from yarrowdew.core.trends.stretches import (
    Curve,
    Slopes,
    descended,
    jacobian_of,
    total_of,
    triangle_of,
)

_FINISHING_STEPS, _HALVINGS = 60, 12
_LITTLE, _POLISHED = 1e-13, 3
_AGAIN, _WORTH = 8, 1e-4
_ENOUGH = 2_000
_TRIES, _A_FEW = 80, 12
_DESCENDED = 4
"""From so many starting values at most the minimum is descended to."""
_MOST_SEARCHED = 100_000
"""Above, the minimum is searched for over so many rows, and descended to from there over all."""
_FAR = 1e100
_AS_GOOD = 1e-9
_EXACT = 1e-20


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
    def p_value(self) -> float | None:
        """Of the hypothesis that y is the same everywhere (F test, approximate)."""
        k = len(self.free) - 1
        if self.sst <= 0 or k < 1:
            return None
        if self.sse <= 0:
            return 0.0
        f = ((self.sst - self.sse) / k) / (self.sse / self.degrees_of_freedom)
        return float(special.fdtrc(k, self.degrees_of_freedom, max(f, 0.0)))

    @property
    def assumptions(self) -> tuple[str, ...]:
        """What the intervals rest on."""
        return (
            self.meaning,
            "The scatter about it is the same everywhere and close to normal.",
            "Rows are independent of one another, and x is known without error.",
            "Intervals are approximate (delta method): they hold the better the more rows there are.",
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

    def band(self, x: Array, level: float, kind: BandKind) -> Interval:
        """Pointwise band by the delta method."""
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
        return self.again(sample, starts=[self.values])

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


def fit_curve(
    sample: Sample,
    *,
    family: str,
    what: str,
    names: tuple[str, ...],
    starts: Sequence[Array],
    free: tuple[int, ...],
    curve: Curve,
    slopes: Slopes,
    equation: Callable[[Array], EquationForm],
    meaning: str,
    check: Callable[[Array], None] = lambda _: None,
    bounds: tuple[Array, Array] | None = None,
) -> NonlinearFit:
    """Fit a curve by (weighted) least squares, from the best of several starting values.

    `check` raises FitError for coefficients that the rows cannot have meant. A coefficient that
    comes to lie at one of its `bounds`, shape (coefficients,) each, is held there like one that was
    given.

    Raises
    ------
    FitError
        If no starting value leads to a minimum with finite, determined coefficients.
    """
    again = partial(
        fit_curve,
        family=family,
        what=what,
        names=names,
        free=free,
        curve=curve,
        slopes=slopes,
        equation=equation,
        meaning=meaning,
        check=check,
        bounds=bounds,
    )
    least = partial(_least, bounds=bounds)
    few = _some_of(sample)
    sound = [start for start in starts if np.isfinite(start).all()]
    if len(sound) > _DESCENDED:
        # A few steps from each tell which are worth going on from.
        begun = [least(few, start, list(free), curve, slopes, tries=_A_FEW) for start in sound]
        begun.sort(key=lambda one: one[0] if np.isfinite(one[0]) else np.inf)
        sound = [values for _, values in begun[:_DESCENDED]]
    found = [least(few, start, list(free), curve, slopes) for start in sound]
    best = _best_of([one for one in found if np.isfinite(one[0])])
    if best is not None and few is not sample:
        check(best[1])
        if sample.n <= _MOST_SEARCHED:
            best = least(sample, best[1], list(free), curve, slopes)
        else:
            more = _some_of(sample, _MOST_SEARCHED)
            best = least(more, best[1], list(free), curve, slopes)
            best = descended(sample, best[1], list(free), curve, slopes)
    if best is None or best[0] >= _FAR:
        raise FitError(f"{what} could not be fitted to these rows.", "Choose another form.")
    if sample.n <= _MOST_SEARCHED and bounds is None:
        for _ in range(_AGAIN):
            # In a long valley one search does not come to its end.
            if _offset_at(sample, best, list(free), curve, slopes) <= MOST_OFFSET:
                break
            before, best = best[0], least(sample, best[1], list(free), curve, slopes)
            if before - best[0] < _WORTH * before:
                break
    free = _inside(sample, best, free, curve, bounds)
    sse, values = best
    check(values)
    if sample.n <= _MOST_SEARCHED:
        root = np.sqrt(mean_one(sample))
        triangle = jacobian_of(values, sample.x, root, list(free), slopes)
    else:
        triangle = triangle_of(sample, values, list(free), slopes)
    inverse = inverse_of(triangle, what, [names[i] for i in free])
    if sample.n <= _MOST_SEARCHED and bounds is None and sse > _EXACT * spread_of(sample):
        check_minimum(relative_offset(triangle, (curve(values, sample.x) - sample.y) * root), what)
    return NonlinearFit(
        family=family,
        n=sample.n,
        x_range=(float(sample.x.min()), float(sample.x.max())),
        sse=sse,
        sst=spread_of(sample),
        degrees_of_freedom=sample.n - len(free),
        parameters=len(free),
        names=names,
        values=values,
        free=free,
        curve=curve,
        slopes=slopes,
        inverse=inverse,
        equation=equation,
        meaning=meaning,
        again=again,
    )


def _some_of(sample: Sample, most: int = _ENOUGH) -> Sample:
    """Rows evenly from left to right, enough to tell which starting value leads to the minimum."""
    if sample.n <= most:
        return sample
    order = np.argsort(sample.x, kind="stable")
    kept = order[np.linspace(0, sample.n - 1, most).astype(np.intp)]
    return sample.take(kept)


def _least(
    sample: Sample,
    start: Array,
    free: list[int],
    curve: Curve,
    slopes: Slopes,
    *,
    bounds: tuple[Array, Array] | None,
    tries: int | None = None,
) -> tuple[float, Array]:
    """Find the least residual sum of squares from one starting value, and where it is."""
    root = np.sqrt(mean_one(sample))

    def full(some: Array) -> Array:
        values = start.copy()
        values[free] = some
        return values

    def residual(some: Array) -> Array:
        checkpoint()
        with np.errstate(all="ignore"):
            off = (curve(full(some), sample.x) - sample.y) * root
        return np.where(np.isfinite(off), off, _FAR)

    def jacobian(some: Array) -> Array:
        return jacobian_of(full(some), sample.x, root, free, slopes)

    low, high = (-np.inf, np.inf) if bounds is None else (bounds[0][free], bounds[1][free])
    if not free:
        off = residual(start[free])
        return float(np.dot(off, off)), start
    solved = scipy.optimize.least_squares(
        residual,
        np.clip(start[free], low, high),
        jacobian,
        bounds=(low, high),
        method="trf",
        x_scale="jac",
        xtol=1e-12,
        ftol=1e-12,
        gtol=1e-12,
        max_nfev=tries or (_TRIES if sample.n <= _ENOUGH else _TRIES // 2),
    )
    if tries is not None:
        return 2 * float(solved.cost), full(solved.x)
    some = _finished(solved.x, residual, jacobian, (low, high))
    r = residual(some)
    return float(np.dot(r, r)), full(some)


def _finished(
    some: Array,
    residual: Callable[[Array], Array],
    jacobian: Callable[[Array], Array],
    ends: tuple[Array | float, Array | float],
) -> Array:
    """Take Gauss–Newton steps, halved where they lead too far, while residuals become smaller."""
    r = residual(some)
    least = float(np.dot(r, r))
    polished = 0
    for _ in range(_FINISHING_STEPS):
        j = jacobian(some)
        # On columns of unit length, small steps of one parameter are not lost beside another's.
        lengths = np.sqrt((j * j).sum(axis=0))
        lengths = np.where(lengths > 0, lengths, 1.0)
        step = np.linalg.lstsq(j / lengths, r, rcond=None)[0] / lengths
        for halving in range(_HALVINGS):
            tried = np.clip(some - step * 0.5**halving, *ends)
            r_tried = residual(tried)
            now = float(np.dot(r_tried, r_tried))
            if now < least:
                break
            if not halving and polished < _POLISHED and now <= least * (1 + _LITTLE):
                # As good as rounding tells; the step leads nearer all the same.
                polished += 1
                break
        else:
            break
        gained = (least - now) / least if least > 0 else 0.0
        some, r, least = tried, r_tried, now
        if halving and gained < _LITTLE:
            break
    return some


def _offset_at(
    sample: Sample, best: tuple[float, Array], free: list[int], curve: Curve, slopes: Slopes
) -> float:
    root = np.sqrt(mean_one(sample))
    if best[0] <= _EXACT * spread_of(sample):
        return 0.0
    with np.errstate(all="ignore"):
        off = (curve(best[1], sample.x) - sample.y) * root
    if not np.isfinite(off).all():
        return np.inf
    return relative_offset(jacobian_of(best[1], sample.x, root, free, slopes), off)


def _best_of(found: list[tuple[float, Array]]) -> tuple[float, Array] | None:
    """The least; of such as are as good, that with most parameters above zero."""
    if not found:
        return None
    least = min(sse for sse, _ in found)
    as_good = [one for one in found if one[0] <= least * (1 + _AS_GOOD)]
    return max(as_good, key=lambda one: int(np.count_nonzero(one[1] > 0)))


def _inside(
    sample: Sample,
    best: tuple[float, Array],
    free: tuple[int, ...],
    curve: Curve,
    bounds: tuple[Array, Array] | None,
) -> tuple[int, ...]:
    """Coefficients that do not lie at the end of where they may; the others are set there.

    One lies at an end if it can be put there and the residuals are not larger.
    """
    if bounds is None:
        return free
    least, values = best
    kept = []
    for i in free:
        own = float(values[i])
        ends = [float(end[i]) for end in bounds if np.isfinite(end[i])]
        for end in sorted(ends, key=lambda end: abs(own - end)):
            values[i] = end
            if total_of(sample, values, curve) <= least * (1 + _AS_GOOD):
                break
        else:
            values[i] = own
            kept.append(i)
    return tuple(kept)

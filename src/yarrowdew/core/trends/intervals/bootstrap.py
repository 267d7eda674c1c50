"""Intervals by resampling rows: the bootstrap of pairs (Efron and Tibshirani 1993, section 9.5).

Rows are drawn with replacement and the family is fitted to them again, many times; intervals are
those between percentiles of what the fits say. A band for the whole line takes the percentile of
the largest deviation over it, in standard errors (Montiel Olea and Plagborg-Møller 2019). Both are
stretched for few rows: drawn rows scatter less than new ones would, and percentiles know of no
Student's t (Hesterberg 2015).
"""

from __future__ import annotations

import hashlib
import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, fields
from functools import cached_property

import numpy as np
import numpy.typing as npt

from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import normal_quantile, t_quantile
from yarrowdew.core.lru_cache import SizedLRUCache
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import About, Assumption, of_intervals, without
from yarrowdew.core.trends.fit_proxy import FitProxy
from yarrowdew.core.trends.protocol import (
    Coefficient,
    Crossing,
    HasRefit,
    HoldsRows,
    Interval,
    PointwiseKind,
    TrendFit,
    check_pointwise,
)

RESAMPLES = 400
LEAST_ASKED, MOST_ASKED = 50, 20_000
_FEWEST, _ROWS_IN_ALL = 100, 20_000_000
"""So many resamples at least; and so many rows in all of them together, if that is more."""
_MOST_FAILED = 0.2


@dataclass(frozen=True)
class Resampled(FitProxy):
    """A fit with intervals from fits to resampled rows.

    Attributes
    ----------
    refits : tuple of TrendFit
    tried : int
        How many were tried; some of them may have failed.
    seed : int
    """

    refits: tuple[TrendFit, ...]
    tried: int
    seed: int

    @property
    def p_value(self) -> float | None:
        """None: the test of the fit inside rests on what is not assumed here."""
        return None

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the intervals rest on."""
        failed = self.tried - len(self.refits)
        lost = f"; {failed} more could not be fitted" if failed else ""
        return (
            *without(self.inner.assumptions, About.SCATTER, About.INTERVALS),
            of_intervals(
                f"Intervals are percentiles of {len(self.refits)} fits to resampled rows (seed "
                f"{self.seed}){lost}, stretched for few rows by √(n / (n − p)) and Student's t: the "
                "scatter may have any form. They are approximate. There is no such band for a new row."
            ),
        )

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """The same values, between percentiles of the refits."""
        out = []
        for c in self.inner.coefficients(level):
            values = [v[c.name] for v in self._values if c.name in v]
            if c.was_given or not values:
                out.append(c)
                continue
            low, high = np.quantile(values, _tails(level))
            low, high = self._stretched(c.value, low, high, level)
            se = float(np.std(values, ddof=1)) * self._for_few
            out.append(Coefficient(c.name, c.value, se, float(low), float(high)))
        return tuple(out)

    @cached_property
    def _values(self) -> list[dict[str, float]]:
        """Of the refits, whose own intervals nobody asks for."""
        return [fit.coefficient_values() for fit in self.refits]

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval | None:
        """Pointwise band; there is none for a new row."""
        check_pointwise(kind)
        if kind == "prediction":
            return None
        low, high = np.nanquantile(self._curves(x), _tails(level), axis=0)
        return Interval(*self._stretched(self.inner.predict(x), low, high, level))

    @property
    def _for_few(self) -> float:
        """What rows drawn with replacement scatter less than new ones would."""
        rest = max(self.inner.degrees_of_freedom, 1.0)
        return math.sqrt(self.inner.n / rest)

    def _stretched(
        self, value: Array | float, low: Array, high: Array, level: float
    ) -> tuple[Array, Array]:
        """Ends as far from a value as Student's t and few rows take them."""
        rest = max(self.inner.degrees_of_freedom, 1.0)
        by = self._for_few * t_quantile(level, rest) / normal_quantile(level)
        return value + (low - value) * by, value + (high - value) * by

    def whole_band(self, x: Array, level: float) -> Interval:
        """Band for the whole line, of as many standard errors everywhere."""
        places = self.inner.drawn_at(129)
        own = np.nanstd(self._curves(places), axis=0, ddof=1)
        with np.errstate(all="ignore"):
            away = np.abs(self._curves(places) - self.inner.predict(places)) / own
        reach = float(np.quantile(np.nanmax(away, axis=1), level))
        half = reach * self._for_few * np.nanstd(self._curves(x), axis=0, ddof=1)
        fitted = self.inner.predict(x)
        return Interval(fitted - half, fitted + half)

    def crossings(
        self, y: float, level: float, within: tuple[float, float] | None = None
    ) -> tuple[Crossing, ...]:
        """Every x at which the trend reaches `y`, between percentiles of those of the refits."""
        return tuple(
            c if c.x is None else self._between(c.x, y, level, within)
            for c in self.inner.crossings(y, level, within)
        )

    def _between(
        self, x: float, y: float, level: float, within: tuple[float, float] | None
    ) -> Crossing:
        places = []
        for fit in self.refits:
            checkpoint()
            own = [c.x for c in fit.crossings(y, level, within) if c.x is not None]
            if own:
                places.append(min(own, key=lambda place: abs(place - x)))
        if len(places) < len(self.refits) * (1 + level) / 2:
            said = "Too many of the resampled fits do not reach it for an interval."
            return Crossing(x, None, None, said)
        low, high = np.quantile(places, _tails(level))
        low, high = self._stretched(x, low, high, level)
        return Crossing(x, float(low), float(high))

    def _curves(self, x: Array) -> Array:
        return np.stack([fit.predict(x) for fit in self.refits])


def _tails(level: float) -> tuple[float, float]:
    return (1 - level) / 2, (1 + level) / 2


_KEPT: SizedLRUCache[tuple[TrendFit, ...]] = SizedLRUCache(100_000_000)
"""Of changes that leave the rows as they are: another level, another number read off."""


def _key(sample: Sample, said: str) -> str:
    digest = hashlib.blake2b(said.encode())
    for part in (sample.x, sample.y, sample.weights, *(sample.errors or ())):
        digest.update(b"-" if part is None else part.tobytes())
    return digest.hexdigest()


def _size(fit: TrendFit) -> int:
    """Bytes, roughly."""
    held = [getattr(fit, one.name) for one in fields(fit)]  # type: ignore[arg-type]
    return 1_000 + sum(part.nbytes for part in held if isinstance(part, np.ndarray))


def _refitted(
    fit: TrendFit, sample: Sample, again: Callable[[Sample], TrendFit], count: int, seed: int
) -> tuple[TrendFit, ...]:
    if isinstance(fit, HasRefit):
        again = fit.refit
    refits = []
    for i, rows in enumerate(_resampled_rows(sample.n, count, seed)):
        checkpoint(i / count)
        try:
            made = again(sample.take(rows))
        except FitError:
            continue
        refits.append(made.curve_alone() if isinstance(made, HoldsRows) else made)
    return tuple(refits)


def _resampled_rows(n: int, count: int, seed: int) -> Iterator[npt.NDArray[np.intp]]:
    draw = np.random.default_rng(seed)
    for _ in range(count):
        yield np.sort(draw.integers(0, n, n))


def resampled(
    fit: TrendFit,
    sample: Sample,
    again: Callable[[Sample], TrendFit],
    seed: int,
    said: str,
    *,
    count: int | None = None,
) -> TrendFit:
    """Give a fit intervals from fits to resampled rows, or from those kept of the same rows.

    Parameters
    ----------
    fit : TrendFit
    sample : Sample
    again : callable
        Fits the family to other rows.
    seed : int
    said : str
        What `again` fits, in words that tell it from anything else.
    count : int, optional
        How many resamples; as many as suits so many rows where None.

    Raises
    ------
    FitError
        If too many of the resamples cannot be fitted.
    """
    if count is None:
        count = max(_FEWEST, min(RESAMPLES, _ROWS_IN_ALL // max(sample.n, 1)))
    elif not LEAST_ASKED <= count <= MOST_ASKED:
        raise FitError(
            f"{count:,} resamples are not offered.",
            f"Choose from {LEAST_ASKED} to {MOST_ASKED:,}.",
        )
    key = _key(sample, f"{said} {count} {seed}")
    refits = _KEPT.get(key)
    if refits is None:
        refits = _refitted(fit, sample, again, count, seed)
        _KEPT.put(key, refits, sum(_size(one) for one in refits))
    if len(refits) < count * (1 - _MOST_FAILED):
        raise FitError(
            f"Only {len(refits)} of {count} resamples of these rows could be fitted, too few for "
            "intervals.",
            "Choose a simpler form, or take the scatter as equal everywhere.",
        )
    # A wrapped fit has everything that a trend has, which its type cannot say.
    return Resampled(fit, refits, count, seed)

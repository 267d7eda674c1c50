"""A wave: y = m + A sin(2π (x − x₀) / T), with its period given or found.

For any period the rest is a linear problem (the projection of Golub and Pereyra 1973); periods are
tried as evenly spaced frequencies, closely enough that none is passed by (Scargle 1982), and the
best are descended from.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, fields

import numpy as np
import numpy.typing as npt
import scipy

from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.equation import EquationForm, Slot
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.base import Units, needs_rows
from yarrowdew.core.trends.family import Candidate, Entry, Family, setting
from yarrowdew.core.trends.intervals.best_of_many import p_of_the_best
from yarrowdew.core.trends.solvers.nonlinear import CurveProblem, NonlinearFit

NAMES = ("m", "A", "x0", "T")
_PERIOD = NAMES.index("T")
_ROWS, _MOST_TRIED, _A_WAVE = 2_000, 6_000, 6
"""Frequencies are tried so closely that the phase at the ends is passed in so many steps."""
_AT_ONCE = 1 << 19
"""Places of waves that are worked out together: what the cache of a core holds."""
_ALIKE = 1e-10
"""Sine and cosine whose share in common leaves less cannot be told apart."""
_BEST = 4
_LONGEST = 1.5
"""A wave longer than so many times the data is not told from a bend."""


@dataclass(frozen=True, slots=True, kw_only=True)
class WaveSettings:
    """Settings of a sine wave."""

    period: float | None = setting(
        None,
        "Period, where it is known",
        "How far it is from one crest to the next; in days where dates go across, and a year is "
        "365.25.",
        free="found",
        above=0.0,
        unit="x",
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Wave(NonlinearFit):
    """A fitted wave."""

    @property
    def p_value(self) -> float | None:
        """Of the hypothesis that y is the same everywhere, where the period is given (F test).

        None where it was searched for: the test would not know of the search.
        """
        if _PERIOD in self.free or self.sst <= 0:
            return None
        if self.sse <= 0:
            return 0.0
        k = len(self.free) - 1
        f = ((self.sst - self.sse) / k) / (self.sse / self.degrees_of_freedom)
        return float(scipy.special.fdtrc(k, self.degrees_of_freedom, max(f, 0.0)))


def fit(sample: Sample, settings: WaveSettings) -> Wave:
    """Fit a wave by (weighted) least squares.

    Raises
    ------
    FitError
        If there are too few rows, or they show less than a wave.
    """
    given = settings.period
    free = (0, 1, 2) if given is not None else (0, 1, 2, 3)
    needs_rows(sample, len(free) + 1, "A wave", distinct=len(free))
    if given is None and sample.y.min() == sample.y.max():
        # What rounding leaves of it would be searched for waves, and some found.
        raise FitError(
            f"Every row has the same y ({sample.y[0]:g}), so no wave can be found.",
            "Choose another form.",
        )
    low, span = float(sample.x.min()), float(np.ptp(sample.x))
    periods = [given] if given is not None else _periods(sample)
    starts = [_start(sample, period, low) for period in periods]

    def check(values: Array) -> None:
        if given is None and not 0 < values[_PERIOD] <= _LONGEST * span:
            raise FitError(
                "These rows show less than one wave, so its period cannot be found.",
                "Give the period, or choose another form.",
            )

    found = CurveProblem(
        family=FAMILY.name,
        what="A wave",
        names=NAMES,
        free=free,
        curve=_curve,
        slopes=_slopes,
        equation=_equation,
        meaning="The mean of y goes up and down as one sine wave."
        if given is not None
        else "The mean of y goes up and down as one sine wave, whose period was searched for: the "
        "intervals hold if it is the right one of several.",
        check=check,
    ).fit(sample, starts)
    _into_range(found.values, low)
    return Wave(**{f.name: getattr(found, f.name) for f in fields(NonlinearFit)})


def _into_range(values: Array, low: float) -> None:
    """Name the wave by its first rise within the data, and by a height above zero."""
    if values[1] < 0:
        values[1] = -values[1]
        values[2] += values[3] / 2
    values[2] = low + (values[2] - low) % values[3]


def _periods(sample: Sample) -> list[float]:
    """The periods of the best waves of all, none of them shorter than two steps of x."""
    order = np.argsort(sample.x, kind="stable")
    if sample.n > _ROWS:
        order = order[np.linspace(0, sample.n - 1, _ROWS).astype(np.intp)]
    x, y = sample.x[order], sample.y[order]
    weights = None if sample.weights is None else sample.weights[order]
    span = float(x[-1] - x[0])
    distinct = len(np.unique(x))
    count = min(_MOST_TRIED, max(_A_WAVE * distinct // 2, 4 * _A_WAVE))
    frequencies = np.linspace(0.5, max(distinct / 2, 1.0), count) / span
    # Frequencies are evenly apart: each stretch of them is the first, turned on.
    size = max(1, _AT_ONCE // len(x))
    turned = _turned(x, frequencies[:size] - frequencies[0])
    sse = np.concatenate(
        [
            _sse_of(turned[: count - i] * _turned(x, frequencies[i : i + 1]), y, weights)
            for i in range(0, count, size)
        ]
    )
    least = np.r_[True, sse[1:] < sse[:-1]] & np.r_[sse[:-1] <= sse[1:], True]
    dips = np.flatnonzero(least)
    best = dips[np.argsort(sse[dips], kind="stable")[:_BEST]]
    return [1 / float(frequencies[i]) for i in best]


def _basis(x: Array, period: float, origin: float) -> Array:
    phase = 2 * math.pi * (x - origin) / period
    return np.column_stack([np.ones_like(x), np.sin(phase), np.cos(phase)])


def _turned(x: Array, frequencies: Array) -> npt.NDArray[np.complex128]:
    """Waves of each frequency as numbers of the unit circle, shape (frequencies, rows)."""
    return np.exp(2j * math.pi * np.outer(frequencies, x - x[0]))


def _sse_of(waves: npt.NDArray[np.complex128], y: Array, weights: Array | None) -> Array:
    """What the best wave of each frequency leaves, shape (frequencies,).

    Of sums about the mean, which tells the good from the others; a good one is fitted anew.
    """
    checkpoint()
    w = np.full_like(y, 1 / len(y)) if weights is None else weights / weights.sum()
    sine, cosine = (part - (part @ w)[:, None] for part in (waves.imag, waves.real))
    about = y - w @ y
    ss, cc = np.einsum("fx,fx,x->f", sine, sine, w), np.einsum("fx,fx,x->f", cosine, cosine, w)
    sc = np.einsum("fx,fx,x->f", sine, cosine, w)
    sy, cy = sine @ (w * about), cosine @ (w * about)
    # The cosine less what it has of the sine adds to what the sine alone explains.
    own = np.maximum(cc - _over(sc * sc, ss), 0)
    of_own = cy - _over(sc * sy, ss)
    explained = _over(sy * sy, ss) + np.where(own > _ALIKE * cc, _over(of_own**2, own), 0)
    return np.asarray(np.maximum(w @ (about * about) - explained, 0))


def _over(numerator: Array, denominator: Array) -> Array:
    """Divide; nothing over nothing is nothing."""
    return np.divide(numerator, denominator, out=np.zeros_like(numerator), where=denominator > 0)


def _start(sample: Sample, period: float, origin: float) -> Array:
    """The best wave of a period."""
    root = np.ones_like(sample.y) if sample.weights is None else np.sqrt(sample.weights)
    basis = _basis(sample.x, period, origin) * root[:, None]
    mean, sine, cosine = np.linalg.lstsq(basis, sample.y * root, rcond=None)[0]
    phase = math.atan2(-cosine, sine)
    return np.array(
        [mean, math.hypot(sine, cosine), origin + phase * period / (2 * math.pi), period]
    )


def _curve(c: Array, x: Array) -> Array:
    return np.asarray(c[0] + c[1] * np.sin(2 * math.pi * (x - c[2]) / c[3]))


def _slopes(c: Array, x: Array) -> Array:
    phase = 2 * math.pi * (x - c[2]) / c[3]
    along = c[1] * np.cos(phase)
    return np.column_stack(
        [np.ones_like(x), np.sin(phase), -along * 2 * math.pi / c[3], -along * phase / c[3]]
    )


def _equation(c: Array) -> EquationForm:
    mean, height, place, period = map(float, c)
    pattern = (
        Slot(0),
        Slot(1, joined=True),
        " sin(2π ({x}",
        Slot(2, joined=True),
        ") / ",
        Slot(3),
        ")",
    )
    return EquationForm(
        (mean, height, -place, period), _printed, pattern, ((1, 0), (1, 0), (0, 1), (0, 1))
    )


def _printed(values: tuple[float, ...], x: Array) -> Array:
    mean, height, place, period = values
    return np.asarray(mean + height * np.sin(2 * math.pi * (x + place) / period))


def _units(name: str) -> Units:
    return (0, 1) if name in ("x0", "T") else (1, 0)


def wave_p(sample: Sample, settings: WaveSettings) -> float | None:
    """P value of a wave of any period against none; see `p_of_the_best`."""
    if settings.period is not None:
        return None

    def level(x: Array) -> Array:
        return np.ones((len(x), 1))

    def waves(x: Array) -> Array:
        distinct = len(np.unique(x))
        frequencies = np.linspace(0.5, max(distinct / 2, 1.0), max(4, distinct)) / np.ptp(x)
        turned = _turned(x, frequencies)
        return np.stack([turned.real, turned.imag], axis=2)

    return p_of_the_best(sample, waves, level)


FAMILY = Family(
    name="sine-wave",
    was=("wave",),
    label="sine wave",
    entry=Entry(
        method="least squares, its period searched for among evenly spaced frequencies (Scargle 1982)",
        intervals="delta method, if the period is the true one of several",
        exactness="approximate; the test against noise is by simulation (see below)",
    ),
    note="periodic",
    settings=WaveSettings,
    fit=fit,
    units=_units,
    candidates=(Candidate("sine wave", WaveSettings()),),
    searched_p=wave_p,
    coefficient_labels={
        "m": "Level about which it swings",
        "A": "Height above and below",
        "x0": "It first rises through it at",
        "T": "Period",
    },
)

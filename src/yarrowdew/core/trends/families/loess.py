"""The local regression: straight lines or parabolas fitted about each place with falling weights.

Cleveland (1979): tricube weights over the nearest rows that make up the span, and bisquare weights
against residuals in robust iterations. Up to `EXACT_DISTINCT` distinct x the fit is made at each of
them; above, at as many anchors spread over the rows, with cubic Hermite interpolation of the
fitted value and slope between them. The smooth is linear in y once the robust weights are fixed, so
that its degrees of freedom are those of Cleveland and Devlin (1988): δ₁²/δ₂, where δ₁ comes from
the operator's diagonal and row lengths, and δ₂ from its share on at most `SAMPLED` of the rows.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import t_quantile
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import (
    EVEN_SCATTER,
    Assumption,
    of_curve,
    of_intervals,
)
from yarrowdew.core.trends.base import (
    BaseFit,
    Interval,
    mean_one,
    needs_rows,
    spread_of,
)
from yarrowdew.core.trends.family import Candidate, Entry, Family, setting
from yarrowdew.core.trends.protocol import PointwiseKind, check_pointwise
from yarrowdew.core.trends.solvers import windows as near_by
from yarrowdew.core.trends.solvers.windows import (
    Bins,
    Rows,
    anchors_of,
    fit_at,
    hermite,
    second_moment,
    spread,
    windows_of,
)

ROW_BY_ROW = 200_000
LEAST_SPAN, MOST_PASSES = 0.1, 4
_ANCHORS_AGAIN = 128


@dataclass(frozen=True, slots=True, kw_only=True)
class LocalSmooth(BaseFit):
    """A fitted local regression.

    Attributes
    ----------
    anchors : ndarray, shape (a,)
        Places at which it was fitted, ascending.
    values, slopes : ndarray, shape (a,)
        Fitted value and slope there.
    lengths : ndarray, shape (a,)
        Standard error there over the residual standard deviation: length of the operator's row.
    own : ndarray, shape (a,)
        Weight that a row of weight 1 at the anchor has in its own fitted value.
    sigma : float
        Residual standard deviation that intervals rest on; with robust passes from pseudovalues.
    bend, passes : int
    span : float
    is_exact : bool
        Whether the fit was made at every distinct x.
    is_binned : bool
        Whether rows next to one another were taken together.
    """

    anchors: Array
    values: Array
    slopes: Array
    lengths: Array
    own: Array
    sigma: float
    bend: Literal[1, 2]
    passes: int
    span: float
    is_exact: bool
    is_binned: bool = False

    @property
    def residual_sd(self) -> float:
        """Residual standard deviation, in units of y."""
        return self.sigma

    @property
    def aicc(self) -> float | None:
        """None where odd rows were made to count less: the smooth does not minimise squares."""
        return None if self.passes else BaseFit.aicc.fget(self)  # type: ignore[attr-defined]

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the intervals rest on."""
        how = "at every different x" if self.is_exact else f"at {len(self.anchors)} places"
        out = [
            of_curve(
                "The mean of y is smooth in x: over the span it hardly departs from "
                + ("a straight line." if self.bend == 1 else "a parabola.")
            ),
            of_curve(
                f"It is equivalent to {self.parameters:.1f} coefficients (trace of the operator)."
            ),
            EVEN_SCATTER,
            of_curve("R² is the share of variation; it grows as the span shrinks."),
            of_curve(
                f"The curve is fitted {how}"
                + ("." if self.is_exact else " and interpolated between them.")
            ),
            of_intervals("The band is approximate (Cleveland and Devlin 1988)."),
        ]
        if self.is_binned:
            out.append(
                of_curve(
                    f"Above {ROW_BY_ROW:,} rows, those next to one another are taken together in "
                    f"{near_by.BINS:,} groups of as many rows, by their weighted means."
                )
            )
        if self.passes:
            out.append(of_curve(f"Outliers are down-weighted in {self.passes} robust iterations."))
        return tuple(out)

    def predict(self, x: Array) -> Array:
        """Fitted y; beyond the data along the last straight line."""
        return hermite(self.anchors, self.values, self.slopes, x)

    def band(self, x: Array, level: float, kind: PointwiseKind) -> Interval:
        """Pointwise band, approximate."""
        check_pointwise(kind)
        length = np.interp(x, self.anchors, self.lengths)
        se = self.sigma * (np.hypot(length, 1) if kind == "prediction" else length)
        half = t_quantile(level, self.degrees_of_freedom) * se
        fitted = self.predict(x)
        return Interval(fitted - half, fitted + half)

    def refit(self, sample: Sample) -> LocalSmooth:
        """The curve through other rows, at fewer anchors, without what its own band needs."""
        needs_rows(sample, 5, "A local regression", distinct=4)
        settings = LocalSettings(span=self.span, bend=self.bend, passes=self.passes)
        rows = _ordered(sample)
        anchors, _ = anchors_of(rows.x, most=_ANCHORS_AGAIN)
        values, slopes, lengths, own = _smoothed(rows, anchors, settings)
        ends = float(rows.x[0]), float(rows.x[-1])
        return replace(
            self,
            n=sample.n,
            x_range=ends,
            anchors=anchors,
            values=values,
            slopes=slopes,
            lengths=lengths,
            own=own,
        )

    def leverage(self, sample: Sample) -> Array:
        """Diagonal of the operator."""
        own = np.interp(sample.x, self.anchors, self.own) * mean_one(sample)
        return np.asarray(np.clip(own, 0, 1))


@dataclass(frozen=True, slots=True, kw_only=True)
class LocalSettings:
    """Settings of a local regression."""

    span: float = setting(
        0.5,
        "Span",
        "Share of the rows that each local fit uses.",
        low=LEAST_SPAN,
        high=1,
        slider=(LEAST_SPAN, 1),
        scale="share",
        suffix="of the rows",
    )
    bend: Literal[1, 2] = setting(
        2,
        "Fitted locally",
        "Whether lines or parabolas are fitted.",
        choices={1: "straight lines", 2: "parabolas"},
    )
    passes: int = setting(
        2,
        "Robust passes",
        "How often outliers are down-weighted (robust iterations).",
        low=0,
        high=MOST_PASSES,
        slider=(0, MOST_PASSES),
    )


def fit(sample: Sample, settings: LocalSettings) -> LocalSmooth:
    """Fit a local regression.

    Parameters
    ----------
    sample : Sample
        At least five pairs with four distinct x.
    settings : LocalSettings

    Raises
    ------
    FitError
        If there are too few rows, or the span holds too few different x.
    """
    needs_rows(sample, 5, "A local regression", distinct=4)
    span, bend = settings.span, settings.bend
    if not LEAST_SPAN <= span <= 1:
        raise FitError(f"A span of {span:g} is not offered.", "Choose one from 0.1 to 1.")
    if not 0 <= settings.passes <= MOST_PASSES:
        raise FitError("Robust passes run from 0 to 4.", "Choose fewer.")
    rows = _ordered(sample)
    x, y, w = rows.x, rows.y, np.ones(sample.n) if rows.w is None else rows.w
    anchors, is_exact = anchors_of(x)
    values, slopes, lengths, own = _smoothed(rows, anchors, settings)
    residual = y - hermite(anchors, values, slopes, x, ascending=True)
    trace = float(np.sum(np.interp(x, anchors, own) * w))
    squares = float(np.sum(np.interp(x, anchors, lengths) ** 2 * w))
    delta1 = max(len(x) - 2 * trace + squares, 1e-9 * len(x))
    if delta1 < 1 and bend == 2:
        # So few rows leave nothing beside parabolas.
        return fit(sample, replace(settings, bend=1))
    if delta1 < 1:
        raise FitError(
            "The span is so short that the smooth passes through almost every row.",
            "Choose a wider span, or add rows.",
        )
    delta2 = second_moment(x, w, span, bend, delta1)
    sse = float(np.sum(w * residual * residual))
    return LocalSmooth(
        family=FAMILY.name,
        n=sample.n,
        x_range=(float(x[0]), float(x[-1])),
        sse=sse,
        sst=spread_of(sample),
        degrees_of_freedom=delta1 * delta1 / delta2,
        parameters=trace,
        anchors=anchors,
        values=values,
        slopes=slopes,
        lengths=lengths,
        own=own,
        sigma=math.sqrt(spread(residual, w, settings.passes) / delta1),
        bend=bend,
        passes=settings.passes,
        span=span,
        is_exact=is_exact,
        is_binned=sample.n > ROW_BY_ROW,
    )


def _ordered(sample: Sample) -> Rows:
    # Which of several rows at one place comes first is all the same; of many, sorting them so
    # would take half as long again.
    order = np.argsort(sample.x, kind="stable" if sample.n <= ROW_BY_ROW else None)
    w = None if sample.weights is None else np.asarray(mean_one(sample))[order]
    return Rows(sample.x[order], sample.y[order], w)


def _smoothed(
    rows: Rows, anchors: Array, settings: LocalSettings
) -> tuple[Array, Array, Array, Array]:
    """Fit at the anchors, in robust passes; see `fit_at`."""
    x, y, bend = rows.x, rows.y, settings.bend
    w = np.ones(len(x)) if rows.w is None else rows.w
    bins = Bins.of(x) if len(x) > ROW_BY_ROW else None
    robust = np.ones(len(x))
    found = None
    for turn in range(settings.passes + 1):
        if found is not None:
            residual = y - hermite(anchors, found[0], found[1], x, ascending=True)
            scale = 6 * float(np.median(np.abs(residual)))
            if scale == 0:
                break
            robust = np.clip(1 - (residual / scale) ** 2, 0, None) ** 2
        if bins is not None or turn == 0:
            near, counted = (rows, robust) if bins is None else bins.gathered(rows, w, robust)
            count = near_by.count_of(len(near.x), settings.span, bend)
            windows = windows_of(near.x, anchors, count)
        else:
            counted = robust
        found = fit_at(anchors, windows, near, counted, bend)
    assert found is not None  # noqa: S101 (there is a first turn)
    return found


def _closer(settings: LocalSettings) -> tuple[LocalSettings, LocalSettings] | None:
    """As it is and with half the span, both without robust passes, which F tests do not allow
    for.
    """
    plain = replace(settings, passes=0)
    return (plain, replace(plain, span=settings.span / 2)) if settings.span > LEAST_SPAN else None


FAMILY = Family(
    name="local",
    label="local regression",
    entry=Entry(
        method="parabolas (or lines) with tricube weights, robust passes (Cleveland 1979)",
        intervals="degrees of freedom δ₁²/δ₂ (Cleveland and Devlin 1988)",
        exactness="approximate; covers where the curve is hardly bent over the span, and a caution says where it is not",
    ),
    note="nonparametric",
    settings=LocalSettings,
    is_usual=True,
    fit=fit,
    is_smooth=True,
    closer=_closer,
    candidates=(Candidate("local regression", LocalSettings()),),
)

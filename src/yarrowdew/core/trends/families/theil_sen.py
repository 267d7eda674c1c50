"""The Theil–Sen line: the median of all slopes between rows (Theil 1950, Sen 1968).

Up to `EXACT_ROWS` rows every slope is made. Above, the slopes of the wanted ranks are found by
counting: the rows that stand in the wrong order once a slope is taken out are the slopes above it,
and a merge sort counts those in O(n log n). A seeded sample of slopes gives the first guess.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import ClassVar

import numpy as np

from yarrowdew.core.association import EXACT_KENDALL, exact_kendall_p, kendall_variance
from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.concordance import inversions, tie_sizes
from yarrowdew.core.equation import EquationForm
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import normal_quantile
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import Assumption, of_curve, of_intervals, of_rows
from yarrowdew.core.trends.base import (
    BaseFit,
    Coefficient,
    Crossing,
    mean_one,
    needs_rows,
    spread_of,
)
from yarrowdew.core.trends.families.straight import (
    LINE_LABELS,
    linear_form,
    linear_form_about,
    units_of_line,
)
from yarrowdew.core.trends.family import Candidate, Entry, Family, NoSettings

EXACT_ROWS = 1_500
MOST_COUNTED = 300_000
SAMPLED_SLOPES = 200_000
RANK_TOLERANCE = 2e-6
FEWEST_FOR_INTERVAL = 5
_SEED = 20310401
_TWO_ROWS = np.array([0.0, 1.0]), np.array([0.0, 1.0])


@dataclass(frozen=True, slots=True, kw_only=True)
class ResistantLine(BaseFit):
    """A Theil–Sen line.

    Attributes
    ----------
    intercept, slope : float
    slopes : SlopeRanks
        All slopes, from which intervals at any level come.
    variance : float
        Of Kendall's S, with its ties.
    s : float
        Kendall's S: slopes above zero less those below.
    is_tied : bool
        Whether any x or any y occurs more than once.
    """

    allows_any_scatter: ClassVar[bool] = True

    intercept: float
    slope: float
    slopes: SlopeRanks
    variance: float
    s: float
    is_tied: bool

    @property
    def p_value(self) -> float | None:
        """Of Kendall's test that y does not change with x.

        Exact up to `EXACT_KENDALL` rows of which none are tied, else by the normal approximation.
        """
        if self.variance <= 0:
            return None
        if not self.is_tied and self.n <= EXACT_KENDALL:
            pairs = self.n * (self.n - 1) // 2
            return exact_kendall_p(self.n, round((pairs - self.s) / 2))
        # With the usual half step towards zero, S moves in steps of two.
        z = max(abs(self.s) - 1, 0) / math.sqrt(self.variance)
        return math.erfc(z / math.sqrt(2))

    @property
    def aicc(self) -> float | None:
        """None: the line does not minimise squares."""
        return None

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the line and its interval rest on."""
        out = [
            of_curve(
                "y changes along a straight line with x; odd rows hardly move it (up to 29 % of them)."
            ),
            of_rows("Rows are independent of one another; the scatter may have any form."),
            of_intervals(
                "The interval of the slope is Sen's, from Kendall's variance; it needs no normal "
                "scatter. There is no band."
                if self.n >= FEWEST_FOR_INTERVAL
                else f"Fewer than {FEWEST_FOR_INTERVAL} rows leave no interval of the slope, and "
                "there is no band."
            ),
        ]
        if not self.slopes.is_exact:
            out.append(
                of_curve(
                    f"Above {EXACT_ROWS:,} rows the median slope is found to within "
                    f"{RANK_TOLERANCE * 1e6:.0f} in a million of its rank."
                )
            )
        if self.n > MOST_COUNTED:
            out.append(
                of_intervals(
                    f"Slope, interval and p value are those of {MOST_COUNTED:,} rows, drawn with a "
                    "seed: the slope is as sure as its interval says, not as all rows would make it."
                )
            )
        return tuple(out)

    @property
    def form(self) -> EquationForm:
        """The line as printed."""
        return linear_form(self.intercept, self.slope)

    def form_about(self, origin: float) -> EquationForm:
        """The line in x counted from another origin."""
        return linear_form_about(self, self.slope, origin)

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """A and b; b with Sen's interval, where there are rows enough for one."""
        a = Coefficient("a", self.intercept, None, None, None)
        if self.n < FEWEST_FOR_INTERVAL:
            return a, Coefficient("b", self.slope, None, None, None)
        reach = normal_quantile(level) * math.sqrt(self.variance)
        total = self.slopes.count
        low = self.slopes.at((total - reach) / 2 - 0.5)
        high = self.slopes.at((total + reach) / 2 - 0.5)
        return a, Coefficient("b", self.slope, None, low, high)

    def coefficient_values(self) -> dict[str, float]:
        """A and b, without the slopes of other ranks."""
        return {"a": self.intercept, "b": self.slope}

    def refit(self, sample: Sample) -> ResistantLine:
        """The line through other rows, without the slopes between them."""
        needs_rows(sample, 3, "A Theil–Sen line")
        slope, intercept = _line(SlopeRanks(sample.x, sample.y), sample)
        alone = SlopeRanks(*_TWO_ROWS)
        ends = float(sample.x.min()), float(sample.x.max())
        return replace(
            self, n=sample.n, x_range=ends, intercept=intercept, slope=slope, slopes=alone
        )

    def predict(self, x: Array) -> Array:
        """Fitted y."""
        return self.intercept + self.slope * x

    def crossings(
        self,
        y: float,
        level: float,
        within: tuple[float, float] | None = None,
    ) -> tuple[Crossing, ...]:
        """The one x at which the line reaches `y`; this form has no interval for it."""
        if self.slope == 0:
            note = "The line is level, so this value is never reached."
            return (Crossing(None, None, None, note),)
        note = "This form has no band, and so no interval for x."
        return (Crossing((y - self.intercept) / self.slope, None, None, note),)


class SlopeRanks:
    """Slopes between all pairs of rows with different x, by rank.

    Attributes
    ----------
    count : int
        How many slopes there are.
    is_exact : bool
        Whether they were all made.
    """

    def __init__(self, x: Array, y: Array) -> None:
        if len(x) > MOST_COUNTED:
            draw = np.random.default_rng(_SEED)
            some = draw.choice(len(x), MOST_COUNTED, replace=False, shuffle=False)
            x, y = x[some], y[some]
        order = np.lexsort((y, x))
        self._x, self._y = x[order], y[order]
        n = len(order)
        ties = tie_sizes(self._x)
        self.count = n * (n - 1) // 2 - int(np.sum(ties * (ties - 1) // 2))
        self.is_exact = n <= EXACT_ROWS
        if self.is_exact:
            i, j = np.triu_indices(n, 1)
            dx = self._x[j] - self._x[i]
            apart = dx > 0
            self._slopes = (self._y[j] - self._y[i])[apart] / dx[apart]
        else:
            draw = np.random.default_rng(_SEED)
            i, j = draw.integers(0, n, (2, SAMPLED_SLOPES))
            dx = self._x[j] - self._x[i]
            apart = dx != 0
            self._slopes = np.sort((self._y[j] - self._y[i])[apart] / dx[apart])
        self._known: dict[float, float] = {}

    @property
    def rows(self) -> tuple[Array, Array]:
        """The rows between which slopes are counted."""
        return self._x, self._y

    def at(self, rank: float) -> float:
        """The slope at a rank from 0; the mean of two at a half."""
        rank = min(max(rank, 0.0), self.count - 1.0)
        if self.is_exact:
            # Put in order no further than is asked for.
            low, high = math.floor(rank), math.ceil(rank)
            self._slopes.partition((low, high))
            return float(self._slopes[low] / 2 + self._slopes[high] / 2)
        if rank not in self._known:
            self._known[rank] = self._counted(rank)
        return self._known[rank]

    def above(self, slope: float) -> int:
        """How many slopes lie above one."""
        if self.is_exact:
            return int(np.count_nonzero(self._slopes > slope))
        # Rows of one x stand from low to high, and so never in the wrong order among themselves.
        off = slope * self._x - self._y
        return inversions(off)

    def _counted(self, rank: float) -> float:
        """False position on the count, from a bracket of the sampled slopes."""
        share = rank / self.count
        m = len(self._slopes)
        wide = 4 * math.sqrt(max(share * (1 - share), 1 / m) / m) + 2 / m
        low = self._slopes[max(0, math.floor((share - wide) * m))]
        high = self._slopes[min(m - 1, math.ceil((share + wide) * m))]
        low_off, high_off = self._off(low, rank), self._off(high, rank)
        tolerance = RANK_TOLERANCE * self.count
        for _ in range(30):
            if high_off <= low_off or low_off > 0 or high_off < 0:
                break
            at = low + (high - low) * (-low_off / (high_off - low_off))
            off = self._off(at, rank)
            if abs(off) <= tolerance or not low < at < high:
                return float(at)
            if off < 0:
                low, low_off = at, off
            else:
                high, high_off = at, off
        return float(low if abs(low_off) < abs(high_off) else high)

    def _off(self, slope: float, rank: float) -> float:
        checkpoint()
        return (self.count - self.above(slope)) - (rank + 0.5)


def fit(sample: Sample, settings: NoSettings) -> ResistantLine:
    """Fit a Theil–Sen line.

    Parameters
    ----------
    sample : Sample
        At least three pairs with two distinct x, all of the same weight.

    Raises
    ------
    FitError
        If there are too few rows, x has no spread, or there are weights.
    """
    needs_rows(sample, 3, "A Theil–Sen line")
    if sample.weights is not None:
        raise FitError("A Theil–Sen line has no weights.", "Leave the weights out.")
    slopes = SlopeRanks(sample.x, sample.y)
    x, y = slopes.rows
    slope, intercept = _line(slopes, sample)
    rising = slopes.above(0.0)
    level = slopes.count - rising - _falling(slopes, x, y)
    ties = tie_sizes(x), tie_sizes(y)
    variance = kendall_variance(len(x), *ties)
    x, y = sample.x, sample.y
    s = rising - (slopes.count - rising - level)
    residual = y - intercept - slope * x
    return ResistantLine(
        family=FAMILY.name,
        n=sample.n,
        x_range=(float(x.min()), float(x.max())),
        sse=float(np.sum(mean_one(sample) * residual * residual)),
        sst=spread_of(sample),
        degrees_of_freedom=sample.n - 2,
        parameters=2,
        intercept=intercept,
        slope=slope,
        slopes=slopes,
        variance=variance,
        s=float(s),
        is_tied=any(bool((sizes > 1).any()) for sizes in ties),
    )


def _line(slopes: SlopeRanks, sample: Sample) -> tuple[float, float]:
    """Slope and intercept.

    The slopes may be those of some of the rows; the line goes through the middle of all.
    """
    slope = slopes.at((slopes.count - 1) / 2)
    return slope, float(np.median(sample.y - slope * sample.x))


def _falling(slopes: SlopeRanks, x: Array, y: Array) -> int:
    """How many slopes lie below zero: those above zero of the rows turned over."""
    order = np.lexsort((-y, x))
    return inversions(y[order]) if not slopes.is_exact else int(np.sum(_signs(x, y) < 0))


def _signs(x: Array, y: Array) -> Array:
    i, j = np.triu_indices(len(x), 1)
    return np.asarray(np.sign(x[j] - x[i]) * np.sign(y[j] - y[i]))


FAMILY = Family(
    name="theil-sen",
    was=("resistant",),
    label="Theil–Sen line",
    entry=Entry(
        method="median of slopes (Theil 1950, Sen 1968)",
        intervals="slope: Sen (1968); none below 5 rows, none for the intercept",
        exactness="p by Kendall's test: exact to 170 rows without ties",
    ),
    note="resistant to outliers",
    settings=NoSettings,
    fit=fit,
    units=units_of_line,
    has_band=False,
    one_slope=True,
    candidates=(Candidate("Theil–Sen line", NoSettings()),),
    coefficient_labels=LINE_LABELS,
)

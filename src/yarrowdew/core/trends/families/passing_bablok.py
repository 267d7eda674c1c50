"""The Passing–Bablok line (1983): two methods that measure one quantity, without normal errors.

The median of the slopes between rows, shifted by as many as lie below −1, so that it is the same line
whichever of the two goes across.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.concordance import tie_sizes
from yarrowdew.core.equation import EquationForm
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import normal_quantile
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.assumptions import Assumption, of_curve, of_intervals, of_rows
from yarrowdew.core.trends.base import Coefficient, FitWithoutShare, needs_rows, spread_of
from yarrowdew.core.trends.families.straight import (
    LINE_LABELS,
    linear_form,
    linear_form_about,
    units_of_line,
)
from yarrowdew.core.trends.family import Entry, Family, NoSettings

MOST_ROWS = 4_000
_FEWEST = 6
_SEED = 20310401


@dataclass(frozen=True, slots=True, kw_only=True)
class PassingBablokLine(FitWithoutShare):
    """A Passing–Bablok line.

    Attributes
    ----------
    intercept, slope : float
    slopes : ndarray
        Slopes between rows in their order, those of −1 left out.
    shift : int
        How many lie below −1.
    variance : float
        Of the number of slopes above less those below the line.
    x, y : ndarray
        Rows from which intervals of the intercept come.
    agreement : float or None
        Lin’s concordance correlation.
    is_drawn : bool
        Whether they are some of the rows.
    """

    allows_any_scatter: ClassVar[bool] = True

    intercept: float
    slope: float
    slopes: Array
    shift: int
    variance: float
    x: Array
    y: Array
    agreement: float | None
    is_drawn: bool

    @property
    def measures(self) -> tuple[tuple[str, float], ...]:
        """Concordance of the two methods."""
        return () if self.agreement is None else (("Concordance (Lin)", self.agreement),)

    @property
    def assumptions(self) -> tuple[Assumption, ...]:
        """What the line and its intervals rest on."""
        out = [
            of_curve(
                "Both variables measure one quantity and rise together; errors of y and of x have "
                "one form, with spreads in the ratio of the slope."
            ),
            of_rows("Rows are independent of one another; errors need not be normal."),
            of_intervals(
                "Intervals are those of Passing and Bablok, from ranks of slopes. There is no band."
            ),
        ]
        if self.is_drawn:
            out.append(of_curve(f"The line is that of {MOST_ROWS:,} rows, drawn with a seed."))
        return tuple(out)

    @property
    def form(self) -> EquationForm:
        """The line as printed."""
        return linear_form(self.intercept, self.slope)

    def form_about(self, origin: float) -> EquationForm:
        """The line in x counted from another origin."""
        return linear_form_about(self, self.slope, origin)

    def _slope_ends(self, level: float) -> tuple[float | None, float | None]:
        count = len(self.slopes)
        reach = normal_quantile(level) * math.sqrt(self.variance)
        low = round((count - reach) / 2)
        high = count - low + 1
        if low < 1 or high + self.shift > count:
            return None, None
        return float(self.slopes[low + self.shift - 1]), float(self.slopes[high + self.shift - 1])

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        """A and b with their intervals, where ranks leave any."""
        low, high = self._slope_ends(level)
        if low is None or high is None:
            ends: tuple[float | None, float | None] = None, None
        else:
            ends = tuple(float(np.median(self.y - b * self.x)) for b in (high, low))  # type: ignore[assignment]
        return (
            Coefficient("a", self.intercept, None, *ends),
            Coefficient("b", self.slope, None, low, high),
        )

    def coefficient_values(self) -> dict[str, float]:
        """A and b, without their intervals."""
        return {"a": self.intercept, "b": self.slope}

    def predict(self, x: Array) -> Array:
        """Y of the line at each x."""
        return self.intercept + self.slope * x


def fit(sample: Sample, settings: NoSettings) -> PassingBablokLine:
    """Fit a Passing–Bablok line.

    Raises
    ------
    FitError
        If there are too few rows, the two do not rise together, or there are weights.
    """
    what = "A Passing–Bablok line"
    needs_rows(sample, _FEWEST, what)
    if sample.weights is not None:
        raise FitError(f"{what} has no weights.", "Leave the weights out.")
    x, y = sample.x, sample.y
    is_drawn = sample.n > MOST_ROWS
    if is_drawn:
        some = np.random.default_rng(_SEED).choice(sample.n, MOST_ROWS, replace=False)
        x, y = x[some], y[some]
    n = len(x)
    checkpoint()
    i, j = np.triu_indices(n, 1)
    dx, dy = x[j] - x[i], y[j] - y[i]
    with np.errstate(divide="ignore", invalid="ignore"):
        # Over one x a slope is as steep as can be; of the same row twice there is none.
        slopes = np.where(dx != 0, dy / dx, np.copysign(np.inf, dy))
    slopes = np.sort(slopes[((dx != 0) | (dy != 0)) & (slopes != -1)])
    shift = int(np.count_nonzero(slopes < -1))
    count = len(slopes)
    if count < 1 or 2 * shift >= count:
        raise FitError(
            f"{what} is for two variables that rise together, which these do not.",
            "Choose two measurements of one quantity, or turn one of them over.",
        )
    middle = (count - 1) / 2 + shift
    slope = float(slopes[math.floor(middle)] / 2 + slopes[math.ceil(middle)] / 2)
    if not math.isfinite(slope) or slope <= 0:
        raise FitError(
            f"{what} is for two variables that rise together, which these do not.",
            "Choose two measurements of one quantity.",
        )
    intercept = float(np.median(sample.y - slope * sample.x))
    residual = sample.y - intercept - slope * sample.x
    centred_x, centred_y = sample.x - sample.x.mean(), sample.y - sample.y.mean()
    total = float(
        np.dot(centred_x, centred_x)
        + np.dot(centred_y, centred_y)
        + sample.n * (sample.x.mean() - sample.y.mean()) ** 2
    )
    ties = sum(float(np.sum(t * (t - 1) * (2 * t + 5))) for t in (tie_sizes(x), tie_sizes(y)))
    return PassingBablokLine(
        family=FAMILY.name,
        n=sample.n,
        x_range=sample.x_range,
        sse=float(np.dot(residual, residual)),
        sst=spread_of(sample),
        degrees_of_freedom=sample.n - 2,
        parameters=2,
        intercept=intercept,
        slope=slope,
        slopes=slopes,
        shift=shift,
        variance=max((n * (n - 1) * (2 * n + 5) - ties) / 18, 0.0),
        x=x,
        y=y,
        agreement=2 * float(np.dot(centred_x, centred_y)) / total if total > 0 else None,
        is_drawn=is_drawn,
    )


FAMILY = Family(
    name="passing-bablok",
    label="Passing–Bablok line",
    entry=Entry(
        method="shifted median of slopes (Passing and Bablok 1983); concordance: Lin (1989)",
        intervals="ranks of slopes (Passing and Bablok 1983); none where these are too few",
        exactness="approximate (see the table)",
    ),
    note="two methods, errors of any form",
    settings=NoSettings,
    fit=fit,
    units=units_of_line,
    has_band=False,
    one_slope=True,
    r_squared_about="nothing",
    takes_units=False,
    coefficient_labels=LINE_LABELS,
)

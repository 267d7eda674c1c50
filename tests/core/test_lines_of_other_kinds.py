"""Quantile lines, segmented lines and waves, against programs, grids and formulas of their own."""

from __future__ import annotations

import math

import numpy as np
import pytest
import scipy
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.families import settings_of
from tests.scope import only_long
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array, paired
from yarrowdew.core.trends import TrendFit, fit_trend


def fitted(family: str, x: Array, y: Array, w: Array | None = None, **options: object) -> TrendFit:
    return fit_trend(paired(x, y, w), family, settings_of(family, **options))


def values(fit: TrendFit) -> dict[str, float]:
    return {c.name: c.value for c in fit.coefficients(0.95)}


def draw(n: int, seed: int = 1) -> tuple[Array, Array, np.random.Generator]:
    rng = np.random.default_rng(seed)
    return rng.uniform(0, 10, n), rng.normal(0, 1, n), rng


class TestQuantile:
    @staticmethod
    def loss(off: Array, share: float) -> float:
        return float(np.sum(off * (share - (off < 0))))

    @settings(max_examples=40, deadline=None)
    @given(st.integers(5, 40), st.floats(0.1, 0.9), st.integers(0, 10_000))
    def test_no_line_through_two_rows_has_a_smaller_loss(
        self, n: int, share: float, seed: int
    ) -> None:
        # A minimum lies at a line through as many rows as it has coefficients (Koenker 1978).
        x, rough, _ = draw(n, seed)
        y = np.round(2 * x + rough * (1 + x / 3), 1)
        if min(share, 1 - share) * n < 1:
            return
        line = fitted("quantile", x, y, quantile=share)
        i, j = np.triu_indices(n, 1)
        slopes = (y[j] - y[i]) / (x[j] - x[i])
        least = min(
            self.loss(y - (y[a] + b * (x - x[a])), share) for a, b in zip(i, slopes, strict=True)
        )
        assert self.loss(y - line.predict(x), share) <= least * (1 + 1e-9) + 1e-9

    @pytest.mark.parametrize("bend", [1, 2])
    def test_many_rows_are_solved_as_few_are(self, bend: int) -> None:
        x, rough, _ = draw(30_000)
        y = 1 + 2 * x + rough * (0.3 + 0.2 * x)
        line = fitted("quantile", x, y, quantile=0.8, bend=bend)
        off = y - line.predict(x)
        # Optimal where zero lies among the subgradients: for every column, what the rows on the
        # line would have to make up for is no more than they can.
        for power in range(bend + 1):
            column = ((x - 5) / 5) ** power
            on = np.abs(off) < 1e-7
            rest = np.sum(column[~on] * (0.8 - (off[~on] < 0)))
            assert abs(rest) <= np.abs(column[on]).sum()
        assert np.mean(off < 0) == pytest.approx(0.8, abs=2e-4)

    @only_long
    def test_the_slopes_interval_covers_as_often_as_it_says(self) -> None:
        covered = banded = 0
        runs = 150
        for seed in range(runs):
            x, _, rng = draw(100, seed)
            y = 1 + 2 * x + rng.standard_t(3, 100) * (0.5 + 0.1 * x)
            slope = 2 + 0.1 * scipy.special.stdtrit(3, 0.75)
            line = fitted("quantile", x, y, quantile=0.75)
            b = line.coefficients(0.9)[1]
            covered += b.low <= slope <= b.high  # type: ignore[operator]
            band = line.band(np.array([5.0]), 0.9, "confidence")
            truth = 1 + 2 * 5 + 1.0 * scipy.special.stdtrit(3, 0.75)
            banded += band.low[0] <= truth <= band.high[0]  # type: ignore[union-attr]
        # Within four standard errors of 90 %: 0.1.
        assert covered / runs == pytest.approx(0.9, abs=0.1)
        assert banded / runs == pytest.approx(0.9, abs=0.1)

    def test_what_cannot_be_told_from_few_rows_is_said(self) -> None:
        x = np.arange(8.0)
        with pytest.raises(FitError, match="less than one row on one side"):
            fitted("quantile", x, x**2, quantile=0.95)

    def test_a_weight_counts_as_so_many_rows(self) -> None:
        x, rough, _ = draw(40)
        y = 2 * x + rough
        w = np.tile([1.0, 2, 3, 1], 10)
        several = np.repeat(np.arange(40), w.astype(int))
        expected = values(fitted("quantile", x[several], y[several], quantile=0.3))
        assert values(fitted("quantile", x, y, w, quantile=0.3)) == pytest.approx(expected)


class TestBroken:
    @settings(max_examples=25, deadline=None)
    @given(st.integers(12, 60), st.integers(0, 10_000))
    def test_no_break_on_a_fine_grid_fits_better(self, n: int, seed: int) -> None:
        x, rough, _ = draw(n, seed)
        y = x - 2 * np.maximum(0, x - 4) + rough
        line = fitted("segmented", x, y)
        inner = np.unique(x)
        least = math.inf
        for t in np.linspace(inner[1], inner[-2], 2001):
            design = np.column_stack([np.ones(n), x, np.maximum(0, x - t)])
            off = y - design @ np.linalg.lstsq(design, y, rcond=None)[0]
            least = min(least, float(off @ off))
        assert np.sum((y - line.predict(x)) ** 2) <= least * (1 + 1e-9)

    def test_pieces_without_scatter_are_found_again(self) -> None:
        x = np.linspace(2000, 2030, 61)
        y = 5 + 0.5 * x - 1.5 * np.maximum(0, x - 2010.3) + 3 * np.maximum(0, x - 2021.7)
        found = values(fitted("segmented", x, y, breaks=2))
        expected = {"b1": 0.5, "b2": -1, "b3": 2, "break1": 2010.3, "break2": 2021.7, "a": 5}
        assert found == pytest.approx(expected, rel=1e-9)

    @only_long
    def test_its_break_is_covered_as_often_as_it_says(self) -> None:
        runs, covered = 100, 0
        for seed in range(runs):
            x, rough, _ = draw(80, seed)
            line = fitted("segmented", x, x - 2 * np.maximum(0, x - 4) + rough)
            at = next(c for c in line.coefficients(0.95) if c.name == "break1")
            covered += (at.low or -math.inf) <= 4 <= (at.high or math.inf)
        # Within four standard errors of 95 %: 0.09.
        assert covered / runs >= 0.86

    def test_its_errors_are_those_of_the_tangent_plane(self) -> None:
        x, rough, _ = draw(50)
        y = x - 2 * np.maximum(0, x - 4) + rough
        line = fitted("segmented", x, y)
        t = values(line)["break1"]
        design = np.column_stack([np.ones(50), x, np.maximum(0, x - t)])
        beta = np.linalg.lstsq(design, y)[0]
        # The break, too, follows the rows: it moves the line by minus the change beyond it.
        plane = np.column_stack([design, -beta[2] * (x > t)])
        inverse = np.linalg.inv(plane.T @ plane)
        sd = math.sqrt(np.sum((y - design @ beta) ** 2) / (50 - 4))
        se = sd * math.sqrt(np.array([0, 1, 1, 0]) @ inverse @ np.array([0, 1, 1, 0]))
        second = next(c for c in line.coefficients(0.9) if c.name == "b2")
        assert (second.value, second.se) == pytest.approx((beta[1] + beta[2], se))
        at = np.array([1.0, 4.5, 9])
        band = line.band(at, 0.9, "confidence")
        rows = np.column_stack([np.ones(3), at, np.maximum(0, at - t), -beta[2] * (at > t)])
        half = scipy.special.stdtrit(46, 0.95) * sd * np.sqrt(np.diag(rows @ inverse @ rows.T))
        np.testing.assert_allclose(band.high - band.low, 2 * half, rtol=1e-9)  # type: ignore[union-attr]

    @only_long
    @pytest.mark.parametrize(("n", "change", "sd"), [(60, 2.0, 0.5), (30, 1.0, 0.5)])
    def test_its_slopes_are_covered_nearly_as_often_as_they_say(
        self, n: int, change: float, sd: float
    ) -> None:
        rng = np.random.default_rng(8)
        held = np.zeros(2)
        for _ in range(200):
            x = np.sort(rng.uniform(0, 10, n))
            y = x + change * np.maximum(0, x - 5) + rng.normal(0, sd, n)
            found = {c.name: c for c in fitted("segmented", x, y).coefficients(0.95)}
            for i, (name, slope) in enumerate((("b1", 1.0), ("b2", 1.0 + change))):
                c = found[name]
                held[i] += c.low is not None and c.high is not None and c.low <= slope <= c.high
        # With the breaks taken as given it was 84 to 92 %.
        assert held.min() / 200 > 0.87

    def test_its_leverages_add_up_to_what_was_fitted(self) -> None:
        x, rough, _ = draw(50)
        line = fitted("segmented", x, x - 2 * np.maximum(0, x - 4) + rough)
        leverage = line.leverage(paired(x, rough))
        assert leverage is not None
        assert leverage.sum() == pytest.approx(4) == line.parameters

    def test_the_place_where_it_is_broken_is_drawn(self) -> None:
        x, rough, _ = draw(50)
        line = fitted("segmented", x, x - 2 * np.maximum(0, x - 4) + rough)
        assert values(line)["break1"] in line.drawn_at(33)

    def test_too_few_different_x_are_said(self) -> None:
        with pytest.raises(FitError, match="A segmented line needs at least four different values"):
            fitted("segmented", np.repeat([1.0, 2, 3], 4), np.arange(12.0))


class TestWave:
    def test_a_wave_without_scatter_is_found_again(self) -> None:
        x = np.linspace(100, 130, 90)
        y = 7 - 3 * np.sin(2 * np.pi * (x - 101) / 4.7)
        found = values(fitted("sine-wave", x, y))
        # Turned over, it rises half a period later, and first within the data.
        expected = {"m": 7, "A": 3, "x0": 101 + 4.7 / 2, "T": 4.7}
        assert found == pytest.approx(expected, rel=1e-8)

    def test_a_known_period_leaves_a_linear_model(self) -> None:
        x, rough, _ = draw(60)
        y = 2 + np.sin(x) + rough
        period = 2 * math.pi
        line = fitted("sine-wave", x, y, period=period)
        design = np.column_stack([np.ones(60), np.sin(x), np.cos(x)])
        beta = np.linalg.lstsq(design, y, rcond=None)[0]
        np.testing.assert_allclose(line.predict(x), design @ beta, rtol=1e-8)
        assert values(line)["A"] == pytest.approx(math.hypot(beta[1], beta[2]))
        sse = np.sum((y - design @ beta) ** 2)
        f = ((np.sum((y - y.mean()) ** 2) - sse) / 2) / (sse / 57)
        assert line.p_value == pytest.approx(scipy.special.fdtrc(2, 57, f))
        assert 0 <= values(line)["x0"] - x.min() < period

    def test_the_test_of_a_period_that_was_searched_for_is_not_told(self) -> None:
        x, rough, _ = draw(60)
        assert fitted("sine-wave", x, np.sin(x) + rough).p_value is None

    def test_less_than_a_wave_is_said(self) -> None:
        x, rough, _ = draw(60)
        with pytest.raises(FitError, match="less than one wave"):
            fitted("sine-wave", x, x**2 + 0.01 * rough)

    @pytest.mark.parametrize("height", [0.0, 741_562.0, -1 / 3])
    def test_rounding_is_no_wave(self, height: float) -> None:
        x, _, _ = draw(60)
        with pytest.raises(FitError, match="Every row has the same y"):
            fitted("sine-wave", x, np.full(60, height))


class TestBothErrors:
    # Pearson 1901 with the weights of York 1966; York and others 2004, table II.
    X = np.array([0.0, 0.9, 1.8, 2.6, 3.3, 4.4, 5.2, 6.1, 6.5, 7.4])
    Y = np.array([5.9, 5.4, 4.4, 4.6, 3.5, 3.7, 2.8, 2.8, 2.4, 1.5])
    X_SE = 1 / np.sqrt([1000, 1000, 500, 800, 200, 80, 60, 20, 1.8, 1])
    Y_SE = 1 / np.sqrt([1, 1.8, 4, 8, 20, 20, 70, 70, 100, 500])

    def line(self, scale: float = 1.0) -> TrendFit:
        errors = (self.X_SE * scale, self.Y_SE * scale)
        return fit_trend(
            paired(self.X * scale, self.Y * scale, errors=errors), "errors-in-variables"
        )

    def test_pearsons_rows_with_yorks_weights(self) -> None:
        a, b = self.line().coefficients(0.95)
        assert (a.value, b.value) == pytest.approx((5.47991022, -0.480533407), rel=1e-8)
        assert (a.se, b.se) == pytest.approx((0.29497, 0.0579850), rel=1e-4)

    def test_it_is_where_the_weighted_distances_are_least(self) -> None:
        def misfit(c: Array) -> float:
            off = self.Y - c[0] - c[1] * self.X
            return float(np.sum(off**2 / (self.Y_SE**2 + (c[1] * self.X_SE) ** 2)))

        least = scipy.optimize.minimize(misfit, [5, -0.5], tol=1e-12).x
        assert [c.value for c in self.line().coefficients(0.95)] == pytest.approx(least, rel=1e-5)

    def test_very_large_values_have_the_same_line(self) -> None:
        (a, b), (a_large, b_large) = (self.line(s).coefficients(0.9) for s in (1.0, 1e180))
        assert (b_large.value, b_large.low) == pytest.approx((b.value, b.low))
        assert a_large.value / 1e180 == pytest.approx(a.value)

    def test_its_intervals_cover_as_often_as_they_say(self) -> None:
        runs, covered = 600, 0
        rng = np.random.default_rng(2)
        for _ in range(runs):
            x = self.X + rng.normal(0, self.X_SE)
            y = 5 - 0.5 * self.X + rng.normal(0, self.Y_SE)
            sample = paired(x, y, errors=(self.X_SE, self.Y_SE))
            b = fit_trend(sample, "errors-in-variables").coefficients(0.9)[1]
            covered += b.low <= -0.5 <= b.high  # type: ignore[operator]
        # Within four standard errors of 90 %: 0.05.
        assert covered / runs == pytest.approx(0.9, abs=0.05)

    def test_rows_whose_error_is_not_known_are_counted(self) -> None:
        x_se = self.X_SE.copy()
        x_se[[1, 4]] = 0.0, np.nan
        sample = paired(self.X, self.Y, errors=(x_se, self.Y_SE))
        assert sample.n == 8
        assert sample.dropped["no_error"] == 2

    def test_without_error_bars_it_says_what_to_do(self) -> None:
        with pytest.raises(FitError, match="Put error bars on both axes"):
            fit_trend(paired(self.X, self.Y), "errors-in-variables")

    def test_bars_that_are_too_short_are_said(self) -> None:
        sample = paired(self.X, self.Y, errors=(self.X_SE / 9, self.Y_SE / 9))
        said = " ".join(a.text for a in fit_trend(sample, "errors-in-variables").assumptions)
        assert "some error is not in them" in said
        assert "Intervals are too narrow." in said

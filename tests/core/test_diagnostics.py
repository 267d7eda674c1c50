"""What each row does in a fit, and what misleads, against fitting again without the row."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy import special, stats

from tests.families import settings_of
from yarrowdew.core.cautions import bend, fan, uneven_missing
from yarrowdew.core.diagnostics import (
    cooks_distance,
    cross_validation_error,
    diagnose,
    normal_scores,
)
from yarrowdew.core.distributions.comparison import Difference
from yarrowdew.core.prediction import read_at, solve_for
from yarrowdew.core.sample import Array, Sample, paired
from yarrowdew.core.slope_comparison import LineOfGroup, compare_slopes
from yarrowdew.core.trends import TrendFit, fit_trend
from yarrowdew.core.trends.families.straight import fit_line
from yarrowdew.core.trends.intervals.hc3 import under_unequal_scatter


def scattered(n: int = 20, seed: int = 4) -> Sample:
    draw = np.random.default_rng(seed)
    x = np.sort(draw.uniform(1, 9, n))
    return paired(x, 2 + 3 * x - 0.2 * x**2 + draw.normal(0, 1, n))


def without(sample: Sample, row: int) -> Sample:
    keep = np.arange(sample.n) != row
    weights = None if sample.weights is None else sample.weights[keep]
    return paired(sample.x[keep], sample.y[keep], weights)


def refitted(family: str, sample: Sample, row: int, **options: object) -> TrendFit:
    return fit_trend(without(sample, row), family, settings_of(family, **options))


class TestRowsLeftOut:
    @pytest.mark.parametrize(
        ("family", "options"),
        [
            ("straight", {}),
            ("origin", {}),
            ("polynomial", {"degree": 3}),
            ("logarithmic", {}),
            ("exponential", {}),
            ("power", {}),
        ],
    )
    def test_distances_are_those_of_a_fit_without_the_row(
        self, family: str, options: dict[str, object]
    ) -> None:
        sample = scattered()
        off = fit_trend(sample, family, settings_of(family, **options)).left_out(sample)
        assert off is not None
        for row in (0, 7, 19):
            there = refitted(family, sample, row, **options).predict(sample.x[row : row + 1])
            assert off[row] == pytest.approx(float(sample.y[row] - there[0]), rel=1e-8)

    def test_cooks_distance_is_how_far_all_fitted_values_move(self) -> None:
        sample = scattered()
        fit = fit_trend(sample, "polynomial")
        found = cooks_distance(fit, sample)
        assert found is not None
        for row in (0, 11):
            moved = fit.predict(sample.x) - refitted("polynomial", sample, row).predict(sample.x)
            expected = np.sum(moved**2) / (3 * fit.residual_sd**2)
            assert found[row] == pytest.approx(expected, rel=1e-8)

    def test_leverages_add_up_to_the_coefficients(self) -> None:
        sample = scattered()
        for family, parameters in (("straight", 2), ("polynomial", 3), ("power", 2)):
            leverage = fit_trend(sample, family).leverage(sample)
            assert leverage is not None
            assert leverage.sum() == pytest.approx(parameters)

    def test_the_error_is_their_root_mean_square(self) -> None:
        sample = paired([1.0, 2, 3, 4], [1.0, 3, 2, 5])
        fit = fit_trend(sample, "straight")
        distances = [
            float(sample.y[i] - refitted("straight", sample, i).predict(sample.x[i : i + 1])[0])
            for i in range(4)
        ]
        assert cross_validation_error(fit, sample) == pytest.approx(
            np.sqrt(np.mean(np.square(distances)))
        )

    def test_a_form_without_a_hat_matrix_has_none(self) -> None:
        sample = scattered()
        for family in ("theil-sen", "reduced-major-axis", "moving-average"):
            fit = fit_trend(sample, family)
            found = diagnose(fit, sample)
            assert (found.cook, found.leverage, cross_validation_error(fit, sample)) == (
                None,
                None,
                None,
            )
            assert np.isfinite(found.residual).any()

    def test_a_row_that_fixes_the_fit_alone_counts_as_nothing(self) -> None:
        sample = paired([0.0, 0, 0, 5], [1.0, 2, 3, 9])
        found = diagnose(fit_trend(sample, "straight"), sample)
        assert found.cook is not None
        assert np.isfinite(found.cook).all()
        assert found.cook[3] == 0

    def test_normal_scores_are_even_about_zero(self) -> None:
        scores = normal_scores(np.array([30.0, 10, 20]))
        assert scores[2] == pytest.approx(0)
        assert scores[0] == pytest.approx(-scores[1])
        # Blom's (3 − 3/8) / (3 + 1/4).
        assert special.ndtr(scores[0]) == pytest.approx(2.625 / 3.25)


class TestAicc:
    def test_by_its_formula(self) -> None:
        sample = scattered(12)
        fit = fit_trend(sample, "polynomial")
        sse = float(np.sum((sample.y - fit.predict(sample.x)) ** 2))
        assert fit.aicc == pytest.approx(12 * np.log(sse / 12) + 8 + 2 * 4 * 5 / (12 - 5))

    def test_none_for_a_perfect_fit_or_too_few_rows(self) -> None:
        assert fit_trend(paired([1, 2, 3, 4, 5], [2, 4, 6, 8, 10]), "straight").aicc is None
        assert fit_trend(paired([1, 2, 3, 4], [2, 4, 5, 8]), "straight").aicc is None


class TestReadOff:
    def test_a_form_without_a_band_has_no_intervals(self) -> None:
        reading = read_at(fit_trend(scattered(), "theil-sen"), 5.0, 0.95)
        assert (reading.mean_low, reading.new_high, reading.carried_on) == (None, None, False)

    def test_every_crossing_of_a_curve_in_order(self) -> None:
        x = np.linspace(-3, 3, 61)
        fit = fit_trend(paired(x, x**2), "polynomial")
        found = [s.crossing for s in solve_for(fit, 4.0, 0.95)]
        assert [c.x for c in found] == pytest.approx([-2, 2])

    def test_crossings_past_the_data_only_where_the_trend_is_drawn(self) -> None:
        x = np.linspace(0, 3, 31)
        fit = fit_trend(paired(x, x**2), "polynomial")
        (missed,) = solve_for(fit, 16.0, 0.95)
        assert missed.crossing.x is None
        assert "nearest it comes is y = 9 at x = 3" in missed.crossing.note
        (reached,) = solve_for(fit, 16.0, 0.95, (0.0, 5.0))
        assert reached.crossing.x == pytest.approx(4)
        assert reached.carried_on

    def test_the_interval_of_x_is_where_the_band_meets_the_level(self) -> None:
        fit = fit_trend(scattered(60), "polynomial")
        (solution,) = solve_for(fit, 10.0, 0.9)
        crossing = solution.crossing
        assert crossing.low is not None
        assert crossing.high is not None
        ends = np.array([crossing.low, crossing.high])
        band = fit.band(ends, 0.9, "confidence")
        assert band is not None
        # The curve rises here: its band's upper end comes to the level first, its lower end last.
        assert (band.high[0], band.low[1]) == pytest.approx((10, 10), rel=1e-6)

    def test_an_interval_that_never_closes_is_open(self) -> None:
        x = np.arange(12.0)
        y = 0.05 * x + np.tile([1.0, -1.0], 6)
        fit = fit_trend(paired(x, y), "spline", settings_of("spline", penalty=1e6))
        (solution,) = solve_for(fit, 0.28, 0.95)
        assert solution.crossing.x is not None
        assert "open" in solution.crossing.note


class TestSlopes:
    def test_two_slopes_by_hand(self) -> None:
        groups = [scattered(12, 1), scattered(20, 2)]
        found = compare_slopes([known(fit_line(g)) for g in groups])
        assert found is not None
        by_hand = []
        for g in groups:
            dx, dy = g.x - g.x.mean(), g.y - g.y.mean()
            slope = float(dx @ dy) / float(dx @ dx)
            rest = float(np.sum((dy - slope * dx) ** 2)) / (g.n - 2)
            by_hand.append((slope, rest / float(dx @ dx), rest / g.n, g.n - 2))
        (b1, v1, m1, d1), (b2, v2, m2, d2) = by_hand
        (pair,) = found.pairs
        df = (v1 + v2) ** 2 / (v1**2 / d1 + v2**2 / d2)
        t = (b2 - b1) / math.sqrt(v1 + v2)
        assert pair.slopes.value == pytest.approx(b2 - b1)
        assert pair.slopes.p_value == pytest.approx(2 * stats.t.sf(abs(t), df))
        # Of two groups the test of all is that of the pair.
        assert found.f == pytest.approx(t**2)
        assert found.df == pytest.approx((1, df))
        assert found.slope == pytest.approx((b1 / v1 + b2 / v2) / (1 / v1 + 1 / v2))
        across = groups[1].x.mean() - groups[0].x.mean()
        up = groups[1].y.mean() - groups[0].y.mean()
        assert pair.heights.value == pytest.approx(up - found.slope * across)
        assert pair.heights.high is not None
        assert pair.heights.high - pair.heights.value > math.sqrt(m1 + m2)

    @pytest.mark.parametrize("groups", [((10, 3.0), (40, 1.0)), ((8, 2.0), (12, 1.0), (25, 4.0))])
    def test_it_holds_its_level_and_covers_where_groups_scatter_differently(
        self, groups: tuple[tuple[int, float], ...]
    ) -> None:
        rng = np.random.default_rng(11)
        runs, rejected, slopes, heights = 800, 0, 0, 0
        for _ in range(runs):
            lines = []
            for place, (n, sd) in enumerate(groups):
                x = rng.uniform(0, 10, n)
                y = 3 * place + x + rng.normal(0, sd, n)
                lines.append(known(fit_line(paired(x, y))))
            found = compare_slopes(lines)
            assert found is not None
            rejected += found.p_value < 0.05
            slopes += all(held(one.slopes, 0.0) for one in found.pairs)
            heights += all(held(one.heights, 3.0 * (one.second - one.first)) for one in found.pairs)
        assert 0.03 < rejected / runs < 0.075
        assert min(slopes, heights) / runs > 0.925

    def test_changing_the_order_of_groups_changes_the_sign_alone(self) -> None:
        lines = [known(fit_line(scattered(15, seed))) for seed in range(2)]
        one, other = compare_slopes(lines), compare_slopes(lines[::-1])
        assert one is not None
        assert other is not None
        assert one.pairs[0].slopes.value == pytest.approx(-other.pairs[0].slopes.value)
        assert one.pairs[0].slopes.low == pytest.approx(-(other.pairs[0].slopes.high or 0))
        assert one.p_value == pytest.approx(other.p_value)

    def test_errors_of_the_fit_are_those_that_are_compared(self) -> None:
        sample = scattered(30, 5)
        fit = under_unequal_scatter(fit_line(sample), sample)
        se = next(c.se for c in fit.coefficients(0.95) if c.name == "b")
        assert known(fit).slope_se == se

    def test_nothing_to_compare(self) -> None:
        line = fit_line(scattered())
        assert compare_slopes([known(line)]) is None
        assert LineOfGroup.of(fit_line(paired([1, 2, 3], [1, 2, 3]))) is None
        assert LineOfGroup.of(fit_line(scattered(), intercept=0.0)) is None
        assert LineOfGroup.of(fit_trend(scattered(60), "polynomial")) is None


def known(fit: TrendFit) -> LineOfGroup:
    found = LineOfGroup.of(fit)
    assert found is not None
    return found


def held(found: Difference, value: float) -> bool:
    assert found.low is not None
    assert found.high is not None
    return found.low <= value <= found.high


def noise(n: int, seed: int = 1) -> Array:
    return np.random.default_rng(seed).normal(0, 1, n)


class TestWhatMisleads:
    X = np.linspace(0, 10, 300)

    def test_a_bend_that_can_be_seen(self) -> None:
        sample = paired(self.X, self.X**2 / 3 + noise(300))
        found = bend(fit_line(sample), sample)
        assert found is not None
        assert found.p_value < 1e-6
        assert found.share > 0.3

    @pytest.mark.parametrize("unit", [1.0, 1e150, 1e-170])
    @pytest.mark.parametrize("weighted", [False, True])
    def test_a_bend_is_what_a_parabola_finds(self, weighted: bool, unit: float) -> None:
        weights = 1 + self.X % 3 if weighted else None
        sample = paired(self.X * unit + 3 * unit, (self.X**2 / 30 + noise(300)) * unit, weights)
        line, parabola = fit_trend(sample, "straight"), fit_trend(sample, "polynomial")
        square = parabola.coefficients(0.95)[2]
        assert square.se
        found = bend(line, sample)
        assert found is not None
        df = parabola.degrees_of_freedom
        p = 2 * stats.t.sf(abs(square.value / square.se), df)
        assert found.p_value == pytest.approx(p, rel=1e-6, abs=0)
        assert found.share == pytest.approx(1 - parabola.residual_sd / line.residual_sd)

    def test_nothing_but_a_parabola_bends_wholly(self) -> None:
        sample = paired(self.X, self.X**2)
        found = bend(fit_line(sample), sample)
        assert found is not None
        assert found.share == pytest.approx(1)

    def test_a_straight_line_and_a_curve_are_left_alone(self) -> None:
        straight = paired(self.X, self.X + noise(300))
        assert bend(fit_line(straight), straight) is None
        bent = paired(self.X, self.X**2 + noise(300))
        assert bend(fit_trend(bent, "polynomial"), bent) is None
        few = paired([1, 2, 3, 4], [1, 4, 9, 16])
        assert bend(fit_line(few), few) is None

    def test_scatter_that_grows(self) -> None:
        sample = paired(self.X, self.X + (0.2 + self.X) * noise(300))
        found = fan(fit_line(sample), sample)
        assert found is not None
        assert found.high > 2 * found.low
        even = paired(self.X, self.X + noise(300))
        assert fan(fit_line(even), even) is None

    def test_weights_and_logarithms_expect_it(self) -> None:
        y = 5 + self.X + (0.2 + self.X) * noise(300) * 0.2
        weighted = paired(self.X, y, 1 / (0.2 + self.X) ** 2)
        assert fan(fit_line(weighted), weighted) is None
        sample = paired(self.X, np.abs(y) + 0.1)
        assert fan(fit_trend(sample, "exponential"), sample) is None

    def test_rows_missing_at_one_end(self) -> None:
        x = np.arange(100.0)
        y = np.where((x > 80) & (x < 95), np.nan, x)
        found = uneven_missing(x, y)
        assert found is not None
        low, high = found
        assert (low, high) == (0.0, pytest.approx(0.28))

    def test_rows_missing_everywhere_alike(self) -> None:
        x = np.arange(100.0)
        assert uneven_missing(x, np.where(x % 7 == 0, np.nan, x)) is None
        assert uneven_missing(x, np.where(x > 96, np.nan, x)) is None
        assert uneven_missing(x[:10], np.full(10, np.nan)) is None

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from tests.core.reference import ANSCOMBE
from yarrowdew.core.cautions import (
    cut_off,
    free_intercept,
    heavy_tails,
    may_hide,
    opposed_groups,
    share_hidden,
    shortens_mean_interval,
)
from yarrowdew.core.dependence import alike_in_groups, alike_neighbours
from yarrowdew.core.distributions.spread import spread
from yarrowdew.core.errors import FitError
from yarrowdew.core.influence import deciding_row, influential_row
from yarrowdew.core.intervals import check_level, t_quantile
from yarrowdew.core.sample import Array, Sample, paired
from yarrowdew.core.trends import TrendFit, family_of, fit_trend
from yarrowdew.core.trends.families.straight import fit_line

PLACES = [0.0, -0.0, 1.0, -1.0, 0.1, 1e-300, 1e300, 5e-324, 3.0, 1024.0]


def line_of(sample: Sample) -> TrendFit:
    return fit_trend(sample, "straight")


def test_the_row_that_moves_anscombes_third_line_is_found() -> None:
    sample = paired(*ANSCOMBE["III"])
    found = influential_row(line_of(sample), sample, line_of)
    assert found is not None
    assert found.row == 2
    assert found.without.value == pytest.approx(0.345389, abs=1e-6)
    assert found.sd_without < 0.01 < found.sd


def test_the_row_that_decides_anscombes_fourth_line_alone_is_found() -> None:
    sample = paired(*ANSCOMBE["IV"])
    assert deciding_row(line_of(sample), sample) == ANSCOMBE["IV"][0].index(19)
    assert deciding_row(line_of(paired(*ANSCOMBE["I"])), paired(*ANSCOMBE["I"])) is None


def test_the_p_of_an_outlier_is_that_of_a_line_with_a_shift_for_its_row() -> None:
    draw = np.random.default_rng(3)
    x = np.arange(20.0)
    y = x + draw.normal(0, 1, 20)
    y[7] += 6
    found = influential_row(line_of(paired(x, y)), paired(x, y), line_of)
    assert found is not None
    design = np.column_stack([np.ones(20), x, np.arange(20) == 7])
    fitted, *_ = np.linalg.lstsq(design, y, rcond=None)
    sd2 = float(((y - design @ fitted) ** 2).sum()) / 17
    t = fitted[2] / math.sqrt(sd2 * np.linalg.inv(design.T @ design)[2, 2])
    assert found.p_value == pytest.approx(20 * 2 * stats.t.sf(abs(t), 17))


@pytest.mark.parametrize(("n", "slope"), [(8, 1.0), (10, 0.0), (10, 1.0), (60, 1.0), (300, 0.0)])
def test_normal_tables_rarely_have_an_influential_row(n: int, slope: float) -> None:
    draw = np.random.default_rng(n)
    found = 0
    for _ in range(300):
        x = draw.normal(size=n)
        sample = paired(x, slope * x + draw.normal(size=n))
        found += influential_row(line_of(sample), sample, line_of) is not None
    assert found / 300 < 0.08


def test_a_row_on_which_a_trend_hangs_is_found() -> None:
    even = np.linspace(-1.5, 1.5, 12)
    x, y = np.r_[even, 10.0], np.r_[np.tile([1.0, -1.0, -0.8, 0.9], 3) + 0.1 * even, 8.0]
    found = influential_row(line_of(paired(x, y)), paired(x, y), line_of)
    assert found is not None
    assert found.row == 12
    assert (found.slope.low or 0) > 0 > (found.without.low or 0)


def test_rows_are_named_by_where_they_stood() -> None:
    x, y = (np.array(v, dtype=float) for v in ANSCOMBE["III"])
    sample = paired(np.r_[np.nan, np.nan, x], np.r_[0, 0, y])
    found = influential_row(line_of(sample), sample, line_of)
    assert found is not None
    assert found.row == 4


def test_groups_that_slope_the_other_way() -> None:
    x = np.tile(np.arange(10.0), 2)
    noise = 0.1 * np.tile([1, -1, 1, 1, -1], 4)
    y = np.r_[-np.arange(10.0) + 30, -np.arange(10.0)] + noise
    x[:10] += 30
    groups = {"up": fit_line(paired(x[:10], y[:10])), "down": fit_line(paired(x[10:], y[10:]))}
    found = opposed_groups(fit_line(paired(x, y)), groups, 0.95)
    assert found is not None
    assert (found.whole, found.rising, found.falling) == (1, [], ["up", "down"])
    assert opposed_groups(groups["up"], groups, 0.95) is None


def test_groups_that_slope_both_ways_about_a_flat_whole() -> None:
    x = np.arange(20.0)
    noise = 0.3 * np.tile([1, -1, 1, 1, -1], 4)
    groups = {"A": fit_line(paired(x, x + noise)), "B": fit_line(paired(x, 19 - x - noise))}
    both = fit_line(paired(np.tile(x, 2), np.r_[x + noise, 19 - x - noise]))
    found = opposed_groups(both, groups, 0.95)
    assert found is not None
    assert (found.whole, found.rising, found.falling) == (0, ["A"], ["B"])


def test_many_groups_with_one_slope_are_seldom_said_to_slope_the_other_way() -> None:
    draw = np.random.default_rng(4)
    said = 0
    for _ in range(100):
        groups = {}
        for name in range(40):
            x = draw.uniform(0, 10, 15)
            groups[str(name)] = fit_line(paired(x, 0.15 * x + draw.normal(0, 1, 15)))
        x = draw.uniform(0, 10, 600)
        whole = fit_line(paired(x, 0.15 * x + draw.normal(0, 1, 600)))
        said += opposed_groups(whole, groups, 0.95) is not None
    assert said <= 6


def test_rows_that_follow_one_another_are_alike() -> None:
    draw = np.random.default_rng(5)
    noise = np.zeros(200)
    for i in range(1, 200):
        noise[i] = 0.9 * noise[i - 1] + draw.normal()
    time = np.arange(200.0)
    sample = paired(time, 0.01 * time + noise)
    found = alike_neighbours(line_of(sample), sample, time)
    assert found is not None
    residual = sample.y - line_of(sample).predict(sample.x)
    assert found.correlation == pytest.approx(
        np.corrcoef(residual[1:], residual[:-1])[0, 1], abs=0.02
    )
    mixed = draw.permutation(200)
    turned = paired(time[mixed], sample.y[mixed])
    # What is next to what is said by the order, and not by the table.
    again = alike_neighbours(line_of(turned), turned, turned.x)
    assert again is not None
    assert again.correlation == pytest.approx(found.correlation)
    assert alike_neighbours(line_of(turned), turned, np.arange(200.0)) is None


def test_what_rounding_leaves_of_a_perfect_line_is_not_alike() -> None:
    x = np.arange(200.0)
    sample = paired(x, np.maximum(0.0, x - 90) / 3)
    fit = fit_trend(sample, "segmented")
    assert alike_neighbours(fit, sample, x) is None
    assert alike_in_groups(fit, sample, np.repeat(np.arange(10), 20)) is None


def test_residuals_that_lie_to_one_side_are_not_alike_for_that() -> None:
    draw = np.random.default_rng(7)
    y = (draw.random(80) < 0.8).astype(float)
    sample = paired(draw.normal(size=80), y)
    # The median slope of so many ties is 0 and the line lies at 1: every residual is 0 or below.
    assert alike_neighbours(fit_trend(sample, "theil-sen"), sample, np.arange(80.0)) is None


def test_a_free_intercept_that_is_clear_is_found() -> None:
    x = np.arange(1.0, 31)
    noise = np.tile([0.5, -0.5], 15)
    away = paired(x, 50 + noise)
    found = free_intercept(fit_trend(away, "origin"), away)
    assert found is not None
    assert found.low is not None
    assert found.low < 50 < (found.high or 0)
    through = paired(x, 2 * x + noise)
    assert free_intercept(fit_trend(through, "origin"), through) is None
    assert free_intercept(fit_trend(away, "straight"), away) is None


def test_rows_of_one_subject_are_alike() -> None:
    draw = np.random.default_rng(6)
    subject = np.repeat(np.arange(6), 15)
    x = draw.uniform(0, 10, 90)
    sample = paired(x, draw.normal(0, 2, 6)[subject] + draw.normal(0, 1, 90))
    found = alike_in_groups(line_of(sample), sample, subject)
    assert found is not None
    assert 0.4 < found.correlation < 1
    plain = paired(x, draw.normal(0, 1, 90))
    assert alike_in_groups(line_of(plain), plain, subject) is None


@pytest.mark.parametrize(
    ("x", "y", "share"),
    [
        ([1, 1, 1, 2], [5, 5, 5, 5], 0.5),
        ([0.0, -0.0], [1, 1], 0.5),
        ([1, 2], [2, 1], 0),
        ([], [], 0),
    ],
)
def test_share_of_marks_on_one_place(x: list[float], y: list[float], share: float) -> None:
    assert share_hidden(np.array(x, dtype=float), np.array(y, dtype=float)) == share


@given(
    st.lists(st.tuples(st.sampled_from(PLACES), st.sampled_from(PLACES)), max_size=60),
    st.floats(0, 1),
)
def test_what_may_hide_is_never_less_than_what_does(
    marks: list[tuple[float, float]], share: float
) -> None:
    x, y = (np.array([mark[side] for mark in marks], dtype=float) for side in (0, 1))
    hidden = 1 - len(set(marks)) / max(len(marks), 1) if marks else 0.0
    if hidden >= share:
        assert may_hide(x, y, share)


def test_marks_that_stand_apart_are_not_put_in_order_to_find_that_out() -> None:
    x = np.random.default_rng(1).normal(size=5000)
    assert not may_hide(x, x[::-1].copy(), 0.2)
    assert may_hide(np.tile(x, 2), np.tile(x, 2), 0.2)


def test_levels_outside_the_offer_are_refused() -> None:
    with pytest.raises(FitError, match=r"0\.50 and 0\.999"):
        check_level(0.4)
    assert t_quantile(0.95, 10) == pytest.approx(2.228138851964939, rel=1e-10)


class TestHeavyTails:
    @pytest.mark.parametrize("n", [20, 57, 400])
    def test_by_the_test_of_anscombe_and_glynn(self, n: int) -> None:
        rng = np.random.default_rng(n)
        found = 0
        for scale in (1.0, 1e-200, 1e200):
            for _ in range(60):
                values = rng.standard_t(4, n)
                excess = stats.kurtosis(values)
                due = excess > 2 and stats.kurtosistest(values).pvalue < 0.001
                got = heavy_tails(values * scale)
                assert (got is not None) == due
                found += due
                assert got is None or got == pytest.approx(excess)
        assert found > 3

    def test_not_of_few_nor_of_equal_values(self) -> None:
        assert heavy_tails(np.array([0.0] * 18 + [9.0])) is None
        assert heavy_tails(np.full(50, 2.0)) is None

    def test_hardly_ever_of_normal_values(self) -> None:
        rng = np.random.default_rng(3)
        assert sum(heavy_tails(rng.normal(size=40)) is not None for _ in range(500)) <= 8


class TestBendsCutOff:
    """A smooth that is too stiff is said to be so where its band does not cover, and only there."""

    @staticmethod
    def often(waves: float, n: int, runs: int = 12) -> int:
        rng = np.random.default_rng(n)
        found = 0
        for _ in range(runs):
            x = np.sort(rng.uniform(0, 1, n))
            y = np.sin(2 * np.pi * waves * x) + rng.normal(0, 0.3, n)
            found += cut_off(paired(x, y), family_of("local"), None) is not None
        return found

    def test_of_three_waves_within_half_the_rows(self) -> None:
        assert self.often(3, 120) == 12

    def test_not_of_one(self) -> None:
        assert self.often(1, 120) == 0

    def test_not_of_a_family_that_is_no_smooth(self) -> None:
        x = np.linspace(0, 1, 50)
        assert cut_off(paired(x, np.sin(20 * x)), family_of("straight"), None) is None


def test_the_tails_that_make_an_interval_of_r_short_are_counted_as_measured() -> None:
    """Of lognormal margins that go together Fisher's interval covers 72 to 83 %, as is said."""
    rng = np.random.default_rng(8)
    z = rng.multivariate_normal([0, 0], [[1, 0.6], [0.6, 1]], 400_000)
    due = float(np.corrcoef(np.exp(z.T))[0, 1])
    covered = 0
    for _ in range(300):
        z = rng.multivariate_normal([0, 0], [[1, 0.6], [0.6, 1]], 50)
        x, y = np.exp(z.T)
        r, half = math.atanh(np.corrcoef(x, y)[0, 1]), stats.norm.ppf(0.975) / math.sqrt(47)
        covered += math.tanh(r - half) <= due <= math.tanh(r + half)
    assert 0.66 < covered / 300 < 0.82


class TestSkewedMeans:
    @staticmethod
    def share(of: Callable[[np.random.Generator, int], Array], n: int) -> float:
        """In how many of 400 samples the interval of the mean is cautioned."""
        draw = np.random.default_rng(n)
        samples = [spread(of(draw, n)) for _ in range(400)]
        return sum(shortens_mean_interval(one.skewness or 0.0, n) for one in samples) / 400

    @pytest.mark.parametrize("n", [8, 20, 100])
    def test_normal_rows_are_hardly_ever_cautioned(self, n: int) -> None:
        assert self.share(lambda draw, n: draw.normal(size=n), n) < 0.05

    @pytest.mark.parametrize("n", [20, 50])
    def test_lognormal_rows_mostly_are(self, n: int) -> None:
        assert self.share(lambda draw, n: draw.lognormal(size=n), n) > 0.6

    def test_of_many_rows_skewness_shortens_nothing(self) -> None:
        assert not shortens_mean_interval(2.0, 1_000)
        assert not shortens_mean_interval(9.0, 7)

from __future__ import annotations

from fractions import Fraction

import mpmath
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.reference import (
    ANSCOMBE,
    NOINT1_CERTIFIED,
    NOINT1_X,
    NOINT1_Y,
    NORRIS,
    NORRIS_CERTIFIED,
)
from yarrowdew.core.errors import FitError
from yarrowdew.core.prediction import read_at, solve_for
from yarrowdew.core.sample import Sample, paired
from yarrowdew.core.trends import fit_trend
from yarrowdew.core.trends.families.straight import StraightLine, fit_line


def line(x: object, y: object, **options: object) -> StraightLine:
    return fit_line(paired(x, y), **options)  # type: ignore[arg-type]


def high_precision_t(level: float, degrees_of_freedom: int) -> mpmath.mpf:
    """Student's t quantile from the incomplete beta function, to 30 digits."""
    with mpmath.workdps(30):
        df, tail = mpmath.mpf(degrees_of_freedom), 1 - mpmath.mpf(str(level))
        return mpmath.findroot(
            lambda t: mpmath.betainc(df / 2, 0.5, 0, df / (df + t * t), regularized=True) - tail,
            (0.01, 60),
            solver="bisect",
            maxsteps=200,
            verify=False,
        )


class TestAgainstReferences:
    def test_norris_to_ten_digits(self) -> None:
        model = line(NORRIS[:, 1], NORRIS[:, 0])
        a, b = model.coefficients(0.95)
        found = {
            "a": a.value,
            "a_se": a.se,
            "b": b.value,
            "b_se": b.se,
            "residual_sd": model.residual_sd,
            "r_squared": model.r_squared,
        }
        assert found == pytest.approx(NORRIS_CERTIFIED, rel=1e-10)
        assert (model.n, model.degrees_of_freedom) == (36, 34)

    def test_line_through_the_origin_to_ten_digits(self) -> None:
        model = fit_trend(paired(NOINT1_X, NOINT1_Y), "origin")
        a, b = model.coefficients(0.95)
        found = {
            "b": b.value,
            "b_se": b.se,
            "residual_sd": model.residual_sd,
            "r_squared": model.r_squared,
        }
        assert found == pytest.approx(NOINT1_CERTIFIED, rel=1e-10)
        assert (a.value, a.se) == (0.0, None)

    @pytest.mark.parametrize("name", ANSCOMBE)
    def test_anscombe_against_exact_fractions(self, name: str) -> None:
        x, y = ([Fraction(str(v)) for v in values] for values in ANSCOMBE[name])
        mean_x, mean_y = sum(x) / 11, sum(y) / 11
        sxx = sum((v - mean_x) ** 2 for v in x)
        sxy = sum((v - mean_x) * (w - mean_y) for v, w in zip(x, y, strict=True))
        syy = sum((w - mean_y) ** 2 for w in y)
        model = line(*ANSCOMBE[name])
        assert model.slope == pytest.approx(float(sxy / sxx), rel=1e-14)
        assert model.intercept == pytest.approx(float(mean_y - sxy / sxx * mean_x), rel=1e-13)
        assert model.r_squared == pytest.approx(float(sxy**2 / (sxx * syy)), rel=1e-13)

    def test_intervals_agree_with_high_precision(self) -> None:
        x, y = NORRIS[:, 1], NORRIS[:, 0]
        model = line(x, y)
        at = 123.4
        with mpmath.workdps(30):
            xs, ys = ([mpmath.mpf(str(v)) for v in values] for values in (x, y))
            n = len(xs)
            mx, my = sum(xs) / n, sum(ys) / n
            sxx = sum((v - mx) ** 2 for v in xs)
            b = sum((v - mx) * (w - my) for v, w in zip(xs, ys, strict=True)) / sxx
            s2 = sum((w - my - b * (v - mx)) ** 2 for v, w in zip(xs, ys, strict=True)) / (n - 2)
            fitted = my + b * (mpmath.mpf(str(at)) - mx)
            h = mpmath.mpf(1) / n + (mpmath.mpf(str(at)) - mx) ** 2 / sxx
            for level in (0.5, 0.9, 0.95, 0.999):
                t = high_precision_t(level, n - 2)
                mean, new = t * mpmath.sqrt(s2 * h), t * mpmath.sqrt(s2 * (1 + h))
                reading = read_at(model, at, level)
                assert reading.mean_low == pytest.approx(float(fitted - mean), rel=1e-9)
                assert reading.mean_high == pytest.approx(float(fitted + mean), rel=1e-9)
                assert reading.new_low == pytest.approx(float(fitted - new), rel=1e-9)
                assert reading.new_high == pytest.approx(float(fitted + new), rel=1e-9)

    def test_no_digits_are_lost_far_from_zero(self) -> None:
        x, y = NORRIS[:, 1], NORRIS[:, 0]
        far = line(x + 2.0**30, y + 2.0**30)
        assert far.slope == pytest.approx(NORRIS_CERTIFIED["b"], rel=1e-9)
        assert far.residual_sd == pytest.approx(NORRIS_CERTIFIED["residual_sd"], rel=1e-6)


class TestProperties:
    values = st.lists(
        st.tuples(st.integers(-1000, 1000), st.integers(-1000, 1000)), min_size=3, max_size=30
    ).filter(lambda rows: len({x for x, _ in rows}) > 1)

    @given(values, st.integers(-500, 500), st.integers(-500, 500))
    @settings(max_examples=60, deadline=None)
    def test_a_shift_moves_the_line_and_nothing_else(
        self, rows: list[tuple[int, int]], by_x: int, by_y: int
    ) -> None:
        x, y = np.array(rows, dtype=float).T
        here, there = line(x, y), line(x + by_x, y + by_y)
        assert there.slope == pytest.approx(here.slope, rel=1e-9, abs=1e-9)
        assert there.residual_sd == pytest.approx(here.residual_sd, rel=1e-7, abs=1e-6)
        assert there.predict(x + by_x) == pytest.approx(here.predict(x) + by_y, rel=1e-9, abs=1e-6)

    @given(values, st.randoms(use_true_random=False))
    @settings(max_examples=40, deadline=None)
    def test_the_order_of_rows_changes_nothing(self, rows: list, random: object) -> None:
        shuffled = list(rows)
        random.shuffle(shuffled)  # type: ignore[attr-defined]
        here, there = (line(*np.array(r, dtype=float).T) for r in (rows, shuffled))
        assert there.slope == pytest.approx(here.slope, rel=1e-10, abs=1e-12)
        assert there.sse == pytest.approx(here.sse, rel=1e-8, abs=1e-8)

    def test_leaving_a_row_out_is_what_the_diagnostic_says(self) -> None:
        x, y = (np.array(v, dtype=float) for v in ANSCOMBE["III"])
        sample = paired(x, y)
        changes = fit_line(sample).slope_changes(sample)
        for i in range(len(x)):
            without = line(np.delete(x, i), np.delete(y, i)).slope
            assert changes[i] == pytest.approx(
                without - fit_line(sample).slope, rel=1e-9, abs=1e-12
            )

    def test_a_row_that_alone_fixes_the_slope_has_no_line_without_it(self) -> None:
        sample = paired(*ANSCOMBE["IV"])
        assert fit_line(sample).slope_changes(sample)[7] == 0.0

    def test_weights_of_two_count_a_row_twice(self) -> None:
        x, y = NORRIS[:10, 1], NORRIS[:10, 0]
        weights = np.array([1, 2] * 5, dtype=float)
        weighted = fit_line(paired(x, y, weights))
        repeated = line(np.repeat(x, [1, 2] * 5), np.repeat(y, [1, 2] * 5))
        assert weighted.slope == pytest.approx(repeated.slope, rel=1e-12)
        assert weighted.intercept == pytest.approx(repeated.intercept, rel=1e-12)

    def test_bands_cover_the_true_line_as_often_as_they_say(self) -> None:
        rng = np.random.default_rng(7)
        x = np.linspace(0, 10, 12)
        covered = predicted = 0
        for _ in range(4000):
            model = line(x, 2 + 0.5 * x + rng.normal(0, 1, x.size))
            at = np.array([8.0])
            mean, new = (model.band(at, 0.95, kind) for kind in ("confidence", "prediction"))
            covered += int(mean.low[0] <= 6 <= mean.high[0])
            predicted += int(new.low[0] <= 6 + rng.normal() <= new.high[0])
        assert 0.94 <= covered / 4000 <= 0.96
        assert 0.94 <= predicted / 4000 <= 0.96


class TestReadOff:
    def test_x_at_a_level_has_fiellers_interval(self) -> None:
        model = line(*ANSCOMBE["I"])
        (solution,) = solve_for(model, 8.0, 0.95)
        crossing = solution.crossing
        assert crossing.x == pytest.approx((8 - 3.000090909090909) / 0.500090909090909, rel=1e-12)
        t = float(high_precision_t(0.95, 9))
        for end in (crossing.low, crossing.high):
            # By Fieller's definition the band reaches the level exactly at the interval's ends.
            variance = 1 / 11 + (end - 9) ** 2 / 110
            off = model.intercept + model.slope * end - 8
            assert abs(off) == pytest.approx(t * model.residual_sd * np.sqrt(variance), rel=1e-9)
        assert crossing.low < crossing.x < crossing.high
        assert not solution.carried_on

    def test_a_slope_that_may_be_zero_leaves_the_interval_open(self) -> None:
        x = np.arange(8.0)
        y = np.array([1.0, -1, 1, -1, 1, -1, 1, 1])
        (crossing,) = line(x, y).crossings(5.0, 0.95)
        assert crossing.x is not None
        assert None in (crossing.low, crossing.high)
        assert "too uncertain" in crossing.note

    def test_every_x_may_agree_with_a_level(self) -> None:
        (crossing,) = line(np.arange(8.0), np.array([1.0, -1, 1, -1, 1, -1, 1, 1])).crossings(
            0.2, 0.95
        )
        assert (crossing.low, crossing.high) == (None, None)
        assert "every x" in crossing.note

    def test_a_level_line_never_reaches_another_level(self) -> None:
        (crossing,) = line([0, 1, 2], [4, 4, 4]).crossings(5.0, 0.95)
        assert crossing.x is None
        assert "never reaches 5" in crossing.note

    def test_outside_the_data_is_said(self) -> None:
        model = line([0, 1, 2, 3], [0, 1.1, 1.9, 3])
        assert read_at(model, 4, 0.95).carried_on
        assert not read_at(model, 3, 0.95).carried_on
        assert solve_for(model, 10, 0.95)[0].carried_on


class TestBadInput:
    def test_two_rows_are_too_few(self) -> None:
        with pytest.raises(FitError, match=r"at least three rows.*here there are 2 rows"):
            line([1, 2], [3, 4])

    def test_no_rows_at_all(self) -> None:
        with pytest.raises(FitError, match="here there are no rows"):
            line([], [])

    def test_one_distinct_x(self) -> None:
        with pytest.raises(FitError, match=r"same x \(2\)"):
            line([2, 2, 2, 2], [1, 2, 3, 4])

    def test_origin_needs_an_x_other_than_zero(self) -> None:
        with pytest.raises(FitError, match="x = 0"):
            fit_trend(paired([0, 0, 0], [1, 2, 3]), "origin")

    def test_an_unknown_family_names_those_there_are(self) -> None:
        with pytest.raises(FitError, match="straight"):
            fit_trend(paired([0, 1, 2], [1, 2, 3]), "wavy")

    def test_a_perfect_fit_has_no_scatter_and_no_nan(self) -> None:
        model = line([0, 1, 2, 3], [1, 3, 5, 7])
        assert (model.slope, model.residual_sd, model.r_squared) == (2, 0, 1)
        assert model.p_value == 0
        (crossing,) = model.crossings(4, 0.95)
        assert (crossing.x, crossing.low, crossing.high) == (1.5, 1.5, 1.5)

    def test_y_without_spread_has_no_r_squared(self) -> None:
        model = line([0, 1, 2, 3], [5, 5, 5, 5])
        assert (model.slope, model.r_squared, model.adjusted_r_squared) == (0, None, None)
        assert model.p_value is None


def test_sample_is_a_plain_record() -> None:
    sample = paired([1, 2, np.nan, 4], [1, np.inf, 3, 4])
    assert isinstance(sample, Sample)
    assert sample.rows.tolist() == [0, 3]

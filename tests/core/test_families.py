"""Each family against certified values, exact arithmetic, or its own definition."""

from __future__ import annotations

from fractions import Fraction
from itertools import combinations

import mpmath
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import interpolate

from tests.core import reference as ref
from tests.families import settings_of
from tests.scope import only_long
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array, Sample, paired
from yarrowdew.core.trends import FAMILIES, TrendFit, fit_trend
from yarrowdew.core.trends.families.theil_sen import EXACT_ROWS


def fitted(family: str, x: object, y: object, w: object = None, **options: object) -> TrendFit:
    errors = None
    if "error bars" in FAMILIES[family].needs:
        # A tenth of how far the values reach: it goes along with their units.
        errors = tuple(np.full(np.size(v), np.ptp(v) / 10 if np.size(v) else 1) for v in (x, y))  # type: ignore[call-overload]
    return fit_trend(paired(x, y, w, errors=errors), family, settings_of(family, **options))  # type: ignore[arg-type]


def values(fit: TrendFit) -> dict[str, float]:
    return {c.name: c.value for c in fit.coefficients(0.95)}


def wavy(n: int = 80, seed: int = 7) -> tuple[Array, Array]:
    draw = np.random.default_rng(seed)
    x = np.sort(draw.uniform(1, 12, n))
    return x, 20 + 6 * np.sin(x) + draw.normal(0, 1, n)


def exact_polynomial(x: Array, y: Array, degree: int) -> list[Fraction]:
    """Solve the normal equations without rounding."""
    xs, ys = [Fraction(v) for v in x.tolist()], [Fraction(v) for v in y.tolist()]
    rows = [
        [sum(v ** (i + j) for v in xs) for j in range(degree + 1)]
        + [sum(v**i * u for v, u in zip(xs, ys, strict=True))]
        for i in range(degree + 1)
    ]
    for i in range(degree + 1):
        rows[i] = [v / rows[i][i] for v in rows[i]]
        for k in range(degree + 1):
            if k != i:
                rows[k] = [a - rows[k][i] * b for a, b in zip(rows[k], rows[i], strict=True)]
    return [row[-1] for row in rows]


class TestPolynomial:
    @pytest.mark.parametrize(("factor", "digits"), [(0, 9), (1, 9), (100, 9), (10_000, 8)])
    def test_wampler_to_seven_digits_and_more(self, factor: float, digits: int) -> None:
        y = ref.WAMPLER_EXACT_Y + factor * ref.WAMPLER_SCATTER
        fit = fitted("polynomial", ref.WAMPLER_X, y, degree=5)
        found = fit.coefficients(0.95)
        assert [c.name for c in found] == ["b0", "b1", "b2", "b3", "b4", "b5"]
        assert [c.value for c in found] == pytest.approx([1.0] * 6, rel=10.0**-digits)
        if factor:
            assert [c.se for c in found] == pytest.approx(
                [factor * se for se in ref.WAMPLER3_SE], rel=1e-9
            )
            assert fit.residual_sd == pytest.approx(factor * ref.WAMPLER3_RESIDUAL_SD, rel=1e-9)
        if factor == 1:
            assert fit.r_squared == pytest.approx(ref.WAMPLER3_R_SQUARED, rel=1e-12)

    def test_degree_ten_far_from_zero_against_exact_arithmetic(self) -> None:
        draw = np.random.default_rng(11)
        x = np.round(draw.uniform(-9, -3, 82), 3)
        y = np.round(0.8 + 0.1 * np.sin(3 * x) + draw.normal(0, 0.003, 82), 4)
        exact = exact_polynomial(x, y, 10)
        found = fitted("polynomial", x, y, degree=10).coefficients(0.95)
        assert [c.value for c in found] == pytest.approx([float(v) for v in exact], rel=1e-7)

    def test_weights_count_rows(self) -> None:
        x, y = wavy(12)
        twice = fitted(
            "polynomial", np.repeat(x, [2] * 6 + [1] * 6), np.repeat(y, [2] * 6 + [1] * 6)
        )
        weighted = fitted("polynomial", x, y, [2.0] * 6 + [1.0] * 6)
        assert values(weighted) == pytest.approx(values(twice), rel=1e-9)

    def test_band_against_the_matrix_formula(self) -> None:
        x, y = wavy(30)
        fit = fitted("polynomial", x, y, degree=3)
        at = np.array([2.0, 7.5])
        with mpmath.workdps(40):
            design = mpmath.matrix([[mpmath.mpf(v) ** k for k in range(4)] for v in x.tolist()])
            inverse = (design.T * design) ** -1
            shares = [
                (
                    mpmath.matrix([[mpmath.mpf(v) ** k for k in range(4)]])
                    * inverse
                    * mpmath.matrix([[mpmath.mpf(v) ** k] for k in range(4)])
                )[0]
                for v in at.tolist()
            ]
        low, high = fit.band(at, 0.95, "confidence")
        half = 2.0555294386428713 * fit.residual_sd  # t at 0.975 on 26, by mpmath
        expected = [float(half * mpmath.sqrt(s)) for s in shares]
        assert ((high - low) / 2).tolist() == pytest.approx(expected, rel=1e-9)

    def test_too_few_different_x_are_named(self) -> None:
        with pytest.raises(FitError, match="needs at least four different values of x"):
            fitted("polynomial", [1, 1, 2, 2, 3, 3], [1, 2, 3, 4, 5, 6], degree=3)
        with pytest.raises(FitError, match="degree 11 is not offered"):
            fitted("polynomial", range(30), range(30), degree=11)


class TestCurvesByLeastSquares:
    def test_danwood(self) -> None:
        fit = fitted("power", ref.DANWOOD_X, ref.DANWOOD_Y, scatter="additive")
        for c in fit.coefficients(0.95):
            assert (c.value, c.se) == pytest.approx(ref.DANWOOD_CERTIFIED[c.name], rel=1e-9)
        assert fit.residual_sd == pytest.approx(ref.DANWOOD_CERTIFIED["residual_sd"], rel=1e-9)

    def test_rat42_with_the_lower_end_given(self) -> None:
        fit = fitted("s-curve", ref.RAT42_X, ref.RAT42_Y, lower=0.0)
        found = {c.name: c for c in fit.coefficients(0.95)}
        assert (found["lower"].value, found["lower"].se) == (0.0, None)
        for name in ("upper", "steepness"):
            c = found[name]
            assert (c.value, c.se) == pytest.approx(ref.RAT42_CERTIFIED[name], rel=1e-8)
        b2 = found["steepness"].value * found["middle"].value
        assert b2 == pytest.approx(ref.RAT42_CERTIFIED["b2"], rel=1e-9)
        assert fit.residual_sd == pytest.approx(ref.RAT42_CERTIFIED["residual_sd"], rel=1e-9)

    def test_an_exponential_without_scatter_is_found_again(self) -> None:
        x = np.linspace(0, 4, 9)
        fit = fitted("exponential", x, 3.5 * np.exp(-1.25 * x), scatter="additive")
        assert values(fit) == pytest.approx({"a": 3.5, "b": -1.25}, rel=1e-9)
        assert fit.form is not None
        assert fit.form.text(3) == "y = 3.50 exp(−1.25 x)"

    def test_an_s_curve_that_falls_has_a_negative_steepness(self) -> None:
        x = np.linspace(0, 20, 41)
        y = 2 + 8 / (1 + np.exp(0.9 * (x - 9)))
        found = values(fitted("s-curve", x, y))
        assert found == pytest.approx(
            {"lower": 2, "upper": 10, "middle": 9, "steepness": -0.9}, rel=1e-7
        )

    def test_what_does_not_determine_a_curve_is_said(self) -> None:
        with pytest.raises(FitError, match=r"does not lie below|do not|not determined"):
            fitted("s-curve", np.arange(10), np.arange(10), lower=5, upper=4)
        with pytest.raises(FitError, match="not determined by these rows"):
            fitted("s-curve", np.arange(30.0), np.arange(30.0) * 2 + 1)


class TestOnLogarithms:
    def test_exponential_carries_the_line_on_ln_y_back(self) -> None:
        # ln y = 0, 2, 4 at x = 0, 1, 2, and 3 at x = 1.5: worked by hand as a line.
        x, logs = [0.0, 1.0, 2.0, 1.0], [0.0, 2.5, 4.0, 1.5]
        fit = fitted("exponential", x, np.exp(logs))
        assert values(fit) == pytest.approx({"a": 1.0, "b": 2.0})
        a, _ = fit.coefficients(0.95)
        line = fitted("straight", x, logs)
        inner, _ = line.coefficients(0.95)
        assert (a.low, a.high) == pytest.approx((np.exp(inner.low), np.exp(inner.high)))
        low, high = fit.band(np.array([1.0]), 0.9, "prediction")
        inner_low, inner_high = line.band(np.array([1.0]), 0.9, "prediction")
        assert (low[0], high[0]) == pytest.approx((np.exp(inner_low[0]), np.exp(inner_high[0])))
        assert fit.r_squared_log == pytest.approx(line.r_squared)

    def test_r_squared_is_on_the_scale_of_y(self) -> None:
        x, y = wavy()
        fit = fitted("exponential", x, y)
        sse = np.sum((y - fit.predict(x)) ** 2)
        assert fit.r_squared == pytest.approx(1 - sse / np.sum((y - y.mean()) ** 2))

    def test_power_and_logarithmic(self) -> None:
        x = np.array([1.0, 2, 4, 8])
        assert values(fitted("power", x, 3 * x**1.5)) == pytest.approx({"a": 3, "b": 1.5})
        assert values(fitted("logarithmic", x, 2 - 5 * np.log(x))) == pytest.approx(
            {"a": 2, "b": -5}
        )

    def test_leaving_a_row_out_is_fitting_without_it(self) -> None:
        x, y = wavy(12)
        sample = paired(x, y)
        out = fit_trend(sample, "power").left_out(sample)
        keep = np.arange(12) != 4
        without = fitted("power", x[keep], y[keep])
        assert out is not None
        assert out[4] == pytest.approx(float(y[4] - without.predict(x[4:5])[0]), rel=1e-9)

    def test_values_without_a_logarithm_are_counted(self) -> None:
        with pytest.raises(FitError, match="2 rows have y at or below 0"):
            fitted("exponential", [1, 2, 3, 4], [1, 0, -2, 3])
        with pytest.raises(FitError, match="1 row has x at or below 0"):
            fitted("power", [0, 2, 3, 4], [1, 2, 3, 4])

    def test_a_level_below_zero_is_never_reached(self) -> None:
        (crossing,) = fitted("exponential", [1, 2, 3, 4], [1, 2, 3, 5]).crossings(-1, 0.95)
        assert crossing.x is None
        assert "above zero everywhere" in crossing.note


class TestLocal:
    def test_one_place_against_a_weighted_line(self) -> None:
        x, y = wavy(40)
        fit = fitted("local", x, y, span=0.4, bend=1, passes=0)
        place = x[17]
        distance = np.abs(x - place)
        near = np.argsort(distance, kind="stable")[:16]
        weight = (1 - (distance[near] / distance[near].max()) ** 3) ** 3
        root = np.sqrt(weight)
        design = np.column_stack([np.ones(16), x[near] - place]) * root[:, None]
        expected = np.linalg.lstsq(design, y[near] * root, rcond=None)[0][0]
        assert fit.predict(np.array([place]))[0] == pytest.approx(expected, rel=1e-7)

    @pytest.mark.parametrize("n", [50, 4000])
    def test_a_straight_line_and_a_parabola_are_kept(self, n: int) -> None:
        x = np.sort(np.random.default_rng(2).uniform(-3, 9, n))
        at = np.linspace(x[0], x[-1], 31)
        line = fitted("local", x, 4 - 2 * x)
        assert line.predict(at) == pytest.approx(4 - 2 * at, abs=1e-8)
        bent = fitted("local", x, x * x, bend=2, passes=0)
        assert bent.predict(at) == pytest.approx(at * at, abs=1e-6)

    def test_a_robust_pass_counts_an_odd_row_less(self) -> None:
        x = np.arange(40.0)
        y = 0.5 * x + np.random.default_rng(1).normal(0, 0.1, 40)
        y[20] = 60
        off = [
            abs(float(fitted("local", x, y, passes=p).predict(np.array([20.0]))[0]) - 10)
            for p in (0, 3)
        ]
        assert off[1] < 0.15
        assert off[0] > 1

    def test_degrees_of_freedom_are_those_of_the_whole_operator(self) -> None:
        x, y = wavy(60)
        fit = fitted("local", x, y, span=0.5, passes=0)
        unit = [fitted("local", x, np.eye(60)[i], span=0.5, passes=0).predict(x) for i in range(60)]
        rest = np.eye(60) - np.column_stack(unit)
        product = rest @ rest.T
        expected = np.trace(product) ** 2 / np.sum(product * product)
        assert fit.degrees_of_freedom == pytest.approx(expected, rel=1e-6)

    def test_interpolated_anchors_stay_close_to_the_fit_at_every_place(self) -> None:
        x, y = wavy(1000)
        fit = fitted("local", x, y, span=0.3, bend=1, passes=0)
        order = np.argsort(np.abs(x - 6.3))[:300]
        d = np.abs(x[order] - 6.3)
        root = np.sqrt((1 - (d / d.max()) ** 3) ** 3)
        design = np.column_stack([np.ones(300), x[order] - 6.3]) * root[:, None]
        expected = np.linalg.lstsq(design, y[order] * root, rcond=None)[0][0]
        assert fit.predict(np.array([6.3]))[0] == pytest.approx(expected, abs=0.002)


class TestSpline:
    def test_a_large_penalty_leaves_the_straight_line(self) -> None:
        x, y = wavy(40)
        fit = fitted("spline", x, y, penalty=1e9)
        line = fitted("straight", x, y)
        assert fit.predict(x) == pytest.approx(line.predict(x), abs=1e-5)
        assert fit.degrees_of_freedom == pytest.approx(38, abs=1e-4)

    def test_the_minimiser_against_the_problem_as_it_is_stated(self) -> None:
        x, y = wavy(15)
        penalty = 1e-4
        fit = fitted("spline", x, y, penalty=penalty)
        t = (x - x[0]) / (x[-1] - x[0])
        basis = [interpolate.CubicSpline(t, np.eye(15)[i], bc_type="natural") for i in range(15)]
        # Second derivatives are straight between knots: two-point Gauss integrates their products.
        edges, roughness = np.diff(t), np.zeros((15, 15))
        for share in ((1 - 1 / np.sqrt(3)) / 2, (1 + 1 / np.sqrt(3)) / 2):
            bends = np.array([b(t[:-1] + share * edges, 2) for b in basis])
            roughness += (bends * edges / 2) @ bends.T
        expected = np.linalg.solve(np.eye(15) + penalty * roughness, y)
        assert fit.predict(x) == pytest.approx(expected, rel=1e-8)
        hat = np.linalg.inv(np.eye(15) + penalty * roughness)
        assert fit.leverage(paired(x, y)) == pytest.approx(np.diag(hat), rel=1e-7)

    def test_cross_validation_finds_the_least_score(self) -> None:
        x, y = wavy(60)
        chosen = fitted("spline", x, y)

        def score(penalty: float) -> float:
            fit = fitted("spline", x, y, penalty=penalty)
            residual = y - fit.predict(x)
            return float(60 * np.sum(residual**2) / fit.degrees_of_freedom**2)

        best = score(chosen.penalty)  # type: ignore[attr-defined]
        assert best <= min(score(p) for p in np.logspace(-8, 0, 33)) * (1 + 1e-9)

    def test_left_out_rows_are_those_of_a_fit_without_them(self) -> None:
        x, y = wavy(25)
        fit = fitted("spline", x, y, penalty=1e-4)
        keep = np.arange(25) != 9
        # The penalty counts on x scaled to a range of 1, which an inner row does not change, and
        # the left-out lemma of splines holds for weights that are not scaled to a mean of one.
        without = fitted("spline", x[keep], y[keep], penalty=1e-4)
        out = fit.left_out(paired(x, y))
        assert out is not None
        assert out[9] == pytest.approx(float(y[9] - without.predict(x[9:10])[0]), rel=1e-6)


class TestMovingAverage:
    X, Y = (1.0, 2, 3, 4, 5, 6), (2.0, 4, 9, 1, 5, 3)

    def test_centred_and_trailing_by_hand(self) -> None:
        centred = fitted("moving-average", self.X, self.Y, window=3)
        found = centred.predict(np.array(self.X))
        assert found[1:5].tolist() == pytest.approx([5, 14 / 3, 5, 3])
        assert np.isnan(found[[0, 5]]).all()
        trailing = fitted("moving-average", self.X, self.Y, window=3, alignment="trailing")
        assert trailing.predict(np.array([3.0, 6.0])).tolist() == pytest.approx([5, 3])

    def test_an_even_window_counts_its_ends_by_half(self) -> None:
        fit = fitted("moving-average", self.X, self.Y, window=4)
        # (2/2 + 4 + 9 + 1 + 5/2) / 4
        assert fit.predict(np.array([3.0]))[0] == pytest.approx(17.5 / 4)

    def test_a_gap_is_not_filled_in(self) -> None:
        fit = fitted("moving-average", [0, 1, 2, 10, 11, 12], self.Y, window=2, window_unit="x")
        found = fit.predict(np.array([1.0, 6.0, 11.0]))
        assert found[[0, 2]].tolist() == pytest.approx([5, 3])
        assert np.isnan(found[1])

    def test_rows_of_one_place_are_averaged_first(self) -> None:
        fit = fitted("moving-average", [1, 2, 2, 3], [3, 0, 10, 1], window=3)
        assert fit.predict(np.array([2.0]))[0] == pytest.approx(3)

    def test_its_band_is_that_of_a_mean(self) -> None:
        fit = fitted("moving-average", self.X, self.Y, window=3)
        low, high = fit.band(np.array([2.0]), 0.95, "confidence")
        # The spread of 2, 4 and 9 is √13; t at 0.975 on 2 is 4.302652729911275.
        assert (high[0] - low[0]) / 2 == pytest.approx(4.302652729911275 * np.sqrt(13 / 3))
        assert fit.band(np.array([2.0]), 0.95, "prediction") is None

    def test_a_window_wider_than_the_data_is_said(self) -> None:
        with pytest.raises(FitError, match="wider than the data"):
            fitted("moving-average", self.X, self.Y, window=9)


class TestResistant:
    def test_the_median_of_all_slopes(self) -> None:
        x, y = wavy(31)
        slopes = sorted((y[j] - y[i]) / (x[j] - x[i]) for i, j in combinations(range(31), 2))
        expected = slopes[len(slopes) // 2]
        fit = fitted("theil-sen", x, y)
        assert values(fit)["b"] == pytest.approx(expected)
        assert values(fit)["a"] == pytest.approx(float(np.median(y - expected * x)))

    def test_one_odd_row_does_not_move_it(self) -> None:
        x = np.arange(20.0)
        y = 3 + 2 * x
        y[19] = -500
        assert values(fitted("theil-sen", x, y)) == pytest.approx({"a": 3, "b": 2})

    def test_sens_interval_on_his_example(self) -> None:
        """Sen (1968), sec. 6: seven rows, C = 1.96 √(44.33), ranks 4 and 17 or so of 21."""
        x, y = [1, 2, 3, 4, 10, 12, 18], [9, 15, 19, 20, 45, 55, 78]
        _, b = fitted("theil-sen", x, y).coefficients(0.95)
        slopes = sorted((y[j] - y[i]) / (x[j] - x[i]) for i, j in combinations(range(7), 2))
        assert b.value == pytest.approx(4.0)
        reach = 1.959963984540054 * np.sqrt(7 * 6 * 19 / 18)
        below = (21 - reach) / 2 - 0.5
        expected = (slopes[int(below)] + slopes[int(below) + 1]) / 2
        assert b.low == pytest.approx(expected)

    def test_counting_finds_the_same_rank_as_making_every_slope(self) -> None:
        n = EXACT_ROWS + 500
        draw = np.random.default_rng(5)
        x, y = draw.normal(0, 1, n), draw.normal(0, 1, n)
        y += 0.7 * x
        i, j = np.triu_indices(n, 1)
        every = (y[j] - y[i]) / (x[j] - x[i])
        found = values(fitted("theil-sen", x, y))["b"]
        assert abs(np.mean(every < found) - 0.5) < 4e-6

    def test_it_has_no_weights(self) -> None:
        with pytest.raises(FitError, match="no weights"):
            fitted("theil-sen", [1, 2, 3], [1, 2, 4], [1, 1, 2])


class TestBalanced:
    def test_the_ratio_of_spreads_with_the_sign_of_r(self) -> None:
        x, y = wavy(25)
        fit = fitted("reduced-major-axis", x, -y)
        sign = np.sign(np.corrcoef(x, -y)[0, 1])
        assert values(fit)["b"] == pytest.approx(sign * np.std(y) / np.std(x))

    def test_either_variable_may_go_up(self) -> None:
        x, y = wavy(25)
        _, b = fitted("reduced-major-axis", x, y).coefficients(0.9)
        _, turned = fitted("reduced-major-axis", y, x).coefficients(0.9)
        assert turned.value == pytest.approx(1 / b.value)
        assert sorted((turned.low, turned.high)) == pytest.approx(sorted((1 / b.low, 1 / b.high)))


def rows_for(family: str, n: int) -> tuple[np.ndarray, np.ndarray]:
    """Rows that the family takes."""
    x, y = wavy(n)
    return x, (y > np.median(y)).astype(float) if family == "logistic" else y


OF_ONE_UNIT = ("origin", "logistic", "deming", "passing-bablok")
"""Outcomes have no unit, and two methods have the same one."""


class TestEveryFamily:
    @pytest.mark.parametrize("family", FAMILIES)
    def test_order_of_rows_changes_nothing(self, family: str) -> None:
        x, y = rows_for(family, 40)
        turned = np.random.default_rng(3).permutation(40)
        at = np.linspace(2, 11, 7)
        first = fitted(family, x, y).predict(at)
        assert fitted(family, x[turned], y[turned]).predict(at) == pytest.approx(
            first, rel=1e-7, nan_ok=True
        )

    @pytest.mark.parametrize("family", [f for f in FAMILIES if f not in OF_ONE_UNIT])
    @settings(max_examples=4, deadline=None)
    @given(scale=st.floats(0.01, 1000))
    def test_another_unit_of_y_scales_the_curve(self, family: str, scale: float) -> None:
        x, y = wavy(30)
        at = np.linspace(2, 11, 7)
        plain, scaled = fitted(family, x, y), fitted(family, x, scale * y)
        assert scaled.predict(at) == pytest.approx(scale * plain.predict(at), rel=1e-5, nan_ok=True)
        assert scaled.r_squared == pytest.approx(plain.r_squared, abs=1e-7)

    @pytest.mark.parametrize(
        "family", ["polynomial", "local", "spline", "theil-sen", "reduced-major-axis"]
    )
    def test_moving_x_and_y_moves_the_curve(self, family: str) -> None:
        x, y = wavy(40)
        at = np.linspace(2, 11, 7)
        moved = fitted(family, x + 5000, y - 300).predict(at + 5000)
        assert moved == pytest.approx(fitted(family, x, y).predict(at) - 300, rel=1e-6)

    @pytest.mark.parametrize("family", FAMILIES)
    @pytest.mark.parametrize("rows", [0, 1, 2])
    def test_too_few_rows_are_refused_in_words(self, family: str, rows: int) -> None:
        if family == "origin" and rows == 2:
            return
        with pytest.raises(FitError, match="needs at least"):
            fitted(family, np.arange(1.0, rows + 1), np.arange(1.0, rows + 1))

    @pytest.mark.parametrize("family", FAMILIES)
    def test_every_crossing_lies_on_the_curve(self, family: str) -> None:
        x, y = rows_for(family, 60)
        level = 0.4 if family == "logistic" else 21.0
        fit = fitted(family, x, y, window=3)
        found = [c for c in fit.crossings(level, 0.95) if c.x is not None]
        for crossing in found:
            assert fit.predict(np.array([crossing.x]))[0] == pytest.approx(level, rel=1e-6)
            if crossing.low is not None and crossing.high is not None:
                assert crossing.low <= crossing.x <= crossing.high
        if family in ("local", "spline", "moving-average"):
            assert len(found) >= 2


@pytest.mark.parametrize(
    ("family", "options", "seeds", "low", "high"),
    [
        ("straight", {}, 1500, 0.935, 0.965),
        pytest.param("polynomial", {"degree": 3}, 1500, 0.935, 0.965, marks=only_long),
        # Approximate bands, as the assumptions say: a smooth flattens what bends.
        pytest.param("spline", {}, 400, 0.9, 0.985, marks=only_long),
        ("local", {"span": 0.4, "bend": 2, "passes": 0}, 400, 0.92, 0.98),
    ],
)
def test_the_band_covers_the_mean_as_often_as_it_says(
    family: str, options: dict[str, object], seeds: int, low: float, high: float
) -> None:
    x = np.linspace(0, 10, 40)
    true = {"straight": 3 + 2 * x, "polynomial": 1 + x - 0.3 * x**2 + 0.02 * x**3}.get(
        family, 10 + 3 * np.sin(x / 2)
    )
    at = x[[8, 23]]
    inside = 0
    for seed in range(seeds):
        y = true + np.random.default_rng(seed).normal(0, 1, 40)
        sample = Sample(x, y, None, np.arange(40))
        band = fit_trend(sample, family, settings_of(family, **options)).band(
            at, 0.95, "confidence"
        )
        assert band is not None
        inside += int(np.count_nonzero((band.low <= true[[8, 23]]) & (true[[8, 23]] <= band.high)))
    assert low <= inside / (2 * seeds) <= high


class TestSplineOfTiedRows:
    """Where many rows share an x, what they have in common by chance is no bend."""

    def test_it_has_no_more_knots_than_bends_can_be_told_by(self) -> None:
        rng = np.random.default_rng(5)
        x = np.repeat(np.linspace(0, 10, 200), 100)
        # Rows of one place share a chance of their own, as days, plots and plates do.
        y = np.sin(x) + np.repeat(rng.normal(0, 0.3, 200), 100) + rng.normal(0, 0.3, 20_000)
        fit = fit_trend(paired(x, y), "spline")
        assert fit.parameters <= 35
        at = fit.predict(np.unique(x))
        turns = np.count_nonzero(np.diff(np.sign(np.diff(at))))
        assert turns <= 20  # sin itself turns three times; 195 parameters turned over 120 times

    def test_rows_that_share_few_places_keep_a_knot_at_each(self) -> None:
        rng = np.random.default_rng(6)
        x = np.repeat(np.arange(12.0), 8)
        fit = fit_trend(paired(x, np.sin(x) + rng.normal(0, 0.1, 96)), "spline")
        assert any("every different x" in each.text for each in fit.assumptions)

"""Lines for two methods of one quantity, and one that outliers do not move."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
import scipy
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests.families import settings_of
from tests.scope import examples
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import paired
from yarrowdew.core.trends import TrendFit, fit_trend

LEVEL = 0.95


def fitted(family: str, x: Any, y: Any, **options: object) -> TrendFit:
    return fit_trend(paired(x, y), family, settings_of(family, **options))


def values(fit: TrendFit) -> tuple[float, float]:
    a, b = fit.coefficients(LEVEL)
    return a.value, b.value


def two_methods(n: int = 25, seed: int = 1) -> tuple[np.ndarray, np.ndarray]:
    r = np.random.default_rng(seed)
    true = r.uniform(10, 60, n)
    return true + r.normal(0, 2, n), 1 + 1.1 * true + r.normal(0, 3, n)


class TestDeming:
    @pytest.mark.parametrize("ratio", [0.25, 1.0, 4.0])
    def test_it_is_nearest_to_the_rows_in_both_directions(self, ratio: float) -> None:
        x, y = two_methods()

        def off(c: np.ndarray) -> float:
            # The least of (x − u)² + (y − a − b u)² / ratio over u, for each row.
            return float(np.sum((y - c[0] - c[1] * x) ** 2 / (ratio + c[1] ** 2)))

        best = scipy.optimize.minimize(off, [0.0, 1.0], method="Nelder-Mead", tol=1e-13)
        found = values(fitted("deming", x, y, ratio=ratio))
        assert found == pytest.approx(tuple(best.x), rel=1e-5, abs=1e-5)

    def test_it_is_one_line_whichever_goes_across(self) -> None:
        x, y = two_methods()
        a, b = values(fitted("deming", x, y, ratio=2.0))
        turned_a, turned_b = values(fitted("deming", y, x, ratio=0.5))
        assert (turned_a, turned_b) == pytest.approx((-a / b, 1 / b))

    def test_standard_errors_are_those_of_fits_without_each_row(self) -> None:
        x, y = two_methods(12)
        fit = fitted("deming", x, y)
        others = np.array(
            [values(fitted("deming", np.delete(x, i), np.delete(y, i))) for i in range(12)]
        )
        due = np.sqrt(11 / 12 * np.sum((others - others.mean(axis=0)) ** 2, axis=0))
        assert [c.se for c in fit.coefficients(LEVEL)] == pytest.approx(due.tolist())

    def test_concordance_by_its_formula(self) -> None:
        x, y = two_methods()
        covariance = np.cov(x, y, bias=True)
        due = 2 * covariance[0, 1] / (np.trace(covariance) + (x.mean() - y.mean()) ** 2)
        for family in ("deming", "passing-bablok"):
            assert dict(fitted(family, x, y).measures)["Concordance (Lin)"] == pytest.approx(due)
        assert dict(fitted("deming", x, x).measures)["Concordance (Lin)"] == pytest.approx(1)


def every_slope(x: np.ndarray, y: np.ndarray) -> list[float]:
    """By the rules of Passing and Bablok, one pair of rows at a time."""
    out = []
    for i in range(len(x)):
        for j in range(i + 1, len(x)):
            dx, dy = x[j] - x[i], y[j] - y[i]
            if dx == dy == 0:
                continue
            slope = dy / dx if dx else float(np.copysign(np.inf, dy))
            if slope != -1:
                out.append(slope)
    return sorted(out)


class TestPassingBablok:
    @settings(max_examples=examples(30, 300), deadline=None)
    @given(
        st.lists(st.tuples(st.integers(0, 30), st.integers(-3, 3)), min_size=8, max_size=20),
    )
    def test_slopes_are_counted_as_they_say(self, rows: list[tuple[int, int]]) -> None:
        x = np.array([float(v) for v, _ in rows])
        y = np.array([float(v + e) for v, e in rows])
        slopes = every_slope(x, y)
        shift = sum(slope < -1 for slope in slopes)
        count = len(slopes)
        assume(count > 2 * shift)
        middle = (
            slopes[(count - 1) // 2 + shift],
            slopes[count // 2 + shift],
        )
        assume(all(np.isfinite(middle)) and sum(middle) > 0 and np.ptp(x) > 0)
        due = sum(middle) / 2
        assert values(fitted("passing-bablok", x, y)) == pytest.approx(
            (float(np.median(y - due * x)), due)
        )

    def test_it_is_one_line_whichever_goes_across(self) -> None:
        x, y = two_methods(26)
        a, b = values(fitted("passing-bablok", x, y))
        turned_a, turned_b = values(fitted("passing-bablok", y, x))
        # Of an even number of slopes the middle two are averaged, which turns about but nearly.
        assert turned_b == pytest.approx(1 / b, rel=1e-2)
        assert turned_a == pytest.approx(-a / b, abs=0.5)

    def test_what_does_not_rise_together_is_said(self) -> None:
        x, y = two_methods()
        with pytest.raises(FitError, match="two variables that rise together"):
            fitted("passing-bablok", x, -y)


def psi(u: np.ndarray) -> np.ndarray:
    return np.where(np.abs(u) < 4.685, u * (1 - (u / 4.685) ** 2) ** 2, 0.0)


class TestMM:
    def test_it_solves_its_equations(self) -> None:
        x, y = two_methods(40)
        y[:5] += 60
        fit = fitted("mm", x, y)
        residual = y - fit.predict(x)
        pull = psi(residual / fit.residual_sd)
        assert abs(pull.sum()) < 1e-6
        assert abs(np.dot(pull, x - x.mean())) < 1e-4

    def test_its_scale_leaves_half_and_no_line_leaves_less(self) -> None:
        x, y = two_methods(30)
        y[:6] += 80
        scale = fitted("mm", x, y).residual_sd

        def rho(residual: np.ndarray, size: float) -> float:
            inside = np.minimum((residual / size / 1.54764) ** 2, 1)
            return float(np.mean(1 - (1 - inside) ** 3))

        def of_line(c: np.ndarray) -> float:
            residual = y - c[0] - c[1] * x
            return float(scipy.optimize.brentq(lambda s: rho(residual, s) - 0.5, 1e-3, 1e4))

        best = min(
            scipy.optimize.minimize(of_line, start, method="Nelder-Mead").fun
            for start in ([1.0, 1.1], [0.0, 1.0], [5.0, 1.0], [60.0, 0.5])
        )
        assert scale == pytest.approx(best, rel=1e-4)

    def test_two_rows_in_five_may_lie_anywhere(self) -> None:
        r = np.random.default_rng(3)
        x = r.uniform(0, 10, 50)
        y = 1 + 2 * x + r.normal(0, 1, 50)
        clean = values(fitted("straight", x[20:], y[20:]))
        for place in (50.0, -300.0, 1e6):
            y[:20] = place
            assert values(fitted("mm", x, y)) == pytest.approx(clean, abs=0.6)
            assert dict(fitted("mm", x, y).measures)["Rows weighted below ½"] >= 20

    def test_without_outliers_it_is_nearly_the_straight_line(self) -> None:
        r = np.random.default_rng(4)
        x = r.uniform(0, 10, 400)
        y = 1 + 2 * x + r.normal(0, 1, 400)
        line, own = fitted("straight", x, y), fitted("mm", x, y)
        assert values(own) == pytest.approx(values(line), abs=0.05)
        errors = [c.se for c in own.coefficients(LEVEL)]
        # At 95 % efficiency standard errors are a few percent longer.
        assert errors == pytest.approx([c.se for c in line.coefficients(LEVEL)], rel=0.12)

    def test_rows_on_one_line_but_a_few(self) -> None:
        x = np.arange(30.0)
        y = 3 + 2 * x
        y[::4] = 100
        assert values(fitted("mm", x, y)) == pytest.approx((3, 2))


@pytest.mark.parametrize("family", ["deming", "passing-bablok", "mm"])
def test_intervals_cover_as_often_as_they_say(family: str) -> None:
    runs, held = examples(150, 2000), 0
    for seed in range(runs):
        r = np.random.default_rng(seed)
        true = r.uniform(10, 60, 24)
        x = true + (0 if family == "mm" else r.normal(0, 2, 24))
        y = 1 + 1.1 * true + r.normal(0, 2, 24)
        if family == "mm":
            y[:2] += 40
        _, b = fitted(family, x, y).coefficients(LEVEL)
        assert b.low is not None
        assert b.high is not None
        held += b.low <= 1.1 <= b.high
    assert 0.89 <= held / runs <= 0.995

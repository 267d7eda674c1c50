"""Curves by maximum likelihood, against closed forms, exact arithmetic and simulation."""

from __future__ import annotations

import math
from typing import Any

import mpmath as mp
import numpy as np
import pytest
import scipy
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests.families import settings_of
from tests.scope import examples
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Sample, paired
from yarrowdew.core.trends import TrendFit, fit_trend

LEVEL = 0.95


def fitted(family: str, x: Any, y: Any, weights: Any = None, **options: object) -> TrendFit:
    return fit_trend(paired(x, y, weights), family, settings_of(family, **options))


def values(fit: TrendFit) -> tuple[float, float]:
    a, b = fit.coefficients(LEVEL)
    return a.value, b.value


def ends(fit: TrendFit) -> tuple[float | None, float | None]:
    _, b = fit.coefficients(LEVEL)
    return b.low, b.high


def yes_or_no(n: int = 40, seed: int = 1) -> tuple[np.ndarray, np.ndarray]:
    r = np.random.default_rng(seed)
    x = r.uniform(0, 10, n).round(2)
    return x, (r.random(n) < scipy.special.expit(0.5 * (x - 5))).astype(float)


def counts(n: int = 40, seed: int = 2) -> tuple[np.ndarray, np.ndarray]:
    r = np.random.default_rng(seed)
    x = r.uniform(0, 4, n).round(2)
    return x, r.poisson(np.exp(0.2 + 0.4 * x)).astype(float)


class Exact:
    """A log-likelihood of a + b x in 30 digits, its maximum and its profile."""

    def __init__(self, x: np.ndarray, y: np.ndarray, kind: str) -> None:
        mp.mp.dps = 30
        self.rows = [(mp.mpf(float(u)), mp.mpf(float(v))) for u, v in zip(x, y, strict=True)]
        self.kind = kind

    def mean(self, eta: Any) -> Any:
        return 1 / (1 + mp.exp(-eta)) if self.kind == "logistic" else mp.exp(eta)

    def of(self, a: Any, b: Any) -> Any:
        def each(eta: Any, y: Any) -> Any:
            cumulant = mp.log(1 + mp.exp(eta)) if self.kind == "logistic" else mp.exp(eta)
            return y * eta - cumulant

        return sum(each(a + b * x, y) for x, y in self.rows)

    def score(self, a: Any, b: Any) -> tuple[Any, Any]:
        off = [(x, y - self.mean(a + b * x)) for x, y in self.rows]
        return sum(o for _, o in off), sum(x * o for x, o in off)

    def best(self, near: tuple[float, float]) -> tuple[Any, Any]:
        a, b = mp.findroot(self.score, near)
        return a, b

    def drop(self, along: Any, near: float, top: Any) -> float:
        """By how much twice the likelihood is lower at the best c of a line of curves."""
        mp.mp.dps = 30

        def slope(c: Any) -> Any:
            a, b, da, db = along(c)
            return sum((da + db * x) * (y - self.mean(a + b * x)) for x, y in self.rows)

        a, b, _, _ = along(mp.findroot(slope, near))
        return float(2 * (top - self.of(a, b)))


CASES = [("logistic", yes_or_no(), {}), ("log-linear", counts(), {"variance": "poisson"})]


@pytest.mark.parametrize(("family", "rows", "options"), CASES, ids=lambda case: str(case)[:12])
class TestAgainstExactArithmetic:
    def test_coefficients_errors_and_the_test(
        self, family: str, rows: tuple[np.ndarray, np.ndarray], options: dict[str, object]
    ) -> None:
        fit = fitted(family, *rows, **options)
        exact = Exact(*rows, family)
        a, b = exact.best(values(fit))
        assert values(fit) == pytest.approx((float(a), float(b)), rel=1e-9)
        # Standard errors from the second derivatives of the likelihood.
        hessian = mp.matrix(2, 2)
        for i, j in ((0, 0), (0, 1), (1, 0), (1, 1)):
            order = [0, 0]
            order[i] += 1
            order[j] += 1
            hessian[i, j] = mp.diff(exact.of, (a, b), tuple(order))
        covariance = (-hessian) ** -1
        errors = [c.se for c in fit.coefficients(LEVEL)]
        due = [float(mp.sqrt(covariance[i, i])) for i in (0, 1)]
        assert errors == pytest.approx(due, rel=1e-8)
        level = exact.mean
        mean = sum(y for _, y in exact.rows) / len(exact.rows)
        flat = mp.log(mean / (1 - mean)) if family == "logistic" else mp.log(mean)
        assert float(level(flat)) == pytest.approx(float(mean))
        ratio = 2 * (exact.of(a, b) - exact.of(flat, 0))
        assert fit.p_value == pytest.approx(float(mp.erfc(mp.sqrt(ratio / 2))), rel=1e-7)

    def test_profile_intervals(
        self, family: str, rows: tuple[np.ndarray, np.ndarray], options: dict[str, object]
    ) -> None:
        fit = fitted(family, *rows, **options)
        exact = Exact(*rows, family)
        a, b = exact.best(values(fit))
        top, due = exact.of(a, b), scipy.stats.chi2.ppf(LEVEL, 1)
        for slope in ends(fit):
            assert slope is not None
            near = float(a) + (float(b) - slope) * float(rows[0].mean())
            found = exact.drop(lambda c, slope=slope: (c, mp.mpf(slope), 1, 0), near, top)
            assert found == pytest.approx(due, rel=1e-7)
        y = 0.3 if family == "logistic" else 2.5
        (crossing,) = fit.crossings(y, LEVEL)
        eta = mp.log(mp.mpf(y) / (1 - mp.mpf(y))) if family == "logistic" else mp.log(mp.mpf(y))
        assert crossing.x == pytest.approx(float((eta - a) / b), rel=1e-9)
        for place in (crossing.low, crossing.high):
            assert place is not None
            found = exact.drop(lambda c, x0=place: (eta - c * x0, c, -mp.mpf(x0), 1), float(b), top)
            assert found == pytest.approx(due, rel=1e-6)


class TestLogistic:
    def test_two_places_have_a_closed_form(self) -> None:
        x = np.repeat([0.0, 1.0], [20, 30])
        y = np.concatenate([np.arange(20) < 5, np.arange(30) < 18]).astype(float)
        a, b = math.log(5 / 15), math.log(18 / 12)
        assert values(fitted("logistic", x, y)) == pytest.approx((a, b - a), rel=1e-10)
        # Firth’s estimate there is that of half a row more in each cell.
        a, b = math.log(5.5 / 15.5), math.log(18.5 / 12.5)
        assert values(fitted("logistic", x, y, estimate="firth")) == pytest.approx(
            (a, b - a), rel=1e-7
        )

    @settings(max_examples=examples(15, 200), deadline=None)
    @given(
        st.lists(
            st.tuples(st.integers(0, 9), st.integers(1, 12), st.integers(0, 12)),
            min_size=4,
            max_size=9,
            unique_by=lambda row: row[0],
        )
    )
    def test_shares_of_trials_are_their_rows_one_by_one(
        self, rows: list[tuple[int, int, int]]
    ) -> None:
        x, trials, some = np.array([(x, m, min(k, m)) for x, m, k in rows], dtype=float).T
        each_x = np.repeat(x, trials.astype(int))
        each_y = np.concatenate(
            [np.arange(m) < k for m, k in zip(trials, some, strict=True)]
        ).astype(float)
        try:
            due = fitted("logistic", each_x, each_y, estimate="firth")
        except FitError:
            return
        found = fitted("logistic", x, some / trials, trials, estimate="firth")
        assert values(found) == pytest.approx(values(due), rel=1e-6, abs=1e-7)
        assert found.p_value == pytest.approx(due.p_value, rel=1e-6)
        repeated = Sample(x, some / trials, trials, np.arange(len(x))).repeated()
        settings_ = settings_of("logistic", estimate="firth")
        again = fit_trend(repeated, "logistic", settings_)
        assert values(again) == pytest.approx(values(due), rel=1e-6, abs=1e-7)

    @pytest.mark.parametrize(
        ("y", "said"),
        [
            ([0, 0, 0, 1, 1, 1], "no row of 0 is above one of 1"),
            ([1, 1, 1, 0, 0, 0], "no row of 1 is above one of 0"),
            # Both at one x, and there alone: the steepest curve still fits best.
            ([0, 0, 0, 1, 0, 1], "no row of 0 is above one of 1"),
            ([0, 0, 1, 1, 0, 1], None),
        ],
    )
    def test_rows_that_lie_apart_are_said_and_fitted_with_a_penalty(
        self, y: list[int], said: str | None
    ) -> None:
        x = np.array([1.0, 2, 3, 4, 4, 5])
        if said is None:
            assert values(fitted("logistic", x, y))[1] > 0
        else:
            with pytest.raises(FitError, match=said):
                fitted("logistic", x, y)
        a, b = values(fitted("logistic", x, y, estimate="firth"))
        assert math.isfinite(a)
        assert math.isfinite(b)

    def test_the_penalised_likelihood_is_at_its_highest(self) -> None:
        x, y = yes_or_no(14)

        def lack(c: np.ndarray) -> float:
            eta = c[0] + c[1] * x
            p = scipy.special.expit(eta)
            w = p * (1 - p)
            design = np.column_stack([np.ones_like(x), x])
            information = design.T @ (w[:, None] * design)
            return -float(
                np.sum(y * eta - np.logaddexp(0, eta)) + np.linalg.slogdet(information)[1] / 2
            )

        best = scipy.optimize.minimize(lack, [0.0, 0.0], method="Nelder-Mead", tol=1e-12)
        found = values(fitted("logistic", x, y, estimate="firth"))
        assert found == pytest.approx(tuple(best.x), rel=1e-4)

    @pytest.mark.parametrize(
        ("y", "said"),
        [
            ([0, 1, 2, 1], "1 row lies outside"),
            ([0, 0.5, 1, 1], "1 row holds a share between 0 and 1, without"),
            ([1, 1, 1, 1], "y is 1 in every row"),
        ],
    )
    def test_what_is_no_outcome_is_said(self, y: list[float], said: str) -> None:
        with pytest.raises(FitError, match=said):
            fitted("logistic", [1, 2, 3, 4], y)

    @settings(max_examples=examples(30, 400), deadline=None)
    @given(st.lists(st.tuples(st.integers(0, 8), st.booleans()), min_size=4, max_size=16))
    def test_any_outcomes_have_a_penalised_curve_with_ends_about_it(
        self, rows: list[tuple[int, bool]]
    ) -> None:
        x, y = np.array([float(v) for v, _ in rows]), np.array([float(o) for _, o in rows])
        assume(len(set(x)) > 1 and len(set(y)) > 1)
        fit = fitted("logistic", x, y, estimate="firth")
        _, b = fit.coefficients(LEVEL)
        assert b.low is None or b.low <= b.value
        assert b.high is None or b.high >= b.value
        for crossing in fit.crossings(0.5, LEVEL):
            assert crossing.low is None or crossing.x is None or crossing.low <= crossing.x
            assert crossing.high is None or crossing.x is None or crossing.high >= crossing.x

    def test_no_level_is_reached_beyond_its_ends(self) -> None:
        fit = fitted("logistic", *yes_or_no())
        for y in (-0.1, 0.0, 1.0, 1.2):
            assert fit.crossings(y, LEVEL)[0].x is None

    def test_tjurs_r_squared_is_the_difference_of_mean_probabilities(self) -> None:
        x, y = yes_or_no()
        fit = fitted("logistic", x, y)
        p = fit.predict(x)
        assert dict(fit.measures)["Tjur’s R²"] == pytest.approx(p[y == 1].mean() - p[y == 0].mean())


class TestLogLinear:
    def test_two_places_have_a_closed_form(self) -> None:
        x = np.repeat([0.0, 1.0], [4, 5])
        y = np.array([0, 1, 3, 2, 4, 5, 0, 7, 4], dtype=float)
        low, high = math.log(6 / 4), math.log(20 / 5)
        for scatter in ("poisson", "proportional", "negative binomial"):
            fit = fitted("log-linear", x, y, variance=scatter)
            assert values(fit) == pytest.approx((low, high - low), rel=1e-6), scatter
        poisson = fitted("log-linear", x, y, variance="poisson")
        assert poisson.coefficients(LEVEL)[1].se == pytest.approx(math.sqrt(1 / 6 + 1 / 20))
        # Quasi-Poisson: the same, by the root of Pearson's variance over the mean.
        mean = np.where(x == 0, 1.5, 4.0)
        factor = float(np.sum((y - mean) ** 2 / mean)) / 7
        quasi = fitted("log-linear", x, y)
        assert quasi.coefficients(LEVEL)[1].se == pytest.approx(
            math.sqrt(factor * (1 / 6 + 1 / 20))
        )

    def test_the_negative_binomial_is_at_its_highest(self) -> None:
        r = np.random.default_rng(5)
        x = r.uniform(0, 4, 60)
        mean = np.exp(0.5 + 0.4 * x)
        y = r.negative_binomial(2, 2 / (2 + mean)).astype(float)

        def lack(c: np.ndarray) -> float:
            size = math.exp(-c[2])
            mu = np.exp(c[0] + c[1] * x)
            return -float(scipy.stats.nbinom.logpmf(y, size, size / (size + mu)).sum())

        best = scipy.optimize.minimize(lack, [0.5, 0.4, -0.7], method="Nelder-Mead", tol=1e-12)
        fit = fitted("log-linear", x, y, variance="negative binomial")
        assert values(fit) == pytest.approx(tuple(best.x[:2]), rel=1e-4)
        assert dict(fit.measures)["Excess variance (per mean²)"] == pytest.approx(
            math.exp(best.x[2]), rel=1e-3
        )

    def test_rates_with_their_exposures_are_counts(self) -> None:
        x, y = counts()
        exposure = np.random.default_rng(4).integers(1, 9, len(x)).astype(float)
        fit = fitted("log-linear", x, y / exposure, exposure, variance="poisson")

        def lack(c: np.ndarray) -> float:
            return -float(scipy.stats.poisson.logpmf(y, exposure * np.exp(c[0] + c[1] * x)).sum())

        best = scipy.optimize.minimize(lack, values(fit), method="Nelder-Mead", tol=1e-12)
        assert values(fit) == pytest.approx(tuple(best.x), rel=1e-5)

    @pytest.mark.parametrize(
        ("y", "options", "said"),
        [
            ([1, -2, 3, 4], {}, "1 row has a y below 0"),
            ([0, 0, 0, 0], {}, "y is 0 in every row"),
            ([1, 2.5, 3, 4], {"variance": "poisson"}, "does not hold whole numbers"),
        ],
    )
    def test_what_is_no_count_is_said(
        self, y: list[float], options: dict[str, object], said: str
    ) -> None:
        with pytest.raises(FitError, match=said):
            fitted("log-linear", [1, 2, 3, 4], y, **options)


@pytest.mark.parametrize(("family", "rows", "options"), CASES, ids=lambda case: str(case)[:12])
class TestAnyOrigin:
    def test_x_may_be_counted_from_anywhere_in_any_unit(
        self, family: str, rows: tuple[np.ndarray, np.ndarray], options: dict[str, object]
    ) -> None:
        x, y = rows
        plain = fitted(family, x, y, **options)
        for unit, origin in ((1000.0, 0.0), (1.0, 20_000.0), (1e-6, 1.0)):
            moved = fitted(family, unit * x + origin, y, **options)
            assert values(moved)[1] == pytest.approx(values(plain)[1] / unit, rel=1e-6)
            assert moved.predict(unit * x + origin) == pytest.approx(plain.predict(x), rel=1e-6)
            assert moved.p_value == pytest.approx(plain.p_value, rel=1e-6)

    def test_the_equation_lands_on_the_curve(
        self, family: str, rows: tuple[np.ndarray, np.ndarray], options: dict[str, object]
    ) -> None:
        x, y = rows
        fit = fitted(family, x + 2000, y, **options)
        form = fit.form
        assert form is not None
        assert form.lands(x + 2000, fit.predict(x + 2000), float(np.ptp(y)))
        about = fit.form_about(2000.0)
        assert about is not None
        assert about.lands(x, fit.predict(x + 2000), float(np.ptp(y)))


@pytest.mark.parametrize(
    ("family", "options"),
    [("logistic", {}), ("log-linear", {"variance": "proportional"})],
)
def test_intervals_cover_as_often_as_they_say(family: str, options: dict[str, object]) -> None:
    x = np.linspace(0, 10, 60)
    eta = 0.5 * (x - 5) if family == "logistic" else 0.3 + 0.15 * x
    level = 0.5 if family == "logistic" else math.exp(1.05)
    runs, slopes, places = examples(200, 2000), 0, 0
    for seed in range(runs):
        r = np.random.default_rng(seed)
        y = (
            (r.random(60) < scipy.special.expit(eta)).astype(float)
            if family == "logistic"
            else r.negative_binomial(np.exp(eta), 0.5).astype(float)
        )
        fit = fitted(family, x, y, **options)
        low, high = ends(fit)
        assert low is not None
        assert high is not None
        slopes += low <= (0.5 if family == "logistic" else 0.15) <= high
        (crossing,) = fit.crossings(level, LEVEL)
        low = -math.inf if crossing.low is None else crossing.low
        high = math.inf if crossing.high is None else crossing.high
        places += low <= 5 <= high
    # 200 runs of 95 % lie between 0.9 and 0.99 but for one in a thousand.
    assert 0.9 <= slopes / runs <= 0.99
    assert 0.9 <= places / runs <= 0.99

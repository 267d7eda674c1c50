"""Bands for the whole line, unequal scatter, resampled rows: against formulas, and by coverage."""

from __future__ import annotations

import math
from dataclasses import fields

import numpy as np
import pytest
import scipy
from scipy import stats

from tests.families import settings_of
from tests.scope import only_long
from yarrowdew.core.checkpoints import asking, part
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array, Sample, paired
from yarrowdew.core.trends import TrendFit, fit_trend
from yarrowdew.core.trends.assumptions import About
from yarrowdew.core.trends.intervals.bands import band_of, whole_line_level
from yarrowdew.core.trends.protocol import Errors, HasRefit, HoldsRows

AT = np.linspace(0, 10, 41)


def rows(n: int = 60, seed: int = 1, fan: float = 0.0) -> tuple[Array, Array]:
    rng = np.random.default_rng(seed)
    x = rng.uniform(0, 10, n)
    return x, 3 + 2 * x + rng.normal(0, 1, n) * (1 + fan * x)


def fitted(
    family: str, x: Array, y: Array, w: Array | None = None, errors: Errors = "equal", **o: object
) -> TrendFit:
    return fit_trend(paired(x, y, w), family, settings_of(family, **o), errors)


def designed(family: str, x: Array) -> Array:
    return np.vander(x, 2 if family == "straight" else 3, increasing=True)


class TestWholeLine:
    def test_working_and_hotellings_band(self) -> None:
        x, y = rows()
        line = fitted("straight", x, y)
        design = designed("straight", x)
        inverse = np.linalg.inv(design.T @ design)
        beta = inverse @ design.T @ y
        s2 = np.sum((y - design @ beta) ** 2) / (len(x) - 2)
        at = designed("straight", AT)
        # Working and Hotelling 1929: √(2 F(2, n − 2)) standard errors.
        w = math.sqrt(2 * scipy.special.fdtri(2, len(x) - 2, 0.9))
        half = w * np.sqrt(s2 * np.einsum("ij,jk,ik->i", at, inverse, at))
        band = band_of(line, AT, 0.9, "whole line")
        assert band is not None
        np.testing.assert_allclose(band.low, at @ beta - half, rtol=1e-9)
        np.testing.assert_allclose(band.high, at @ beta + half, rtol=1e-9)

    @pytest.mark.parametrize("parameters", [1, 2, 3.7, 8])
    def test_one_coefficient_needs_no_more_than_students_t(self, parameters: float) -> None:
        level = whole_line_level(parameters, 20, 0.95)
        assert level == pytest.approx(0.95) if parameters == 1 else level > 0.95

    @pytest.mark.parametrize(("family", "degree"), [("straight", 1), ("polynomial", 2)])
    def test_it_covers_the_whole_line_as_often_as_it_says(self, family: str, degree: int) -> None:
        # Exact over all x, and so over a range at least: for lines and parabolas 94 to 97 %.
        runs = 1500
        rng = np.random.default_rng(7)
        x = np.linspace(-1, 1, 25)
        far = np.concatenate([np.linspace(-1, 1, 41), [-50, -5, 5, 50]])
        covered = 0
        truth = np.vander(x, degree + 1) @ np.arange(1.0, degree + 2)
        wanted = np.vander(far, degree + 1) @ np.arange(1.0, degree + 2)
        for _ in range(runs):
            line = fitted(family, x, truth + rng.normal(0, 1, len(x)), degree=degree)
            band = band_of(line, far, 0.95, "whole line")
            assert band is not None
            covered += bool(((band.low <= wanted) & (wanted <= band.high)).all())
        assert 0.94 <= covered / runs <= 0.965

    def test_every_family_with_a_band_has_one_that_is_wider(self) -> None:
        x, y = rows()
        for family in ("local", "spline", "s-curve", "exponential", "segmented", "quantile"):
            settings = {"lower": 0.0, "upper": 40.0} if family == "s-curve" else {}
            fit = fitted(family, x, y, **settings)
            each = band_of(fit, AT[5:-5], 0.95, "confidence")
            whole = band_of(fit, AT[5:-5], 0.95, "whole line")
            assert each is not None and whole is not None  # noqa: PT018
            assert (whole.low < each.low).all()
            assert (whole.high > each.high).all()


class TestUnequalScatter:
    @pytest.mark.parametrize("weighted", [False, True])
    @pytest.mark.parametrize("family", ["straight", "polynomial", "formula"])
    def test_hc3_by_its_formula(self, family: str, weighted: bool) -> None:
        x, y = rows(fan=0.3)
        w = np.linspace(0.5, 1.5, len(x)) if weighted else None
        formula = {"formula": "b0 + b1 * x + b2 * x^2"} if family == "formula" else {}
        fit = fitted(family, x, y, w, "hc3", **formula)
        design = designed(family, x)
        weight = np.ones(len(x)) if w is None else w / w.mean()
        inverse = np.linalg.inv(design.T @ (weight[:, None] * design))
        beta = inverse @ design.T @ (weight * y)
        e = y - design @ beta
        h = weight * np.einsum("ij,jk,ik->i", design, inverse, design)
        meat = design.T @ ((weight * e / (1 - h))[:, None] ** 2 * design)
        covariance = inverse @ meat @ inverse
        for c, value, variance in zip(
            fit.coefficients(0.95), beta, np.diag(covariance), strict=True
        ):
            assert (c.value, c.se) == pytest.approx((value, math.sqrt(variance)), rel=1e-6)
        at = designed(family, AT)
        half = scipy.special.stdtrit(len(x) - len(beta), 0.975) * np.sqrt(
            np.einsum("ij,jk,ik->i", at, covariance, at)
        )
        band = fit.band(AT, 0.95, "confidence")
        assert band is not None
        np.testing.assert_allclose(band.high - band.low, 2 * half, rtol=1e-6)

    def test_it_holds_where_the_plain_band_fails(self) -> None:
        # Scatter grows fivefold from left to right; 93 to 97 % with HC3, at both ends.
        runs = 1500
        rng = np.random.default_rng(11)
        x = np.linspace(0, 1, 60)
        ends = np.array([0.0, 1.0])
        covered = {"equal": np.zeros(2), "hc3": np.zeros(2)}
        for _ in range(runs):
            y = 1 + x + rng.normal(0, 1, len(x)) * (1 + 4 * x)
            for errors in covered:
                band = fitted("straight", x, y, errors=errors).band(ends, 0.95, "confidence")  # type: ignore[arg-type]
                covered[errors] += (band.low <= 1 + ends) & (1 + ends <= band.high)  # type: ignore[union-attr]
        assert ((covered["hc3"] / runs > 0.93) & (covered["hc3"] / runs < 0.97)).all()
        plain = covered["equal"] / runs
        assert plain[0] > 0.98
        assert plain[1] < 0.9

    def test_where_a_line_reaches_a_level_its_band_does(self) -> None:
        x, y = rows(fan=0.3)
        line = fitted("straight", x, y, errors="hc3")
        (crossing,) = line.crossings(14.0, 0.9)
        assert crossing.low is not None
        assert crossing.high is not None
        band = line.band(np.array([crossing.low, crossing.high]), 0.9, "confidence")
        assert band is not None
        assert (band.high[0], band.low[1]) == pytest.approx((14.0, 14.0))
        # A slope that may be zero closes no interval.
        rng = np.random.default_rng(3)
        (level,) = fitted("straight", x, rng.normal(0, 1, len(x)), errors="hc3").crossings(
            3.0, 0.95
        )
        assert level.low is None or level.high is None
        assert "too uncertain to close" in level.note

    def test_on_logarithms_it_is_that_of_the_line_there(self) -> None:
        x, y = rows(fan=0.2)
        y = np.exp(y / 10)
        fit, line = (
            fitted(family, x, values, errors="hc3")
            for family, values in (("exponential", y), ("straight", np.log(y)))
        )
        found, expected = (f.band(AT, 0.95, "confidence") for f in (fit, line))
        assert found is not None and expected is not None  # noqa: PT018
        np.testing.assert_allclose(np.log(found.low), expected.low, rtol=1e-9)
        assert fit.coefficients(0.95)[1].se == pytest.approx(line.coefficients(0.95)[1].se)

    def test_forms_that_have_none_and_rows_that_fix_a_fit_are_said(self) -> None:
        x, y = rows()
        with pytest.raises(FitError, match="by resampling rows"):
            fitted("local", x, y, errors="hc3")
        # Some rest on no such thing as it is.
        plain, allowing = (
            fitted("theil-sen", x, y, errors=errors).coefficients(0.95)
            for errors in ("equal", "hc3")
        )
        assert plain == allowing
        alone = np.array([0.0, 0, 0, 0, 1])
        with pytest.raises(FitError, match="One row alone decides this fit"):
            fitted("straight", alone, np.array([1.0, 2, 3, 4, 9]), errors="hc3")

    def test_values_that_are_very_large_have_the_same_intervals(self) -> None:
        x, y = rows(fan=0.3)
        c, large = (
            fitted("straight", x * scale, y * scale, errors="hc3").coefficients(0.95)[1]
            for scale in (1.0, 1e200)
        )
        assert (large.low, large.high) == pytest.approx((c.low, c.high))


class TestResampled:
    def test_it_is_that_of_fits_to_rows_drawn_again(self) -> None:
        x, y = rows(40)
        line = fitted("straight", x, y, errors="bootstrap")
        draw = np.random.default_rng(1)
        slopes = []
        for _ in range(400):
            own = np.sort(draw.integers(0, 40, 40))
            slopes.append(np.polyfit(x[own], y[own], 1)[0])
        b = line.coefficients(0.9)[1]
        value = np.polyfit(x, y, 1)[0]
        # Stretched for few rows: by √(n / (n − p)), and by Student's t over the normal quantile.
        few = math.sqrt(40 / 38)
        by = few * stats.t.ppf(0.95, 38) / stats.norm.ppf(0.95)
        ends = value + (np.quantile(slopes, [0.05, 0.95]) - value) * by
        assert (b.low, b.high) == pytest.approx(tuple(ends))
        assert b.se == pytest.approx(np.std(slopes, ddof=1) * few)
        assert b.value == pytest.approx(value)

    @only_long
    @pytest.mark.parametrize("n", [10, 20])
    def test_it_covers_a_slope_as_often_as_it_says_with_few_rows(self, n: int) -> None:
        rng = np.random.default_rng(n)
        covered, runs = 0, 200
        for _ in range(runs):
            x = rng.normal(size=n)
            b = fitted("straight", x, x + rng.normal(size=n), errors="bootstrap").coefficients(
                0.95
            )[1]
            covered += (b.low or 0.0) <= 1 <= (b.high or 0.0)
        # Plain percentiles cover 86 to 91 %.
        assert covered / runs > 0.91

    def test_the_same_seed_gives_the_same_and_another_another(self) -> None:
        x, y = rows(40)

        def low(seed: int) -> float:
            fit = fit_trend(paired(x, y), "straight", errors="bootstrap", seed=seed)
            return fit.coefficients(0.95)[1].low or 0.0

        assert low(1) == low(1) != low(2)

    @pytest.mark.parametrize(
        "family", ["theil-sen", "reduced-major-axis", "local", "quantile", "formula"]
    )
    def test_every_family_has_bands_by_it(self, family: str) -> None:
        x, y = rows(40)
        fit = fitted(family, x, y, errors="bootstrap")
        each, whole = (band_of(fit, AT[8:-8], 0.9, k) for k in ("confidence", "whole line"))  # type: ignore[arg-type]
        assert each is not None and whole is not None  # noqa: PT018
        assert (each.low <= fit.predict(AT[8:-8])).all()
        assert np.mean(whole.high - whole.low) > np.mean(each.high - each.low)
        assert fit.band(AT, 0.9, "prediction") is None
        (crossing,) = fit.crossings(14.0, 0.9)
        assert crossing.low is not None
        assert crossing.low < (crossing.x or 0) < (crossing.high or 0)

    def test_it_allows_for_scatter_that_grows(self) -> None:
        runs, covered = 40, 0
        for seed in range(runs):
            x, y = rows(60, seed, fan=0.4)
            b = fitted("straight", x, y, errors="bootstrap").coefficients(0.95)[1]
            covered += (b.low or 0) <= 2 <= (b.high or 0)
        # Percentiles of 60 rows are a little short; within four standard errors of 93 %.
        assert covered / runs >= 0.77

    def test_rows_that_mostly_cannot_be_fitted_are_said(self) -> None:
        few = Sample(np.array([0.0, 0, 0, 1]), np.arange(4.0), None, np.arange(4))
        with pytest.raises(FitError, match="resamples of these rows could be fitted"):
            fit_trend(few, "straight", errors="bootstrap")

    @pytest.mark.parametrize("family", ["segmented", "theil-sen", "spline", "local"])
    def test_a_shorter_way_to_other_rows_leads_to_much_the_same_curve(self, family: str) -> None:
        rng = np.random.default_rng(11)
        x = rng.uniform(0, 10, 400)
        y = 3 + 2 * x - 3 * np.maximum(0, x - 4) + rng.normal(0, 1, 400)
        fit = fitted(family, x, y)
        assert isinstance(fit, HasRefit)
        own = paired(x, y).take(np.sort(rng.integers(0, 400, 400)))
        held = {"penalty": fit.penalty} if family == "spline" else {}  # type: ignore[attr-defined]
        anew = fit_trend(own, family, settings_of(family, **held)).predict(AT)
        # A local regression and a spline have fewer places to bend at: a fifth of the band of the mean.
        off = 0.03 if family in ("spline", "local") else 1e-6
        np.testing.assert_allclose(fit.refit(own).predict(AT), anew, rtol=0, atol=off)

    @pytest.mark.parametrize("family", ["quantile", "segmented", "moving-average"])
    def test_a_curve_alone_holds_hardly_anything_and_says_the_same(self, family: str) -> None:
        x, y = rows(5_000)
        fit = fitted(family, x, y)
        assert isinstance(fit, HoldsRows)
        alone = fit.curve_alone()
        at = np.unique(x)[100:-100:17]
        off = 0.5 if family == "moving-average" else 1e-12
        np.testing.assert_allclose(alone.predict(at), fit.predict(at), rtol=0, atol=off)
        assert alone.coefficient_values() == fit.coefficient_values()
        held = [getattr(alone, one.name) for one in fields(alone)]  # type: ignore[arg-type]
        assert sum(part.nbytes for part in held if isinstance(part, np.ndarray)) < 50_000

    def test_another_level_asks_for_no_fit_anew(self, monkeypatch: pytest.MonkeyPatch) -> None:
        x, y = rows(44)
        first = fitted("quantile", x, y, errors="bootstrap")
        told: list[float] = []
        with asking(told.append):
            again = fitted("quantile", x, y, errors="bootstrap")
            assert again.coefficients(0.9) == first.coefficients(0.9)
            kept = len(told)
            fitted("quantile", x, y + 1e-9 * x, errors="bootstrap")
        assert kept < 50
        assert len(told) - kept >= 400

    def test_it_tells_how_far_it_is(self) -> None:
        x, y = rows(43)
        told: list[float] = []
        with asking(told.append):
            for i in range(2):
                with part(i, 2):
                    fitted("straight", x + i, y, errors="bootstrap")
        assert told == sorted(told)
        assert told[-1] < 1
        middle = [share for share in told if 0.45 < share < 0.55]
        assert len(middle) > 50

    def test_a_curve_is_fitted_again_from_where_it_lies_to_the_same_minimum(self) -> None:
        rng = np.random.default_rng(4)
        x = rng.uniform(0, 10, 80)
        y = 5 + 60 / (1 + np.exp(-1.2 * (x - 5))) + rng.normal(0, 1, 80)
        fit = fitted("s-curve", x, y)
        assert isinstance(fit, HasRefit)
        own = paired(x, y).take(np.sort(rng.integers(0, 80, 80)))
        anew = fit_trend(own, "s-curve").coefficient_values()
        assert fit.refit(own).coefficient_values() == pytest.approx(anew, rel=1e-6)


class TestWhatIntervalsRestOn:
    """Where intervals are found in another way, nothing is said of how they would have been."""

    FAMILIES = (
        "straight polynomial logarithmic exponential power local spline theil-sen quantile "
        "segmented moving-average reduced-major-axis"
    ).split()

    @staticmethod
    def sample() -> tuple[Array, Array]:
        x, y = rows(40)
        return x + 1, y

    @pytest.mark.parametrize("family", FAMILIES)
    def test_of_resampled_rows_only_the_resampling_is_said(self, family: str) -> None:
        plain = fitted(family, *self.sample())
        try:
            other = fitted(family, *self.sample(), errors="bootstrap")
        except FitError:
            return
        gone = {a.text for a in plain.assumptions if a.about in (About.SCATTER, About.INTERVALS)}
        said = [a.text for a in other.assumptions]
        assert not gone & set(said)
        assert sum("resampled rows" in text for text in said) == 1

    @pytest.mark.parametrize(
        "family", ["straight", "polynomial", "logarithmic", "power", "s-curve"]
    )
    def test_of_hc3_scatter_is_nowhere_said_to_be_even(self, family: str) -> None:
        said = [a.text for a in fitted(family, *self.sample(), errors="hc3").assumptions]
        assert sum("HC3" in text for text in said) == 1
        assert not any("the same everywhere and close to normal" in text for text in said)

"""Weights as precisions, as counts of equal rows, and as standard errors of y."""

from __future__ import annotations

import math
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.scope import examples
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Sample, paired
from yarrowdew.core.trends import fit_trend
from yarrowdew.core.trends.intervals.bands import band_of
from yarrowdew.core.weights import Weights, weighed

X = np.array([0.0, 1, 2, 3, 4, 5, 6, 7])
Y = np.array([1.1, 2.8, 5.2, 7.1, 8.7, 11.3, 12.8, 15.2])
SE = np.array([0.1, 0.2, 0.4, 0.2, 0.1, 0.3, 0.2, 0.5])


@st.composite
def counted(draw: st.DrawFn) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    n = draw(st.integers(4, 12))
    y = draw(st.lists(st.integers(-50, 50), min_size=n, max_size=n))
    counts = draw(st.lists(st.integers(0, 4), min_size=n, max_size=n))
    counts[0], counts[-1], counts[1] = 2, 1, 1
    return np.arange(n) * 1.0, np.array(y) + 0.5 * np.arange(n) ** 2, np.array(counts) * 1.0


class TestCounts:
    @pytest.mark.parametrize(
        "family", ["straight", "polynomial", "theil-sen", "quantile", "local", "reduced-major-axis"]
    )
    def test_each_row_stands_for_so_many(self, family: str) -> None:
        counts = np.array([2.0, 1, 0, 3, 1, 2, 1, 4])
        times = counts.astype(int)
        one = fit_trend(weighed(X, Y, Weights.of(counts, "counts")), family)
        other = fit_trend(paired(np.repeat(X, times), np.repeat(Y, times)), family)
        assert one.n == other.n == 14
        assert one.degrees_of_freedom == other.degrees_of_freedom
        assert one.coefficients(0.95) == other.coefficients(0.95)
        np.testing.assert_array_equal(one.predict(X), other.predict(X))

    @given(counted())
    @settings(max_examples=examples(25, 300))
    def test_a_count_is_the_same_rows_again(self, found: tuple[np.ndarray, ...]) -> None:
        x, y, counts = found
        line = fit_trend(weighed(x, y, Weights.of(counts, "counts")), "straight")
        xs = [Fraction(int(v)) for v, k in zip(x, counts, strict=True) for _ in range(int(k))]
        ys = [Fraction(v) for v, k in zip(y, counts, strict=True) for _ in range(int(k))]
        n, mx, my = len(xs), sum(xs) / len(xs), sum(ys) / len(ys)
        sxx = sum((v - mx) ** 2 for v in xs)
        slope = sum((v - mx) * (w - my) for v, w in zip(xs, ys, strict=True)) / sxx
        sse = sum((w - my - slope * (v - mx)) ** 2 for v, w in zip(xs, ys, strict=True))
        b = line.coefficients(0.95)[1]
        assert b.value == pytest.approx(float(slope), rel=1e-9, abs=1e-9)
        assert b.se == pytest.approx(math.sqrt(sse / (n - 2) / sxx), rel=1e-6, abs=1e-9)

    def test_rows_that_count_nothing_are_said_to_be_left_out(self) -> None:
        sample = weighed(X, Y, Weights.of(np.array([2.0, 0, np.nan, 1, 1, 1, 1, 1]), "counts"))
        assert sample.n == 7
        assert sample.dropped["no_weight"] == 2
        assert list(sample.rows) == [0, 0, 3, 4, 5, 6, 7]

    def test_what_is_no_count_is_named_with_its_row(self) -> None:
        with pytest.raises(FitError, match=r"Row 2 counts 1\.5 rows"):
            Weights.of(np.array([1, 1.5, 2]), "counts")

    def test_so_many_that_nothing_could_hold_them(self) -> None:
        with pytest.raises(FitError, match="at most 5,000,000"):
            weighed(X, Y, Weights.of(np.full(8, 1e15), "counts"))


class TestGiven:
    def sample(self, scale: float = 1.0) -> Sample:
        return weighed(X, Y * scale, Weights.of(SE * scale, "standard_errors", as_given=True))

    def test_by_the_formula(self) -> None:
        """(XᵀWX)⁻¹ in exact arithmetic, and normal quantiles."""
        fit = fit_trend(self.sample(), "straight", errors="given")
        w = [1 / Fraction(s) ** 2 for s in SE]
        x = [Fraction(v) for v in X]
        s0, s1 = sum(w), sum(a * b for a, b in zip(w, x, strict=True))
        s2 = sum(a * b * b for a, b in zip(w, x, strict=True))
        a, b = fit.coefficients(0.95)
        assert b.se == pytest.approx(math.sqrt(s0 / (s0 * s2 - s1**2)), rel=1e-12)
        assert a.se == pytest.approx(math.sqrt(s2 / (s0 * s2 - s1**2)), rel=1e-12)
        assert b.high - b.value == pytest.approx(1.959963984540054 * b.se, rel=1e-12)
        band = fit.band(np.array([0.0]), 0.95, "confidence")
        assert band.high[0] - fit.predict(np.array([0.0]))[0] == pytest.approx(a.high - a.value)

    @pytest.mark.parametrize("scale", [1e-120, 1e-9, 1e140])
    def test_in_any_unit(self, scale: float) -> None:
        one = fit_trend(self.sample(), "straight", errors="given").coefficients(0.95)
        other = fit_trend(self.sample(scale), "straight", errors="given").coefficients(0.95)
        for a, b in zip(one, other, strict=True):
            assert b.se == pytest.approx(a.se * scale, rel=1e-9)

    def test_twice_the_errors_are_twice_the_interval(self) -> None:
        one = fit_trend(self.sample(), "polynomial", errors="given")
        wider = weighed(X, Y, Weights.of(2 * SE, "standard_errors", as_given=True))
        other = fit_trend(wider, "polynomial", errors="given")
        for a, b in zip(one.coefficients(0.9), other.coefficients(0.9), strict=True):
            assert b.value == pytest.approx(a.value)
            assert b.se == pytest.approx(2 * a.se)

    @pytest.mark.parametrize(
        ("times", "said"), [(1.0, "do not clearly"), (0.05, "clearly more"), (50.0, "clearly less")]
    )
    def test_it_says_whether_they_can_be_true(self, times: float, said: str) -> None:
        sample = weighed(X, Y, Weights.of(SE * times, "standard_errors", as_given=True))
        fit = fit_trend(sample, "straight", errors="given")
        (sentence,) = (a.text for a in fit.assumptions if "standard errors of y" in a.text)
        assert said in sentence
        line = np.polynomial.Polynomial.fit(X, Y, 1, w=1 / SE)
        chi = float((((Y - line(X)) / (SE * times)) ** 2).sum())
        # Of χ² on 6 degrees of freedom 2.5 % lie below 1.24 and above 14.4.
        assert (said == "clearly more", said == "clearly less") == (chi > 14.45, chi < 1.237)

    def test_it_covers(self) -> None:
        rng = np.random.default_rng(7)
        hits = 0
        for _ in range(400):
            y = 1 + 2 * X + rng.normal(0, SE)
            sample = weighed(X, y, Weights.of(SE, "standard_errors", as_given=True))
            b = fit_trend(sample, "straight", errors="given").coefficients(0.95)[1]
            hits += b.low <= 2 <= b.high
        assert 366 <= hits <= 394

    def test_a_fit_that_does_not_rest_on_them_says_so(self) -> None:
        for family in ("theil-sen", "exponential"):
            sample = self.sample() if family == "exponential" else paired(X, Y)
            with pytest.raises(FitError, match=r"standard errors|ln y"):
                fit_trend(sample, family, errors="given")

    def test_errors_that_cannot_be_squared(self) -> None:
        with pytest.raises(FitError, match="too small or too large"):
            Weights.of(np.array([1e-200, 1.0]), "standard_errors", as_given=True)

    def test_the_band_of_the_whole_line_rests_on_them_too(self) -> None:
        """Scheffé's, with χ² of two degrees of freedom in the place of 2 F: √5.9915 errors."""
        fit = fit_trend(self.sample(), "straight", errors="given")
        at = np.array([3.0])
        each, whole = (band_of(fit, at, 0.95, kind) for kind in ("confidence", "whole line"))
        reach = (whole.high - fit.predict(at)) / (each.high - fit.predict(at))
        assert reach[0] == pytest.approx(math.sqrt(5.991464547107979) / 1.959963984540054)


def test_a_fit_does_not_give_the_band_at_each_x_for_that_of_the_whole_line() -> None:
    for family in ("straight", "polynomial", "exponential", "local", "spline", "quantile"):
        fit = fit_trend(paired(X, Y), family)
        with pytest.raises(FitError, match="no band of the kind 'whole line'"):
            fit.band(X, 0.95, "whole line")  # type: ignore[arg-type]

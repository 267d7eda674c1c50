from __future__ import annotations

import math

import numpy as np
import pytest
import scipy
from hypothesis import given
from hypothesis import strategies as st

from yarrowdew.core.distributions.contrasts import Estimate, difference, ratio
from yarrowdew.core.sample import paired
from yarrowdew.core.trends import fit_trend

VALUES = st.floats(-1e6, 1e6)
REACHES = st.floats(1e-3, 1e6)


@given(VALUES, VALUES, REACHES, REACHES)
def test_of_two_normal_estimates_it_is_the_usual_interval(
    a: float, b: float, half_a: float, half_b: float
) -> None:
    found = difference(Estimate(a, a - half_a, a + half_a), Estimate(b, b - half_b, b + half_b))
    half = math.sqrt(half_a**2 + half_b**2)
    assert found.value == b - a
    assert found.low == pytest.approx(b - a - half, abs=1e-6)
    assert found.high == pytest.approx(b - a + half, abs=1e-6)


UNEVEN = st.tuples(VALUES, REACHES, REACHES).map(lambda v: Estimate(v[0], v[0] - v[1], v[0] + v[2]))


@given(UNEVEN, UNEVEN)
def test_turned_round_it_is_the_same_the_other_way(one: Estimate, other: Estimate) -> None:
    there, back = difference(one, other), difference(other, one)
    assert (there.value, there.low, there.high) == (
        -back.value,
        -(back.high or 0),
        -(back.low or 0),
    )


def test_an_open_end_leaves_one_open() -> None:
    found = difference(Estimate(1, 0.5, 2), Estimate(5, None, 6))
    assert found.low is None
    assert found.high == pytest.approx(4 + math.hypot(1, 0.5))


def test_a_ratio_is_a_difference_of_logarithms() -> None:
    found = ratio(Estimate(2, 1, 4), Estimate(6, 3, 12))
    assert found is not None
    half = math.hypot(math.log(2), math.log(2))
    expected = (3, 3 * math.exp(-half), 3 * math.exp(half))
    assert (found.value, found.low, found.high) == pytest.approx(expected)
    assert ratio(Estimate(-1, -2, 0), Estimate(2, 1, 3)) is None
    reaching_zero = ratio(Estimate(2, -1, 4), Estimate(6, 3, 12))
    assert reaching_zero is not None
    assert (reaching_zero.high, reaching_zero.low is None) == (None, False)


def test_where_two_lines_reach_a_level_is_covered_as_often_as_it_says() -> None:
    runs, covered = 1500, 0
    rng = np.random.default_rng(5)
    x = np.linspace(0, 10, 25)
    truth = (12 - 2) / 2 - (12 - 1) / 1.5
    for _ in range(runs):
        both = []
        for a, b in ((1, 1.5), (2, 2)):
            line = fit_trend(paired(x, a + b * x + rng.normal(0, 1.5, 25)), "straight")
            (c,) = line.crossings(12, 0.95)
            both.append(Estimate(c.x or 0, c.low, c.high))
        found = difference(*both)
        covered += (found.low or -math.inf) <= truth <= (found.high or math.inf)
    # Within four standard errors of 95 %: 0.023.
    assert covered / runs == pytest.approx(0.95, abs=0.023)


def test_the_difference_of_two_lines_at_a_place_is_welchs() -> None:
    # At x = 0 of a line through the mean of x, the height is a mean of its own.
    rng = np.random.default_rng(6)
    x = np.linspace(-1, 1, 200)
    both, variances = [], []
    for level in (3.0, 5.0):
        line = fit_trend(paired(x, level + rng.normal(0, 1, 200)), "straight")
        band = line.band(np.zeros(1), 0.95, "confidence")
        assert band is not None
        value = float(line.predict(np.zeros(1))[0])
        both.append(Estimate(value, float(band.low[0]), float(band.high[0])))
        variances.append(line.residual_sd**2 / 200)
    found = difference(*both)
    half = scipy.special.stdtrit(396, 0.975) * math.sqrt(sum(variances))
    # Welch's has more degrees of freedom than either part: at so many rows that is hardly seen.
    assert (found.high or 0) - found.value == pytest.approx(half, rel=5e-3)


@pytest.mark.parametrize(("first", "second"), [(1e-300, 1e300), (5e-324, 1.0), (1e-200, 1e200)])
def test_a_ratio_is_a_number_or_none(first: float, second: float) -> None:
    found = ratio(Estimate(first, None, None), Estimate(second, second / 2, second * 2))
    if first == 5e-324:
        assert found is None or found.value == pytest.approx(second / first, rel=1e-6)
    else:
        assert found is None


def test_an_end_beyond_the_largest_number_is_open() -> None:
    found = ratio(Estimate(1e-8, 5e-324, 1e-7), Estimate(1.0, 0.5, 1e308))
    assert found is not None
    assert found.value == pytest.approx(1e8)
    assert found.high is None

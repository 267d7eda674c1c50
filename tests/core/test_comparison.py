"""One number by itself and in groups: held against hand calculation, counting, and simulation."""

from __future__ import annotations

import math
from collections import Counter
from itertools import combinations, product
from statistics import median

import numpy as np
import pytest
import scipy
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.scope import only_long
from yarrowdew.core.distributions.comparison import (
    Moments,
    _outside_exact,
    mean_difference,
    rank_analysis,
    shift,
    variance_analysis,
)
from yarrowdew.core.distributions.density import histogram, kernel_density
from yarrowdew.core.distributions.spread import spread

A = np.array([3.0, 5, 6, 8, 13])
B = np.array([7.0, 9, 10, 14])
few = st.lists(st.integers(-20, 20), min_size=2, max_size=12)


def test_a_spread_is_that_of_hand_calculation() -> None:
    found = spread(A, 0.9)
    # Squares about the mean of 7: 16 + 4 + 1 + 1 + 36 = 58; t of 4 at 90 % is 2.131847.
    assert found.mean.value == 7
    assert found.sd == pytest.approx(math.sqrt(58 / 4))
    assert found.mean.high == pytest.approx(7 + 2.1318467863 * math.sqrt(58 / 20))
    # Cubes: −64 − 8 − 1 + 1 + 216 = 144.
    g1 = (144 / 5) / (58 / 5) ** 1.5
    assert found.skewness == pytest.approx(g1 * math.sqrt(20) / 3)
    assert (found.box.lower_quartile, found.box.median, found.box.upper_quartile) == (5, 6, 8)
    # Of five halves, the smallest and the largest are sure by 1 − 2/32.
    assert (found.median.low, found.median.high) == (3, 13)
    assert spread(A, 0.95).median.low is None
    # 8 + 1.5 · 3 = 12.5, and 13 lies beyond.
    assert found.far.tolist() == [4]


@pytest.mark.parametrize("unit", [1e-200, 1e200])
def test_a_spread_is_the_same_in_any_unit(unit: float) -> None:
    found = spread(A * unit)
    assert found.sd == pytest.approx(math.sqrt(58 / 4) * unit)
    assert found.skewness == pytest.approx(spread(A).skewness)


def test_one_value_and_values_that_are_alike_have_no_spread() -> None:
    assert spread(np.array([4.0])).sd is None
    assert spread(np.full(9, 4.0)).skewness is None
    assert spread(np.full(9, 4.0)).mean.low == 4


def test_the_interval_of_a_median_is_as_sure_as_its_level() -> None:
    draw = np.random.default_rng(2)
    held = 0
    for _ in range(2000):
        found = spread(draw.exponential(size=25)).median
        held += found.low <= math.log(2) <= found.high
    assert 0.945 <= held / 2000 <= 0.985


def test_the_difference_of_means_is_that_of_hand_calculation() -> None:
    found = mean_difference(Moments.of(A), Moments.of(B))
    # Variances 14.5 and 26/3, over 5 and 4 rows: 2.9 and 13/6.
    total = 2.9 + 13 / 6
    df = total**2 / (2.9**2 / 4 + (13 / 6) ** 2 / 3)
    assert found.value == 3
    assert df == pytest.approx(6.99, abs=0.01)
    # The quantile of t at 6.99 degrees of freedom lies between those of 6 and 7: 2.4469, 2.3646.
    assert 2.3646 < (found.high - 3) / math.sqrt(total) < 2.4469
    assert found.high + found.low == pytest.approx(6)


@settings(max_examples=80, deadline=None)
@given(few, few)
def test_the_shift_is_the_median_of_all_differences(a: list[int], b: list[int]) -> None:
    found = shift(np.array(a, dtype=float), np.array(b, dtype=float))
    if len({*a, *b}) == 1:
        assert found is None
        return
    differences = [y - x for x, y in product(a, b)]
    # Exact, also through ties: whole numbers have whole differences.
    assert found.value == median(differences)
    turned = shift(np.array(b, dtype=float), np.array(a, dtype=float))
    assert turned.value == -found.value
    assert turned.p_value == pytest.approx(found.p_value)
    if found.low is None:
        assert turned.low is None
        return
    assert found.low in differences
    assert found.low <= found.value <= found.high
    assert (turned.low, turned.high) == (-found.high, -found.low)


@settings(max_examples=60, deadline=None)
@given(st.lists(st.integers(0, 6), min_size=4, max_size=9), st.integers(1, 8))
def test_the_p_of_two_groups_is_that_of_every_way_to_part_the_rows(
    values: list[int], first: int
) -> None:
    first = min(first, len(values) - 1)
    together = np.array(values, dtype=float)
    found = shift(together[:first], together[first:])
    if found is None:
        assert len(set(values)) == 1
        return
    # Twice the ranks, each by counting.
    ranked = [sum(2 * (w < v) + (w == v) for w in values) + 1 for v in values]
    off = [
        abs(sum(chosen) * len(values) - first * sum(ranked))
        for chosen in combinations(ranked, first)
    ]
    seen = abs(sum(ranked[:first]) * len(values) - first * sum(ranked))
    assert found.p_value == pytest.approx(sum(one >= seen for one in off) / len(off))


@pytest.mark.parametrize(("n", "m"), [(4, 4), (5, 8), (10, 10)])
def test_the_interval_of_a_shift_leaves_out_what_counting_allows(n: int, m: int) -> None:
    # How many differences lie below 0 where nothing is shifted: by every order of the rows.
    below: Counter[int] = Counter({0: 1})
    # Orders by how many of the first group stand before each of the second (Mann and Whitney 1947).
    table = {(0, j): Counter({0: 1}) for j in range(m + 1)}
    for i in range(1, n + 1):
        table[i, 0] = Counter({0: 1})
        for j in range(1, m + 1):
            table[i, j] = table[i, j - 1] + Counter({u + j: c for u, c in table[i - 1, j].items()})
    below, whole = table[n, m], math.comb(n + m, n)
    outside = _outside_exact(n, m, 0.95)
    assert sum(below[u] for u in range(outside)) / whole <= 0.025
    assert sum(below[u] for u in range(outside + 1)) / whole > 0.025
    draw = np.random.default_rng(n)
    a, b = draw.normal(size=n), draw.normal(size=m)
    found = shift(a, b)
    ordered = sorted(y - x for x, y in product(a.tolist(), b.tolist()))
    assert ordered.index(found.low) < outside
    assert ordered.index(found.high) >= n * m - outside


@pytest.mark.parametrize(("n", "m", "sd"), [(5, 12, 4), (12, 5, 4), (9, 9, 1), (6, 20, 3)])
def test_the_interval_of_a_shift_ends_where_both_tests_refuse(n: int, m: int, sd: float) -> None:
    draw = np.random.default_rng(m)
    a, b = draw.normal(0, sd, n), draw.normal(1, 1, m)
    found = shift(a, b)
    ordered = sorted(y - x for x, y in product(a.tolist(), b.tolist()))

    def is_refused(place: int) -> bool:
        """Whether a move to between this difference and the next is refused by both."""
        moved = b - (ordered[place] + ordered[place + 1]) / 2
        sums = scipy.stats.mannwhitneyu(a, moved, method="exact").pvalue
        unequal = scipy.stats.brunnermunzel(a, moved).pvalue
        return sums <= 0.05 and unequal < 0.05

    low, high = ordered.index(found.low), ordered.index(found.high)
    assert all(is_refused(place) for place in range(low))
    assert all(is_refused(place) for place in range(high, n * m - 1))
    assert not is_refused(low)
    assert not is_refused(high - 1)


def test_too_few_rows_have_no_interval_of_a_shift() -> None:
    assert shift(np.array([1.0, 2, 3]), np.array([4.0, 5, 6])).low is None
    assert shift(np.array([1.0, 2, 3]), np.array([4.0, 5, 6])).p_value == pytest.approx(2 / 20)


@only_long
def test_intervals_of_differences_hold_as_often_as_they_say() -> None:
    draw = np.random.default_rng(3)
    means = shifts = 0
    for _ in range(600):
        a, b = draw.normal(0, 1, 20), draw.normal(1, 3, 30)
        found = mean_difference(Moments.of(a), Moments.of(b))
        means += found.low <= 1 <= found.high
        c, d = draw.exponential(size=20), draw.exponential(size=25) + 0.5
        moved = shift(c, d)
        shifts += moved.low <= 0.5 <= moved.high
    assert 0.925 <= means / 600 <= 0.975
    assert 0.92 <= shifts / 600 <= 0.98


@only_long
@pytest.mark.parametrize(("n", "m", "sd"), [(5, 20, 3), (20, 60, 3), (10, 10, 5), (8, 30, 4)])
def test_the_interval_of_a_shift_holds_under_unequal_spreads(n: int, m: int, sd: float) -> None:
    draw = np.random.default_rng(5)
    held = 0
    for _ in range(600):
        found = shift(draw.normal(0, sd, n), draw.normal(1, 1, m))
        held += found.low <= 1 <= found.high
    # The rank sum alone: 84 to 93 %.
    assert 0.90 <= held / 600 <= 0.99


def test_ranks_of_several_groups_are_those_of_hand_calculation() -> None:
    groups = [np.array([1.0, 2, 5]), np.array([3.0, 4]), np.array([6.0, 7, 8])]
    # Rank sums 8, 7 and 21 of eight rows.
    h = 12 / (8 * 9) * (64 / 3 + 49 / 2 + 441 / 3) - 27
    found = rank_analysis(groups)
    assert found.statistic == pytest.approx(h)
    assert found.is_exact
    # Every way to part eight rows into three, two and three.
    ways = [
        (sum(one), sum(other), 36 - sum(one) - sum(other))
        for one in combinations(range(1, 9), 3)
        for other in combinations(sorted(set(range(1, 9)) - set(one)), 2)
    ]
    spread_of = [a * a / 3 + b * b / 2 + c * c / 3 for a, b, c in ways]
    as_far = sum(one >= 64 / 3 + 49 / 2 + 441 / 3 - 1e-9 for one in spread_of)
    assert found.p_value == pytest.approx(as_far / len(ways))


def test_ranks_of_large_groups_are_by_chi_squared() -> None:
    groups = [np.arange(40.0) + 3 * i for i in range(3)]
    found = rank_analysis(groups)
    assert not found.is_exact
    # With two degrees of freedom the tail is exp(−h/2).
    assert found.p_value == pytest.approx(math.exp(-found.statistic / 2))


def test_two_groups_by_variance_are_welchs_t_squared() -> None:
    found = variance_analysis([Moments.of(A), Moments.of(B)])
    total = 2.9 + 13 / 6
    assert found.statistic == pytest.approx(9 / total)
    assert found.p_value == pytest.approx(mean_difference(Moments.of(A), Moments.of(B)).p_value)
    assert variance_analysis([Moments.of(A), Moments.of(np.array([1.0]))]) is None


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.floats(-50, 50), min_size=1, max_size=40),
    st.floats(0.3, 20),
    st.floats(-10, 10),
)
def test_steps_begin_where_they_are_told_and_hold_every_value(
    values: list[float], step: float, start: float
) -> None:
    found = histogram(np.array(values), step, start)
    assert found.counts.sum() == len(values)
    off = (found.edges - start) / step
    assert np.abs(off - np.round(off)).max() < 1e-6
    for value in values:
        assert found.edges[0] - 1e-9 <= value <= found.edges[-1] + 1e-9


def test_a_given_bandwidth_is_kept() -> None:
    draw = np.random.default_rng(1)
    values = draw.normal(size=400)
    found = kernel_density(values, bandwidth=0.5)
    assert found.bandwidth == pytest.approx(0.5)
    # The mean of 400 kernels, made one by one.
    kernels = np.exp(-(((found.at[:, None] - values) / 0.5) ** 2) / 2) / (
        0.5 * math.sqrt(2 * math.pi)
    )
    assert found.density == pytest.approx(kernels.mean(axis=1), abs=2e-3)

from __future__ import annotations

import math
from collections.abc import Iterable
from fractions import Fraction
from itertools import permutations

import mpmath
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.reference import ANSCOMBE
from yarrowdew.core.association import holm, kendall, kendall_variance, pearson, spearman
from yarrowdew.core.concordance import ranks
from yarrowdew.core.pairs import pairs
from yarrowdew.core.sample import paired


@pytest.mark.parametrize("name", ANSCOMBE)
def test_r_against_exact_fractions(name: str) -> None:
    x, y = ([Fraction(str(v)) for v in values] for values in ANSCOMBE[name])
    mx, my = sum(x) / 11, sum(y) / 11
    sxy = sum((v - mx) * (w - my) for v, w in zip(x, y, strict=True))
    square = sxy**2 / (sum((v - mx) ** 2 for v in x) * sum((w - my) ** 2 for w in y))
    assert pearson(paired(*ANSCOMBE[name])).r == pytest.approx(math.sqrt(square), rel=1e-13)


def test_interval_and_p_value_against_high_precision() -> None:
    found = pearson(paired(*ANSCOMBE["I"]), level=0.95)
    with mpmath.workdps(30):
        r = mpmath.mpf(found.r)
        z = mpmath.sqrt(2) * mpmath.erfinv(mpmath.mpf("0.95")) / mpmath.sqrt(8)
        low, high = (mpmath.tanh(mpmath.atanh(r) + sign * z) for sign in (-1, 1))
        t2 = r * r * 9 / (1 - r * r)
        p = mpmath.betainc(4.5, 0.5, 0, 9 / (9 + t2), regularized=True)
    assert found.low == pytest.approx(float(low), rel=1e-9)
    assert found.high == pytest.approx(float(high), rel=1e-9)
    assert found.p_value == pytest.approx(float(p), rel=1e-9)


def test_neither_shift_nor_scale_changes_r() -> None:
    x, y = (np.array(v, dtype=float) for v in ANSCOMBE["II"])
    r = pearson(paired(x, y)).r
    assert pearson(paired(1e200 * x, 1e-200 * y + 0)).r == pytest.approx(r, rel=1e-12)
    assert pearson(paired(7 - x, y)).r == pytest.approx(-r, rel=1e-12)


def test_what_does_not_exist_is_none() -> None:
    assert pearson(paired([1, 2, 3], [4, 4, 4])).r is None
    assert pearson(paired([1, 2], [4, 5])).r is None
    three = pearson(paired([1, 2, 3], [1, 2, 4]))
    assert three.r is not None
    assert (three.low, three.high) == (None, None)


def test_points_on_a_line_correlate_fully() -> None:
    found = pearson(paired([1, 2, 3, 4], [2, 4, 6, 8]))
    assert (found.r, found.low, found.high, found.p_value) == (1, 1, 1, 0)


class TestRanks:
    def test_spearman_is_pearson_of_ranks_and_knows_only_order(self) -> None:
        x, y = np.array([1.0, 2, 3, 4, 5, 6]), np.array([2.0, 1, 4, 3, 7, 5])
        # Differences of ranks 1, 1, 1, 1, 1, 1: ρ = 1 − 6·6/(6·35).
        found = spearman(paired(x, y))
        assert found.r == pytest.approx(1 - 36 / 210)
        assert spearman(paired(np.exp(x), y**3)).r == pytest.approx(found.r)

    @settings(max_examples=40, deadline=None)
    @given(st.lists(st.tuples(st.integers(0, 4), st.integers(0, 9)), min_size=3, max_size=7))
    def test_spearmans_p_of_few_rows_is_that_of_every_order(
        self, rows: list[tuple[int, int]]
    ) -> None:
        x, y = zip(*rows, strict=True)
        found = spearman(paired(x, y))
        if found.r is None:
            return
        a, b = ([sum(2 * (w < v) + (w == v) for w in values) for v in values] for values in (x, y))

        def off(order: Iterable[int]) -> int:
            together = sum(p * q for p, q in zip(a, order, strict=True))
            return abs(len(a) * together - sum(a) * sum(b))

        orders = [off(order) for order in permutations(b)]
        as_far = sum(one >= off(b) for one in orders)
        assert found.p_value == pytest.approx(as_far / len(orders))

    def test_a_perfect_order_of_few_rows_is_no_proof(self) -> None:
        # Of 24 orders of four rows two are as perfect; of ten rows, two of 3,628,800.
        found = spearman(paired([1, 2, 5, 9], [2, 4.5, 5, 7]))
        assert (found.r, found.low, found.high) == (1, None, None)
        assert found.p_value == pytest.approx(2 / 24)
        ten = spearman(paired(np.arange(10.0), np.arange(10.0) ** 3))
        assert ten.p_value == pytest.approx(2 / math.factorial(10))

    def test_tied_ranks_share_their_mean(self) -> None:
        assert ranks(np.array([10.0, 20, 10, 5])).tolist() == [2.5, 4, 2.5, 1]

    def test_kendall_counts_pairs(self) -> None:
        draw = np.random.default_rng(4)
        x, y = (draw.integers(0, 9, 60).astype(float) for _ in range(2))
        i, j = np.triu_indices(60, 1)
        signs = np.sign(x[j] - x[i]) * np.sign(y[j] - y[i])
        bottom = np.sqrt(np.count_nonzero(x[i] != x[j]) * np.count_nonzero(y[i] != y[j]))
        assert kendall(paired(x, y)).r == pytest.approx(signs.sum() / bottom)

    def test_kendalls_exact_p_of_few_rows(self) -> None:
        # Of 24 orders of four rows, 1 has no inversion and 3 have one (Kendall 1970, table 1).
        assert kendall(paired([1, 2, 3, 4], [1, 2, 3, 4])).p_value == pytest.approx(2 / 24)
        assert kendall(paired([1, 2, 3, 4], [1, 2, 4, 3])).p_value == pytest.approx(8 / 24)

    def test_kendalls_p_of_tied_rows_by_its_variance(self) -> None:
        x, y = [1, 1, 2, 2, 3, 3], [1, 2, 2, 3, 3, 4]
        # S = 10 of 15 pairs less 3 tied in x, 2 tied in y: variance worked by Kendall's formula.
        found = kendall(paired(x, y))
        assert kendall_variance(6, np.array([2, 2, 2]), np.array([1, 2, 2, 1])) == pytest.approx(
            (6 * 5 * 17 - 3 * 2 * 9 - 2 * 2 * 9) / 18 + 6 * 4 / (2 * 6 * 5)
        )
        assert found.r == pytest.approx(10 / np.sqrt(12 * 13))

    def test_nothing_is_said_of_a_variable_that_does_not_vary(self) -> None:
        for correlate in (spearman, kendall):
            found = correlate(paired([1, 1, 1, 1], [1, 2, 3, 4]))
            assert (found.r, found.p_value) == (None, None)


def test_holm_adjusts_in_order_and_never_above_one() -> None:
    assert holm([0.01, 0.04, None, 0.03, 0.9]) == pytest.approx([0.04, 0.09, None, 0.09, 0.9])


def test_pairs_come_strongest_first_on_the_rows_they_share() -> None:
    nan = float("nan")
    found = pairs(
        {
            "a": np.array([1.0, 2, 3, 4, 5]),
            "b": np.array([2.0, 1, 4, 3, nan]),
            "c": np.array([5.0, 4, 3, 2, 1]),
        }
    )
    assert [(p.x, p.y, p.correlation.n) for p in found] == [
        ("a", "c", 5),
        ("a", "b", 4),
        ("b", "c", 4),
    ]
    assert found[0].correlation.r == pytest.approx(-1)
    assert found[1].p_adjusted == pytest.approx(min(1, 2 * (found[1].correlation.p_value or 0)))

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarrowdew.core.concordance import dense_ranks, inversions, ranks, tie_sizes


@given(st.lists(st.integers(-5, 40), max_size=150))
def test_inversions_are_pairs_in_the_wrong_order(values: list[int]) -> None:
    pairs = sum(a > b for i, a in enumerate(values) for b in values[i + 1 :])
    assert inversions(np.array(values, dtype=float)) == pairs


@pytest.mark.parametrize("n", [1, 2, 32, 33, 1000])
def test_rows_from_last_to_first_are_all_inverted(n: int) -> None:
    assert inversions(np.arange(n)[::-1].copy()) == n * (n - 1) // 2
    assert inversions(np.arange(n)) == 0
    assert inversions(np.zeros(n)) == 0


def test_ranks() -> None:
    values = np.array([3.5, -1, 3.5, 10])
    assert dense_ranks(values).tolist() == [1, 0, 1, 2]
    assert ranks(values).tolist() == [2.5, 1, 2.5, 4]
    assert tie_sizes(values).tolist() == [1, 2, 1]

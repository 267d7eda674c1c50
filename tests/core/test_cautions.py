from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.reference import ANSCOMBE
from yarrowdew.core.cautions import may_hide, opposed_groups, pulling_row, share_hidden
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import check_level, t_quantile
from yarrowdew.core.sample import paired
from yarrowdew.core.trends.straight import fit_line

PLACES = [0.0, -0.0, 1.0, -1.0, 0.1, 1e-300, 1e300, 5e-324, 3.0, 1024.0]


def test_the_row_that_pulls_anscombes_third_line_is_found() -> None:
    sample = paired(*ANSCOMBE["III"])
    found = pulling_row(fit_line(sample), sample)
    assert found is not None
    assert found.row == 2
    assert found.slope_without == pytest.approx(0.345389, abs=1e-6)
    assert not found.turns


def test_no_row_pulls_a_line_with_even_scatter() -> None:
    x = np.arange(40.0)
    sample = paired(x, x + np.where(x % 2, 1.0, -1.0))
    assert pulling_row(fit_line(sample), sample) is None


def test_a_row_that_turns_the_line_is_said_to() -> None:
    sample = paired([0, 1, 2, 3, 30], [3, 2.2, 1.1, 0, 20])
    found = pulling_row(fit_line(sample), sample)
    assert found is not None
    assert found.row == 4
    assert found.turns


def test_rows_are_named_by_where_they_stood() -> None:
    x, y = (np.array(v, dtype=float) for v in ANSCOMBE["III"])
    sample = paired(np.r_[np.nan, np.nan, x], np.r_[0, 0, y])
    found = pulling_row(fit_line(sample), sample)
    assert found is not None
    assert found.row == 4


def test_groups_that_go_the_other_way() -> None:
    x = np.tile(np.arange(10.0), 2)
    noise = 0.1 * np.tile([1, -1, 1, 1, -1], 4)
    y = np.r_[-np.arange(10.0) + 30, -np.arange(10.0)] + noise
    x[:10] += 30
    groups = {"up": fit_line(paired(x[:10], y[:10])), "down": fit_line(paired(x[10:], y[10:]))}
    assert opposed_groups(fit_line(paired(x, y)), groups, 0.95) == ["up", "down"]
    assert opposed_groups(groups["up"], groups, 0.95) == []


@pytest.mark.parametrize(
    ("x", "y", "share"),
    [
        ([1, 1, 1, 2], [5, 5, 5, 5], 0.5),
        ([0.0, -0.0], [1, 1], 0.5),
        ([1, 2], [2, 1], 0),
        ([], [], 0),
    ],
)
def test_share_of_marks_on_one_place(x: list[float], y: list[float], share: float) -> None:
    assert share_hidden(np.array(x, dtype=float), np.array(y, dtype=float)) == share


@given(
    st.lists(st.tuples(st.sampled_from(PLACES), st.sampled_from(PLACES)), max_size=60),
    st.floats(0, 1),
)
def test_what_may_hide_is_never_less_than_what_does(
    marks: list[tuple[float, float]], share: float
) -> None:
    x, y = (np.array([mark[side] for mark in marks], dtype=float) for side in (0, 1))
    hidden = 1 - len(set(marks)) / max(len(marks), 1) if marks else 0.0
    if hidden >= share:
        assert may_hide(x, y, share)


def test_marks_that_stand_apart_are_not_put_in_order_to_find_that_out() -> None:
    x = np.random.default_rng(1).normal(size=5000)
    assert not may_hide(x, x[::-1].copy(), 0.2)
    assert may_hide(np.tile(x, 2), np.tile(x, 2), 0.2)


def test_levels_outside_the_offer_are_refused() -> None:
    with pytest.raises(FitError, match=r"0\.50 and 0\.999"):
        check_level(0.4)
    assert t_quantile(0.95, 10) == pytest.approx(2.228138851964939, rel=1e-10)

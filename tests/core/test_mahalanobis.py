from __future__ import annotations

import numpy as np
import pytest

from yarrowdew.core.mahalanobis import distance_from_middle


def test_distances_of_a_cross_by_hand() -> None:
    # Variances 2 and 8 (sums of squares 8 and 32 over 4), no covariance.
    x, y = np.array([-2.0, 2, 0, 0, 0]), np.array([0.0, 0, -4, 4, 0])
    expected = [np.sqrt(2), np.sqrt(2), np.sqrt(2), np.sqrt(2), 0]
    assert distance_from_middle(x, y) == pytest.approx(expected)


def test_units_do_not_matter() -> None:
    draw = np.random.default_rng(4)
    x, y = draw.normal(size=50), draw.normal(size=50)
    assert distance_from_middle(1000 * x + 7, y) == pytest.approx(distance_from_middle(x, y))


def test_rows_on_one_line_and_none_at_all() -> None:
    line = np.array([0.0, 1, 2])
    assert distance_from_middle(line, 2 * line) == pytest.approx([1, 0, 1])
    assert len(distance_from_middle(np.empty(0), np.empty(0))) == 0

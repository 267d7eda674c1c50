from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest

from yarrowdew.core.association import distance_correlation
from yarrowdew.core.distributions.contours import contours, counted, level_lines
from yarrowdew.core.pairs import together
from yarrowdew.core.sample import Array, paired


def inside(line: Array, x: Array, y: Array) -> Array:
    """Whether points lie inside a closed line, by the parity of crossings."""
    out = np.zeros(len(x), dtype=bool)
    for (x0, y0), (x1, y1) in pairwise(line):
        spans = (y0 > y) != (y1 > y)
        with np.errstate(divide="ignore", invalid="ignore"):
            at = x0 + (y - y0) / (y1 - y0) * (x1 - x0)
        out ^= spans & (x < at)
    return out


def test_a_contour_encloses_its_share_of_the_rows() -> None:
    draw = np.random.default_rng(8)
    x, y = draw.normal(0, 1, 4000), draw.normal(0, 1, 4000)
    y = 0.6 * x + 0.8 * y
    for contour in contours(x, y, (0.5, 0.8, 0.95)):
        held = np.zeros(4000, dtype=bool)
        for line in contour.lines:
            held ^= inside(line, x, y)
        assert held.mean() == pytest.approx(contour.share, abs=0.015)


def test_two_clusters_have_two_contours() -> None:
    draw = np.random.default_rng(9)
    x = np.concatenate([draw.normal(0, 1, 500), draw.normal(12, 1, 500)])
    y = np.concatenate([draw.normal(0, 1, 500), draw.normal(12, 1, 500)])
    (half,) = contours(x, y, (0.5,))
    assert len(half.lines) == 2


def test_a_level_line_of_a_cone_is_a_circle() -> None:
    at = np.arange(41.0)
    cone = -np.hypot(at[None, :] - 20, at[:, None] - 20)
    (line,) = level_lines(cone, -10.0)
    assert np.hypot(line[:, 0] - 20, line[:, 1] - 20) == pytest.approx(
        np.full(len(line), 10), abs=0.02
    )
    assert line[0].tolist() == line[-1].tolist()


def test_a_line_that_leaves_the_grid_is_open() -> None:
    grid = np.tile(np.arange(5.0), (4, 1))
    (line,) = level_lines(grid, 2.25)
    assert line[:, 0].tolist() == [2.25] * 4
    assert sorted(line[:, 1].tolist()) == [0, 1, 2, 3]


def test_nothing_to_enclose() -> None:
    assert contours(np.ones(5), np.arange(5.0), (0.5,)) == []
    assert contours(np.arange(2.0), np.arange(2.0), (0.5,)) == []


def test_every_row_is_counted_once() -> None:
    found = counted(np.array([0.0, 1, 1, 10]), np.array([5.0, 5, 5, 5]), cells=10)
    assert found.counts.sum() == 4
    assert found.counts[5].tolist() == [1, 2, 0, 0, 0, 0, 0, 0, 0, 1]


def test_distance_correlation_by_its_definition() -> None:
    x, y = np.array([0.0, 1, 2, 4]), np.array([1.0, 0, 2, 2])
    a, b = (np.abs(v[:, None] - v[None, :]) for v in (x, y))
    a, b = (d - d.mean(0) - d.mean(1)[:, None] + d.mean() for d in (a, b))
    expected = np.sqrt((a * b).mean() / np.sqrt((a * a).mean() * (b * b).mean()))
    assert distance_correlation(paired(x, y)).r == pytest.approx(expected)
    assert distance_correlation(paired(x, 3 - 2 * x)).r == pytest.approx(1)
    assert distance_correlation(paired([1, 1, 1, 1], [1, 2, 3, 4])).r is None


def test_variables_that_go_together_stand_together() -> None:
    r = np.eye(4)
    r[0, 3] = r[3, 0] = -0.9
    r[1, 2] = r[2, 1] = 0.8
    order = together(r)
    assert abs(order.index(0) - order.index(3)) == 1
    assert together(np.eye(2)) == [0, 1]

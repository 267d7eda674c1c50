"""How well trends predict rows that they were fitted without, checked by hand and by simulation."""

from __future__ import annotations

import numpy as np
import pytest

from yarrowdew.core.sample import Sample
from yarrowdew.core.trends import fit_trend
from yarrowdew.core.validation import (
    cross_validation_residuals,
    gain,
    root_mean_square,
    rows_to_validate,
    within_one_standard_error,
)


def sample_of(x: np.ndarray, y: np.ndarray) -> Sample:
    return Sample(x, y, None, np.arange(len(x)))


def straight(rows: Sample) -> object:
    return fit_trend(rows, "straight")


def test_few_rows_are_left_out_one_at_a_time() -> None:
    x = np.array([1.0, 2, 4, 5, 8])
    y = np.array([2.0, 1, 5, 4, 9])
    off = cross_validation_residuals(sample_of(x, y), straight)  # type: ignore[arg-type]
    assert off is not None
    for i in range(5):
        kept = np.arange(5) != i
        slope, start = np.polyfit(x[kept], y[kept], 1)
        assert off[i] == pytest.approx(y[i] - start - slope * x[i])
    assert root_mean_square(sample_of(x, y), off) == pytest.approx(np.sqrt(np.mean(off**2)))


def test_many_rows_are_left_out_a_tenth_at_a_time_and_every_trend_has_the_same_parts() -> None:
    rng = np.random.default_rng(1)
    sample = sample_of(rng.normal(size=100), rng.normal(size=100))
    left: list[set[float]] = []

    def told(rows: Sample) -> object:
        left.append(set(sample.x) - set(rows.x))
        return straight(rows)

    cross_validation_residuals(sample, told)  # type: ignore[arg-type]
    assert [len(part) for part in left] == [10] * 10
    assert set().union(*left) == set(sample.x)
    first = list(left)
    left.clear()
    cross_validation_residuals(sample, told)  # type: ignore[arg-type]
    assert left == first


def test_of_very_many_rows_those_taken_run_from_end_to_end() -> None:
    x = np.random.default_rng(2).permutation(20_000.0 * np.arange(6_000))
    rows = rows_to_validate(sample_of(x, x))
    assert rows.n == 5_000
    assert (rows.x.min(), rows.x.max()) == (x.min(), x.max())


def test_a_gain_is_that_of_paired_squares() -> None:
    rng = np.random.default_rng(3)
    off, than = rng.normal(size=40), rng.normal(size=40) * 2
    found = gain(sample_of(off, off), off, than)
    assert found is not None
    difference = than**2 - off**2
    assert found.share == pytest.approx(difference.mean() / np.mean(than**2))
    se = difference.std(ddof=1) / np.sqrt(40)
    assert found.se == pytest.approx(se / np.mean(than**2))
    huge = gain(sample_of(off, off), off * 1e200, than * 1e200)
    assert huge is not None
    assert huge.share == pytest.approx(found.share)


def test_the_same_trend_gains_nothing_and_is_never_clear() -> None:
    off = np.random.default_rng(4).normal(size=30)
    found = gain(sample_of(off, off), off, off)
    assert found is not None
    assert (found.share, found.se, found.is_clear()) == (0, 0, False)
    assert within_one_standard_error(sample_of(off, off), off, [off]) == [True]
    assert gain(sample_of(off, off), off, np.zeros(30)) is None


def test_where_two_trends_are_as_good_one_is_clear_as_seldom_as_it_says() -> None:
    rng = np.random.default_rng(5)
    runs = 400
    clear = 0
    for _ in range(runs):
        both = rng.normal(size=60)
        found = gain(sample_of(both, both), both + rng.normal(size=60), both + rng.normal(size=60))
        clear += found is not None and found.is_clear()
    # One side of 5 %, and three standard errors.
    assert clear / runs <= 0.025 + 3 * np.sqrt(0.025 * 0.975 / runs)

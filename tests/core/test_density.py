from __future__ import annotations

from collections import Counter
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from yarrowdew.core.distributions.density import box_numbers, good_step, histogram, kernel_density


class TestHistogram:
    @pytest.mark.parametrize(
        ("rough", "step"), [(1.0, 1), (1.5, 2), (3.5, 5), (8, 10), (0.013, 0.01), (24, 20)]
    )
    def test_steps_are_round(self, rough: float, step: float) -> None:
        assert good_step(rough) == pytest.approx(step)

    def test_values_are_counted_once_and_edges_are_round(self) -> None:
        values = np.array([0.0, 0.4, 1.0, 1.2, 1.9, 2.0, 3.0])
        found = histogram(values, 1.0)
        assert found.edges.tolist() == [0, 1, 2, 3]
        # The largest value, on the last edge, belongs to the last step.
        assert found.counts.tolist() == [2, 3, 2]

    def test_whole_numbers_have_a_step_each(self) -> None:
        found = histogram(np.array([0.0, 0, 3, 1, 1, 1]))
        assert found.edges.tolist() == [-0.5, 0.5, 1.5, 2.5, 3.5]
        assert found.counts.tolist() == [2, 3, 0, 1]

    def test_the_width_by_freedman_and_diaconis(self) -> None:
        # Quartiles of 0 to 999 lie 499.5 apart: 2 * 499.5 / 10 = 99.9, and so 100.
        found = histogram(np.arange(1000.0))
        assert found.edges[1] - found.edges[0] == 100
        assert found.counts.tolist() == [100] * 10

    def test_one_value_and_many_alike(self) -> None:
        assert histogram(np.array([7.0])).counts.tolist() == [1]
        found = histogram(np.array([2.0] * 30 + [9.0]))
        assert found.counts.sum() == 31
        assert len(found.counts) > 1

    @given(
        whole=st.lists(st.integers(-3000, 3000), min_size=1, max_size=60),
        digits=st.integers(0, 6),
        step=st.sampled_from([1, 2, 5, 10, 20, None]),
        start=st.none() | st.integers(-50, 50),
    )
    def test_decimals_are_counted_as_decimals(
        self, whole: list[int], digits: int, step: int | None, start: int | None
    ) -> None:
        unit = Fraction(1, 10**digits)
        found = histogram(
            np.array([float(k * unit) for k in whole]),
            None if step is None else float(step * unit),
            None if start is None else float(start * unit),
        )
        width = Fraction(repr(found.step))
        first = Fraction(repr(float(found.edges[0])))
        bins = Counter(min(int((k * unit - first) // width), len(found.counts) - 1) for k in whole)
        assert found.counts.tolist() == [bins[i] for i in range(len(found.counts))]
        assert [Fraction(repr(float(edge))) for edge in found.edges] == [
            first + i * width for i in range(len(found.edges))
        ]

    @given(
        st.lists(st.floats(allow_nan=False, allow_infinity=False), min_size=1, max_size=20),
        st.none() | st.floats(1e-3, 1e3),
    )
    def test_every_value_lies_between_the_edges_of_its_bar(
        self, values: list[float], start: float | None
    ) -> None:
        found = histogram(np.array(values), None, start)
        low, high = found.edges[:-1], found.edges[1:]
        inside = [
            sum(a <= v < b or (i == len(low) - 1 and v >= b) for v in values)
            for i, (a, b) in enumerate(zip(low, high, strict=True))
        ]
        assert found.counts.tolist() == inside
        assert found.edges[0] <= min(values)


class TestKernelDensity:
    def test_it_is_a_density_near_the_true_one(self) -> None:
        values = np.random.default_rng(1).normal(3, 2, 20_000)
        found = kernel_density(values, 256)
        assert np.trapezoid(found.density, found.at) == pytest.approx(1, abs=1e-3)
        true = stats.norm(3, 2).pdf(found.at)
        assert np.abs(found.density - true).max() < 0.012

    def test_two_humps_stay_two(self) -> None:
        draw = np.random.default_rng(2)
        values = np.concatenate([draw.normal(0, 1, 2000), draw.normal(20, 1, 2000)])
        found = kernel_density(values, 400)
        # A rule for one hump would take a bandwidth of about 1.7.
        assert found.bandwidth < 0.5
        middle = found.density[np.abs(found.at - 10) < 3]
        assert middle.max() < 0.01 * found.density.max()

    def test_moving_and_stretching_the_values_moves_and_stretches_it(self) -> None:
        values = np.random.default_rng(3).gamma(2, 1, 500)
        found, other = kernel_density(values), kernel_density(10 * values + 100)
        assert other.bandwidth == pytest.approx(10 * found.bandwidth, rel=1e-3)
        assert other.at == pytest.approx(10 * found.at + 100, rel=1e-3)

    def test_two_values_have_one(self) -> None:
        found = kernel_density(np.array([1.0, 2.0]))
        assert np.isfinite(found.density).all()
        assert found.bandwidth > 0


def test_a_box_reaches_to_the_last_value_within_one_and_a_half_ranges() -> None:
    found = box_numbers(np.array([1.0, 2, 3, 4, 5, 6, 7, 8, 30]))
    assert (found.lower_quartile, found.median, found.upper_quartile) == (3, 5, 7)
    assert (found.low, found.high) == (1, 8)

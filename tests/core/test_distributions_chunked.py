"""Distributions of parts, against all values at once."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_aggregates import pieces, total_of
from yarrowdew.core.aggregates import distribution as shaping
from yarrowdew.core.aggregates.distinct import MOST_KEPT, RELATIVE_ERROR, Distinct
from yarrowdew.core.distributions.chunked import DistributionRequest, PartsSpread, describe_chunked
from yarrowdew.core.distributions.density import histogram, kernel_density
from yarrowdew.core.distributions.spread import spread
from yarrowdew.core.sample import Array

some = st.floats(-1e6, 1e6, allow_subnormal=False).map(lambda v: round(v, 6)) | st.integers(
    -50, 50
).map(float)


def alike(found: PartsSpread, values: Array, step: float | None = None) -> None:
    """The same as of the values themselves."""
    own = spread(values)
    scale = float(np.abs(values).max()) or 1.0
    got = found.spread
    assert (got.n, got.low, got.high) == (own.n, own.low, own.high)
    for a, b in ((got.mean, own.mean), (got.median, own.median)):
        assert a.value == pytest.approx(b.value, rel=1e-12, abs=1e-14 * scale)
        assert (a.low is None) == (b.low is None)
        if a.low is not None:
            assert a.low == pytest.approx(b.low, rel=1e-9, abs=1e-9 * scale)
            assert a.high == pytest.approx(b.high, rel=1e-9, abs=1e-9 * scale)
    assert got.box == own.box
    assert (got.median.low, got.median.high) == (own.median.low, own.median.high)
    assert got.sd == (
        None if own.sd is None else pytest.approx(own.sd, rel=1e-9, abs=1e-13 * scale)
    )
    if own.skewness is not None and own.sd and own.sd > 1e-6 * scale:
        assert got.skewness == pytest.approx(own.skewness, rel=1e-6, abs=1e-6)
    assert found.far == len(own.far)
    assert found.distinct == len(np.unique(values))
    if step is not None:
        bars = histogram(values, step)
        assert found.bars is not None
        assert found.bars.edges.tolist() == bars.edges.tolist()
        assert found.bars.counts.tolist() == bars.counts.tolist()
    if own.low < own.high:
        curve = kernel_density(values)
        assert found.curve is not None
        assert found.curve.bandwidth == pytest.approx(curve.bandwidth, rel=1e-9)
        assert found.curve.density == pytest.approx(curve.density, rel=1e-6, abs=1e-9)


@given(
    st.lists(some, min_size=1, max_size=80),
    st.lists(st.integers(0, 100), max_size=5),
    st.floats(-1e6, 1e6, allow_subnormal=False),
)
def test_is_the_same_however_it_is_cut(held: list[float], ends: list[int], near: float) -> None:
    values = np.array(held)
    total = total_of({"v": values}, pieces(len(values), ends))
    found = describe_chunked(total, DistributionRequest("v", near=near))
    alike(found.groups[None], values, found.step)
    if len(set(held)) > 1:
        assert found.step == histogram(values).step
        assert found.bandwidth == pytest.approx(kernel_density(values).bandwidth)


@given(
    st.lists(st.tuples(some | st.just(math.nan), st.sampled_from(["a", "b", None])), min_size=3),
    st.lists(st.integers(0, 100), max_size=5),
)
def test_tells_groups_apart(rows: list[tuple[float, str | None]], ends: list[int]) -> None:
    values, labels = np.array([v for v, _ in rows]), [group for _, group in rows]
    total = total_of({"v": values}, pieces(len(rows), ends), {"g": labels})
    found = describe_chunked(total, DistributionRequest("v", "g"))
    own = {name: np.array([v for v, g in rows if g == name and not math.isnan(v)]) for name in "ab"}
    assert set(found.groups) == {name for name, held in own.items() if len(held)}
    for name, one in found.groups.items():
        alike(one, own[name or ""], found.step)
    every = np.concatenate([*own.values()])
    if len(np.unique(every)) > 1:
        assert found.step == histogram(every).step
        assert found.bandwidth == pytest.approx(kernel_density(every).bandwidth, rel=1e-9)


def test_of_many_rows_far_from_where_they_begin() -> None:
    # The first thousand say nothing of the others, which would all lie in one cell about them.
    draw = np.random.default_rng(3)
    values = np.concatenate([np.zeros(1000), 1e9 + draw.normal(size=60_000)])
    asks = total_of({"v": values}, pieces(len(values), [7, 9000, 50_000]))
    found = describe_chunked(asks, DistributionRequest("v", near=0.0)).groups[None].spread
    own = spread(values)
    assert found.box == own.box
    assert (found.median.low, found.median.high) == (own.median.low, own.median.high)
    assert found.mean.value == pytest.approx(own.mean.value, rel=1e-15)
    assert found.sd == pytest.approx(own.sd, rel=1e-10)


def test_looks_again_about_the_median_where_too_many_lie_together(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(shaping, "MOST_HELD", 5000)
    monkeypatch.setattr("yarrowdew.core.distributions.chunked.MOST_HELD", 5000)
    values = 1e9 + np.random.default_rng(4).normal(size=60_000)
    total = total_of({"v": values}, pieces(len(values), [100, 30_000]))
    found = describe_chunked(total, DistributionRequest("v", near=0.0)).groups[None].spread
    assert found.box == spread(values).box


@pytest.mark.parametrize("step", [0.25, 1.0])
def test_counts_in_given_steps_from_a_given_edge(step: float) -> None:
    values = np.array([1.0, 2.0, 2.0, 3.0, 7.0])
    asked = DistributionRequest("v", step=step, start=0.1, bandwidth=0.5)
    found = describe_chunked(total_of({"v": values}, [slice(0, 2), slice(2, 5)]), asked)
    bars = found.groups[None].bars
    assert bars is not None
    assert found.start == pytest.approx(0.1 + step * math.floor((1 - 0.1) / step))
    by_hand = [sum(a <= v < b for v in values) for a, b in zip(bars.edges, bars.edges[1:])]  # noqa: B905
    assert bars.counts.tolist() == by_hand
    assert bars.step == step
    assert found.bandwidth == 0.5
    assert found.groups[None].curve.bandwidth == pytest.approx(0.5)  # type: ignore[union-attr]


def test_numbers_beyond_adding_up_are_refused_or_right() -> None:
    values = np.array([1e200, 2e200, 4e200])
    found = describe_chunked(
        total_of({"v": values}, [slice(0, 1), slice(1, 3)]), DistributionRequest("v")
    )
    own = spread(values)
    got = found.groups[None].spread
    assert (got.mean.value, got.sd) == (pytest.approx(own.mean.value), pytest.approx(own.sd))
    assert got.box == own.box


class TestDistinct:
    @given(st.lists(some, max_size=60), st.lists(st.integers(0, 60), max_size=4))
    def test_few_are_counted_exactly(self, held: list[float], ends: list[int]) -> None:
        values = np.array(held, dtype=np.float64)
        found = Distinct.of(values[:0])
        for piece in reversed(pieces(len(values), ends)):
            found = found.merge(Distinct.of(values[piece]))
        assert found.is_exact
        assert found.count == len(set(held))

    def test_many_are_counted_to_within_what_is_said(self) -> None:
        values = np.random.default_rng(5).integers(0, 1_000_000, 600_000) / 7
        whole = Distinct.of(values)
        cut = Distinct.of(values[400_000:]).merge(Distinct.of(values[:400_000]))
        assert (cut.zeros, cut.hashes.tolist()) == (whole.zeros, whole.hashes.tolist())
        assert len(whole.hashes) <= MOST_KEPT
        assert whole.count == pytest.approx(len(np.unique(values)), rel=4 * RELATIVE_ERROR)

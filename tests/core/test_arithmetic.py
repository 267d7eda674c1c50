from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from yarrowdew.core.arithmetic import apart
from yarrowdew.core.trends.solvers.windows import hermite


@given(
    st.lists(
        st.one_of(st.floats(0, 1), st.integers(0, 40).map(lambda k: 0.5 + k * 2.3e-10)),
        min_size=2,
        max_size=40,
        unique=True,
    )
)
def test_neighbours_are_left_out_one_after_the_other(values: list[float]) -> None:
    distinct = np.array(sorted(values))
    low, high = distinct[0], distinct[-1]
    step = (high - low) * 1e-9
    kept = [low]
    for value in distinct[1:-1]:
        if value - kept[-1] >= step and high - value >= step:
            kept.append(value)
    assert apart(distinct).tolist() == [*kept, high]


@given(st.integers(2, 12), st.integers(0, 1000))
def test_places_in_order_are_interpolated_as_any_are(count: int, seed: int) -> None:
    rng = np.random.default_rng(seed)
    at = np.arange(count) + rng.uniform(0, 0.5, count)
    values, slopes = rng.normal(size=(2, count))
    x = np.sort(np.concatenate([rng.uniform(-1, 11, 30), at]))
    any_order = hermite(at, values, slopes, x)
    np.testing.assert_allclose(hermite(at, values, slopes, x, ascending=True), any_order, atol=1e-9)
    # Through every place with its slope: a cubic of each stretch.
    np.testing.assert_allclose(hermite(at, values, slopes, at), values, atol=1e-9)
    step = 1e-6
    inside = at[1:-1]
    rise = hermite(at, values, slopes, inside + step) - hermite(at, values, slopes, inside - step)
    np.testing.assert_allclose(rise / (2 * step), slopes[1:-1], rtol=1e-2, atol=1e-2)

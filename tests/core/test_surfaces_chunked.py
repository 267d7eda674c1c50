"""Surfaces of parts, against all rows at once."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_aggregates import pieces, total_of
from yarrowdew.core.sample import Array
from yarrowdew.core.surfaces.chunked import ChunkedSurface, SurfaceRequest, fit_surfaces_chunked
from yarrowdew.core.surfaces.surface import Degree, fit_surface, tripled


def found_of(x: Array, y: Array, z: Array, degree: Degree, ends: list[int]) -> ChunkedSurface:
    total = total_of({"x": x, "y": y, "z": z}, pieces(len(x), ends))
    asked = SurfaceRequest("x", "y", "z", None, (0.0, 0.0, 0.0), degree)
    return fit_surfaces_chunked(total, asked)[None]


def rows(seed: int, n: int, far: float = 0.0) -> tuple[Array, Array, Array]:
    draw = np.random.default_rng(seed)
    x, y = draw.normal(far, 2, n), draw.gamma(2, 3, n) - far
    z = 3 + 0.5 * x - 2 * y + 0.1 * (x - far) * y + draw.normal(0, 0.5, n)
    z[:: max(2, n // 7)] = math.nan
    return x, y, z


@settings(max_examples=40)
@given(
    st.integers(0, 10_000),
    st.integers(20, 300),
    st.sampled_from([1, 2]),
    st.sampled_from([0.0, 1e3, -1e6]),
    st.lists(st.integers(0, 400), max_size=5),
)
def test_is_the_same_however_it_is_cut(
    seed: int, n: int, degree: Degree, far: float, ends: list[int]
) -> None:
    x, y, z = rows(seed, n, far)
    found, own = found_of(x, y, z, degree, ends), fit_surface(tripled(x, y, z), degree)
    assert found.fit is not None
    assert (found.n, found.numbers.missing) == (own.n, n - own.n)
    assert (found.fit.x_range, found.fit.y_range) == (own.x_range, own.y_range)
    at = (np.linspace(*own.x_range, 5), np.linspace(*own.y_range, 5))
    scale = float(np.nanmax(np.abs(z)))
    assert found.fit.predict(*at) == pytest.approx(own.predict(*at), rel=1e-10, abs=1e-12 * scale)
    assert found.fit.residual_sd == pytest.approx(own.residual_sd, rel=1e-8)
    assert found.fit.r_squared == pytest.approx(own.r_squared, rel=1e-10)
    assert found.fit.condition == pytest.approx(own.condition, rel=1e-8)
    for one, other in zip(found.fit.coefficients(0.95), own.coefficients(0.95), strict=True):
        assert one.value == pytest.approx(other.value, rel=1e-7, abs=1e-9)
        assert one.se == pytest.approx(other.se, rel=1e-6)


def test_a_plane_by_hand() -> None:
    # z = 1 + 2x + 3y through four rows, and one that lies 0.5 above where the plane then goes.
    x, y = np.array([0.0, 1, 0, 1, 0.5]), np.array([0.0, 0, 1, 1, 0.5])
    z = 1 + 2 * x + 3 * y + np.array([0, 0, 0, 0, 0.5])
    found = found_of(x, y, z, 1, [2])
    assert found.fit is not None
    a, b, c = (one.value for one in found.fit.coefficients(0.95))
    assert (a, b, c) == (pytest.approx(1.1), pytest.approx(2), pytest.approx(3))
    assert found.fit.sse == pytest.approx(4 * 0.1**2 + 0.4**2)


@pytest.mark.parametrize(
    ("x", "y", "said"),
    [
        ([1.0, 1, 1, 1, 1], [1.0, 2, 3, 4, 5], "differ on both axes"),
        ([1.0, 2, 3, 4, 5], [2.0, 4, 6, 8, 10], "could tip"),
        ([1.0, 2, math.nan, math.nan, 3], [1.0, 5, 3, 4, 5], "at least 4 rows"),
        ([1e308, -1e308, 1e308, 3, 5], [1.0, 2, 3, 4, 9], "too large"),
    ],
)
def test_what_cannot_be_fitted_says_why(x: list[float], y: list[float], said: str) -> None:
    # As whoever looks at parts does.
    with np.errstate(all="ignore"):
        found = found_of(np.array(x), np.array(y), np.arange(5.0) ** 2, 1, [2])
    assert found.fit is None
    assert found.problem is not None
    assert said in found.problem


def test_each_group_has_its_own() -> None:
    x, y, z = rows(3, 60)
    labels = ["a" if k % 3 else "b" for k in range(60)]
    total = total_of({"x": x, "y": y, "z": z}, pieces(60, [11, 40]), {"g": labels})
    found = fit_surfaces_chunked(total, SurfaceRequest("x", "y", "z", "g", (0.0, 0.0, 0.0)))
    for name in "ab":
        kept = np.array([label == name for label in labels])
        own = fit_surface(tripled(x[kept], y[kept], z[kept]))
        fit = found[name].fit
        assert fit is not None
        assert fit.sse == pytest.approx(own.sse, rel=1e-9)

"""Planes: held against exact arithmetic, against leaving rows out one by one, and against itself."""

from __future__ import annotations

import math
from fractions import Fraction

import mpmath
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from yarrowdew.core.errors import FitError
from yarrowdew.core.surfaces.diagnostics import bends, pulls
from yarrowdew.core.surfaces.surface import fit_surface, tripled

ROWS = [(1, 2, 5), (2, 1, 7), (3, 5, 1), (4, 4, 6), (7, 1, 15), (5, 9, -4), (0, 3, 2), (6, 6, 8)]


def exact(rows: list[tuple[int, int, int]], degree: int) -> tuple[list[Fraction], list[float]]:
    """Coefficients and their standard errors, by the normal equations in fractions."""
    design = [
        [Fraction(v) for v in (1, x, y, *((x * x, x * y, y * y) if degree > 1 else ()))]
        for x, y, _ in rows
    ]
    z = [Fraction(v) for _, _, v in rows]
    k = len(design[0])
    normal = [[sum(r[i] * r[j] for r in design) for j in range(k)] for i in range(k)]
    inverse = inverted(normal)
    right = [sum(r[i] * v for r, v in zip(design, z, strict=True)) for i in range(k)]
    found = [sum(inverse[i][j] * right[j] for j in range(k)) for i in range(k)]
    sse = sum(
        (v - sum(c * x for c, x in zip(found, r, strict=True))) ** 2
        for r, v in zip(design, z, strict=True)
    )
    variance = sse / (len(rows) - k)
    return found, [math.sqrt(float(variance * inverse[i][i])) for i in range(k)]


def inverted(matrix: list[list[Fraction]]) -> list[list[Fraction]]:
    k = len(matrix)
    rows = [[*row, *(Fraction(int(i == j)) for j in range(k))] for i, row in enumerate(matrix)]
    for i in range(k):
        pivot = next(r for r in range(i, k) if rows[r][i])
        rows[i], rows[pivot] = rows[pivot], rows[i]
        rows[i] = [v / rows[i][i] for v in rows[i]]
        for r in range(k):
            if r != i:
                rows[r] = [a - rows[r][i] * b for a, b in zip(rows[r], rows[i], strict=True)]
    return [row[k:] for row in rows]


@pytest.mark.parametrize("degree", [1, 2])
def test_coefficients_and_intervals_are_those_of_exact_arithmetic(degree: int) -> None:
    expected, se = exact(ROWS, degree)
    fit = fit_surface(tripled(*zip(*ROWS, strict=True)), degree)
    found = fit.coefficients(0.9)
    assert [c.name for c in found] == list("abcdef"[: len(expected)])
    assert [c.value for c in found] == pytest.approx([float(v) for v in expected], rel=1e-12)
    assert [c.se for c in found] == pytest.approx(se, rel=1e-12)
    df = len(ROWS) - len(expected)
    # The quantile of Student's t, by its incomplete beta function at 30 digits.
    mpmath.mp.dps = 30
    tail = mpmath.findroot(
        lambda t: (
            mpmath.betainc(df / mpmath.mpf(2), 0.5, 0, df / (df + t * t), regularized=True)
            - mpmath.mpf("0.1")
        ),
        2.5,
    )
    assert found[1].high == pytest.approx(found[1].value + float(tail) * se[1], rel=1e-11)


def test_the_test_of_a_plane_is_that_of_its_sums_of_squares() -> None:
    fit = fit_surface(tripled(*zip(*ROWS, strict=True)))
    z = [Fraction(v) for _, _, v in ROWS]
    coefficients, _ = exact(ROWS, 1)
    drawn = [sum(c * v for c, v in zip(coefficients, (1, x, y), strict=True)) for x, y, _ in ROWS]
    sse = sum((a - b) ** 2 for a, b in zip(z, drawn, strict=True))
    sst = sum((v - sum(z) / len(z)) ** 2 for v in z)
    f = float(((sst - sse) / 2) / (sse / 5))
    assert fit.r_squared == pytest.approx(float(1 - sse / sst), rel=1e-12)
    assert fit.f_test is not None
    assert fit.f_test.f == pytest.approx(f, rel=1e-11)
    # With two degrees of freedom above, the tail is (1 + 2f/5)^(-5/2).
    assert fit.f_test.p_value == pytest.approx((1 + 2 * f / 5) ** -2.5, rel=1e-11)


@pytest.mark.parametrize("shift", [2024.0, 1e7])
@pytest.mark.parametrize("unit", [1e-200, 1.0, 1e200])
def test_a_plane_is_the_same_in_other_units_and_far_from_zero(shift: float, unit: float) -> None:
    x, y, z = (np.array(v, dtype=float) for v in zip(*ROWS, strict=True))
    plain = fit_surface(tripled(x, y, z)).coefficients(0.95)
    far = fit_surface(tripled((x + shift) * unit, y, z * unit)).coefficients(0.95)
    assert far[1].value == pytest.approx(plain[1].value, rel=1e-8)
    assert far[2].value == pytest.approx(plain[2].value * unit, rel=1e-8)
    assert far[1].se == pytest.approx(plain[1].se, rel=1e-8)


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10_000), st.sampled_from([1, 2]))
def test_every_row_left_out_moves_the_slopes_as_it_says(seed: int, degree: int) -> None:
    draw = np.random.default_rng(seed)
    x, y = draw.normal(size=(2, 14))
    z = x - y + draw.normal(size=14)
    of = tripled(x, y, z)
    fit = fit_surface(of, degree)
    assert fit.leverage(of).sum() == pytest.approx(fit.parameters)
    left = int(draw.integers(14))
    kept = np.arange(14) != left
    without = fit_surface(tripled(x[kept], y[kept], z[kept]), 1)
    if degree == 1:
        moved = [
            (a.value - b.value) / a.se
            for a, b in zip(fit.coefficients(0.95), without.coefficients(0.95), strict=True)
        ]
        assert fit.shifts(of)[left] == pytest.approx(moved[1:], rel=1e-6, abs=1e-9)


def test_a_plane_that_everything_lies_on_is_found_to_the_digit() -> None:
    x, y = (v.ravel() for v in np.meshgrid(np.arange(5.0), np.arange(4.0)))
    fit = fit_surface(tripled(x, y, 3 + 0.5 * x - 2 * y))
    assert [c.value for c in fit.coefficients(0.95)] == pytest.approx([3, 0.5, -2], rel=1e-13)
    assert fit.r_squared == pytest.approx(1)
    assert fit.condition == pytest.approx(1)


@pytest.mark.parametrize(
    ("x", "y", "said"),
    [
        ([1, 2, 3, 4, 5], [2, 4, 6, 8, 10], "lie on one line"),
        ([1, 1, 1, 1, 1], [2, 4, 6, 8, 10], "every row has 1"),
        ([1, 2, 3], [2, 1, 6], "at least 4 rows"),
    ],
)
def test_what_has_no_plane_is_said(x: list[float], y: list[float], said: str) -> None:
    with pytest.raises(FitError, match=said):
        fit_surface(tripled(x, y, np.arange(len(x))))


def test_rows_without_a_number_and_those_set_aside_are_counted() -> None:
    x, y, z = (list(map(float, v)) for v in zip(*ROWS, strict=True))
    x[0], y[1], z[2] = math.nan, math.inf, math.nan
    aside = np.arange(len(x)) == 2
    of = tripled(x, y, z, aside)
    assert of.n == 5
    assert of.dropped == {"missing": 2, "set_aside": 1}
    assert of.rows.tolist() == [3, 4, 5, 6, 7]


def test_what_misleads_is_found_and_nothing_else() -> None:
    draw = np.random.default_rng(5)
    x, y = draw.uniform(-1, 1, size=(2, 200))
    noise = draw.normal(0, 0.2, 200)
    flat = tripled(x, y, x + y + noise)
    assert pulls(fit_surface(flat), flat) is None
    assert bends(fit_surface(flat), flat) is None
    bowl = tripled(x, y, x * x + y * y + noise)
    found = bends(fit_surface(bowl), bowl)
    assert found is not None
    assert found.share > 0.3
    x[7], y[7] = 4, 0
    odd = tripled(x, y, np.where(np.arange(200) == 7, -9, x + y + noise))
    pulling = pulls(fit_surface(odd), odd)
    assert pulling is not None
    assert (pulling.row, pulling.slope) == (7, 0)

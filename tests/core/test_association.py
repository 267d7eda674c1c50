from __future__ import annotations

import math
from fractions import Fraction

import mpmath
import numpy as np
import pytest

from tests.core.reference import ANSCOMBE
from yarrowdew.core.association import pearson
from yarrowdew.core.sample import paired


@pytest.mark.parametrize("name", ANSCOMBE)
def test_r_against_exact_fractions(name: str) -> None:
    x, y = ([Fraction(str(v)) for v in values] for values in ANSCOMBE[name])
    mx, my = sum(x) / 11, sum(y) / 11
    sxy = sum((v - mx) * (w - my) for v, w in zip(x, y, strict=True))
    square = sxy**2 / (sum((v - mx) ** 2 for v in x) * sum((w - my) ** 2 for w in y))
    assert pearson(paired(*ANSCOMBE[name])).r == pytest.approx(math.sqrt(square), rel=1e-13)


def test_interval_and_p_value_against_high_precision() -> None:
    found = pearson(paired(*ANSCOMBE["I"]), level=0.95)
    with mpmath.workdps(30):
        r = mpmath.mpf(found.r)
        z = mpmath.sqrt(2) * mpmath.erfinv(mpmath.mpf("0.95")) / mpmath.sqrt(8)
        low, high = (mpmath.tanh(mpmath.atanh(r) + sign * z) for sign in (-1, 1))
        t2 = r * r * 9 / (1 - r * r)
        p = mpmath.betainc(4.5, 0.5, 0, 9 / (9 + t2), regularized=True)
    assert found.low == pytest.approx(float(low), rel=1e-9)
    assert found.high == pytest.approx(float(high), rel=1e-9)
    assert found.p_value == pytest.approx(float(p), rel=1e-9)


def test_neither_shift_nor_scale_changes_r() -> None:
    x, y = (np.array(v, dtype=float) for v in ANSCOMBE["II"])
    r = pearson(paired(x, y)).r
    assert pearson(paired(1e200 * x, 1e-200 * y + 0)).r == pytest.approx(r, rel=1e-12)
    assert pearson(paired(7 - x, y)).r == pytest.approx(-r, rel=1e-12)


def test_what_does_not_exist_is_none() -> None:
    assert pearson(paired([1, 2, 3], [4, 4, 4])).r is None
    assert pearson(paired([1, 2], [4, 5])).r is None
    three = pearson(paired([1, 2, 3], [1, 2, 4]))
    assert three.r is not None
    assert (three.low, three.high) == (None, None)


def test_points_on_a_line_correlate_fully() -> None:
    found = pearson(paired([1, 2, 3, 4], [2, 4, 6, 8]))
    assert (found.r, found.low, found.high, found.p_value) == (1, 1, 1, 0)

"""Surfaces through rows that are never together: the same as of all rows, from three looks."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
import scipy

from yarrowdew.core.aggregates.aggregation import Group, Total
from yarrowdew.core.aggregates.numbers import NumberSums
from yarrowdew.core.aggregates.triples import (
    Centred,
    Powers,
    SurfaceAggregation,
    SurfaceSums,
    TripleNumbers,
    TripleNumbersAggregation,
)
from yarrowdew.core.arithmetic import beyond, computed
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array
from yarrowdew.core.surfaces.surface import (
    Degree,
    Scaling,
    SurfaceFit,
    check_enough,
    check_spread,
    condition_of,
    powers_of,
    surface_named,
    tips,
)

_SINGULAR = 1e-7
"""Sums of squares tell less finely than rows how freely a surface could tip."""


@dataclass(frozen=True, slots=True)
class SurfaceRequest:
    """Which surface is wanted.

    Attributes
    ----------
    x, y, z : str
    by : str or None
    near : tuple of float
        A value of each from among the rows.
    degree : {1, 2}
    """

    x: str
    y: str
    z: str
    by: str | None
    near: tuple[float, float, float]
    degree: Degree = 1


@dataclass(frozen=True, slots=True)
class ChunkedSurface:
    """A surface of the whole or of one group, or why there is none."""

    numbers: TripleNumbers
    fit: SurfaceFit | None
    problem: str | None = None

    @property
    def n(self) -> int:
        """How many rows have all three numbers."""
        return self.numbers.of[0].n


def fit_surfaces_chunked(total: Total, asked: SurfaceRequest) -> dict[Group, ChunkedSurface]:
    """Fit a surface to rows that come in parts, for the whole or for each group; see
    `fit_surface`.
    """
    first = TripleNumbersAggregation(asked.x, asked.y, asked.z, asked.by, near=asked.near)
    numbers = total(first).groups
    problems: dict[Group, str] = {}
    about: dict[Group, Centred] = {}
    for group, each in numbers.items():
        try:
            about[group] = _centred(each, asked.degree)
        except FitError as error:
            problems[group] = str(error)
    ask = SurfaceAggregation(asked.x, asked.y, asked.z, asked.by, *_columns(asked.degree), about)
    sums: Mapping[Group, SurfaceSums] = total(ask).groups if about else {}
    known: dict[Group, Centred] = {}
    for group, one in sums.items():
        try:
            with computed(surface_named(asked.degree)):
                inner = _solved(one, asked.degree)[0]
            known[group] = replace(about[group], known=tuple(float(v) for v in inner))
        except FitError as error:
            problems[group] = str(error)
    found: dict[Group, SurfaceFit] = {}
    again: Mapping[Group, SurfaceSums] = total(replace(ask, about=known)).groups if known else {}
    for group, one in again.items():
        try:
            with computed(surface_named(asked.degree)):
                found[group] = _fit(numbers[group], sums[group], one, asked.degree)
        except FitError as error:
            problems[group] = str(error)
    return {
        group: ChunkedSurface(one, found.get(group), problems.get(group))
        for group, one in numbers.items()
    }


def _columns(degree: Degree) -> tuple[Powers, Powers]:
    """The powers of the surface's columns, and of their products."""
    products = tuple((i, t - i) for t in range(2 * degree + 1) for i in range(t, -1, -1))
    return tuple(powers_of(degree)), products


def _centred(one: TripleNumbers, degree: Degree) -> Centred:
    """About which middles sums are taken.

    Raises
    ------
    FitError
        If there are too few rows, or a number does not vary, or they are beyond adding up.
    """
    check_enough(one.of[0].n, degree)
    x, y = (_scaling(number, degree) for number in one.of[:2])
    z = one.of[2].mean
    if z is None:
        raise beyond(surface_named(degree))
    return Centred(x, y, z)


def _scaling(number: NumberSums, degree: Degree) -> tuple[float, float]:
    varies = number.low < number.high
    check_spread(1.0 if varies else 0.0, number.low, degree)
    mean, sd = number.mean, number.sd
    if mean is None or sd is None:
        raise beyond(surface_named(degree))
    # Where the digits of the spread were lost, the range says enough of the unit.
    return mean, sd or (number.high / 2 - number.low / 2)


def _solved(sums: SurfaceSums, degree: Degree) -> tuple[Array, Array, Array, float]:
    """Coefficients of what is left of z, R, the products with the columns, and its squares."""
    powers, products = _columns(degree)
    held = sums.sums.rounded()
    of = dict(zip(products, held, strict=False))
    gram = np.array([[of[a + c, b + d] for c, d in powers] for a, b in powers])
    cross = held[len(products) : len(products) + len(powers)]
    try:
        r = scipy.linalg.cholesky(gram)
    except np.linalg.LinAlgError:
        raise tips(degree) from None
    diagonal = np.abs(np.diag(r))
    if float(diagonal.min()) < _SINGULAR * float(diagonal.max()):
        raise tips(degree)
    inner = scipy.linalg.solve_triangular(r, scipy.linalg.solve_triangular(r, cross, trans="T"))
    return inner, r, cross, float(held[-1])


def _fit(
    numbers: TripleNumbers, first: SurfaceSums, again: SurfaceSums, degree: Degree
) -> SurfaceFit:
    """The surface of the first look, with what the second found that it leaves."""
    powers, products = _columns(degree)
    more, r, cross, left = _solved(again, degree)
    inner = np.array(again.about.known) + more
    held = first.sums.exact()
    total = held[len(products)]
    sst = float(held[-1] - total * total / first.n)
    inner[0] += first.about.z
    x, y = (Scaling(0, *own) for own in (first.about.x, first.about.y))
    return SurfaceFit(
        degree=degree,
        n=first.n,
        x_range=(numbers.of[0].low, numbers.of[0].high),
        y_range=(numbers.of[1].low, numbers.of[1].high),
        sse=max(0.0, left - float(more @ cross)),
        sst=max(0.0, sst),
        condition=condition_of(_tie(first, products)),
        _x=x,
        _y=y,
        _z_exponent=0,
        _inner=inner,
        _inverse=scipy.linalg.solve_triangular(r, np.eye(len(powers))),
    )


def _tie(sums: SurfaceSums, products: Powers) -> float:
    """Correlation of the two columns of the floor."""
    held = dict(zip(products, sums.sums.exact(), strict=False))
    n = sums.n
    u, v = held[1, 0], held[0, 1]
    squares = [float(held[2, 0] - u * u / n), float(held[0, 2] - v * v / n)]
    return abs(float(held[1, 1] - u * v / n)) / math.sqrt(squares[0] * squares[1])

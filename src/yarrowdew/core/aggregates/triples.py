"""Three variables: the sums from which surfaces are made.

Sums are taken of powers of two numbers, centred and scaled, and of their products with what a
surface that is already known leaves of the third: about the first fit a second look has all digits.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Generic, TypeVar

import numpy as np

from yarrowdew.core.aggregates.aggregation import Group, Rows
from yarrowdew.core.aggregates.exact_sums import ExactSums, stretches
from yarrowdew.core.aggregates.numbers import NumberSums
from yarrowdew.core.aggregates.partials import Grouped, Partial
from yarrowdew.core.sample import Array

P = TypeVar("P", bound=Partial)
Powers = tuple[tuple[int, int], ...]
"""Of the first number and of the second."""


@dataclass(frozen=True, slots=True)
class TripleAggregation(Generic[P]):
    """Something of three variables, of each group by itself."""

    x: str
    y: str
    z: str
    by: str | None = None

    @property
    def numbers(self) -> Sequence[str]:
        """The variables."""
        return (self.x, self.y, self.z)

    @property
    def labels(self) -> Sequence[str]:
        """What tells groups apart."""
        return () if self.by is None else (self.by,)

    def _each(
        self, rows: Rows, made: Callable[[Group, tuple[Array, Array, Array]], P | None]
    ) -> Grouped[P]:
        parts = zip(*(rows.values_by(name, self.by) for name in self.numbers), strict=True)
        found = {one[0][0]: made(one[0][0], (one[0][1], one[1][1], one[2][1])) for one in parts}
        return Grouped({group: one for group, one in found.items() if one is not None})


@dataclass(frozen=True, slots=True)
class TripleNumbers:
    """Each of three variables in the rows in which all of them are there.

    Attributes
    ----------
    missing : int
        All other rows.
    of : tuple of NumberSums
    """

    missing: int
    of: tuple[NumberSums, NumberSums, NumberSums]

    def merge(self, other: TripleNumbers) -> TripleNumbers:
        """The same of these rows and of others."""
        x, y, z = (a.merge(b) for a, b in zip(self.of, other.of, strict=True))
        return TripleNumbers(self.missing + other.missing, (x, y, z))


@dataclass(frozen=True, slots=True)
class TripleNumbersAggregation(TripleAggregation[TripleNumbers]):
    """The first look, about values from among the others."""

    near: tuple[float, float, float] = (0.0, 0.0, 0.0)

    def of(self, rows: Rows) -> Grouped[TripleNumbers]:
        """Look."""

        def made(_: Group, values: tuple[Array, Array, Array]) -> TripleNumbers:
            there = np.logical_and.reduce([np.isfinite(v) for v in values])
            x, y, z = (
                NumberSums.of(v[there], pivot) for v, pivot in zip(values, self.near, strict=True)
            )
            return TripleNumbers(len(there) - x.n, (x, y, z))

        return self._each(rows, made)


@dataclass(frozen=True, slots=True)
class Centred:
    """About what, and in which units, a surface is worked out.

    Attributes
    ----------
    x, y : tuple of float
        The middle that is taken off, and the spread by which the rest is divided.
    z : float
        What is taken off the third number.
    known : tuple of float
        Coefficients of a surface whose values are taken off as well; none where empty.
    """

    x: tuple[float, float]
    y: tuple[float, float]
    z: float
    known: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True)
class SurfaceSums:
    """Sums over rows in which all three numbers are there.

    Attributes
    ----------
    about : Centred
    n : int
    sums : ExactSums
        Of every product of two columns of the surface, of each column times what is left of z, and
        of its squares.
    """

    about: Centred
    n: int
    sums: ExactSums

    @classmethod
    def of(
        cls, values: tuple[Array, Array, Array], about: Centred, powers: Powers, products: Powers
    ) -> SurfaceSums:
        """Add up rows, shape (rows,) each; NaN where missing."""
        there = np.logical_and.reduce([np.isfinite(v) for v in values])
        x, y, z = values if there.all() else (v[there] for v in values)
        sums = ExactSums.zero(len(products) + len(powers) + 1)
        for some in stretches(len(x)):
            u, v = (x[some] - about.x[0]) / about.x[1], (y[some] - about.y[0]) / about.y[1]
            made: dict[tuple[int, int], Array] = {(0, 0): np.ones(len(u))}
            for i, j in products[1:]:
                made[i, j] = made[i - 1, j] * u if i else made[i, j - 1] * v
            left = z[some] - about.z
            for value, power in zip(about.known, powers, strict=False):
                left -= value * made[power]
            numbers = [float(made[power].sum()) for power in products]
            numbers += [float(made[power] @ left) for power in powers]
            sums = sums.merge(ExactSums.of([*numbers, float(left @ left)]))
        return cls(about, len(x), sums)

    def merge(self, other: SurfaceSums) -> SurfaceSums:
        """The same of these rows and of others, about the same."""
        if self.about != other.about:
            raise ValueError("sums about different surfaces are not merged")
        return SurfaceSums(self.about, self.n + other.n, self.sums.merge(other.sums))


@dataclass(frozen=True, slots=True)
class SurfaceAggregation(TripleAggregation[SurfaceSums]):
    """Sums of each group about its own."""

    powers: Powers = ()
    products: Powers = ()
    about: Mapping[Group, Centred] = field(default_factory=dict)

    def of(self, rows: Rows) -> Grouped[SurfaceSums]:
        """Add up; of groups about which nothing is known nobody asks."""

        def made(group: Group, values: tuple[Array, Array, Array]) -> SurfaceSums | None:
            if group not in self.about:
                return None
            return SurfaceSums.of(values, self.about[group], self.powers, self.products)

        return self._each(rows, made)

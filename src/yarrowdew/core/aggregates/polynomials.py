"""The sums from which a polynomial is fitted to rows that come in parts.

Sums are taken of Chebyshev polynomials of x on a range that is given, and of their products with y.
Products of two are sums of two others, so that 2 d + 1 sums hold the whole matrix of normal
equations; on that range it is well conditioned. It is then made orthogonal in exact rational
arithmetic (Forsythe 1957), which loses no digits. Sums of y are of what a polynomial leaves that is
already known: where it leaves little, a second look about the first fit has all digits.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np

from yarrowdew.core.aggregates.exact_sums import ExactSums, stretches
from yarrowdew.core.aggregates.pair_sums import (
    MOST_DISTINCT,
    Ends,
    distinct_of,
    ends_of,
    merged_distinct,
    wider,
)
from yarrowdew.core.sample import Array

_LOST = 1e3
Known = tuple[float, ...]
"""Coefficients of Chebyshev polynomials, of a polynomial whose values are taken from y."""


@dataclass(frozen=True, slots=True)
class Orthogonal:
    """What a polynomial is made from; see `Polynomial`."""

    n: int
    x_range: Ends
    centre: float
    half: float
    shifts: tuple[float, ...]
    ratios: tuple[float, ...]
    norms: Array
    weights: Array
    sse: float
    sst: float


@dataclass(frozen=True, slots=True)
class PolynomialSums:
    """Of two variables, where both are there.

    Attributes
    ----------
    degree : int
    over : tuple of float
        Range of x on which the polynomials stand; it holds every x, and is not much wider.
    known : tuple of float
        What is taken from y.
    n, missing : int
    x_ends, y_ends : tuple of float
    distinct : tuple of float
        Up to `MOST_DISTINCT` different x.
    sums : ExactSums
        Of T₀ to T₂ₔ, of v T₀ to v Tₔ, and of v², where v is what is left of y.
    """

    degree: int
    over: Ends
    known: Known
    n: int
    missing: int
    x_ends: Ends
    y_ends: Ends
    distinct: tuple[float, ...]
    sums: ExactSums

    @classmethod
    def of(
        cls, x: Array, y: Array, degree: int, over: Ends, known: Known = (0.0,)
    ) -> PolynomialSums:
        """Summarise pairs, shape (rows,) each; NaN where missing."""
        there = np.isfinite(x) & np.isfinite(y)
        if not there.all():
            x, y = x[there], y[there]
        centre, half = _frame(over)
        sums = ExactSums.zero(3 * degree + 3)
        for some in stretches(len(x)):
            sums = sums.merge(_sums((x[some] - centre) / half, y[some], degree, known))
        return cls(
            degree,
            over,
            known,
            len(x),
            len(there) - len(x),
            ends_of(x),
            ends_of(y),
            distinct_of(x),
            sums,
        )

    def merge(self, other: PolynomialSums) -> PolynomialSums:
        """The same of these rows and of others."""
        if (self.degree, self.over, self.known) != (other.degree, other.over, other.known):
            raise ValueError("sums of different polynomials are not merged")
        return PolynomialSums(
            self.degree,
            self.over,
            self.known,
            self.n + other.n,
            self.missing + other.missing,
            wider(self.x_ends, other.x_ends),
            wider(self.y_ends, other.y_ends),
            merged_distinct(self.distinct, other.distinct),
            self.sums.merge(other.sums),
        )

    def orthogonal(self) -> Orthogonal:
        """What the fit is made from, where there are degree + 1 different x."""
        made = self._made()
        centre, half = _frame(self.over)
        known = [*map(Fraction, self.known)]
        weights = [
            (_within(known, p, made.gram) + left) / norm
            for p, left, norm in zip(made.basis, made.left, made.norms, strict=True)
        ]
        squares = made.vv + 2 * sum(k * vt for k, vt in zip(known, made.vt, strict=False))
        squares += _within(known, known, made.gram)
        total = made.vt[0] + _within(known, [Fraction(1)], made.gram)
        return Orthogonal(
            n=self.n,
            x_range=self.x_ends,
            centre=centre,
            half=half,
            shifts=tuple(map(float, made.shifts)),
            ratios=tuple(map(float, made.ratios)),
            norms=np.array([float(v) for v in made.norms]),
            weights=np.array([float(v) for v in weights]),
            sse=max(float(made.sse), 0.0),
            sst=max(float(squares - total * total / self.n), 0.0),
        )

    def better(self) -> Known | None:
        """What another look should take from y; None where no digits are to be won."""
        if self.n <= self.degree or len(self.distinct) < min(self.degree + 1, MOST_DISTINCT):
            return None
        if any(self.known):
            return None
        made = self._made()
        if made.vv <= _LOST * made.sse:
            return None
        out = [Fraction(0)] * (self.degree + 1)
        for p, left, norm in zip(made.basis, made.left, made.norms, strict=True):
            for k, c in enumerate(p):
                out[k] += c * left / norm
        return tuple(map(float, out))

    def _made(self) -> _Made:
        d = self.degree
        exact = self.sums.exact()
        gram, vt, vv = exact[: 2 * d + 1], exact[2 * d + 1 : 3 * d + 2], exact[-1]
        basis, shifts, ratios, norms = [[Fraction(1)]], [], [], [gram[0]]
        for k in range(d):
            now = basis[k]
            longer = _times_t(now)
            shifts.append(_within(longer, now, gram) / norms[k])
            ratios.append(norms[k] / norms[k - 1] if k else Fraction(0))
            for i, c in enumerate(now):
                longer[i] -= shifts[k] * c
            for i, c in enumerate(basis[k - 1] if k else ()):
                longer[i] -= ratios[k] * c
            basis.append(longer)
            norms.append(_within(longer, longer, gram))
        left = [sum((c * t for c, t in zip(p, vt, strict=False)), Fraction()) for p in basis]
        sse = vv - sum(v * v / norm for v, norm in zip(left, norms, strict=True))
        return _Made(gram, vt, vv, basis, shifts, ratios, norms, left, sse)


@dataclass(frozen=True, slots=True)
class _Made:
    gram: list[Fraction]
    vt: list[Fraction]
    vv: Fraction
    basis: list[list[Fraction]]
    shifts: list[Fraction]
    ratios: list[Fraction]
    norms: list[Fraction]
    left: list[Fraction]
    sse: Fraction


def _frame(over: Ends) -> Ends:
    low, high = over
    return low / 2 + high / 2, high / 2 - low / 2


def _chebyshev(t: Array, count: int) -> Iterator[Array]:
    before, now = t, np.ones_like(t)
    for _ in range(count):
        yield now
        before, now = now, (2 * t * now - before)


def _sums(t: Array, y: Array, degree: int, known: Known) -> ExactSums:
    polynomials = list(_chebyshev(t, 2 * degree + 1))
    v = y.copy()
    for k, p in zip(known, polynomials, strict=False):
        if k:
            v -= k * p
    numbers = [float(p.sum()) for p in polynomials]
    numbers += [float(v @ p) for p in polynomials[: degree + 1]]
    return ExactSums.of([*numbers, float(v @ v)])


def _within(a: Sequence[Fraction], b: Sequence[Fraction], gram: list[Fraction]) -> Fraction:
    """Sum over the rows of the product of two polynomials: Tⱼ Tₖ is half of Tⱼ₊ₖ + T|ⱼ₋ₖ|."""
    return sum(
        (
            p * q * (gram[i + j] + gram[abs(i - j)]) / 2
            for i, p in enumerate(a)
            for j, q in enumerate(b)
            if p and q
        ),
        Fraction(),
    )


def _times_t(p: Sequence[Fraction]) -> list[Fraction]:
    """Coefficients of t times a polynomial: t Tⱼ is half of Tⱼ₊₁ + T|ⱼ₋₁|."""
    out = [Fraction(0)] * (len(p) + 1)
    for j, c in enumerate(p):
        out[j + 1] += c / 2
        out[abs(j - 1)] += c / 2
    return out

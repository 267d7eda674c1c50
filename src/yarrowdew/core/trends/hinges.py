"""Sums of squares about straight pieces that meet, for any places where they are broken."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import scipy

from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.sample import Array

_PLACES_OF_ONE, _PLACES_OF_TWO = 2_000, 160
"""Among so many places in the data the search begins."""
_BEST = 4
_STEPS = 60


class RunningSums:
    """Sums of the rows to the right of any place, from which every sum of hinges comes.

    Attributes
    ----------
    u : ndarray
        The different values of x, scaled to lie within ±1, in order.
    """

    def __init__(self, u: Array, v: Array, w: Array | float) -> None:
        order = np.argsort(u, kind="stable")
        u, v = u[order], v[order]
        w = w[order] if isinstance(w, np.ndarray) else np.full_like(u, w)
        products = np.stack([w, w * u, w * u * u, w * v, w * u * v])
        self.u, first = np.unique(u, return_index=True)
        # To the right of the i-th value and at it: sums from its first row on.
        tails = np.cumsum(products[:, ::-1], axis=1)[:, ::-1][:, first]
        self._tails = np.concatenate([tails, np.zeros((5, 1))], axis=1)
        self._total = float(np.dot(w * v, v))
        self._known: dict[tuple[int, float], tuple[float | None, float | None]] = {}

    def sse(self, breaks: Array) -> Array:
        """Residual sums of squares for many sets of breaks.

        Parameters
        ----------
        breaks : ndarray, shape (m, k)
            In order within each set.
        """
        matrix, right = self._normal(np.atleast_2d(breaks))
        try:
            solved = np.linalg.solve(matrix, right[..., None])[..., 0]
        except np.linalg.LinAlgError:
            solved = np.einsum("mij,mj->mi", np.linalg.pinv(matrix), right)
        sse = self._total - np.einsum("mi,mi->m", right, solved)
        return np.maximum(np.where(np.isfinite(sse), sse, np.inf), 0.0)

    def least_sse(self, breaks: Array) -> float:
        """Residual sum of squares for one set of breaks."""
        return float(self.sse(breaks)[0])

    def _normal(self, breaks: Array) -> tuple[Array, Array]:
        m, k = breaks.shape
        whole = self._tails[:, 0]
        matrix, right = np.empty((m, k + 2, k + 2)), np.empty((m, k + 2))
        matrix[:, 0, 0], matrix[:, 0, 1], matrix[:, 1, 1] = whole[0], whole[1], whole[2]
        right[:, 0], right[:, 1] = whole[3], whole[4]
        tails = [
            self._tails[:, np.searchsorted(self.u, breaks[:, i], side="right")] for i in range(k)
        ]
        for i in range(k):
            t, (s0, s1, s2, sv, suv) = breaks[:, i], tails[i]
            matrix[:, 0, 2 + i] = s1 - t * s0
            matrix[:, 1, 2 + i] = s2 - t * s1
            matrix[:, 2 + i, 2 + i] = s2 - 2 * t * s1 + t * t * s0
            right[:, 2 + i] = suv - t * sv
            for j in range(i):
                # Both hinges are above zero to the right of the later one.
                other = breaks[:, j]
                matrix[:, 2 + j, 2 + i] = s2 - (t + other) * s1 + t * other * s0
        lower = np.tril_indices(k + 2, -1)
        matrix[:, lower[0], lower[1]] = np.swapaxes(matrix, 1, 2)[:, lower[0], lower[1]]
        return matrix, right

    def places(self, most: int) -> Array:
        """Places in the data between which a piece has two different values on either side."""
        inner = self.u[1:-1]
        if len(inner) <= most:
            return inner
        return inner[np.linspace(0, len(inner) - 1, most).astype(np.intp)]

    def ruled_out(
        self, breaks: Array, which: int, most: float
    ) -> tuple[float | None, float | None]:
        """Where to either side one break would leave residuals above a sum of squares.

        None where no place up to the edge of the data does.
        """
        key = (which, most)
        if key not in self._known:
            low, high = (
                self._crossed(breaks, which, most, float(edge)) for edge in (self.u[1], self.u[-2])
            )
            self._known[key] = (low, high)
        return self._known[key]

    def _crossed(self, breaks: Array, which: int, most: float, edge: float) -> float | None:
        tried = np.linspace(float(breaks[which]), edge, _STEPS)
        above = np.flatnonzero(self._profile(breaks, which, tried[1:]) > most)
        if not len(above):
            return None
        first = int(above[0])

        def off(place: float) -> float:
            return self._exact_profile(breaks, which, place) - most

        low, high = sorted((float(tried[first]), float(tried[first + 1])))
        if off(low) * off(high) > 0:
            # Between rows the other break fits in better than at any of them.
            return float(tried[first])
        return float(scipy.optimize.brentq(off, low, high, xtol=1e-9))

    def _profile(self, breaks: Array, which: int, places: Array) -> Array:
        """The least residual sums of squares with one break held at each of some places."""
        if len(breaks) == 1:
            return self.sse(places[:, None])
        others = np.append(self.places(_PLACES_OF_TWO), breaks[1 - which])
        held, other = (part.ravel() for part in np.meshgrid(places, others, indexing="ij"))
        apart = other > held if which == 0 else other < held
        sse = np.full(len(held), np.inf)
        sse[apart] = self.sse(np.sort(np.column_stack([held, other])[apart], axis=1))
        return np.asarray(sse.reshape(len(places), -1).min(axis=1))

    def _exact_profile(self, breaks: Array, which: int, place: float) -> float:
        """The same at one place, where the other break need not stand at a row."""
        if len(breaks) == 1:
            return self.least_sse(np.array([place]))
        others = np.append(self.places(_PLACES_OF_TWO), breaks[1 - which])
        apart = others[others > place] if which == 0 else others[others < place]
        if not len(apart):
            return np.inf
        sets = np.column_stack([np.full(len(apart), place), apart])
        sse = self.sse(np.sort(sets, axis=1))
        near = float(apart[np.argmin(sse)])
        return min(float(sse.min()), self._nearby(place, near, which))

    def _nearby(self, place: float, near: float, which: int) -> float:
        reach = 2.0 * 2 / _PLACES_OF_TWO
        low, high = near - reach, near + reach
        low, high = (max(low, place), high) if which == 0 else (low, min(high, place))
        found = scipy.optimize.minimize_scalar(
            lambda t: self.least_sse(np.sort(np.array([place, t]))),
            bounds=(low, high),
            method="bounded",
        )
        return float(found.fun)


def searched_breaks(sums: RunningSums, k: int) -> Array:
    """The best of all places, and of those between them."""
    if k == 1:
        places = sums.places(_PLACES_OF_ONE)[:, None]
    else:
        some = sums.places(_PLACES_OF_TWO)
        first, second = np.triu_indices(len(some), 2)
        places = np.column_stack([some[first], some[second]])
    checkpoint()
    sse = sums.sse(places)
    step = 2.0 / min(len(sums.u), _PLACES_OF_ONE if k == 1 else _PLACES_OF_TWO)
    best: tuple[float, Array] | None = None
    for i in np.argsort(sse, kind="stable")[:_BEST]:
        found = _descended(sums, places[i], step)
        if best is None or found[0] < best[0]:
            best = found
    assert best is not None  # noqa: S101 (there are enough different values)
    return best[1]


def _descended(sums: RunningSums, breaks: Array, step: float) -> tuple[float, Array]:
    """Move each break in turn for as long as that makes the residuals smaller."""
    breaks = breaks.astype(np.float64).copy()
    least = sums.least_sse(breaks)
    low, high = float(sums.u[1]), float(sums.u[-2])
    for _ in range(_STEPS):
        checkpoint()
        before = least
        for i in range(len(breaks)):
            ends = (
                max(breaks[i] - 2 * step, low if i == 0 else float(breaks[i - 1])),
                min(breaks[i] + 2 * step, high if i == len(breaks) - 1 else float(breaks[i + 1])),
            )
            least = _moved(sums, breaks, i, ends, least)
        if before - least <= 1e-12 * before:
            break
    return least, breaks


def _moved(
    sums: RunningSums, breaks: Array, i: int, ends: tuple[float, float], least: float
) -> float:
    """Move one break to the best place between two ends, rows being where slopes may jump."""
    inside = sums.u[(sums.u >= ends[0]) & (sums.u <= ends[1])]
    if len(inside) > 200:
        inside = inside[np.linspace(0, len(inside) - 1, 200).astype(np.intp)]
    tried = np.unique(np.concatenate([inside, np.linspace(*ends, 33)]))
    sets = np.repeat(breaks[None, :], len(tried), axis=0)
    sets[:, i] = tried
    sse = sums.sse(sets)
    near = int(np.argmin(sse))
    low, high = float(tried[max(near - 1, 0)]), float(tried[min(near + 1, len(tried) - 1)])

    def at(place: float) -> float:
        moved = breaks.copy()
        moved[i] = place
        return sums.least_sse(moved)

    options = [(float(sse[near]), float(tried[near]))]
    for part in ((low, float(tried[near])), (float(tried[near]), high)):
        if part[1] > part[0]:
            found = scipy.optimize.minimize_scalar(at, bounds=part, method="bounded")
            options.append((float(found.fun), float(found.x)))
    best, place = min(options)
    if best < least:
        breaks[i] = place
        return best
    return least


def exact_breaks(sums: RunningSums, u: Array, v: Array, w: Array | float, breaks: Array) -> Array:
    """Where unconnected lines meet, if that is in the stretches that were found."""
    ends = [-np.inf, *breaks.tolist(), np.inf]
    lines = []
    for low, high in pairwise(ends):
        own = (u > low) & (u <= high)
        root = np.sqrt(w[own]) if isinstance(w, np.ndarray) else np.ones(int(own.sum()))
        if own.sum() < 2 or np.ptp(u[own]) == 0:
            return breaks
        columns = np.column_stack([root, root * u[own]])
        lines.append(np.linalg.lstsq(columns, root * v[own], rcond=None)[0])
    out = []
    for (a, b), (c, d) in pairwise(lines):
        if b == d:
            return breaks
        out.append((a - c) / (d - b))
    met = np.array(out)
    same = np.searchsorted(sums.u, met, side="right") == np.searchsorted(
        sums.u, breaks, side="right"
    )
    return met if same.all() and (np.diff(met) > 0).all() else breaks

"""Sums of squares about straight pieces that meet, for any places where they are broken."""

from __future__ import annotations

from functools import partial
from itertools import pairwise, product

import numpy as np
import numpy.typing as npt
import scipy

from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.sample import Array

_PLACES_OF_ONE, _PLACES_OF_TWO = 2_000, 160
"""Among so many places in the data the search begins."""
_BEST = 6
_STEPS = 60
_PLACES_NEAR = 32
_MIXED, _SHARES = 2_000, (0.0, 0.25, 0.5, 0.75)
"""Of so many sets of breaks at most, those between rows are tried along."""


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
        first = np.flatnonzero(np.r_[True, u[1:] != u[:-1]])
        self.u = u[first]
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

    def meeting(self, at: npt.NDArray[np.intp]) -> Array:
        """Where unconnected lines through the stretches of rows between two breaks meet.

        Parameters
        ----------
        at : ndarray of int, shape (m, k)
            Numbers of the last different x to the left of each break, ascending in each set.
        """
        ends = [np.zeros(len(at), np.intp), *(at + 1).T, np.full(len(at), len(self.u))]
        lines = []
        with np.errstate(all="ignore"):
            for first, last in pairwise(ends):
                s0, s1, s2, sv, suv = self._tails[:, first] - self._tails[:, last]
                of = s0 * s2 - s1 * s1
                lines.append(((s2 * sv - s1 * suv) / of, (s0 * suv - s1 * sv) / of))
            met = [(a - c) / (d - b) for (a, b), (c, d) in pairwise(lines)]
        return np.stack(met, axis=1)

    def numbers(self, low: float, high: float, most: int) -> npt.NDArray[np.intp]:
        """Numbers of the different x between two, at most so many, evenly among them.

        The first and the last are not among them: beyond them there is no piece.
        """
        first, last = np.searchsorted(self.u, [low, high], side="left")
        inside = np.arange(max(int(first) - 1, 1), min(int(last), len(self.u) - 2) + 1)
        if len(inside) <= most:
            return inside
        return inside[np.linspace(0, len(inside) - 1, most).astype(np.intp)]

    def places(self, most: int) -> Array:
        """Places in the data between which a piece has two different values on either side."""
        return self.u[self.numbers(-np.inf, np.inf, most)]

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


def searched_breaks(sums: RunningSums, k: int, *, shortly: bool = False) -> Array:
    """The best of all places, and of those between them; `shortly` among fewer of them."""
    most = _PLACES_OF_ONE if k == 1 else _PLACES_OF_TWO // (4 if shortly else 1)
    tried = _candidates(sums, [sums.numbers(-np.inf, np.inf, most)] * k)
    checkpoint()
    tried = tried[np.argsort(sums.sse(tried), kind="stable")]
    reach = 4.0 / min(len(sums.u), most)
    best: list[Array] = []
    while len(tried) and len(best) < (2 if shortly else _BEST):
        best.append(_breaks_near(sums, tried[0], reach))
        # Those that lead to the same minimum need not be tried.
        tried = tried[np.abs(tried - tried[0]).max(axis=1) > reach]
    return min(best, key=sums.least_sse)


def _candidates(sums: RunningSums, numbers: list[npt.NDArray[np.intp]]) -> Array:
    """Sets of breaks at rows, and where lines meet that are broken there, shape (m, k)."""
    at = np.stack([part.ravel() for part in np.meshgrid(*numbers)], axis=1)
    at = at[(np.diff(at, axis=1) > 0).all(axis=1)]
    met = sums.meeting(at)
    inside = (met >= sums.u[1]) & (met <= sums.u[-2])
    met = met[inside.all(axis=1) & (np.diff(met, axis=1) > 0).all(axis=1)]
    if at.shape[1] == 1 or len(at) > _MIXED:
        return np.concatenate([sums.u[at], met])
    # One break may stand at a row while the other lies between two.
    gaps = np.diff(sums.u)[at]
    shares = np.array(list(product(_SHARES, repeat=at.shape[1])))
    mixed = (sums.u[at] + shares[:, None, :] * gaps).reshape(-1, at.shape[1])
    return np.concatenate([mixed, met])


def _breaks_near(sums: RunningSums, breaks: Array, reach: float) -> Array:
    """The best breaks within reach of others.

    All breaks are moved together, among places that come to hold every row about them.
    """
    most = _PLACES_OF_ONE if len(breaks) == 1 else _PLACES_NEAR
    for _ in range(_STEPS):
        checkpoint()
        near = [sums.numbers(t - reach, t + reach, most) for t in breaks.tolist()]
        sets = np.concatenate([_candidates(sums, near), breaks[None, :]])
        found = sets[int(np.argmin(sums.sse(sets)))]
        is_thinned = any(len(part) == most for part in near)
        if not is_thinned and (found == breaks).all():
            break
        breaks = found
        reach = reach / 4 if is_thinned else reach
    return breaks


def _polished(sums: RunningSums, breaks: Array) -> Array:
    """Move each break in turn within the stretches beside it, for as long as that helps."""
    breaks, least = breaks.copy(), sums.least_sse(breaks)
    for _ in range(_STEPS):
        checkpoint()
        before = least
        for i in range(len(breaks)):
            place = int(np.searchsorted(sums.u, breaks[i]))
            before_it = float(breaks[i - 1]) if i else -np.inf
            after_it = float(breaks[i + 1]) if i + 1 < len(breaks) else np.inf
            rows = sums.u[max(place - 1, 1) : min(place + 2, len(sums.u) - 1)]
            for left, right in pairwise(rows.tolist()):
                low, high = max(left, before_it), min(right, after_it)
                if not low < high:
                    continue
                found = scipy.optimize.minimize_scalar(
                    partial(_moved_sse, sums, breaks, i), bounds=(low, high), method="bounded"
                )
                if found.fun < least:
                    least, breaks[i] = float(found.fun), float(found.x)
        if before - least <= 1e-12 * before:
            break
    return breaks


def _moved_sse(sums: RunningSums, breaks: Array, i: int, place: float) -> float:
    moved = breaks.copy()
    moved[i] = place
    return sums.least_sse(moved)


def settled_breaks(sums: RunningSums, u: Array, v: Array, w: Array | float, breaks: Array) -> Array:
    """Breaks that were searched for, exactly.

    The least sum of squares lies at a row, or where unconnected lines meet between two (Hudson
    1966); both stretches beside each row are tried.
    """
    sides = np.meshgrid(*([t, np.nextafter(t, -np.inf)] for t in breaks))
    met = [
        found
        for side in zip(*(part.ravel() for part in sides), strict=True)
        if (found := _exact_breaks(sums, u, v, w, np.array(side))) is not None
    ]
    if met:
        return min([breaks, *met], key=sums.least_sse)
    return _polished(sums, breaks)


def _exact_breaks(
    sums: RunningSums, u: Array, v: Array, w: Array | float, breaks: Array
) -> Array | None:
    """Where unconnected lines meet; None if that is not in the stretches that were found."""
    ends = [-np.inf, *breaks.tolist(), np.inf]
    lines = []
    for low, high in pairwise(ends):
        own = (u > low) & (u <= high)
        root = np.sqrt(w[own]) if isinstance(w, np.ndarray) else np.ones(int(own.sum()))
        if own.sum() < 2 or np.ptp(u[own]) == 0:
            return None
        columns = np.column_stack([root, root * u[own]])
        lines.append(np.linalg.lstsq(columns, root * v[own], rcond=None)[0])
    out = []
    for (a, b), (c, d) in pairwise(lines):
        if b == d:
            return None
        out.append((a - c) / (d - b))
    met = np.array(out)
    same = np.searchsorted(sums.u, met, side="right") == np.searchsorted(
        sums.u, breaks, side="right"
    )
    return met if same.all() and (np.diff(met) > 0).all() else None

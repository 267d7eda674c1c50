"""Where the search for a curve's coefficients begins, when nobody says.

Coefficients that enter linearly are projected out (Golub and Pereyra 1973): for any values of the
others their best values are a linear least-squares problem. The others are tried at many places,
scattered over what their units make likely; those with the least residuals are where descents
begin.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from itertools import combinations

import numpy as np

from yarrowdew.core.checkpoints import checkpoint
from yarrowdew.core.expressions.calculus import names_of, value_of
from yarrowdew.core.expressions.printing import CONSTANTS
from yarrowdew.core.expressions.tree import Node
from yarrowdew.core.sample import Array, Sample

_TRIED, _AT_ONCE, _KEPT = 6144, 512, 14
_ROWS = 200
_SEED = 20310401
Ends = Callable[[str], tuple[float, float]]
"""From a parameter to the ends between which it lies."""


def linear_among(slopes: Mapping[str, Node]) -> tuple[str, ...]:
    """Find the most parameters in which a formula is linear together.

    Parameters
    ----------
    slopes : mapping of str to Node
        For every parameter the derivative of the formula by it.
    """
    speaks_of = {
        name: {one.text for one in names_of(slope)} & set(slopes) for name, slope in slopes.items()
    }
    able = [name for name in slopes if name not in speaks_of[name]]
    for count in range(len(able), 0, -1):
        for some in combinations(able, count):
            if not any(speaks_of[name] & set(some) for name in some):
                return some
    return ()


def starting_values(
    sample: Sample,
    curve: Node,
    slopes: Mapping[str, Node],
    *,
    across: str,
    given: Mapping[str, float],
    units: Mapping[str, tuple[float, float]],
    ends: Ends,
) -> list[Array]:
    """Find places to begin from, the most promising first.

    Parameters
    ----------
    sample : Sample
    curve : Node
        Of y.
    slopes : mapping of str to Node
        Its derivatives by every parameter, in their order.
    across : str
        The name that is x.
    given : mapping of str to float
        Parameters whose values are known.
    units : mapping
        See `yarrowdew.core.expressions.units.units_of`.
    ends : callable

    Returns
    -------
    list of ndarray, shape (parameters,)
    """
    some = _spread_out(sample)
    fitted = [name for name in slopes if name not in given]
    linear = [name for name in linear_among({n: slopes[n] for n in fitted}) if ends(name) == _OPEN]
    searched = [name for name in fitted if name not in linear]
    draw = np.random.default_rng(_SEED)
    tries = _TRIED if searched else 1
    places = {name: _likely(draw, tries, some, units.get(name), ends(name)) for name in searched}
    found: list[tuple[float, dict[str, float]]] = []
    for start in range(0, tries, _AT_ONCE):
        checkpoint()
        part = {name: values[start : start + _AT_ONCE] for name, values in places.items()}
        found += _tried(some, curve, slopes, across=across, given=given, part=part, linear=linear)
    found.sort(key=lambda one: one[0])
    return [
        np.array([{**given, **values}[name] for name in slopes])
        for _, values in _apart(found, searched)
    ]


_OPEN = (-np.inf, np.inf)


def _spread_out(sample: Sample) -> Sample:
    """Rows evenly from left to right; the least and the greatest y are among them."""
    if sample.n <= _ROWS:
        return sample
    order = np.argsort(sample.x, kind="stable")
    kept = order[np.linspace(0, sample.n - 1, _ROWS).astype(np.intp)]
    kept = np.append(kept, [int(np.argmin(sample.y)), int(np.argmax(sample.y))])
    return sample.take(kept)


def _likely(
    draw: np.random.Generator,
    count: int,
    sample: Sample,
    unit: tuple[float, float] | None,
    ends: tuple[float, float],
) -> Array:
    """Values that a parameter may have, by the unit that it is counted in."""
    width = float(np.ptp(sample.x)) or 1.0
    height = float(np.ptp(sample.y)) or 1.0
    far, high = float(np.abs(sample.x).max()) or 1.0, float(np.abs(sample.y).max()) or 1.0
    if unit is None:
        # Nothing is known of it: a bare number, or one over x.
        powers = draw.choice([0.0, 0.0, -1.0, 1.0], size=count)
        unit_x, unit_y = powers, np.zeros(count)
    else:
        unit_y, unit_x = np.full(count, unit[0]), np.full(count, unit[1])
    # Reaches and distances from zero are both sizes that a parameter may have.
    by_width = draw.random(count) < 0.6
    x_size = np.where(by_width, width, far)
    y_size = np.where(draw.random(count) < 0.6, height, high)
    decades = np.where(
        draw.random(count) < 0.5, draw.uniform(-1, 1, count), draw.normal(0, 2, count)
    )
    sign = np.where(draw.random(count) < 0.35, -1.0, 1.0)
    values = sign * y_size**unit_y * x_size**unit_x * 10.0**decades
    for of, axis in (((0.0, 1.0), sample.x), ((1.0, 0.0), sample.y)):
        if unit == of:
            # A place on an axis.
            low, reach = float(axis.min()), float(np.ptp(axis))
            within = low + reach * draw.uniform(-0.25, 1.25, count)
            values = np.where(draw.random(count) < 0.5, within, values)
    return _between(draw, values, *ends)


def _between(draw: np.random.Generator, values: Array, low: float, high: float) -> Array:
    """Values that lie outside of two ends are brought within."""
    if np.isfinite(low) and np.isfinite(high):
        other = low + (high - low) * draw.random(len(values))
    elif np.isfinite(low):
        other = low + np.abs(values - low)
    else:
        other = high - np.abs(values - high)
    return np.where((values > low) & (values < high), values, other)


def _tried(
    sample: Sample,
    curve: Node,
    slopes: Mapping[str, Node],
    *,
    across: str,
    given: Mapping[str, float],
    part: Mapping[str, Array],
    linear: Sequence[str],
) -> list[tuple[float, dict[str, float]]]:
    """Residual sums of squares at many places, with the linear parameters at their best."""
    count = len(next(iter(part.values()), np.zeros(1)))
    names = (
        {name: values[:, None] for name, values in part.items()}
        | {name: np.full((1, 1), value) for name, value in given.items()}
        | {name: np.zeros((1, 1)) for name in linear}
        | {name: np.full((1, 1), value) for name, value in CONSTANTS.items() if name not in slopes}
        | {across: sample.x[None, :]}
    )
    root = 1.0 if sample.weights is None else np.sqrt(sample.weights / sample.weights.mean())
    shape = (count, sample.n)
    memory: dict[int, tuple[Node, object]] = {}
    with np.errstate(all="ignore"):
        y = root * (sample.y - np.broadcast_to(value_of(curve, names, memory), shape))
        columns = [
            root * np.broadcast_to(value_of(slopes[name], names, memory), shape) for name in linear
        ]
        basis = np.stack(columns, axis=-1) if columns else np.zeros((*shape, 0))
        lengths = np.sqrt((basis * basis).sum(axis=1))
        good = np.isfinite(y).all(axis=1) & np.isfinite(lengths).all(axis=1)
    places = np.flatnonzero(good)
    if not len(places):
        return []
    # What a parameter has no part in leaves it where it is.
    lengths = np.where(lengths > 0, lengths, 1.0)
    basis, y, lengths = basis[places] / lengths[places][:, None, :], y[places], lengths[places]
    q, r = np.linalg.qr(basis)
    projected = np.einsum("snl,sn->sl", q, y)
    left = y - np.einsum("snl,sl->sn", q, projected)
    sse = np.einsum("sn,sn->s", left, left)
    order = np.argsort(sse, kind="stable")[: 4 * _KEPT]
    out = []
    for i in order:
        best = np.linalg.lstsq(r[i], projected[i], rcond=1e-12)[0] / lengths[i]
        values = {name: float(column[places[i]]) for name, column in part.items()}
        values |= dict(zip(linear, best.tolist(), strict=True))
        out.append((float(sse[i]), values))
    return out


def _apart(
    found: Sequence[tuple[float, dict[str, float]]], searched: Sequence[str]
) -> list[tuple[float, dict[str, float]]]:
    """The best, none of which is next to a better one."""
    kept: list[tuple[float, dict[str, float]]] = []
    for sse, values in found:
        near = any(
            all(abs(values[n] - other[n]) <= 0.05 * abs(other[n]) for n in searched)
            for _, other in kept
        )
        if not near:
            kept.append((sse, values))
        if len(kept) >= _KEPT:
            break
    return kept

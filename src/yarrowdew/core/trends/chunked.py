"""Trends of rows that are never together: fitted from sums over parts, or to a sample of the
rows.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from contextlib import suppress
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from yarrowdew.core.aggregates.aggregation import (
    Group,
    PairsAggregation,
    PolynomialsAggregation,
    ResidualAggregation,
    RowsAggregation,
    Together,
    TogetherAggregation,
    Total,
)
from yarrowdew.core.aggregates.pair_sums import PairSums, Pivot
from yarrowdew.core.aggregates.partials import Grouped
from yarrowdew.core.aggregates.polynomials import PolynomialSums
from yarrowdew.core.aggregates.sampling import RowSample
from yarrowdew.core.arithmetic import computed
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Sample
from yarrowdew.core.trends.base import TrendFit
from yarrowdew.core.trends.family import Family, FromSums
from yarrowdew.core.trends.registry import check_fit, fit_trend

SAMPLED_ROWS = 100_000
"""A family that has no sums is fitted to so many rows of each group at most."""

_MOST_LOOKS = 3
"""One finds the means, one the line, and one has all digits of what it leaves."""


@dataclass(frozen=True, slots=True)
class ChunkedFit:
    """A trend of the whole or of one group.

    Attributes
    ----------
    sums : PairSums
        Of its two variables as they are.
    fit : TrendFit or None
    problem : str
        Why there is none.
    sampled : int or None
        How many rows it was fitted to, where these are a sample.
    """

    sums: PairSums
    fit: TrendFit | None
    problem: str = ""
    sampled: int | None = None


@dataclass(frozen=True, slots=True)
class ChunkedRequest:
    """Between which variables a trend is fitted, and to which groups.

    Attributes
    ----------
    x, y : str
    by : str or None
    near : tuple of float
        An x and a y from among the rows, about which sums are taken at first.
    """

    x: str
    y: str
    by: str | None
    near: tuple[float, float]


def fit_chunked(
    total: Total, asked: ChunkedRequest, family: Family[Any], settings: Any = None
) -> dict[Group, ChunkedFit]:
    """Fit a trend to rows that come in parts, for the whole or for each group.

    Families whose `from_sums` says how are fitted exactly, in one look at the rows, and in a second
    where the first shows that digits were lost, or the form asks for one. Others are fitted to a
    sample of `SAMPLED_ROWS`, which their intervals speak of.

    Parameters
    ----------
    total : callable
        See `Total`.
    asked : ChunkedRequest
    family : Family
    settings : dataclass, optional

    Returns
    -------
    dict
        By group, with its problem where it cannot be fitted.
    """
    settings = family.settings() if settings is None else settings
    way = family.from_sums
    if way is None or not way.offered(settings):
        return _sampled(total, asked, family, settings)
    raw = _pairs(asked, "")
    with computed(family.with_article):
        if way.degree is not None:
            sums = total(raw).groups
            found = _polynomials(
                total,
                asked,
                family,
                settings,
                sums,
                degree=way.degree(settings),
                fit=lambda one: way.fit(one, settings),
            )
        elif way.logged:
            first = total(TogetherAggregation((raw, _pairs(asked, way.logged))))
            sums, logged = (part.groups for part in first.parts)
            better = _residual_pass(total, asked, way, settings, logged)
            found = _each(family, sums, lambda group: way.fit(better[group], settings))
            if way.logged != "x":
                found = _on_y(total, asked, family, found)
        else:
            sums = total(raw).groups
            better = _residual_pass(total, asked, way, settings, sums)
            found = _each(family, sums, lambda group: way.fit(better[group], settings))
        return {group: _checked(one, family) for group, one in found.items()}


def _pairs(asked: ChunkedRequest, logged: Any) -> PairsAggregation:
    with np.errstate(all="ignore"):
        x, y = (
            float(np.log(near)) if taken and near > 0 else near
            for near, taken in zip(
                asked.near, (logged in ("x", "both"), logged in ("y", "both")), strict=True
            )
        )
    return PairsAggregation(asked.x, asked.y, asked.by, pivot=Pivot(x, y), logged=logged)


Sums = Mapping[Group, PairSums]


def _residual_pass(
    total: Total, asked: ChunkedRequest, way: FromSums[Any], settings: Any, sums: Sums
) -> Sums:
    """The same sums, about pivots that keep all digits, of those groups that lost some."""
    for _ in range(_MOST_LOOKS):
        own: dict[Group, Pivot] = {}
        for group, one in sums.items():
            # What cannot be worked out is said when the line is made.
            with suppress(ArithmeticError, FitError):
                better = one.better(way.intercept(settings))
                if better is not None:
                    own[group] = better
        if not own:
            break
        pivot = Pivot(*asked.near)
        again = total(
            PairsAggregation(asked.x, asked.y, asked.by, pivot=pivot, own=own, logged=way.logged)
        ).groups
        sums = {group: again[group] if group in own else one for group, one in sums.items()}
    return sums


def _each(family: Family[Any], sums: Sums, fit: Any) -> dict[Group, ChunkedFit]:
    """Fit every group; what cannot be fitted says why."""
    out = {}
    for group, one in sums.items():
        try:
            with computed(family.with_article):
                out[group] = ChunkedFit(one, fit(group))
        except FitError as error:
            out[group] = ChunkedFit(one, None, str(error))
    return out


def _polynomials(
    total: Total,
    asked: ChunkedRequest,
    family: Family[Any],
    settings: Any,
    sums: Sums,
    *,
    degree: int,
    fit: Callable[[PolynomialSums], TrendFit],
) -> dict[Group, ChunkedFit]:
    ask = PolynomialsAggregation(
        asked.x,
        asked.y,
        asked.by,
        degree=degree,
        over={group: one.x_ends for group, one in sums.items() if one.varies},
    )
    found = dict(total(ask).groups) if ask.over else {}
    known = {group: better for group, one in found.items() if (better := one.better()) is not None}
    if known:
        over = {group: ask.over[group] for group in known}
        found |= total(replace(ask, over=over, known=known)).groups
    # A group without a range has too few different x, whatever the degree.
    return _each(
        family,
        sums,
        lambda group: (
            fit(found[group]) if group in found else family.fit(_alike(sums[group]), settings)
        ),
    )


def _alike(sums: PairSums) -> Sample:
    """A few rows that are as wanting as all of them: for the sentence that says what is missing."""
    x = np.full(min(sums.n, SAMPLED_ROWS), sums.x_ends[0])
    return Sample(x, x, None, np.arange(len(x)))


def _on_y(
    total: Total, asked: ChunkedRequest, family: Family[Any], found: dict[Group, ChunkedFit]
) -> dict[Group, ChunkedFit]:
    """Take the sums of squares of curves that were fitted on ln y, on the scale of y."""
    fits = {group: one.fit for group, one in found.items() if one.fit is not None}
    if not fits:
        return found
    ask = ResidualAggregation(
        asked.x,
        asked.y,
        asked.by,
        curves={group: fit.predict for group, fit in fits.items()},
        pivots={group: found[group].sums.line().pivot_y for group in fits},
    )
    left = total(ask).groups

    def on_y(fit: Any, group: Group) -> TrendFit:
        made: TrendFit = replace(fit, sse=left[group].sse, sst=left[group].sst)
        return made

    return {
        group: replace(one, fit=on_y(one.fit, group)) if group in fits else one
        for group, one in found.items()
    }


def _sampled(
    total: Total, asked: ChunkedRequest, family: Family[Any], settings: Any
) -> dict[Group, ChunkedFit]:
    rows = RowsAggregation((asked.x, asked.y), SAMPLED_ROWS, asked.by)
    together: Together = total(TogetherAggregation((_pairs(asked, ""), rows)))
    sums: Grouped[PairSums]
    samples: Grouped[RowSample]
    sums, samples = together.parts
    out = {}
    for group, one in sums.groups.items():
        drawn = samples.groups[group]
        x, y = (np.asarray(drawn.columns[name], dtype=np.float64) for name in (asked.x, asked.y))
        sampled = len(x) if len(x) < one.n else None
        try:
            fit = fit_trend(Sample(x, y, None, np.arange(len(x))), family.name, settings)
            out[group] = ChunkedFit(one, fit, sampled=sampled)
        except FitError as error:
            out[group] = ChunkedFit(one, None, str(error), sampled)
    return out


def _checked(one: ChunkedFit, family: Family[Any]) -> ChunkedFit:
    if one.fit is None:
        return one
    try:
        with computed(family.with_article):
            check_fit(one.fit, f"This {family.label}")
    except FitError as error:
        return replace(one, fit=None, problem=str(error))
    return one

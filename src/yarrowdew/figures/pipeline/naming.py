"""Which points of a figure are named, and how."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import polars as pl

from yarrowdew.core.mahalanobis import distance_from_middle
from yarrowdew.core.sample import Array
from yarrowdew.figures.pipeline.axis_values import amounts_of
from yarrowdew.figures.pipeline.points import Points
from yarrowdew.figures.pipeline.readings import Reading
from yarrowdew.figures.wire.base import OnWire
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import as_text
from yarrowdew.tables.table import Table

MOST_NAMES = 2_000
LONGEST_MARKER = 12
MOST_MARKERS = 5_000


class NamesAnswer(OnWire):
    """Labels of points, the most important first."""

    rows: list[int]
    """Numbers of the rows that are named."""
    texts: list[str]


@dataclass(frozen=True, slots=True)
class Markers:
    """Short texts used as markers.

    Attributes
    ----------
    texts : list of str
        Each once.
    codes : ndarray of uint16, shape (rows,)
        Place in `texts`; `Markers.NONE` where a row has none.
    """

    texts: list[str]
    codes: np.ndarray

    NONE = 65_535


def markers_of(table: Table, name: str) -> Markers:
    """Take a variable's values as markers; longer ones are cut.

    Raises
    ------
    TableError
        If it has more distinct values than can be told apart.
    """
    variable = table.variable(name)
    short = pl.col("text").str.strip_chars()
    cut = short.str.head(LONGEST_MARKER - 1) + "…"
    words = as_text(table.frame[variable.name]).alias("text").to_frame()
    trimmed = pl.when(short.str.len_chars() > LONGEST_MARKER).then(cut).otherwise(short)
    texts = words.select(trimmed.alias("text")).get_column("text").replace("", None)
    distinct = texts.drop_nulls().unique(maintain_order=True)
    if len(distinct) > MOST_MARKERS:
        raise TableError(
            f"'{variable.name}' has {len(distinct):,} different values, too many for markers.",
            f"Choose a variable with at most {MOST_MARKERS:,}.",
            column=variable.name,
        )
    places = pl.int_range(len(distinct), dtype=pl.UInt16, eager=True)
    codes = texts.replace_strict(distinct, places, default=Markers.NONE, return_dtype=pl.UInt16)
    return Markers(distinct.to_list(), codes.to_numpy())


def names_of(
    points: Points, drawn: np.ndarray, off_trend: Callable[[], Array | None], *more: Array
) -> NamesAnswer | None:
    """Choose the points that are named, and say their names; rows without a name have none.

    Parameters
    ----------
    points : Points
    drawn : ndarray of intp, shape (marks,)
        Places of the points that are drawn.
    off_trend : callable
        How far each point lies off its trend; None where there is none.
    *more : ndarray, shape (points,)
        Values on further axes than two.
    """
    names = points.document.names
    if names is None:
        return None
    variable = points.table.variable(names.variable)
    if names.show == "chosen":
        places = drawn[np.isin(points.rows[drawn], names.rows)]
    elif names.show == "all":
        places = drawn[:MOST_NAMES]
    else:
        far = None
        if names.show == "furthest":
            far = off_trend()
        elif names.show == "largest":
            far = _amounts_of_marks(points)
        if far is None:
            far = np.full(points.table.rows, np.nan)
            axes = (points.x.values, points.y.values, *more)
            far[drawn] = distance_from_middle(*(values[drawn] for values in axes))
        places = with_chosen(
            drawn[np.isin(points.rows[drawn], names.rows)],
            drawn[np.isfinite(far[drawn])],
            far,
            names.count,
        )
    texts = as_text(points.table.frame[variable.name][places.tolist()]).to_list()
    pairs = [
        (row, text)
        for row, text in zip(points.rows[places].tolist(), texts, strict=True)
        if text is not None
    ]
    return NamesAnswer(rows=[row for row, _ in pairs], texts=[text for _, text in pairs])


def with_chosen(chosen: np.ndarray, known: np.ndarray, far: Array, count: int) -> np.ndarray:
    """Put chosen places first, and so many of the known ones after them, the furthest first."""
    ranked = known[np.argsort(-far[known], kind="stable")[:count]]
    return np.concatenate((chosen, ranked[~np.isin(ranked, chosen)]))


def _amounts_of_marks(points: Points) -> Array:
    """Return what marks are sized by; what goes up where they have one size."""
    size = points.document.size
    if size is None or size.variable is None:
        return points.y.values
    return amounts_of(points.table, size.variable).values


def off_lines(points: Points, lines: Sequence[Reading]) -> Array | None:
    """Return residuals in units of their own line's standard deviation; None without a line."""
    far = np.full(points.table.rows, np.nan)
    for one in lines:
        if one.fit is None:
            continue
        rows = one.sample.rows
        with np.errstate(all="ignore"):
            residuals = np.abs(one.sample.y - one.fit.predict(one.sample.x))
            sd = one.fit.residual_sd
            scaled = residuals / sd if sd else residuals
        # Where a row belongs to several lines, the first counts.
        far[rows] = np.where(np.isnan(far[rows]), scaled, far[rows])
    return far if np.isfinite(far).any() else None

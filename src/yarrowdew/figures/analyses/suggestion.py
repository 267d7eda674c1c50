"""The figure that a table starts with, and the pairs beside it that are worth a look."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import polars as pl
import scipy

from yarrowdew.core.arithmetic import scaled
from yarrowdew.core.pairs import all_pairs
from yarrowdew.core.sample import Array
from yarrowdew.figures.analyses.pairs import picture_of
from yarrowdew.figures.analyses.roles import Roles, across_first, roles_of, share_a_word
from yarrowdew.figures.document.axes import Axes, Axis
from yarrowdew.figures.document.distribution import Distribution
from yarrowdew.figures.document.marks import Colour, Connect, Marks
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.text.words import in_sentence, joined
from yarrowdew.figures.wire.base import OnWire
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reshape import numbered_alike
from yarrowdew.tables.table import Kind, Table, axis_values

_MOST_COMPARED = 12
"""Variables whose pairs are compared."""
_MOST_ROWS = 2_000
_LARGER = ((25, 9.0), (100, 7.5))
"""Up to so many rows have marks so large, in points: few small ones are lost on a page."""
_SAME = 0.9999
_SAME_BY_NAME = 0.9
"""A pair whose r is above this says the same thing twice; of names that share a word, above that."""
_CHANCE = 0.01
"""What comes about by chance this often tells no pair from another."""
_DIFFERS = 0.001
"""Groups whose ranks differ with a smaller p than this are worth a colour."""
_DECADES = 2.5
"""A logarithmic axis shows amounts that span more than so many powers of ten."""
_CORNER = 0.1
"""Marks lie in a corner where half of the values lie in this share of an axis."""
_MANY_IN_TIME = 200
"""More rows than this, one for each time, begin as a line."""
_FEWEST_REPEATED = 4
"""From so many columns numbered alike, they are offered to be stacked."""

Pair = tuple[str, str]


class WorthALook(OnWire):
    """A pair of variables, with a tiny picture of it."""

    x: str
    y: str
    x_label: str
    y_label: str
    across: list[float]
    """Some rows, from 0 to 1 across and up."""
    up: list[float]


class RepeatedColumns(OnWire):
    """Columns numbered alike, which seem to hold one thing that was measured again and again."""

    variables: list[str]
    name: str
    """Their common stem: what the number of each counts."""


class Suggestions(OnWire):
    """What a table starts with."""

    why: str
    """Why its first figure was chosen; empty where it has none."""
    pairs: list[WorthALook]
    """Pairs that are worth a look, the first the one that it starts with where that is a pair."""
    repeated: RepeatedColumns | None = None
    """Columns that could be stacked; null where none seem to be meant so."""


@dataclass(frozen=True, slots=True)
class FirstFigure:
    """A figure, and why it was chosen."""

    document: FigureDocument
    why: str


def suggest_figure(table: Table, table_id: str, *, is_whole: bool = True) -> FigureDocument:
    """Make the first figure of a table; see `first_figure`."""
    return first_figure(table, table_id, is_whole=is_whole).document


def first_figure(table: Table, table_id: str, *, is_whole: bool = True) -> FirstFigure:
    """Make the figure that an analyst would look at first.

    The distribution of a single number, for each category where there is one; a map of places that
    measure nothing else; otherwise the first of the pairs (see `pairs_by_interest`), on logarithmic
    axes where amounts span decades, coloured by the category whose groups differ most, and as a
    line where it is long and in the order of time.

    Parameters
    ----------
    table : Table
    table_id : str
    is_whole : bool
        Whether these are all rows; of a dataset they are the first ones, and points of it are not
        joined.

    Raises
    ------
    TableError
        If no variable holds numbers.
    """
    roles = roles_of(table, _MOST_COMPARED)
    if not roles.amounts and roles.place is None:
        raise TableError(
            f"{table.name} has no variable of numbers; a figure needs at least one.",
            "Check the header row and each variable's kind where the file is read.",
        )
    if roles.place is not None and len(roles.amounts) < 2:
        return _map(table, table_id, roles, roles.place)
    if len(roles.amounts) + bool(roles.dates) < 2:
        return _distribution(table, table_id, roles)
    ordered = _pairs(table, roles)
    (x, y), strength = ordered[0]
    said = [_why_pair(table, roles, x, y, strength, among="" if is_whole else " in the first rows")]
    axes = Axes(
        x=Axis(scale="linear" if x in roles.dates else _scale_of(table, x)),
        y=Axis(scale=_scale_of(table, y)),
    )
    log = [name for name, axis in ((x, axes.x), (y, axes.y)) if axis.scale == "log"]
    if log:
        on, spans = (
            ("a logarithmic axis", "spans") if len(log) == 1 else ("logarithmic axes", "span")
        )
        said.append(f"on {on}, as {_named(table, log)} {spans} several powers of ten")
    colour = _colour(table, roles, x, y)
    if colour:
        said.append(f"coloured by {_named(table, [colour])}, whose groups differ")
    marks, connect = marks_for(table), None
    if is_whole and _is_long_in_time(table, roles, x):
        marks, connect = Marks(size=2.5), Connect(width=1.2)
        said.append("as a line, as it is long and in order")
    return FirstFigure(
        FigureDocument(
            table=table_id,
            x=x,
            y=[y],
            axes=axes,
            colour=None if colour is None else Colour(variable=colour),
            marks=marks,
            connect=connect,
        ),
        "; ".join(said) + ".",
    )


def _map(table: Table, table_id: str, roles: Roles, place: Pair) -> FirstFigure:
    x, y = place
    colour = next(iter([*roles.amounts, *roles.categories]), None)
    document = FigureDocument(
        table=table_id,
        x=x,
        y=[y],
        axes=Axes(equal=True),
        colour=None if colour is None else Colour(variable=colour),
        marks=marks_for(table),
    )
    return FirstFigure(document, f"A map, as {_named(table, [x, y])} say where each row lies.")


def _distribution(table: Table, table_id: str, roles: Roles) -> FirstFigure:
    (number,) = roles.amounts[:1]
    values = axis_values(table.frame[number])
    by = _most_telling(table, roles.categories, [values], least=1.0)
    document = FigureDocument.model_validate(
        {
            "table": table_id,
            "kind": "distribution",
            "x": number,
            "y": [number],
            "distribution": Distribution(
                variable=number, by=by, histogram=by is None, box=by is not None
            ),
            "marks": marks_for(table),
        }
    )
    of_each = "" if by is None else f", for each {_named(table, [by])}"
    return FirstFigure(
        document, f"The distribution{of_each}, as {_named(table, [number])} is the only amount."
    )


def _why_pair(table: Table, roles: Roles, x: str, y: str, strength: float, *, among: str) -> str:
    named = _named(table, [y]), _named(table, [x])
    together = f" (Spearman’s ρ {strength:.2f}{among})".replace("-", "−")
    if x in roles.dates or x in roles.set:
        why = f"{named[0]} against {named[1]}, which runs on by itself"
        return why + (f", and goes with it most{together}" if strength else "")
    if strength:
        return f"{named[0]} and {named[1]} go together most of all pairs{together}"
    return f"{named[0]} against {named[1]}: no pair goes together more than chance would have it"


def _named(table: Table, names: Sequence[str]) -> str:
    labels = {v.name: in_sentence(v) for v in table.variables}
    return joined([labels[name] for name in names])


def _scale_of(table: Table, name: str) -> Literal["linear", "log"]:
    values = axis_values(table.frame[name].drop_nulls())
    if len(values) < 2 or not values.min() > 0:
        return "linear"
    low, middle, high = (float(v) for v in np.quantile(values, [0, 0.5, 1]))
    spans = math.log10(high) - math.log10(low) > _DECADES
    return "log" if spans and middle - low < _CORNER * (high - low) else "linear"


def _colour(table: Table, roles: Roles, x: str, y: str) -> str | None:
    """Find the category whose groups differ most in y, or in x where nothing sets that."""
    values = [axis_values(table.frame[y])]
    if x not in roles.dates and x not in roles.set:
        values.append(axis_values(table.frame[x]))
    return _most_telling(table, roles.categories, values, least=_DIFFERS)


def _most_telling(
    table: Table, categories: Sequence[str], values: Sequence[Array], least: float
) -> str | None:
    """Find the category by which some values differ most, by ranks (Kruskal and Wallis, 1952)."""
    tried = len(categories) * len(values)
    found: dict[str, float] = {}
    for name in categories:
        codes = (
            table.frame[name]
            .cast(pl.String)
            .cast(pl.Categorical)
            .to_physical()
            .cast(float)
            .to_numpy()
        )
        for column in values:
            known = np.isfinite(column) & np.isfinite(codes)
            groups = [column[known & (codes == code)] for code in np.unique(codes[known])]
            groups = [group for group in groups if len(group) > 1]
            if len(groups) < 2 or len(np.unique(column[known])) < 2:
                continue
            p = float(scipy.stats.kruskal(*groups).pvalue)
            found[name] = min(found.get(name, 1.0), p * tried)
    best = min(found, key=found.__getitem__, default=None)
    if best is None:
        return next(iter(categories), None) if least >= 1 else None
    return best if found[best] < least or least >= 1 else None


def _is_long_in_time(table: Table, roles: Roles, x: str) -> bool:
    if x not in roles.dates and x not in roles.set:
        return False
    values = axis_values(table.frame[x].drop_nulls())
    return len(values) > _MANY_IN_TIME and len(np.unique(values)) == len(values)


def marks_for(table: Table) -> Marks:
    """Marks as large as suits so many rows."""
    size = next((size for rows, size in _LARGER if table.rows <= rows), None)
    return Marks() if size is None else Marks(size=size)


def suggestions_of(table: Table, *, is_whole: bool = True) -> Suggestions:
    """Say why a table starts with its figure, and what else is worth a look."""
    try:
        why = first_figure(table, "", is_whole=is_whole).why
    except TableError:
        why = ""
    return Suggestions(
        why=why[:1].upper() + why[1:],
        pairs=worth_a_look(table),
        repeated=repeated_columns(table) if is_whole else None,
    )


def repeated_columns(table: Table) -> RepeatedColumns | None:
    """Find the longest run of columns of numbers that are numbered alike, as wk1 to wk76 are."""
    runs: list[list[str]] = [[]]
    for one in table.variables:
        run = runs[-1]
        if one.kind is Kind.NUMBER and numbered_alike([*run, one.name]):
            run.append(one.name)
        else:
            is_begun = one.kind is Kind.NUMBER and numbered_alike([one.name])
            runs.append([one.name] if is_begun else [])
    longest = max(runs, key=len)
    if len(longest) < _FEWEST_REPEATED:
        return None
    stem, numbers = numbered_alike(longest) or ("", [])
    # Columns without a header are numbered, too.
    if not stem or stem.lower() == "column" or numbers != sorted(numbers):
        return None
    return RepeatedColumns(variables=longest, name=stem)


def worth_a_look(table: Table, most: int = 7) -> list[WorthALook]:
    """List pairs of a table that are worth a look, each with a tiny picture, the first first."""
    label = {v.name: v.label for v in table.variables}
    out = []
    for x, y in pairs_by_interest(table)[:most]:
        across, up = picture_of(*(axis_values(table.frame[name]) for name in (x, y)))
        out.append(WorthALook(x=x, y=y, x_label=label[x], y_label=label[y], across=across, up=up))
    return out


def pairs_by_interest(table: Table) -> list[Pair]:
    """Order the pairs (across, up) of a table by how much they promise to show.

    A date goes across where there is one, or else what is set or runs on by itself: a time, a dose,
    evenly rising numbers. What only counts or names the rows is on no axis, and amounts come before
    codes of groups. Among the first dozen of these the pair comes first that goes together most, by
    ranks (Spearman, 1904); pairs that say the same thing twice come last. Of a pair, what comes of
    the other goes up.
    """
    roles = roles_of(table, _MOST_COMPARED)
    return [pair for pair, _ in _pairs(table, roles)]


def _pairs(table: Table, roles: Roles) -> list[tuple[Pair, float]]:
    """Order the pairs of a table; each with Spearman's ρ, 0 where chance would do as well."""
    running = roles.dates[:1] or roles.set[:1]
    names = [*running, *(n for n in roles.amounts if n not in running)]
    if len(names) < 2:
        return []
    pairs = _by_strength(names, table, range(len(running)))
    place = {name: i for i, name in enumerate(names)}
    out = []
    for (a, b), strength in pairs:
        first, second = (a, b) if place[a] < place[b] else (b, a)
        is_set = first in running or (first in roles.set) > (second in roles.set)
        ordered = (first, second) if is_set else across_first(first, second, table)
        out.append((ordered, strength))
    return sorted(out, key=lambda one: not running or one[0][0] != running[0])


def _by_strength(
    names: Sequence[str], table: Table, running: Sequence[int]
) -> list[tuple[Pair, float]]:
    """Order pairs by how much they go together; the last against the first where nothing does.

    What rises evenly with what runs on does not say the same thing twice, but comes after what
    goes together as much without it.
    """
    some = np.unique(np.linspace(0, max(table.rows - 1, 0), _MOST_ROWS).astype(np.intp))
    columns = [axis_values(table.frame[name])[some[: table.rows]] for name in names]
    together = all_pairs(columns, "spearman")
    known = together.p_value < _CHANCE
    strength = np.where(known, np.round(np.abs(together.r), 2), 0.0)
    r = np.abs(all_pairs([scaled(column)[0] for column in columns]).r)
    alike = [
        share_a_word(names[a], names[b])
        for a, b in zip(together.first, together.second, strict=True)
    ]
    twice = (r > _SAME) | ((r > _SAME_BY_NAME) & np.array(alike, dtype=bool))
    # Tables mostly begin with what was set, and end with what came of it.
    last = np.where(strength, 0, -together.second)
    order = np.lexsort((last, twice, -strength, twice & ~np.isin(together.first, running)))
    return [
        (
            (names[together.first[k]], names[together.second[k]]),
            float(together.r[k]) if known[k] else 0.0,
        )
        for k in order
    ]

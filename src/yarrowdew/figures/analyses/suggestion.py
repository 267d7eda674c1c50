"""The figure that a table starts with, and the pairs beside it that are worth a look."""

from __future__ import annotations

import re
from collections.abc import Sequence

import numpy as np
import numpy.typing as npt
import polars as pl

from yarrowdew.core.arithmetic import scaled
from yarrowdew.core.pairs import all_pairs
from yarrowdew.figures.analyses.pairs import picture_of
from yarrowdew.figures.document.marks import Marks
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.wire.base import OnWire
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import could_be_category
from yarrowdew.tables.table import Kind, Table, Variable, axis_values

_NAMES_ROWS = re.compile(
    r"^(?:.*[ _.:-])?(?:id|ids|no|nr|num|number|index|idx|key|code|#|uid|uuid|serial)\.?$"
    r"|^(?:row|rows|record|case|obs|observation|item|sample|subject|unnamed)(?:id|no|nr|num)?$"
    r"|^unnamed(?:: ?\d+)?$|^column \d+$",
    re.IGNORECASE,
)
_NAMES_ROWS_CAMEL = re.compile(r"[a-z](?:Id|ID|No|Nr|Num|Index|Code)$")
_RUNS = re.compile(
    r"(?:^|[ _.:-])(?:time|t|year|years|month|week|day|days|hour|hours|minute|minutes|second|"
    r"seconds|elapsed|age|dose|depth|distance|altitude|height|cycle|cycles|step|frame|passage|"
    r"generation|temperature|concentration)(?:$|[ _.:-])",
    re.IGNORECASE,
)
"""What is set or runs on by itself: it goes across."""
_GOES_WITH_ANOTHER = re.compile(
    r"(?:^|[ _.:(-])(?:se|sd|sem|std|stdev|standard error|standard deviation|uncertainty|"
    r"error|ci|lower|upper|flag|quality)(?:$|[ _.:)-])",
    re.IGNORECASE,
)
"""What says how sure another variable is."""
_FEWEST_COUNTED = 5
"""Fewer rows than this may rise by one by chance."""
_MOST_COMPARED = 12
"""Variables whose pairs are compared."""
_MOST_ROWS = 2_000
_LARGER = ((25, 9.0), (100, 7.5))
"""Up to so many rows have marks so large, in points: few small ones are lost on a page."""
_SAME = 0.9999
"""A pair whose r is above this says the same thing twice."""
_CHANCE = 0.01
"""What comes about by chance this often tells no pair from another."""

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


def suggest_figure(table: Table, table_id: str) -> FigureDocument:
    """Make the first figure of a table: the first of its `pairs_by_interest`.

    Raises
    ------
    TableError
        If fewer than two variables can stand on an axis, saying what was read instead.
    """
    numbers = [v for v in table.variables if v.kind is Kind.NUMBER]
    dates = [v.name for v in table.variables if v.kind is Kind.DATE]
    if len(numbers) < (1 if dates else 2):
        held = f"only '{numbers[0].name}'" if numbers else "no variable"
        raise TableError(
            f"{table.name} has {held} of numbers; a scatterplot needs two, or one and a date.",
            "Check the header row and each variable's kind where the file is read.",
        )
    x, y = pairs_by_interest(table)[0]
    return FigureDocument(table=table_id, x=x, y=[y], marks=marks_for(table))


def marks_for(table: Table) -> Marks:
    """Marks as large as suits so many rows."""
    size = next((size for rows, size in _LARGER if table.rows <= rows), None)
    return Marks() if size is None else Marks(size=size)


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

    A date goes across where there is one, or else what runs on by itself: a time, a dose, evenly
    rising numbers. What only counts or names the rows is on neither axis as long as there is
    something else, and amounts come before codes of groups. Among the first dozen of these the
    pair comes first that goes together most, by ranks (Spearman, 1904); pairs that say the same
    thing twice come last.
    """
    dates = [v.name for v in table.variables if v.kind is Kind.DATE]
    dates = [name for name in dates if _varies(table.frame[name])] or dates
    numbers = [v for v in table.variables if v.kind is Kind.NUMBER]
    wanted = 1 if dates else 2
    if len(numbers) < wanted:
        return []
    chosen = [v.name for v in _worth(numbers, table, wanted)][:_MOST_COMPARED]
    running = dates[:1] or [n for n in chosen if _runs_on(n, table)][:1]
    pairs = _by_strength(
        [*running, *(n for n in chosen if n not in running)], table, range(len(running))
    )
    if not running:
        place = {name: i for i, name in enumerate(chosen)}
        return [(a, b) if place[a] < place[b] else (b, a) for a, b in pairs]
    (first,) = running
    return [
        *((first, b if a == first else a) for a, b in pairs if first in (a, b)),
        *((a, b) for a, b in pairs if first not in (a, b)),
    ]


def _worth(numbers: Sequence[Variable], table: Table, wanted: int) -> Sequence[Variable]:
    """Take the variables that measure something; others only where those are too few."""
    varied: list[Variable] = []
    measured: list[Variable] = []
    amounts: list[Variable] = []
    alone: list[Variable] = []
    for v in numbers:
        column = table.frame[v.name]
        if not _varies(column):
            continue
        varied.append(v)
        if _names_rows(v, column):
            continue
        measured.append(v)
        if could_be_category(column) and not _runs_on(v.name, table):
            continue
        amounts.append(v)
        if not _GOES_WITH_ANOTHER.search(v.name):
            alone.append(v)
        if len(alone) == _MOST_COMPARED:
            break
    # Each list only where it leaves enough to choose from.
    lists = (alone, amounts, measured, varied, numbers)
    return next(some for some in lists if len(some) >= wanted)


def _varies(column: pl.Series) -> bool:
    """Whether it holds two values or more, and is there in half of the rows or more."""
    return column.n_unique() - bool(column.null_count()) > 1 and 2 * column.null_count() <= len(
        column
    )


def _whole(column: pl.Series) -> npt.NDArray[np.float64] | None:
    """Its values, where they are whole numbers and enough to say more than chance would."""
    values: npt.NDArray[np.float64] = column.drop_nulls().to_numpy()
    enough = len(values) >= _FEWEST_COUNTED
    return values if enough and bool((values == np.round(values)).all()) else None


def _names_rows(variable: Variable, column: pl.Series) -> bool:
    """Whether a variable counts the rows, or is called as identifiers are and holds no two
    alike.
    """
    values = _whole(column)
    if values is None or variable.unit:
        return False
    name = variable.name.strip()
    is_called_so = bool(_NAMES_ROWS.match(name) or _NAMES_ROWS_CAMEL.search(name))
    if is_called_so:
        return len(np.unique(values)) == len(values)
    with np.errstate(over="ignore"):
        return bool((np.diff(values) == 1).all()) and not _RUNS.search(name)


def _runs_on(name: str, table: Table) -> bool:
    """Whether a variable runs on by itself, by its name or because it rises in even steps."""
    column = table.frame[name]
    values = scaled(axis_values(column.drop_nulls()))[0]
    if len(values) < _FEWEST_COUNTED:
        return False
    steps = np.diff(values)
    if _RUNS.search(name):
        return bool((steps >= 0).all())
    return bool(steps[0] > 0 and np.allclose(steps, steps[0], rtol=1e-6, atol=0))


def _by_strength(names: Sequence[str], table: Table, running: Sequence[int]) -> list[Pair]:
    """Order pairs by how much they go together; the last against the first where nothing does.

    What rises evenly with what runs on does not say the same thing twice, but comes after what
    goes together as much without it.
    """
    some = np.unique(np.linspace(0, max(table.rows - 1, 0), _MOST_ROWS).astype(np.intp))
    columns = [axis_values(table.frame[name])[some[: table.rows]] for name in names]
    together = all_pairs(columns, "spearman")
    strength = np.where(together.p_value < _CHANCE, np.round(np.abs(together.r), 2), 0.0)
    twice = np.abs(all_pairs(columns).r) > _SAME
    # Tables mostly begin with what was set, and end with what came of it.
    last = np.where(strength, 0, -together.second)
    order = np.lexsort((last, twice, -strength, twice & ~np.isin(together.first, running)))
    return [(names[together.first[k]], names[together.second[k]]) for k in order]

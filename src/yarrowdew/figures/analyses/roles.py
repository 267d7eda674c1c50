"""What the variables of a table are, by their names and values: identifiers, times, codes, places."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
import polars as pl

from yarrowdew.core.arithmetic import scaled
from yarrowdew.tables.kinds import could_be_category
from yarrowdew.tables.table import Kind, Table, Variable, axis_values


def _words(*alternatives: str) -> re.Pattern[str]:
    """Any of some words, standing by itself in a name."""
    return re.compile(rf"(?:^|[ _.:(-])(?:{'|'.join(alternatives)})(?:$|[ _.:)-])", re.IGNORECASE)


_NAMES_ROWS = re.compile(
    r"^(?:.*[ _.:-])?(?:id|ids|no|nr|num|number|index|idx|key|code|#|uid|uuid|serial|rank)\.?$"
    r"|^(?:row|rows|record|case|obs|observation|item|unnamed)(?: ?names?|id|no|nr|num)?$"
    r"|^unnamed(?:: ?\d+)?$|^column \d+$",
    re.IGNORECASE,
)
_NAMES_ROWS_CAMEL = re.compile(r"[a-z](?:Id|ID|No|Nr|Num|Index|Code)$")
_NAMES_SUBJECTS = re.compile(
    r"^(?:sample|subject|subj|patient|participant|person|animal|plant|tree|plot|block|litter|child|"
    r"mouse|rat|chick|dog|cow|fish|bird|colony|hive|batch|run|lot|well|tray|pen|cage|replicate|rep|"
    r"tank|school|class|site|station|transect|quadrat|household|store|machine|device|logger)s?"
    r"(?:[ _.-]?(?:id|no|nr|num|number|code))?$",
    re.IGNORECASE,
)
_IS_SET = _words(
    "time", "t", "years?", "months?", "weeks?", "days?", "hours?", "minutes?", "seconds",
    "elapsed", "doses?", "concentrations?", "conc", "cycles?", "step", "frame", "passage",
    "generation", "wk", "hr",
)  # fmt: skip
"""What is set or runs on by itself: it goes across, in whatever order the rows stand."""
_MAY_RUN = _words(
    "age", "depth", "distance", "altitude", "elevation", "height", "temperature", "temp", "position",
)  # fmt: skip
"""What goes across where its rows stand in its order."""
_OF_A_DATE = re.compile(
    r"^(?:year|quarter|month|week|day|hour|weekday|doy|(?:day|week|month) of (?:the )?"
    r"(?:year|month|week))$",
    re.IGNORECASE,
)
_COMES_OF = _words(
    "yields?", "weight", "mass", "biomass", "response", "rate", "loss", "growth", "price", "cost",
    "score", "intensity", "absorbance", "signal", "output", "catch", "sales", "revenue", "profit",
    "mortality", "survival", "mpg", "efficiency", "consumption", "income", "expectancy", "result",
    "outcome", "grade", "marks?", "shed", "germinated", "uptake", "velocity", "level",
)  # fmt: skip
"""What is measured because of something else: it goes up."""
_GOES_WITH_ANOTHER = _words(
    "se", "sd", "sem", "std", "stdev", "standard error", "standard deviation", "uncertainty",
    "error", "ci", "lower", "upper", "flag", "quality",
)  # fmt: skip
"""What says how sure another variable is."""
_LONGITUDE = re.compile(
    r"^(?:lon|long|lng|longitude|easting|x[ _]?coord(?:inate)?)$", re.IGNORECASE
)
_LATITUDE = re.compile(r"^(?:lat|latitude|northing|y[ _]?coord(?:inate)?)$", re.IGNORECASE)

_FEWEST_COUNTED = 5
"""Fewer rows than this may rise by one by chance."""
_FEWEST_TIMES = 3
_MOST_LEVELS = 8
_FEWEST_OF_A_LEVEL = 3


@dataclass(frozen=True, slots=True)
class Roles:
    """What the variables of a table are.

    Attributes
    ----------
    dates : list of str
        Dates that vary; all dates where none does.
    amounts : list of str
        Numbers that stand on axes, those that measure something first considered.
    set : list of str
        Those of the amounts that are set or run on by themselves, and go across.
    categories : list of str
        Categories of two to eight levels, each with three rows or more.
    place : tuple of str or None
        Longitude and latitude.
    is_real : bool
        Whether the amounts measure something; otherwise they are all that there is.
    """

    dates: list[str]
    amounts: list[str]
    set: list[str]
    categories: list[str]
    place: tuple[str, str] | None
    is_real: bool


def roles_of(table: Table, most: int) -> Roles:
    """Tell what the variables of a table are; of amounts at most so many."""
    dates = [v.name for v in table.variables if v.kind is Kind.DATE]
    dates = [name for name in dates if varies(table.frame[name])] or dates
    numbers = [v for v in table.variables if v.kind is Kind.NUMBER]
    place = _place_in([v.name for v in numbers])
    if dates:
        # The year of a date beside it says the same thing twice.
        numbers = [v for v in numbers if not _OF_A_DATE.match(v.name.strip())] or numbers
    wanted = 1 if dates else 2
    found, is_real = _worth(
        [v for v in numbers if v.name not in (place or ())], table, wanted, most
    )
    amounts = [v.name for v in found][:most]
    return Roles(
        dates=dates,
        amounts=amounts,
        set=[name for name in amounts if is_set(name, table)],
        categories=[
            v.name
            for v in table.variables
            if v.kind is Kind.CATEGORY and _has_few_levels(table.frame[v.name])
        ],
        place=place,
        is_real=is_real,
    )


def _place_in(names: Sequence[str]) -> tuple[str, str] | None:
    longitude = next((name for name in names if _LONGITUDE.match(name.strip())), None)
    latitude = next((name for name in names if _LATITUDE.match(name.strip())), None)
    return None if longitude is None or latitude is None else (longitude, latitude)


def _worth(
    numbers: Sequence[Variable], table: Table, wanted: int, most: int
) -> tuple[Sequence[Variable], bool]:
    """Take the variables that measure something; others only where those are too few."""
    varied: list[Variable] = []
    measured: list[Variable] = []
    amounts: list[Variable] = []
    alone: list[Variable] = []
    for v in numbers:
        column = table.frame[v.name]
        if not varies(column):
            continue
        varied.append(v)
        if _names_rows(v, column):
            continue
        measured.append(v)
        if could_be_category(column) and not is_set(v.name, table):
            continue
        amounts.append(v)
        if not _GOES_WITH_ANOTHER.search(v.name):
            alone.append(v)
        if len(alone) == most:
            break
    # Each list only where it leaves enough to choose from.
    lists = (alone, amounts, measured, varied, numbers)
    found = next((some for some in lists if len(some) >= wanted), numbers)
    return (measured, True) if found in (varied, numbers) and measured else (found, bool(measured))


def varies(column: pl.Series) -> bool:
    """Whether it holds two values or more, and is there in half of the rows or more."""
    return column.n_unique() - bool(column.null_count()) > 1 and 2 * column.null_count() <= len(
        column
    )


def _has_few_levels(column: pl.Series) -> bool:
    counts = column.drop_nulls().value_counts()["count"]
    return 2 <= len(counts) <= _MOST_LEVELS and int(counts.min() or 0) >= _FEWEST_OF_A_LEVEL  # type: ignore[arg-type]


def _whole(column: pl.Series) -> npt.NDArray[np.float64] | None:
    """Its values, where they are whole numbers and enough to say more than chance would."""
    values: npt.NDArray[np.float64] = column.drop_nulls().to_numpy()
    enough = len(values) >= _FEWEST_COUNTED
    return values if enough and bool((values == np.round(values)).all()) else None


def _names_rows(variable: Variable, column: pl.Series) -> bool:
    """Whether a variable counts the rows, or is called as identifiers are.

    A number of a subject may stand in many rows; any other that is called so holds no two alike.
    """
    values = _whole(column)
    if values is None or variable.unit:
        return False
    name = variable.name.strip()
    if _NAMES_SUBJECTS.match(name):
        return True
    if _NAMES_ROWS.match(name) or _NAMES_ROWS_CAMEL.search(name):
        return len(np.unique(values)) == len(values)
    with np.errstate(over="ignore"):
        counts = bool((np.diff(values) == 1).all())
    return counts and not (_IS_SET.search(name) or _MAY_RUN.search(name))


def is_set(name: str, table: Table) -> bool:
    """Whether a variable is set or runs on by itself, by its name or because it rises evenly."""
    column = table.frame[name]
    values = scaled(axis_values(column.drop_nulls()))[0]
    if len(values) < _FEWEST_COUNTED:
        return False
    if _IS_SET.search(name):
        return len(np.unique(values)) >= _FEWEST_TIMES
    steps = np.diff(values)
    if _MAY_RUN.search(name):
        return bool((steps >= 0).all())
    return bool(steps[0] > 0 and np.allclose(steps, steps[0], rtol=1e-6, atol=0))


def across_first(a: str, b: str, table: Table) -> tuple[str, str]:
    """Order two amounts: what comes of the other goes up.

    By name first; then what repeats goes across, and what varies within it up; and where nothing
    tells, the one that stands first in the table goes across.
    """
    comes = [_COMES_OF.search(name) is not None for name in (a, b)]
    if comes[0] != comes[1]:
        return (b, a) if comes[0] else (a, b)
    repeats = [_repeats(table.frame[name]) for name in (a, b)]
    if repeats[0] != repeats[1]:
        return (a, b) if repeats[0] else (b, a)
    return a, b


def _repeats(column: pl.Series) -> bool:
    held = column.drop_nulls()
    return held.n_unique() * 3 <= len(held)


def share_a_word(a: str, b: str) -> bool:
    """Whether two names have a word of three letters or more in common, as a part and its whole do."""
    words = [{w for w in re.split(r"[^a-z]+", name.lower()) if len(w) > 2} for name in (a, b)]
    return bool(words[0] & words[1])

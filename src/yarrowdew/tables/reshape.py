"""One table made from others: columns stacked, values spread, rows joined."""

from __future__ import annotations

import re
from collections.abc import Sequence

import polars as pl

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import as_text
from yarrowdew.tables.naming import distinct_names, label_of
from yarrowdew.tables.reading.options import MOST_VARIABLES
from yarrowdew.tables.table import Kind, Table, Variable, categories_of

MOST_ROWS_MADE = 50_000_000


_NUMBERED = re.compile(r"(?P<stem>\D*?)[\s_.-]*(?P<number>\d{1,9}(?:\.\d+)?)")


def numbered_alike(names: Sequence[str]) -> tuple[str, list[float]] | None:
    """Read names such as `wk1` and `wk2`: their common stem, and the number of each.

    Returns
    -------
    tuple of str and list of float, or None
        None where they have no common stem, or two have the same number.
    """
    found = [_NUMBERED.fullmatch(name.strip()) for name in names]
    stems = {one["stem"].lower() if one else None for one in found}
    numbers = [float(one["number"]) for one in found if one]
    if len(stems) != 1 or None in stems or len(set(numbers)) < len(names):
        return None
    first = found[0]
    return (first["stem"] if first else "", numbers)


def stack(
    table: Table,
    columns: Sequence[str],
    name: str = "name",
    value: str = "value",
    *,
    numbered: bool = False,
) -> Table:
    """Turn columns that each hold one group into two variables: which column, and its value.

    The other variables are repeated beside them.

    Parameters
    ----------
    table : Table
    columns : sequence of str
        Two or more, of one kind.
    name, value : str
        What the two new variables are called.
    numbered : bool
        Whether the numbers at the end of the columns' names are taken in the place of the names.

    Raises
    ------
    TableError
        If there are too few columns, they hold different kinds of values, or are not numbered alike.
    """
    stacked = [table.variable(column) for column in dict.fromkeys(columns)]
    if len({v.name for v in stacked}) < 2:
        raise TableError("There is nothing to stack.", "Choose two variables or more.")
    kinds = {v.kind for v in stacked}
    if len(kinds) > 1:
        odd = next(v for v in stacked if v.kind is not stacked[0].kind)
        raise TableError(
            f"'{stacked[0].name}' and '{odd.name}' hold different kinds of values.",
            "Choose variables of one kind.",
            column=odd.name,
        )
    chosen = {v.name for v in stacked}
    kept = [v for v in table.variables if v.name not in chosen]
    named = distinct_names([*(v.name for v in kept), name, value])[len(kept) :]
    labels: Sequence[str | float] = [v.name for v in stacked]
    words: pl.DataType = pl.Enum([v.name for v in stacked])
    if numbered:
        alike = numbered_alike([v.name for v in stacked])
        if alike is None:
            raise TableError(
                "The columns' names do not all end in a number of their own.",
                "Stack them by name, or choose columns such as 'wk1', 'wk2' and 'wk3'.",
            )
        labels, words = alike[1], pl.Float64()
    dtype = _common([table.frame[v.name] for v in stacked])
    parts = [
        pl.DataFrame(
            [
                *(table.frame[k.name] for k in kept),
                pl.Series([label], dtype=words).new_from_index(0, table.rows).alias(named[0]),
                _as_type(table.frame[v.name], dtype).alias(named[1]),
            ]
        )
        for v, label in zip(stacked, labels, strict=True)
    ]
    units = {v.unit for v in stacked}
    variables = (
        *kept,
        Variable(named[0], Kind.NUMBER if numbered else Kind.CATEGORY, label_of(named[0])),
        Variable(
            named[1], stacked[0].kind, label_of(named[1]), units.pop() if len(units) == 1 else ""
        ),
    )
    return Table(f"{table.name}, stacked", variables, pl.concat(parts))


def spread(table: Table, name: str, value: str) -> Table:
    """Turn two variables, which group and its value, into a column for each group.

    Rows that are alike in all other variables become one row.

    Raises
    ------
    TableError
        If the groups are too many, or two rows would fall on one place.
    """
    names, values = table.variable(name), table.variable(value)
    if names.name == values.name:
        raise TableError(f"'{name}' cannot name the columns and fill them too.", column=name)
    groups = _groups(table.frame[names.name])
    if not 1 <= len(groups) <= MOST_VARIABLES:
        raise TableError(
            f"'{name}' has {len(groups):,} different values, each of which would be a column.",
            "Choose a variable with fewer values.",
            column=name,
        )
    keys = [v for v in table.variables if v.name not in (names.name, values.name)]
    columns = distinct_names([*(k.name for k in keys), *groups])[len(keys) :]
    # Columns are called by their places here, so that no name of a variable has a meaning of its own.
    by = [str(i) for i in range(len(keys))]
    frame = pl.DataFrame(
        [
            *(table.frame[k.name].alias(str(i)) for i, k in enumerate(keys)),
            as_text(table.frame[names.name]).alias("group"),
            table.frame[values.name].alias("value"),
        ]
    )
    if not keys:
        # Without anything to tell rows apart, the first of each group make the first row.
        frame = frame.with_columns(pl.int_range(pl.len()).over("group").alias("place"))
        by = ["place"]
    twice = frame.drop_nulls("group").select(*by, "group").is_duplicated()
    if twice.any():
        row = int(twice.arg_max() or 0)
        raise TableError(
            f"Row {row + 1:,} and another agree in everything but '{value}', "
            "so that both would be in one cell.",
            "Leave out a variable, or derive one that distinguishes such rows.",
            row=row + 1,
        )
    out = frame.select(by).unique(maintain_order=True)
    for place, group in enumerate(groups):
        part = frame.filter(pl.col("group") == group)
        part = part.select(*by, pl.col("value").alias(f"v{place}"))
        out = out.join(part, on=by, how="left", nulls_equal=True, maintain_order="left")
    out = out.select(*(by if keys else []), *(f"v{i}" for i in range(len(groups))))
    out.columns = [*(k.name for k in keys), *columns]
    variables = (
        *keys,
        *(Variable(c, values.kind, g, values.unit) for c, g in zip(columns, groups, strict=True)),
    )
    return Table(f"{table.name}, spread", variables, out)


def join(left: Table, right: Table, on: str, other: str, *, keep_all: bool = True) -> Table:
    """Put the variables of another table beside the rows that agree in a shared variable.

    Parameters
    ----------
    left, right : Table
    on, other : str
        The shared variable as it is called in each.
    keep_all : bool
        Whether rows of `left` stay to which nothing in `right` belongs.

    Raises
    ------
    TableError
        If the two variables have no value in common, or too many rows would come of it.
    """
    a, b = left.variable(on), right.variable(other)
    mine, theirs = _keys(left.frame[a.name]), _keys(right.frame[b.name])
    shared = set(mine.drop_nulls().unique()) & set(theirs.drop_nulls().unique())
    if not shared:
        raise TableError(
            f"'{a.name}' of {left.name} and '{b.name}' of {right.name} have no value in common.",
            "Choose variables that name the same things.",
            column=a.name,
        )
    counts = mine.to_frame("k").join(
        theirs.to_frame("k").group_by("k").len("times"), on="k", how="left"
    )
    rows = counts["times"].fill_null(1).sum()
    if rows > MOST_ROWS_MADE:
        raise TableError(
            f"{rows:,} rows would come of this; at most {MOST_ROWS_MADE:,} can be kept.",
            "Choose a variable whose values are found once in one of the tables.",
        )
    added = [v for v in right.variables if v.name != b.name]
    named = distinct_names([*(v.name for v in left.variables), *(v.name for v in added)])
    named = named[len(left.variables) :]
    beside = pl.DataFrame(
        [
            theirs.alias("key"),
            *(right.frame[v.name].alias(f"right {i}") for i, v in enumerate(added)),
        ]
    )
    joined = pl.DataFrame(
        [
            mine.alias("key"),
            *(left.frame[v.name].alias(f"left {i}") for i, v in enumerate(left.variables)),
        ]
    ).join(beside, on="key", how="left" if keep_all else "inner", maintain_order="left_right")
    joined = joined.drop("key")
    joined.columns = [*(v.name for v in left.variables), *named]
    variables = (
        *left.variables,
        *(
            Variable(new, v.kind, v.label if new == v.name else label_of(new), v.unit)
            for v, new in zip(added, named, strict=True)
        ),
    )
    return Table(f"{left.name} and {right.name}", variables, joined)


def _keys(column: pl.Series) -> pl.Series:
    """Write values so that those of both tables can be compared, whatever their kinds."""
    return as_text(column).str.strip_chars()


def _groups(column: pl.Series) -> list[str]:
    held = set(column.drop_nulls().cast(pl.String).unique())
    if isinstance(column.dtype, pl.Enum):
        return [c for c in categories_of(column) if c in held]
    return as_text(column.drop_nulls().unique().sort()).to_list()


def _as_type(column: pl.Series, dtype: pl.DataType) -> pl.Series:
    return (column.cast(pl.String) if isinstance(dtype, pl.Enum) else column).cast(dtype)


def _common(columns: Sequence[pl.Series]) -> pl.DataType:
    """Return the type that holds the values of all columns, which are of one kind."""
    first = columns[0].dtype
    if isinstance(first, pl.Enum):
        every = dict.fromkeys(c for column in columns for c in categories_of(column))
        return pl.Enum(list(every))
    dated = any(isinstance(column.dtype, pl.Datetime) for column in columns)
    return pl.Datetime("us") if dated else first

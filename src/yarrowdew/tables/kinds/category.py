"""Categories: few values that repeat, in an order of their own."""

from __future__ import annotations

from typing import Any

import polars as pl

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds.base import Kind, Marks, Native, Typed, VariableKind, unread
from yarrowdew.tables.kinds.number import numbers_in

MOST_CATEGORIES = 24
MOST_LEVELS = 50_000
"""Of a variable that is read as categories because someone said so."""
MOST_LETTERS = 500
"""Of a category, so that it can be named by a filter and fits on a figure."""
MOST_COUNTS = 1_000
MOST_LISTED = 10_000
"""In the description of a package; the order of more is kept in its Arrow file alone."""


class CategoryKind(VariableKind):
    """Categories."""

    kind = Kind.CATEGORY
    plural = "categories"
    example = "a category"
    package_types = ()

    def holds(self, column: pl.Series) -> bool:
        """Whether a column holds categories, of which there are not too many."""
        dtype = column.dtype
        if isinstance(dtype, pl.Categorical):
            words = column.drop_nulls().unique().cast(pl.String)
        elif isinstance(dtype, pl.Enum):
            words = dtype.categories
        else:
            return dtype == pl.Boolean
        longest = words.str.len_chars().max()
        return len(words) <= MOST_LEVELS and (
            not isinstance(longest, int) or longest <= MOST_LETTERS
        )

    def native(self, column: pl.Series) -> Native:
        """Take categories in their order, others by letter."""
        if isinstance(column.dtype, pl.Enum):
            return Native(column)
        text = column.cast(pl.String)
        return Native(text.cast(pl.Enum(text.drop_nulls().unique().sort().to_list())))

    def read(self, text: pl.Series, marks: Marks) -> Typed:
        """Read every distinct text as a category.

        Raises
        ------
        TableError
            If there are more than can be categories.
        """
        check_lengths(text)
        words = ordered_words(text, marks)
        if len(words) > MOST_LEVELS:
            raise TableError(
                f"'{text.name}' has {len(words):,} different values; at most {MOST_LEVELS:,} can "
                "be categories.",
                "Keep it as text.",
                column=text.name,
            )
        values = text.cast(pl.Enum(words))
        return Typed(values, self.kind, unread(values, text))

    def package_type(self, column: pl.Series) -> str:
        """Text, of which the values are listed."""
        return "string"

    def package_more(self, column: pl.Series) -> dict[str, Any]:
        """Its categories in their order."""
        return {"categories": categories_of(column)[:MOST_LISTED]}

    def summary(self, present: pl.Series) -> dict[str, Any]:
        """Rows in each category, in the categories' order."""
        held = dict(present.alias("value").value_counts().iter_rows())
        order = [c for c in categories_of(present) if c in held][:MOST_COUNTS]
        return {"counts": {c: held[c] for c in order}}

    def alike(self, column: pl.Series, values: pl.Series) -> tuple[pl.Series, pl.Series]:
        """Categories that are new follow those that are there."""
        held = categories_of(column)
        words = pl.Enum([*held, *(c for c in categories_of(values) if c not in set(held))])
        return column.cast(pl.String).cast(words), values.cast(pl.String).cast(words)


def check_lengths(text: pl.Series) -> None:
    """Refuse texts that are too long to be categories.

    Raises
    ------
    TableError
        Naming how long the longest is.
    """
    longest = text.str.len_chars().max()
    if isinstance(longest, int) and longest > MOST_LETTERS:
        raise TableError(
            f"'{text.name}' has a value of {longest:,} letters; a category has at most "
            f"{MOST_LETTERS:,}.",
            "Keep it as text, or shorten it.",
            column=text.name,
        )


def categories_of(column: pl.Series) -> list[str]:
    """Every category that a column may hold, in order."""
    dtype = column.dtype
    return dtype.categories.to_list() if isinstance(dtype, pl.Enum) else []


def ordered_words(text: pl.Series, marks: Marks) -> list[str]:
    """Distinct values: by amount where they are numbers, else by letter."""
    distinct = text.drop_nulls().unique().sort()
    numbers = numbers_in(distinct, marks)
    if numbers.null_count() == 0:
        distinct = distinct.gather(numbers.arg_sort())
    return distinct.to_list()

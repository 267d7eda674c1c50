"""Rows told apart by a variable."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
import polars as pl

from yarrowdew.figures.document.categories import CategoryLook, in_order, looks_in
from yarrowdew.tables.categories import CategoryLabel, CategoryValue
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import as_text
from yarrowdew.tables.naming import distinct_names
from yarrowdew.tables.table import Kind, Table, Variable, categories_of

MOST_GROUPS = 48


@dataclass(frozen=True, slots=True)
class Groups:
    """Rows told apart by a variable.

    Attributes
    ----------
    variable : Variable
    labels : list of str
        As figures call them, in the order in which they are shown.
    looks : list of CategoryLook
        One for each label.
    codes : ndarray of uint16, shape (rows,)
        Place in `labels`; `Groups.NONE` where missing.
    """

    variable: Variable
    labels: list[CategoryLabel]
    looks: list[CategoryLook]
    codes: np.ndarray

    NONE = 65_535

    @property
    def label_of(self) -> dict[CategoryValue, CategoryLabel]:
        """What figures call each value, in the order in which the groups are shown."""
        return {look.value: label for look, label in zip(self.looks, self.labels, strict=True)}

    @property
    def value_of(self) -> dict[CategoryLabel, CategoryValue]:
        """The value that each label stands for."""
        return {label: look.value for look, label in zip(self.looks, self.labels, strict=True)}

    @classmethod
    def of(cls, table: Table, name: str) -> Groups:
        """Tell the rows of a table apart by a variable; numbers and dates by each distinct value.

        Raises
        ------
        TableError
            If it has more distinct values than can be told apart.
        """
        variable = table.variable(name)
        column = table.frame[variable.name]
        if variable.kind is not Kind.CATEGORY:
            distinct = column.drop_nulls().unique().sort()
            if len(distinct) > MOST_GROUPS:
                raise TableError(
                    f"'{variable.name}' has {len(distinct):,} different values; "
                    f"at most {MOST_GROUPS} groups can be told apart.",
                    "Choose a variable with fewer values.",
                    column=variable.name,
                )
            if variable.kind is Kind.NUMBER:
                # −0 and 0 are one value.
                column = column + 0.0
                distinct = column.drop_nulls().unique().sort()
                values = [f"{v:g}" for v in distinct]
                # Six digits may not tell two values apart; all of them always do.
                values = values if len(set(values)) == len(values) else [repr(v) for v in distinct]
            else:
                values = [str(v) for v in distinct]
            codes = _codes(column, distinct)
        else:
            values = categories_of(column)
            if len(values) >= cls.NONE:
                raise TableError(
                    f"'{variable.name}' has {len(values):,} categories; "
                    f"at most {cls.NONE - 1:,} can be told apart.",
                    "Read it as text, or derive one with fewer.",
                    column=variable.name,
                )
            codes = column.to_physical().cast(pl.UInt16).fill_null(cls.NONE).to_numpy()
        looks, places = in_order(looks_in(table, variable.name), values)
        if places != list(range(len(places))):
            reordered = np.full(cls.NONE + 1, cls.NONE, dtype=np.uint16)
            reordered[: len(places)] = places
            codes = reordered[codes]
        labels = distinct_labels([look.shown for look in looks], [look.value for look in looks])
        return cls(variable, labels, looks, codes)

    def present(self) -> npt.NDArray[np.intp]:
        """Codes of the groups that some row belongs to."""
        counts = np.bincount(self.codes, minlength=self.NONE + 1)[: self.NONE]
        return np.flatnonzero(counts)


def names_group(name: str | None, label: CategoryLabel | None, value: CategoryValue | None) -> bool:
    """Say whether a document's name of a group means this one; None means every group.

    Documents name a group by its value. Those of before 30 November 2026 name it by its label.
    """
    return name is None or (label is not None and name in (value, label))


def distinct_labels(labels: Sequence[str], names: Sequence[str]) -> list[CategoryLabel]:
    """Labels of which no two are alike: those that are get their own name beside them."""
    counts = Counter(labels)
    beside = [
        label if counts[label] == 1 else f"{label} ({name})"
        for label, name in zip(labels, names, strict=True)
    ]
    distinct = beside if len(set(beside)) == len(beside) else distinct_names(beside)
    return [CategoryLabel(label) for label in distinct]


def _codes(column: pl.Series, distinct: pl.Series) -> np.ndarray:
    places = pl.int_range(len(distinct), dtype=pl.UInt16, eager=True)
    return column.replace_strict(
        distinct, places, default=Groups.NONE, return_dtype=pl.UInt16
    ).to_numpy()


def called(table: Table, name: str | None) -> set[str]:
    """Values of a variable that some row has, and what figures call them."""
    if name is None or name not in table.frame.columns:
        return set()
    values = set(as_text(table.frame[name].drop_nulls().unique()).to_list())
    looks = {c.shown for c in table.categories.get(name, ()) if c.value in values}
    try:
        return values | looks | set(Groups.of(table, name).labels)
    except TableError:
        return values | looks

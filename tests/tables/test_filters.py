from __future__ import annotations

import datetime as dt

import polars as pl
import pytest

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.filters import RowFilter, kept_rows
from yarrowdew.tables.table import Kind, Table, Variable

TABLE = Table(
    "dew",
    (
        Variable("day", Kind.DATE, "Day"),
        Variable("mesh", Kind.CATEGORY, "Mesh"),
        Variable("cloud", Kind.NUMBER, "Cloud"),
        Variable("note", Kind.TEXT, "Note"),
    ),
    pl.DataFrame(
        {
            "day": [dt.datetime(2031, 4, d, 12) for d in (1, 2, 3)] + [None],
            "mesh": pl.Series(
                ["single", "double", None, "double"], dtype=pl.Enum(["single", "double"])
            ),
            "cloud": [4.0, 4.5, None, 8.0],
            "note": ["Calm at dusk", "frost (first)", "calm", None],
        }
    ),
)


def kept(*conditions: dict, join: str = "and") -> list[int]:
    row_filter = RowFilter.model_validate({"join": join, "conditions": list(conditions)})
    return kept_rows(TABLE, row_filter).arg_true().to_list()


@pytest.mark.parametrize(
    ("condition", "rows"),
    [
        ({"variable": "cloud", "test": "between", "low": 4, "high": 4.5}, [0, 1]),
        ({"variable": "cloud", "test": "between", "low": 4.2}, [1, 3]),
        ({"variable": "cloud", "test": "between", "high": "4.5"}, [0, 1]),
        # A day without a time means the whole of it.
        ({"variable": "day", "test": "between", "low": "2031-04-02", "high": "2031-04-02"}, [1]),
        ({"variable": "mesh", "test": "one_of", "values": ["double"]}, [1, 3]),
        ({"variable": "mesh", "test": "not_one_of", "values": ["double"]}, [0, 2]),
        ({"variable": "cloud", "test": "one_of", "values": ["4", "4.5"]}, [0, 1]),
        ({"variable": "note", "test": "contains", "text": "CALM"}, [0, 2]),
        ({"variable": "note", "test": "contains", "text": "(first"}, [1]),
        ({"variable": "cloud", "test": "missing"}, [2]),
        ({"variable": "note", "test": "present"}, [0, 1, 2]),
    ],
)
def test_one_condition(condition: dict, rows: list[int]) -> None:
    assert kept(condition) == rows


def test_conditions_are_joined_by_and_or_or() -> None:
    calm = {"variable": "note", "test": "contains", "text": "calm"}
    clear = {"variable": "cloud", "test": "between", "high": 4}
    assert kept(calm, clear) == [0]
    assert kept(calm, clear, join="or") == [0, 2]


@pytest.mark.parametrize(
    ("condition", "message"),
    [
        ({"variable": "mesh", "test": "between", "low": 1}, "no smallest and largest"),
        ({"variable": "cloud", "test": "between", "low": "high"}, "'high' is not a number"),
        ({"variable": "day", "test": "between", "high": "soon"}, "'soon' is not a date"),
        ({"variable": "rain", "test": "missing"}, "no variable 'rain'"),
    ],
)
def test_what_does_not_fit_is_said(condition: dict, message: str) -> None:
    with pytest.raises(TableError, match=message):
        kept(condition)

from __future__ import annotations

import datetime as dt
import math

import polars as pl
import pytest

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import could_be_category
from yarrowdew.tables.summary import summarise
from yarrowdew.tables.table import Kind, Table, Variable, axis_values, date_on_axis

TABLE = Table(
    "dew",
    (
        Variable("day", Kind.DATE, "Day"),
        Variable("mesh", Kind.CATEGORY, "Mesh"),
        Variable("yield", Kind.NUMBER, "Night yield", "mL"),
        Variable("note", Kind.TEXT, "Note"),
    ),
    pl.DataFrame(
        {
            "day": [dt.date(1970, 1, 2), None, dt.date(1970, 1, 11), dt.date(1970, 1, 6)],
            "mesh": pl.Series(["b", "a", None, "b"], dtype=pl.Enum(["b", "a", "unused"])),
            "yield": [1.0, 2.0, None, 6.0],
            "note": ["x", "y", "z", None],
        }
    ),
)


def test_a_summary_counts_and_measures() -> None:
    day, mesh, amount, note = summarise(TABLE).variables
    assert (day.min, day.max, day.missing) == ("1970-01-02", "1970-01-11", 1)
    assert mesh.counts == {"b": 2, "a": 1}
    assert (amount.mean, amount.median, amount.min, amount.max) == (3.0, 2.0, 1.0, 6.0)
    assert amount.sd == pytest.approx(math.sqrt(7))
    # Twelve steps of 5/12: the values fall into the first, the third and the last.
    assert amount.distribution == [1, 0, 1, 0, 0, 0, 0, 0, 0, 0, 0, 1]
    assert (note.distinct, note.min, note.distribution) == (3, None, None)


def test_the_widest_numbers_there_are_do_not_overflow() -> None:
    wide = Table(
        "w", (Variable("a", Kind.NUMBER, "a"),), pl.DataFrame({"a": [-1.7e308, 1.7e308, 0.0]})
    )
    (summary,) = summarise(wide).variables
    assert summary.distribution is not None
    assert sum(summary.distribution) == 3
    # Exactly: the mean is 0, and two of three lie 1.7e308 from it, over n − 1 = 2.
    assert summary.sd == pytest.approx(1.7e308)
    assert summary.mean == pytest.approx(0)


def test_dates_stand_on_an_axis_as_days() -> None:
    values = axis_values(TABLE.frame["day"])
    assert values[0] == 1
    assert math.isnan(values[1])
    moments = pl.Series([dt.datetime(1970, 1, 2, 12)])
    assert axis_values(moments)[0] == 1.5
    assert date_on_axis(1.5) == dt.datetime(1970, 1, 2, 12)


def test_documents_find_variables_by_their_exact_name_and_people_by_what_they_type() -> None:
    assert TABLE.variable("yield").name == "yield"
    with pytest.raises(TableError, match="no variable 'Yield'"):
        TABLE.variable("Yield")
    assert TABLE.called("night YIELD").name == "yield"
    assert TABLE.called("yield").name == "yield"
    with pytest.raises(TableError, match=r"no variable 'rain'. It has: day, mesh, yield, note"):
        TABLE.variable("rain")


def test_words_have_no_place_on_an_axis() -> None:
    with pytest.raises(TableError, match=r"'note' holds text.*Choose one of: day, yield"):
        TABLE.axis_variable("note", "across")


@pytest.mark.parametrize(
    ("values", "expected"),
    [([4, 6, 8] * 20, True), ([4.5, 6, 8] * 20, False), (list(range(60)), False)],
)
def test_few_whole_numbers_may_be_codes(values: list[float], expected: bool) -> None:
    assert could_be_category(pl.Series(values, dtype=pl.Float64)) is expected


@pytest.mark.parametrize("name", ["count", "value", "*", "^.*$"])
def test_a_category_may_have_any_name(name: str) -> None:
    column = pl.Series(name, ["Argill", "Corrie", "Argill"], dtype=pl.Enum(["Argill", "Corrie"]))
    (told,) = summarise(
        Table("dew", (Variable(name, Kind.CATEGORY, "Valley"),), pl.DataFrame([column]))
    ).variables
    assert told.counts == {"Argill": 2, "Corrie": 1}

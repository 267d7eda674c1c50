"""Whatever comes in as a file goes out as a table or as a sentence."""

from __future__ import annotations

import io
import random

import numpy as np
import polars as pl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.adversary.files import bombs
from tests.adversary.reading import SLOW_SECONDS, outcome, tallied
from tests.adversary.tables import table
from tests.scope import examples
from yarrowdew.figures.analyses.suggestion import suggest_figure
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.limits import Limits
from yarrowdew.tables.reading import ReadOptions, read_bytes
from yarrowdew.tables.reading.progress import StoppedError
from yarrowdew.tables.table import Kind
from yarrowdew.tables.writing import write_table


def test_mutated_files_end_as_tables_or_sentences() -> None:
    found = tallied(examples(400, 800), seed=13, bombed=False)
    assert set(found) <= {"table", "sentence", "refused"}
    # The mutator has bite, and leaves something to read.
    assert min(found["table"], found["sentence"]) > 25


@pytest.mark.parametrize("name", list(bombs()))
def test_small_files_that_ask_for_very_much_are_refused(name: str) -> None:
    assert SLOW_SECONDS <= 10
    assert outcome(name, bombs()[name], {}) == "sentence"


def test_a_process_that_is_ended_by_a_file_is_an_error_and_the_next_file_is_read() -> None:
    far = bombs()["far.xlsx"]
    with pytest.raises(TableError, match=r"row 1,048,576 and column 16,384"):
        read_bytes(far, "far.xlsx")
    with pytest.raises(TableError, match=r"damaged, or needs more than 800 MB"):
        read_bytes(far, "far.xlsx", limits=Limits(cells=10**12, memory_mb=1_000))
    buffer = io.BytesIO()
    pl.DataFrame({"a": [1.5]}).write_parquet(buffer)
    assert read_bytes(buffer.getvalue(), "a.parquet").table.frame["a"].to_list() == [1.5]


def test_reading_apart_can_be_stopped_and_ends_in_time() -> None:
    rows = pl.DataFrame({"a": range(3_000_000), "b": [{"x": 1}] * 3_000_000})
    buffer = io.BytesIO()
    rows.write_parquet(buffer)
    asked: list[float] = []

    def stop(share: float) -> None:
        asked.append(share)
        if len(asked) > 1:
            raise StoppedError

    with pytest.raises(StoppedError):
        read_bytes(buffer.getvalue(), "long.parquet", progress=stop)
    with pytest.raises(TableError, match="longer than 0 seconds"):
        read_bytes(buffer.getvalue(), "long.parquet", limits=Limits(seconds=0.1))


@given(st.integers(0, 2**32))
@settings(max_examples=examples(12, 50), deadline=None)
def test_a_package_reads_back_to_the_last_bit(seed: int) -> None:
    made = table(random.Random(seed))
    back = read_bytes(write_table(made, "package"), "any.zip").table
    assert [v.kind for v in back.variables] == [v.kind for v in made.variables]
    assert [v.unit for v in back.variables] == [v.unit for v in made.variables]
    assert back.frame.schema == made.frame.schema
    for name in made.frame.columns:
        column, read = made.frame[name], back.frame[name]
        assert column.null_count() == read.null_count()
        if column.dtype == pl.Float64:
            bits = [c.fill_null(0).to_numpy().view(np.uint64).tolist() for c in (column, read)]
            assert bits[0] == bits[1]
        else:
            assert column.equals(read)


@given(st.integers(0, 2**32))
@settings(max_examples=examples(12, 50), deadline=None)
def test_a_table_written_as_csv_holds_the_same_numbers(seed: int) -> None:
    made = table(random.Random(seed), rows=12)
    numbers = [v.name for v in made.variables if v.kind is Kind.NUMBER]
    first = made.frame[numbers[0]]
    if first.null_count() == len(first):
        return
    place = made.frame.columns.index(numbers[0])
    read = read_bytes(write_table(made, "csv"), "t.csv").table.frame
    column = read.get_columns()[place]
    if column.dtype == pl.Float64:
        assert column.drop_nulls().to_list() == first.drop_nulls().to_list()


class TestDates:
    @pytest.mark.parametrize(
        ("written", "meant"),
        [
            ("2031-04-01T10:30:00Z", "2031-04-01 10:30:00"),
            ("2031-04-01T10:30:00.250+02:00", "2031-04-01 08:30:00.250"),
            ("2031-04-01 10:30:00-0330", "2031-04-01 14:00:00"),
            ("1 Apr 2031", "2031-04-01"),
            ("1. April 2031", "2031-04-01"),
            ("April 2031", "2031-04-01"),
            ("Apr 1, 2031", "2031-04-01"),
            ("10/13/2031 0:00", "2031-10-13"),
            ("13/10/2031 14:05", "2031-10-13 14:05:00"),
            ("10/13/2031 2:05 PM", "2031-10-13 14:05:00"),
            ("10/13/2031 12:05 am", "2031-10-13 00:05:00"),
            ("2031-Q2", "2031-04-01"),
            ("2031 Q2", "2031-04-01"),
            # The Monday of the week that holds 4 January is 30 December.
            ("2031-W14", "2031-03-31"),
            ("2032-W53-7", "2033-01-02"),
            ("0001-01-01", "0001-01-01"),
            ("9999-12-31", "9999-12-31"),
        ],
    )
    def test_how_dates_are_written(self, written: str, meant: str) -> None:
        result = read_bytes(f"when;n\n{written};1\n{written};2\n".encode(), "d.csv")
        (when, _) = result.table.variables
        assert when.kind is Kind.DATE
        values = result.table.frame["when"].cast(pl.Datetime("us"))
        assert values[0] == pl.Series([meant]).str.to_datetime(strict=False)[0] or (
            str(values[0])[: len(meant)].rstrip("0") == meant.rstrip("0")
        )

    def test_moments_with_a_zone_are_kept_in_utc_and_the_ledger_says_so(self) -> None:
        zoned = read_bytes(b"t,n\n2031-04-01T10:00:00Z,1\n2031-04-01T12:30:00+02:00,2\n", "t.csv")
        assert zoned.table.variables[0].unit == "UTC"
        plain = read_bytes(b"t,n\n2031-04-01T10:00:00,1\n2031-04-01T12:30:00,2\n", "t.csv")
        assert plain.table.variables[0].unit == ""

    def test_times_of_day_by_themselves_are_hours(self) -> None:
        read = read_bytes(b"t,n\n06:30,1\n2:15 pm,2\n23:59:59.5,3\n", "t.csv").table
        assert (read.variables[0].kind, read.variables[0].unit) == (Kind.NUMBER, "h")
        assert read.frame["t"].to_list() == pytest.approx([6.5, 14.25, 23 + 59 / 60 + 59.5 / 3600])

    def test_days_that_do_not_exist_are_not_read(self) -> None:
        read = read_bytes(b"d\n2031-02-28\n2031-02-30\n" + b"2031-03-01\n" * 20, "d.csv")
        assert (read.unread[0].count, read.unread[0].first_value) == (1, "2031-02-30")


class TestMarks:
    def test_dates_with_points_are_no_numbers_where_points_part_thousands(self) -> None:
        text = "day;a;b\n01.02.2025;12,5;1.013,2\n02.02.2025;13,5;2.500,0\n"
        read = read_bytes(text.encode(), "d.csv").table
        assert [v.kind for v in read.variables] == [Kind.DATE, Kind.NUMBER, Kind.NUMBER]
        assert read.frame["b"].to_list() == [1013.2, 2500.0]

    @given(st.floats(0.01, 1e12), st.integers(0, 3))
    @settings(max_examples=examples(20, 80), deadline=None)
    def test_a_number_is_read_as_it_was_written_with_either_pair_of_marks(
        self, value: float, decimals: int
    ) -> None:
        english = f"{value:,.{decimals}f}"
        german = english.translate(str.maketrans(",.", ".,"))
        for text, decimal, thousands in ((english, ".", ","), (german, ",", ".")):
            options = ReadOptions(
                decimal=decimal, thousands=thousands, delimiter=";", kinds={"a": Kind.NUMBER}
            )
            read = read_bytes(f"a;b\n{text};x\n".encode(), "n.csv", options).table
            assert read.frame["a"].to_list() == [float(english.replace(",", ""))]

    @pytest.mark.parametrize("text", ["1.01", "12.34.567", "1.0134", "1.013.2", ".013"])
    def test_a_mark_without_groups_of_three_makes_no_number(self, text: str) -> None:
        options = ReadOptions(decimal=",", thousands=".", delimiter=";", kinds={"a": Kind.NUMBER})
        read = read_bytes(f"a;b\n{text};x\n1.013,5;y\n".encode(), "n.csv", options)
        assert read.table.frame["a"].to_list() == [None, 1013.5]
        assert read.unread[0].first_value == text

    def test_identifiers_too_long_for_an_amount_keep_every_digit(self) -> None:
        text = "id,n\n" + "".join(f"{90071992547409930 + i},{i}\n" for i in range(40))
        read = read_bytes(text.encode(), "i.csv").table
        assert read.variables[0].kind is Kind.TEXT
        assert read.frame["id"][1] == "90071992547409931"


class TestFirstFigures:
    @pytest.mark.parametrize(
        ("text", "across", "up"),
        [
            ("index,a,b\n" + "".join(f"{i},{i % 7}.5,{i * i}\n" for i in range(30)), "a", "b"),
            (",a,b\n" + "".join(f"{i},{i % 7}.5,{i * i}\n" for i in range(30)), "a", "b"),
            ("a,day,b\n" + "".join(f"{i}.5,2031-04-{i + 1:02},{i * i}\n" for i in range(30)), "day", "b"),
            ("station id,a,b\n" + "".join(f"{i + 100},{i}.5,{i * i}\n" for i in range(30)), "a", "b"),
        ],
    )  # fmt: skip
    def test_neither_axis_is_a_counter_and_a_date_goes_across(
        self, text: str, across: str, up: str
    ) -> None:
        made = suggest_figure(read_bytes(text.encode(), "t.csv").table, "t")
        assert (made.x, made.y) == (across, [up])


def test_headers_of_any_length_and_odd_names_become_names_of_their_own() -> None:
    header = '"' + "n" * 300 + '",aa,AA,row,"a {b}","say ""so""",,aa,*,..'
    read = read_bytes(f"{header}\n1,2,3,4,5,6,7,8,9,10\n2,3,4,5,6,7,8,9,10,12\n".encode(), "t.csv")
    names = [v.name for v in read.table.variables]
    assert len(set(names)) == 10
    assert names[1:4] == ["aa", "AA", "row"]
    assert max(map(len, names)) <= 200
    assert len(read.table.variables[0].label) == 300
    made = suggest_figure(read.table, "t")
    assert made.x in names

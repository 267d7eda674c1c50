from __future__ import annotations

import datetime as dt
from pathlib import Path

import polars as pl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarrowdew.tables.dates import within_calendar
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import as_text
from yarrowdew.tables.reading import ReadOptions, ReadResult, altered, read_bytes, read_file
from yarrowdew.tables.reading.progress import StoppedError
from yarrowdew.tables.table import Kind


def read(text: str | bytes, **options: object) -> ReadResult:
    content = text.encode() if isinstance(text, str) else text
    return read_bytes(content, "dew.csv", ReadOptions(**options))  # type: ignore[arg-type]


def kinds(result: ReadResult) -> list[str]:
    return [v.kind.value for v in result.table.variables]


NIGHTS = """night,valley,"yield, mL/m²",wind (m/s),remark
2031-04-01,Argill,200,1.5,calm at dusk
2031-04-02,Bracken,,2.5,first frost
2031-04-03,Argill,300,NA,mist until nine
2031-04-04,Bracken,100,3.5,clear
"""


def test_a_plain_table_is_read_as_meant() -> None:
    result = read(NIGHTS)
    assert [v.name for v in result.table.variables] == [
        "night",
        "valley",
        "yield",
        "wind",
        "remark",
    ]
    assert kinds(result) == ["date", "category", "number", "number", "text"]
    assert [v.unit for v in result.table.variables] == ["", "", "mL/m²", "m/s", ""]
    assert result.table.variables[2].label == "Yield"
    frame = result.table.frame
    assert frame["night"][0] == dt.date(2031, 4, 1)
    assert frame["yield"].to_list() == [200, None, 300, 100]
    assert frame["wind"].to_list() == [1.5, 2.5, None, 3.5]
    assert frame["valley"].to_list() == ["Argill", "Bracken", "Argill", "Bracken"]
    assert result.table.name == "dew"


@pytest.mark.parametrize("mark", [",", ";", "\t", "|"])
def test_the_delimiter_is_found(mark: str) -> None:
    result = read(f"a{mark}b\n1{mark}2\n3{mark}4\n")
    assert result.options.delimiter == mark
    assert result.table.frame.rows() == [(1, 2), (3, 4)]


def test_commas_between_decimals_are_no_delimiters() -> None:
    result = read("a;b\n1,5;2,25\n-3,5;4\n")
    assert (result.options.delimiter, result.options.decimal) == (";", ",")
    assert result.table.frame.rows() == [(1.5, 2.25), (-3.5, 4)]


@pytest.mark.parametrize(
    ("encoding", "content"),
    [
        ("utf-8", "Höhe;b\n1;2\n".encode()),
        ("utf-8", "Höhe;b\n1;2\n".encode("utf-8-sig")),
        ("utf-16", "Höhe;b\n1;2\n".encode("utf-16")),
        ("windows-1252", "Höhe;b\n1;2\n".encode("cp1252")),
    ],
)
def test_the_encoding_is_found(encoding: str, content: bytes) -> None:
    result = read(content)
    assert result.options.encoding == encoding
    assert result.table.variables[0].name == "Höhe"


def test_titles_above_the_headers_are_passed_over() -> None:
    result = read("Dew survey 2031\n\ndose,shed\n1,2\n3,4\n")
    assert result.options.header == 3
    assert result.table.frame.rows() == [(1, 2), (3, 4)]


def test_a_file_without_headers_loses_no_row() -> None:
    result = read("1,2\n3,4\n")
    assert result.options.header == 0
    assert [v.name for v in result.table.variables] == ["column 1", "column 2"]
    assert result.table.rows == 2


def test_guesses_can_be_corrected() -> None:
    result = read("1,2\n3,4\n", header=1)
    assert [v.name for v in result.table.variables] == ["1", "2"]
    assert read("a,b\n1,2\n1,3\n", kinds={"a": Kind.CATEGORY}).table.frame["a"].to_list() == [
        "1",
        "1",
    ]
    assert read("a\n-999\n2\n", missing=["-999"]).table.frame["a"].to_list() == [None, 2]


def test_what_cannot_be_read_is_counted_with_its_row() -> None:
    rows = "\n".join(str(k) for k in range(19))
    result = read(f"a\n{rows}\nbroken\n")
    assert kinds(result) == ["number"]
    (unread,) = result.unread
    assert (unread.variable, unread.count, unread.first_row, unread.first_value) == (
        "a",
        1,
        20,
        "broken",
    )


def test_signs_of_percent_and_money_are_understood() -> None:
    result = read("share,cost,change\n12 %,€ 3.50,−2\n8%,$4,3\n")
    assert result.table.frame.rows() == [(12, 3.5, -2), (8, 4, 3)]


def test_codes_with_padding_zeros_are_no_numbers() -> None:
    assert kinds(read("code\n007\n012\n")) == ["category"]
    assert kinds(read("share\n0.7\n0.12\n")) == ["number"]


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("24.12.2031", dt.date(2031, 12, 24)),
        ("2031/12/24", dt.date(2031, 12, 24)),
        ("24/12/2031", dt.date(2031, 12, 24)),
        ("12/24/2031", dt.date(2031, 12, 24)),
        ("2031-12-24 18:30", dt.datetime(2031, 12, 24, 18, 30)),
        ("2031-12-24T18:30:05", dt.datetime(2031, 12, 24, 18, 30, 5)),
    ],
)
def test_dates_in_many_hands(text: str, expected: dt.date) -> None:
    result = read(f"day,v\n{text},1\n{text},2\n")
    assert result.table.frame["day"][0] == expected


EDGES = (dt.date(1, 1, 1), dt.date(9999, 12, 31))


def test_no_date_is_kept_for_which_there_is_no_way_of_writing() -> None:
    first, last = ((day - dt.date(1970, 1, 1)).days for day in EDGES)
    days = pl.Series([first - 1, first, None, last, last + 1], dtype=pl.Int32).cast(pl.Date)
    assert within_calendar(days).to_list() == [None, EDGES[0], None, EDGES[1], None]
    day = 86_400_000_000
    held = [first * day - 1, first * day, None, (last + 1) * day - 1, (last + 1) * day]
    moments = pl.Series(held, dtype=pl.Int64).cast(pl.Datetime("us"))
    kept = within_calendar(moments)
    assert kept.is_null().to_list() == [True, False, True, False, True]
    assert kept.drop_nulls().to_list() == [dt.datetime.min, dt.datetime.max]


def test_categories_that_are_numbers_are_ordered_by_amount() -> None:
    result = read("mesh\n10\n2\n10\n2\n", kinds={"mesh": Kind.CATEGORY})
    assert result.table.frame["mesh"].dtype == pl.Enum(["2", "10"])


def test_infinity_is_no_amount() -> None:
    result = read("a\n1\ninf\nnan\n2\n", kinds={"a": Kind.NUMBER})
    assert result.table.frame["a"].to_list() == [1, None, None, 2]
    assert [(u.count, u.first_value) for u in result.unread] == [(1, "inf")]


def test_quoted_values_may_hold_delimiters_and_line_ends() -> None:
    result = read('a,b\n"1,000 m\nabove",2\nplain,3\n')
    assert result.table.frame["a"][0] == "1,000 m\nabove"


def test_rows_that_hold_nothing_are_no_rows() -> None:
    assert read("a,b\n1,2\n\n,\n3,4\n").table.rows == 2


@pytest.mark.parametrize(
    ("content", "message", "row"),
    [
        (b"", "dew.csv is empty", None),
        (b"  \n \n", "dew.csv is empty", None),
        (b"\x89PNG\r\n\x1a\n0000", "dew.csv is a PNG picture", None),
        (b"\xff\xd8\xff\xe0", "dew.csv is a JPEG picture", None),
        (b"PK\x03\x04xl/workbook", "dew.csv is damaged", None),
        (b"a,b\n1,2\n\x00\x01,4\n", "line 3 holds bytes", 3),
        (b"a,b\n", "no rows below them", 1),
        (b"a,b\n1,2\n3,4,5\n", "Line 3 of dew.csv has 3 values; the lines above it have 2", 3),
        (b'a,b\n"1,2\n', "cannot be read as delimited text", None),
    ],
)
def test_what_is_wrong_is_said_with_its_place(
    content: bytes, message: str, row: int | None
) -> None:
    with pytest.raises(TableError, match=message) as caught:
        read(content)
    assert caught.value.row == row
    assert caught.value.remedy


def test_an_encoding_that_does_not_fit_is_refused() -> None:
    with pytest.raises(TableError, match="line 2 cannot be read") as caught:
        read(b"a,b\n\xff,1\n", encoding="ascii")
    assert caught.value.row == 2
    with pytest.raises(TableError, match="no encoding 'klingon'"):
        read(b"a\n1\n", encoding="klingon")


def test_a_file_that_is_not_there(tmp_path: Path) -> None:
    with pytest.raises(TableError, match=r"gone\.csv cannot be opened: no such file"):
        read_file(tmp_path / "gone.csv")


class TestNumbersReadAtOnce:
    """Columns that look like numbers in their first rows, and turn out to be something else."""

    def column(self, lines: list[str], **options: object) -> list[object]:
        content = "id,v\n" + "\n".join(f"r{i},{v}" for i, v in enumerate(lines)) + "\n"
        result = read_bytes(content.encode(), "long.csv", ReadOptions.model_validate(options))
        return result.table.frame["v"].to_list()

    def test_a_word_far_down_is_counted_and_kept(self) -> None:
        lines = [str(i % 7 + 0.5) for i in range(2500)]
        lines[2400] = "many"
        content = "id,v\n" + "\n".join(f"r{i},{v}" for i, v in enumerate(lines)) + "\n"
        result = read_bytes(content.encode(), "long.csv")
        (unread,) = result.unread
        assert (unread.count, unread.first_row, unread.first_value) == (1, 2401, "many")
        assert result.sources["v"][2400] == "many"
        assert result.table.frame["v"][0] == 0.5

    def test_a_code_for_missing_far_down_is_missing(self) -> None:
        lines = [str(i) for i in range(2500)]
        lines[2300], lines[2301] = "NA", "-999"
        found = self.column(lines, missing=["NA", "-999"])
        assert (found[2299], found[2300], found[2301], found[2302]) == (2299, None, None, 2302)

    def test_padding_zeros_far_down_do_not_make_a_number_of_a_code_chosen_as_text(self) -> None:
        lines = [str(i) for i in range(100, 2600)]
        lines[2200] = "007"
        assert self.column(lines, kinds={"v": "text"})[2200] == "007"
        assert self.column(lines)[2200] == 7

    def test_text_keeps_its_zeros_behind_the_point(self) -> None:
        assert self.column(["1.50", "2.00"], kinds={"v": "text"}) == ["1.50", "2.00"]

    def test_signs_exponents_and_bare_points(self) -> None:
        assert self.column(["+1.5", "-2e3", ".25", "7."]) == [1.5, -2000.0, 0.25, 7.0]

    def test_without_a_header_nothing_is_lost(self) -> None:
        result = read_bytes(b"1,2\n3,4\n5,6\n", "bare.csv")
        assert result.table.frame.rows() == [(1.0, 2.0), (3.0, 4.0), (5.0, 6.0)]


def test_a_read_that_is_stopped_ends_at_the_next_report() -> None:
    reported: list[float] = []

    def stop(share: float) -> None:
        reported.append(share)
        if share > 0:
            raise StoppedError

    with pytest.raises(StoppedError):
        read_bytes(b"a,b\n1,2\n3,4\n", "x.csv", None, stop)
    assert len(reported) == 2


class TestCodesBesideSpace:
    """Codes for a missing value are found whatever stands about them, in numbers and in words."""

    @pytest.mark.parametrize("beyond", [3, 2500])
    def test_in_every_column_at_once(self, beyond: int) -> None:
        rows = [f"{i},  word {i} ,p" for i in range(beyond)]
        # Codes in two of three; a row of nothing but codes would be no row.
        rows[1] = "NA, NA ,p"
        rows[2] = "5, word 2 ,NA"
        rows.append(f"{beyond}, word , q ")
        result = read_bytes(("n,w,g\n" + "\n".join(rows) + "\n").encode(), "t.csv")
        frame = result.table.frame
        assert frame["n"][1] is None
        assert frame["w"][1] is None
        assert frame["g"][2] is None
        assert frame["w"][-1] == "word"
        assert str(frame["g"][-1]) == "q"
        assert frame["n"].null_count() == 1

    def test_a_row_of_nothing_but_space_is_no_row(self) -> None:
        result = read_bytes(b"a,b\n1,x\n  ,  \n2,y\n", "t.csv")
        assert result.table.frame["a"].to_list() == [1, 2]


@given(
    st.floats(allow_nan=False, allow_infinity=False, width=32),
    st.sampled_from(["{:.1f}", "{:.3e}", "{!r}", "+{!r}"]),
)
def test_a_number_written_as_people_write_it_was_not_altered(value: float, form: str) -> None:
    text = form.format(abs(value))
    read = pl.Series([float(text)])
    assert altered(pl.Series([text]), as_text(read), Kind.NUMBER) == [None]


@pytest.mark.parametrize(
    ("content", "expected"),
    [
        ("a;b\n1.204,5;x\n990,1;y\n", {"a": ["1.204,5", "990,1"], "b": [None, None]}),
        ("a,b\n1204.50,x\n-3e2,y\n", {"a": [None, None], "b": [None, None]}),
        ("t,b\n14/04/2031,1\n15/04/2031,2\n", {"t": ["14/04/2031", "15/04/2031"]}),
        ("t,b\n2031-04-14T06:00,1\n2031-04-15 07:30:00,2\n", {"t": [None, None]}),
        ("t,b\n2031-04-14,NA\n,2\n", {"t": [None, None], "b": [None, None]}),
    ],
)
def test_what_a_guess_altered_is_told_in_the_words_of_the_file(
    content: str, expected: dict[str, list[str | None]]
) -> None:
    read = read_bytes(content.encode(), "nights.csv")
    for variable in read.table.variables:
        if variable.name in expected:
            came = as_text(read.table.frame[variable.name])
            told = altered(read.first_rows[variable.name], came, variable.kind)
            assert told == expected[variable.name]


def test_a_value_that_cannot_be_read_is_told_as_it_stands_in_the_file() -> None:
    content = "a\n1\n2\nnone yet\n4\n"
    read = read_bytes(content.encode(), "n.csv", ReadOptions(kinds={"a": Kind.NUMBER}))
    told = altered(read.first_rows["a"], as_text(read.table.frame["a"]), Kind.NUMBER)
    assert told == [None, None, "none yet", None]

"""Every format is read to the same table, and what is written reads back the same."""

from __future__ import annotations

import datetime as dt
import io
import json
import zipfile
from collections.abc import Callable

import polars as pl
import pytest
import xlsxwriter
from odf.opendocument import OpenDocumentSpreadsheet
from odf.table import Table as OdfTable
from odf.table import TableCell, TableRow
from odf.text import P

from yarrowdew.demo.tables import demo_tables
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading import ReadOptions, read_bytes
from yarrowdew.tables.table import Kind
from yarrowdew.tables.writing import write_table

DAYS = [dt.date(2031, 4, 1), dt.date(2031, 4, 2), None, dt.date(2031, 4, 4)]
COATS = ["wax", "silica", "wax", "silica"]
SHED = [12.5, None, 43.25, 50.0]
EXPECTED = {"day": DAYS, "coating": COATS, "droplets shed": SHED}


def frame() -> pl.DataFrame:
    return pl.DataFrame(
        {"day": DAYS, "coating": pl.Series(COATS, dtype=pl.Categorical), "droplets shed (%)": SHED}
    )


def xlsx() -> bytes:
    buffer = io.BytesIO()
    book = xlsxwriter.Workbook(buffer, {"in_memory": True})
    dated = book.add_format({"num_format": "yyyy-mm-dd"})
    for name in ("Trial", "Again"):
        sheet = book.add_worksheet(name)
        sheet.write(0, 1, "Coating trial")
        sheet.write_row(2, 1, ["day", "coating", "droplets shed (%)"])
        for place, (day, coat, shed) in enumerate(zip(DAYS, COATS, SHED, strict=True), 3):
            if day:
                sheet.write_datetime(place, 1, dt.datetime.combine(day, dt.time()), dated)
            sheet.write(place, 2, coat)
            if shed is not None:
                sheet.write_number(place, 3, shed)
    book.add_worksheet("Empty")
    book.close()
    return buffer.getvalue()


def ods() -> bytes:
    document = OpenDocumentSpreadsheet()
    table = OdfTable(name="Trial")
    head = TableRow()
    for text in ("day", "coating", "droplets shed (%)"):
        cell = TableCell(valuetype="string")
        cell.addElement(P(text=text))
        head.addElement(cell)
    table.addElement(head)
    for day, coat, shed in zip(DAYS, COATS, SHED, strict=True):
        row = TableRow()
        row.addElement(
            TableCell(valuetype="date", datevalue=day.isoformat()) if day else TableCell()
        )
        word = TableCell(valuetype="string")
        word.addElement(P(text=coat))
        row.addElement(word)
        row.addElement(
            TableCell(valuetype="float", value=repr(shed)) if shed is not None else TableCell()
        )
        table.addElement(row)
    document.spreadsheet.addElement(table)
    buffer = io.BytesIO()
    document.write(buffer)
    return buffer.getvalue()


def written(write: Callable[[pl.DataFrame, io.BytesIO], None]) -> bytes:
    buffer = io.BytesIO()
    write(frame(), buffer)
    return buffer.getvalue()


def records() -> list[dict]:
    return [
        {"day": day and day.isoformat(), "coating": coat, "droplets shed (%)": shed}
        for day, coat, shed in zip(DAYS, COATS, SHED, strict=True)
    ]


def columns() -> dict[str, list]:
    return {key: [record[key] for record in records()] for key in records()[0]}


FILES: dict[str, Callable[[], bytes]] = {
    "csv": lambda: frame().write_csv().encode(),
    "tsv": lambda: frame().write_csv(separator="\t").encode(),
    "xlsx": xlsx,
    "ods": ods,
    "parquet": lambda: written(lambda f, b: f.write_parquet(b)),
    "arrow": lambda: written(lambda f, b: f.write_ipc(b)),
    "arrows": lambda: written(lambda f, b: f.write_ipc_stream(b)),
    "json": lambda: json.dumps(records()).encode(),
    "columns.json": lambda: json.dumps(columns()).encode(),
    "ndjson": lambda: "\n".join(json.dumps(r) for r in records()).encode(),
}


@pytest.mark.parametrize("ending", FILES)
def test_every_format_gives_the_same_table(ending: str) -> None:
    result = read_bytes(FILES[ending](), f"trial.{ending}")
    table = result.table
    assert {v.name: (v.kind, v.unit) for v in table.variables} == {
        "day": (Kind.DATE, ""),
        "coating": (Kind.CATEGORY, ""),
        "droplets shed": (Kind.NUMBER, "%"),
    }
    assert table.frame.to_dict(as_series=False) == EXPECTED


def test_sheets_are_offered_and_chosen() -> None:
    first = read_bytes(xlsx(), "trial.xlsx")
    assert first.sheets == ("Trial", "Again")
    assert (first.options.sheet, first.table.name) == ("Trial", "Trial")
    assert read_bytes(xlsx(), "t.xlsx", ReadOptions(sheet="Again")).table.name == "Again"
    with pytest.raises(TableError, match=r"no sheet 'Other'.*Trial, Again, Empty"):
        read_bytes(xlsx(), "t.xlsx", ReadOptions(sheet="Other"))
    with pytest.raises(TableError, match=r"'Empty' of t\.xlsx is empty"):
        read_bytes(xlsx(), "t.xlsx", ReadOptions(sheet="Empty"))


@pytest.mark.parametrize("table", demo_tables(), ids=lambda t: t.name)
def test_a_data_package_reads_back_the_same(table: object) -> None:
    back = read_bytes(write_table(table, "package"), "any.zip").table
    assert back.variables == table.variables
    assert back.name == table.name
    assert back.frame.schema == table.frame.schema
    assert back.frame.equals(table.frame)


def test_parquet_and_csv_read_back_the_same_values() -> None:
    for table in demo_tables():
        parquet = read_bytes(write_table(table, "parquet"), "t.parquet").table
        assert parquet.frame.equals(table.frame)
        csv = read_bytes(write_table(table, "csv"), "t.csv").table
        assert [(v.name, v.unit) for v in csv.variables] == [
            (v.name, v.unit) for v in table.variables
        ]
        for name in table.frame.columns:
            values = (frame[name].cast(pl.String).to_list() for frame in (csv.frame, table.frame))
            assert next(values) == next(values)


def test_labels_and_missing_codes_of_a_package_are_kept() -> None:
    description = {
        "resources": [
            {
                "name": "trial",
                "path": "data/t.csv",
                "schema": {
                    "fields": [
                        {"name": "d", "type": "number", "title": "Dose", "unit": "g"},
                        {"name": "c", "type": "string", "categories": ["b", "a"]},
                    ],
                    "missingValues": ["", "-999"],
                },
            }
        ]
    }
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        archive.writestr("datapackage.json", json.dumps(description))
        archive.writestr("data/t.csv", "d,c\n1,a\n-999,b\n")
    table = read_bytes(buffer.getvalue(), "p.zip").table
    assert (table.variables[0].label, table.variables[0].unit) == ("Dose", "g")
    assert table.frame["d"].to_list() == [1, None]
    assert table.frame["c"].dtype == pl.Enum(["b", "a"])


@pytest.mark.parametrize(
    ("content", "message"),
    [
        (b'{"a": [1, 2], "b": [1]}', "differ in length"),
        (b'{"a": 1}\n{"a": ', "Line 2 of f is not JSON"),
        (b"[1, 2, 3]", "JSON but no table"),
        (b"[]", "JSON but no table"),
        (b"PAR1 nothing of the kind", "cannot be read as a Parquet file"),
        (b"ARROW1 nothing of the kind", "cannot be read as an Arrow file"),
        (b"\xd0\xcf\x11\xe0\xa1\xb1", "old-style or locked workbook"),
    ],
)
def test_damaged_files_say_so(content: bytes, message: str) -> None:
    with pytest.raises(TableError, match=message):
        read_bytes(content, "f")


def test_a_zip_without_a_table_says_so() -> None:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        archive.writestr("readme.txt", "nothing")
    with pytest.raises(TableError, match=r"zip archive without a datapackage\.json"):
        read_bytes(buffer.getvalue(), "f.zip")
    with pytest.raises(TableError, match="f is damaged"):
        read_bytes(buffer.getvalue()[:40], "f")


@pytest.mark.parametrize(
    ("text", "expected", "ambiguous"),
    [
        ("13/04/2031,05/04/2031", dt.date(2031, 4, 5), False),
        ("04/13/2031,04/05/2031", dt.date(2031, 4, 5), False),
        ("03/04/2031,05/04/2031", dt.date(2031, 4, 5), True),
        ("2031-04,2031-05", dt.date(2031, 5, 1), False),
    ],
)
def test_day_and_month_are_told_by_the_values(
    text: str, expected: dt.date, ambiguous: bool
) -> None:
    result = read_bytes(("day\n" + text.replace(",", "\n") + "\n").encode(), "d.csv")
    assert result.table.frame["day"][1] == expected
    assert (result.ambiguous == ("day",)) is ambiguous


def test_day_and_month_are_asked_where_they_cannot_be_told() -> None:
    content = b"day\n03/04/2031\n05/04/2031\n"
    by_month = read_bytes(content, "d.csv", ReadOptions(day_first=False))
    assert by_month.table.frame["day"][0] == dt.date(2031, 3, 4)
    assert by_month.ambiguous == ()


@pytest.mark.parametrize(
    ("content", "decimal", "thousands", "values"),
    [
        ('a;b\n"1.234,5";x\n2,25;y\n', ",", ".", [1234.5, 2.25]),
        ('a,b\n"1,234,567.5",x\n12,y\n', ".", ",", [1234567.5, 12]),
        ("a;b\n1 234;x\n5 678;y\n", ".", " ", [1234, 5678]),
        ("a;b\n1.5;x\n2.5;y\n", ".", "", [1.5, 2.5]),
    ],
)
def test_marks_between_thousands(
    content: str, decimal: str, thousands: str, values: list[float]
) -> None:
    result = read_bytes(content.encode(), "t.csv")
    assert (result.options.decimal, result.options.thousands) == (decimal, thousands)
    assert result.table.frame["a"].to_list() == values

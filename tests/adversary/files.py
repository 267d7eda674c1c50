"""Files of every format, and what chance makes of them."""

from __future__ import annotations

import functools
import io
import random
import zipfile
from collections.abc import Callable, Iterator

import orjson
import polars as pl
import xlsxwriter

ODD = [
    b'"',
    b"\0",
    b"\r",
    b"\n\n",
    b",,,,",
    b"\xff\xfe",
    b"\xef\xbb\xbf",
    "§".encode(),
    b"1e999",
    b"-",
    b"NaN",
    b"inf",
    b"31.02.2031",
    b"2031-13-45T99:99",
    b"1.013.2",
    b"[" * 600,
    b"{" * 40,
    b"x" * 140_000,
    b"=1+1",
    b"\\u0000",
    b"null",
    "\u2028".encode(),
]
OPTIONS: list[dict[str, object]] = [
    {},
    {},
    {},
    {"header": 0},
    {"header": 50},
    {"delimiter": "§"},
    {"delimiter": "é"},
    {"delimiter": '"'},
    {"encoding": "rot13"},
    {"encoding": "zlib"},
    {"encoding": "undefined"},
    {"encoding": "utf-16"},
    {"decimal": ","},
    {"thousands": ".", "decimal": ","},
    {"sheet": "nowhere"},
    {"day_first": True},
    {"missing": []},
]


def frame() -> pl.DataFrame:
    """A small table of every kind."""
    return pl.DataFrame(
        {
            "night": ["2031-04-01", "2031-04-02", None, "2031-04-04"],
            "valley": ["Argill", "Bracken", "Argill", "Corrie"],
            "yield (mL/m²)": [1013.25, 2.5, -3e-300, None],
            "cloud": [0, 8, 4, 4],
        }
    )


def _zipped(parts: dict[str, bytes]) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for path, content in parts.items():
            archive.writestr(path, content)
    return buffer.getvalue()


def _workbook() -> bytes:
    buffer = io.BytesIO()
    book = xlsxwriter.Workbook(buffer)
    sheet = book.add_worksheet("nights")
    for column, name in enumerate(frame().columns):
        sheet.write(0, column, name)
        for row, value in enumerate(frame()[name], 1):
            if value is not None:
                sheet.write(row, column, value)
    book.close()
    return buffer.getvalue()


def _columnar(write: Callable[[pl.DataFrame, io.BytesIO], object]) -> bytes:
    buffer = io.BytesIO()
    write(frame(), buffer)
    return buffer.getvalue()


def _package() -> bytes:
    description = {
        "resources": [
            {
                "name": "nights",
                "path": "nights.csv",
                "encoding": "utf-8",
                "dialect": {"delimiter": ","},
                "schema": {
                    "fields": [
                        {"name": "night", "type": "date"},
                        {"name": "valley", "type": "string", "categories": ["Argill", "Bracken"]},
                        {"name": "yield", "type": "number", "unit": "mL/m²"},
                        {"name": "cloud", "type": "integer"},
                    ],
                    "missingValues": ["", "NA"],
                },
            }
        ]
    }
    return _zipped(
        {"datapackage.json": orjson.dumps(description), "nights.csv": frame().write_csv().encode()}
    )


def _ods() -> bytes:
    rows = "".join(
        "<table:table-row>"
        + "".join(
            f'<table:table-cell office:value-type="string"><text:p>{v}</text:p></table:table-cell>'
            for v in row
        )
        + "</table:table-row>"
        for row in [frame().columns, *frame().rows()]
    )
    content = (
        '<?xml version="1.0"?><office:document-content '
        'xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" '
        'xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" '
        'xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"><office:body>'
        f'<office:spreadsheet><table:table table:name="nights">{rows}</table:table>'
        "</office:spreadsheet></office:body></office:document-content>"
    )
    return _zipped(
        {
            "mimetype": b"application/vnd.oasis.opendocument.spreadsheet",
            "META-INF/manifest.xml": b"<manifest/>",
            "content.xml": content.encode(),
        }
    )


def seeds() -> dict[str, bytes]:
    """One good file of each format."""
    text = frame().write_csv()
    return {
        "comma.csv": text.encode(),
        "semicolon.csv": text.replace(",", ";").replace(".", ",").encode("windows-1252"),
        "wide.tsv": text.replace(",", "\t").encode("utf-16"),
        "one.csv": b"day\n01.02.2025\n02.02.2025\n\n03.02.2025\n",
        "nights.xlsx": _workbook(),
        "nights.ods": _ods(),
        "nights.parquet": _columnar(lambda f, b: f.write_parquet(b)),
        "nights.arrow": _columnar(lambda f, b: f.write_ipc(b)),
        "nights.arrows": _columnar(lambda f, b: f.write_ipc_stream(b)),
        "records.json": orjson.dumps(frame().to_dicts()),
        "columns.json": orjson.dumps(frame().to_dict(as_series=False)),
        "lines.ndjson": frame().write_ndjson().encode(),
        "package.zip": _package(),
    }


def mutated(content: bytes, draw: random.Random) -> bytes:
    """Change a file in a few places, or inside the files that it holds."""
    if content.startswith(b"PK") and draw.random() < 0.6:
        inside = _inside(content, draw)
        if inside is not None:
            return inside
    for _ in range(draw.choice([1, 1, 2, 5, 20])):
        content = _once(content, draw)
    return content


def _inside(content: bytes, draw: random.Random) -> bytes | None:
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        parts = {name: archive.read(name) for name in archive.namelist()}
    path = draw.choice(list(parts))
    if path.endswith(".json") and draw.random() < 0.6:
        parts[path] = _retyped(parts[path], draw)
    else:
        parts[path] = mutated(parts[path], draw)
    return _zipped(parts)


def _retyped(content: bytes, draw: random.Random) -> bytes:
    """Put values of a wrong type into a description."""
    described = orjson.loads(content)

    def places(value: object) -> Iterator[tuple[object, object]]:
        items = (
            value.items()
            if isinstance(value, dict)
            else enumerate(value)
            if isinstance(value, list)
            else ()
        )
        for key, inner in items:
            yield value, key
            yield from places(inner)

    holder, key = draw.choice(list(places(described)))
    odd: list[object] = [None, 1, -1.5, "", "x", [], {}, [[]], True, "\0", "é", "ab", [None], "a/b"]
    holder[key] = draw.choice(odd)  # type: ignore[index]
    return orjson.dumps(described)


def _once(content: bytes, draw: random.Random) -> bytes:
    at = draw.randrange(len(content) + 1)
    length = draw.choice([1, 2, 8, 64, 512])
    how = draw.randrange(7)
    if how == 0 and content:
        at = min(at, len(content) - 1)
        return content[:at] + bytes([content[at] ^ 1 << draw.randrange(8)]) + content[at + 1 :]
    if how == 1:
        return content[:at]
    if how == 2:
        return content[:at] + content[at + length :]
    if how == 3:
        return content[:at] + draw.choice(ODD) + content[at:]
    if how == 4:
        return content[:at] + draw.randbytes(length) + content[at:]
    if how == 5:
        return content[:at] + content[at : at + length] * draw.choice([2, 50]) + content[at:]
    return content[:at] + b"\xff" * min(length, 8) + content[at + min(length, 8) :]


@functools.cache
def bombs() -> dict[str, bytes]:
    """Small files that ask for very much."""
    far = io.BytesIO()
    book = xlsxwriter.Workbook(far)
    sheet = book.add_worksheet()
    for row, column in ((0, 0), (0, 1), (1, 0), (1, 1), (1_048_575, 16_383)):
        sheet.write(row, column, 1)
    book.close()
    return {
        "far.xlsx": far.getvalue(),
        "zeros.zip": _zipped(
            {"datapackage.json": _description("z.csv"), "z.csv": bytes(200_000_000)}
        ),
        "lines.zip": _zipped(
            {"datapackage.json": _description("l.csv"), "l.csv": b"a,b\n" + b"1,2\n" * 20_000_000}
        ),
        "blank.ods": _zipped({"content.xml": b" " * 150_000_000}),
    }


def _description(path: str) -> bytes:
    return orjson.dumps({"resources": [{"name": "t", "path": path}]})

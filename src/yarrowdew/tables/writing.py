"""Writing a table so that others can read it, and so that it reads back the same."""

from __future__ import annotations

import io
import re
import zipfile
from typing import Any, Literal

import orjson
import polars as pl

from yarrowdew.tables.reading.package import DESCRIPTION
from yarrowdew.tables.table import Kind, Table, Variable, categories_of

Format = Literal["csv", "parquet", "package"]

MEDIA_TYPES: dict[Format, tuple[str, str]] = {
    "csv": ("text/csv; charset=utf-8", "csv"),
    "parquet": ("application/vnd.apache.parquet", "parquet"),
    "package": ("application/zip", "zip"),
}
"""Media type and file ending of each format."""

_ZIP_DATE = (1980, 1, 1, 0, 0, 0)


def write_table(table: Table, format_: Format) -> bytes:
    """Write a table.

    Parameters
    ----------
    table : Table
    format_ : {"csv", "parquet", "package"}
        CSV with units in the headers; Parquet with types; or a Data Package (Frictionless, a zip)
        that holds labels, units, kinds, the order of categories and the missing code.
    """
    if format_ == "csv":
        headed = {v.name: f"{v.name} ({v.unit})" if v.unit else v.name for v in table.variables}
        return _csv(table.frame.rename(headed))
    if format_ == "parquet":
        buffer = io.BytesIO()
        table.frame.write_parquet(buffer)
        return buffer.getvalue()
    return _package(table)


def _csv(frame: pl.DataFrame) -> bytes:
    return frame.write_csv(datetime_format="%Y-%m-%dT%H:%M:%S").encode("utf-8")


def _package(table: Table) -> bytes:
    name = re.sub(r"[^a-z0-9._-]+", "-", table.name.lower()).strip("-") or "table"
    description = {
        "$schema": "https://datapackage.org/profiles/2.0/datapackage.json",
        "name": name,
        "resources": [
            {
                "name": table.name,
                "path": f"{name}.csv",
                "format": "csv",
                "mediatype": "text/csv",
                "encoding": "utf-8",
                "schema": {
                    "fields": [_field(v, table.frame[v.name]) for v in table.variables],
                    "missingValues": [""],
                },
            }
        ],
    }
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for path, content in (
            (DESCRIPTION, orjson.dumps(description, option=orjson.OPT_INDENT_2)),
            (f"{name}.csv", _csv(table.frame)),
        ):
            # A fixed date, so that the same table makes the same file.
            archive.writestr(zipfile.ZipInfo(path, _ZIP_DATE), content, zipfile.ZIP_DEFLATED)
    return buffer.getvalue()


def _field(variable: Variable, column: pl.Series) -> dict[str, Any]:
    types = {Kind.NUMBER: "number", Kind.CATEGORY: "string", Kind.TEXT: "string"}
    dated = "date" if column.dtype == pl.Date else "datetime"
    field: dict[str, Any] = {
        "name": variable.name,
        "type": types.get(variable.kind, dated),
        "title": variable.label,
    }
    if variable.unit:
        field["unit"] = variable.unit
    if variable.kind is Kind.CATEGORY:
        field["categories"] = categories_of(column)
    return field

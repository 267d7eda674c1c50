"""Data packages (Frictionless Data Package, as a zip): tables with a description of themselves."""

from __future__ import annotations

import io
import zipfile
from typing import Any

import orjson
import polars as pl

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading.delimited import read_delimited
from yarrowdew.tables.reading.options import RawTable, ReadOptions
from yarrowdew.tables.table import Kind, Variable

DESCRIPTION = "datapackage.json"
MOST_BYTES = 1_000_000_000
"""Of one table, unpacked: a small zip may hold a very large file."""

_KINDS = {
    "number": Kind.NUMBER,
    "integer": Kind.NUMBER,
    "year": Kind.NUMBER,
    "date": Kind.DATE,
    "datetime": Kind.DATE,
    "string": Kind.TEXT,
}


def read_package(content: bytes, name: str, options: ReadOptions) -> RawTable:
    """Read a resource of the package: the one asked for, or the first."""
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        try:
            description = orjson.loads(archive.read(DESCRIPTION))
            resources = {
                str(r.get("name") or r["path"]): r for r in description["resources"] if "path" in r
            }
        except (orjson.JSONDecodeError, KeyError, TypeError, AttributeError) as error:
            raise TableError(
                f"{name} has a {DESCRIPTION} that lists no resources with a path.",
                "Make the package again.",
            ) from error
        if options.sheet is not None and options.sheet not in resources:
            known = ", ".join(resources)
            raise TableError(f"{name} has no table '{options.sheet}'.", f"It has: {known}.")
        if not resources:
            raise TableError(f"{name} holds no table.", "Choose another file.")
        key = options.sheet or next(iter(resources))
        resource = resources[key]
        data = _unpacked(archive, str(resource["path"]), name)
    schema = resource.get("schema") or {}
    fields = schema.get("fields") or []
    missing = [str(code) for code in schema.get("missingValues", [""])]
    given = options.model_copy(
        update={
            "sheet": key,
            "missing": missing,
            "header": options.header if options.header is not None else 1,
            "encoding": options.encoding or resource.get("encoding", "utf-8"),
            "delimiter": options.delimiter or (resource.get("dialect") or {}).get("delimiter"),
        }
    )
    described = tuple(_variable(f) for f in fields if isinstance(f, dict) and "name" in f)
    # What is described as text is not read as numbers, or 1.50 would come back as 1.5.
    given.kinds = {v.name: v.kind for v in described} | options.kinds
    raw = read_delimited(data, f"{key}.csv", given)
    if len(described) != raw.columns.width:
        described = ()
    return RawTable(
        key,
        raw.headers,
        _with_order(raw.columns, fields, described),
        raw.options.model_copy(update={"kinds": options.kinds}),
        described=described,
        sheets=tuple(resources),
    )


def _unpacked(archive: zipfile.ZipFile, path: str, name: str) -> bytes:
    try:
        info = archive.getinfo(path)
    except KeyError as error:
        raise TableError(
            f"{name} names '{path}' but does not hold it.", "Make the package again."
        ) from error
    if info.file_size > MOST_BYTES:
        raise TableError(
            f"'{path}' in {name} is too large: {info.file_size / 1e6:,.0f} MB unpacked.",
            "Take out variables or rows that are not needed.",
        )
    return archive.read(info)


def _variable(field: dict[str, Any]) -> Variable:
    kind = _KINDS.get(str(field.get("type", "string")), Kind.TEXT)
    if field.get("categories") is not None:
        kind = Kind.CATEGORY
    name = str(field["name"])
    return Variable(name, kind, str(field.get("title") or name), str(field.get("unit") or ""))


def _with_order(
    columns: pl.DataFrame, fields: list[dict[str, Any]], described: tuple[Variable, ...]
) -> pl.DataFrame:
    """Give categories the order in which the package lists them."""
    if not described:
        return columns
    series = []
    for column, field in zip(columns, fields, strict=True):
        listed = field.get("categories") or []
        order = [str(c["value"] if isinstance(c, dict) else c) for c in listed]
        known = bool(order) and set(column.drop_nulls().unique().to_list()) <= set(order)
        series.append(column.cast(pl.Enum(order)) if known else column)
    return pl.DataFrame(series)

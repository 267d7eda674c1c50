"""Data packages (Frictionless Data Package, as a zip): tables with a description of themselves."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Mapping
from typing import Any, BinaryIO

import orjson
import polars as pl

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.guarding import unguarded_cells
from yarrowdew.tables.reading.delimited import read_delimited
from yarrowdew.tables.reading.options import RawTable, ReadOptions
from yarrowdew.tables.table import Kind, Variable

DESCRIPTION = "datapackage.json"
OWN = "yarrowdew"
"""The property under which a package or a resource holds what only this program reads."""
MOST_DESCRIPTION = 200_000_000
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
        description = _description(archive, name)
        resources = {
            str(r.get("name") or r["path"]): r for r in description["resources"] if "path" in r
        }
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
    columns = raw.columns
    if own_part(resource).get("guarded"):
        columns = columns.select(
            unguarded_cells(pl.col(n)) if dtype == pl.String else pl.col(n)
            for n, dtype in columns.schema.items()
        )
    return RawTable(
        str(own_part(resource).get("title") or key),
        raw.headers,
        _with_order(columns, fields, described),
        raw.options.model_copy(update={"kinds": options.kinds}),
        described=described,
        sheets=tuple(resources),
    )


def is_package(file: BinaryIO) -> bool:
    """Tell whether a file is a zip archive that describes itself as a data package."""
    try:
        with zipfile.ZipFile(file) as archive:
            return DESCRIPTION in archive.namelist()
    except zipfile.BadZipFile:
        return False


def describe_package(content: bytes, name: str) -> dict[str, Any]:
    """Return what a data package says of itself.

    Raises
    ------
    TableError
        If it is no data package.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            return _description(archive, name)
    except (zipfile.BadZipFile, KeyError) as error:
        raise TableError(
            f"{name} is not a data package.", "Choose a file that was saved as one (.zip)."
        ) from error


def own_part(described: Mapping[str, Any]) -> dict[str, Any]:
    """Return what only this program reads; empty where another program wrote it."""
    own = described.get(OWN)
    return own if isinstance(own, dict) else {}


def _description(archive: zipfile.ZipFile, name: str) -> dict[str, Any]:
    try:
        if archive.getinfo(DESCRIPTION).file_size > MOST_DESCRIPTION:
            raise TypeError("too large")
        description = orjson.loads(archive.read(DESCRIPTION))
        for resource in description["resources"]:
            resource.get("path")
    except (orjson.JSONDecodeError, KeyError, TypeError, AttributeError) as error:
        raise TableError(
            f"{name} has no {DESCRIPTION} that lists resources with a path.",
            "Make the package again.",
        ) from error
    else:
        return dict(description)


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

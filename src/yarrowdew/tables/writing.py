"""Writing a table so that others can read it, and so that it reads back the same."""

from __future__ import annotations

import io
import re
import zipfile
import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import orjson
import polars as pl

from yarrowdew.tables.formula_cells import guarded_cells
from yarrowdew.tables.kinds import of_kind
from yarrowdew.tables.limits import Limits
from yarrowdew.tables.naming import distinct_names
from yarrowdew.tables.reading.archives import check_sizes, opened
from yarrowdew.tables.reading.package import DESCRIPTION, OWN, digest
from yarrowdew.tables.table import Table, Variable

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
        headed = [f"{v.name} ({v.unit})" if v.unit else v.name for v in table.variables]
        frame = table.frame.clone()
        frame.columns = distinct_names(headed)
        return _csv(frame)
    if format_ == "parquet":
        buffer = io.BytesIO()
        table.frame.write_parquet(buffer)
        return buffer.getvalue()
    return write_package([Resource(table)])


@dataclass(frozen=True, slots=True)
class Resource:
    """A table of a data package, and what else is to be known of it."""

    table: Table
    more: Mapping[str, Any] | None = None
    """Properties of our own, which other readers pass over."""


def write_package(resources: Sequence[Resource], more: Mapping[str, Any] | None = None) -> bytes:
    """Write tables as one Data Package (Frictionless, a zip).

    Parameters
    ----------
    resources : sequence of Resource
        Tables of the same name are numbered.
    more : mapping, optional
        Properties of our own of the package, which other readers pass over.
    """
    described: list[dict[str, Any]] = []
    files: list[tuple[str, bytes]] = []
    names = distinct_names([resource.table.name for resource in resources])
    for name, resource in zip(names, resources, strict=True):
        table = resource.table
        number = f"{len(described) + 1}-" if len(resources) > 1 else ""
        stem = f"{number}{_slug(table.name)}"
        path, exact = f"{stem}.csv", f"{stem}.arrow"
        csv = _csv(table.frame)
        described.append(
            {
                "name": name,
                "path": path,
                "format": "csv",
                "mediatype": "text/csv",
                "encoding": "utf-8",
                "schema": {
                    "fields": [_field(v, table.frame[v.name]) for v in table.variables],
                    "missingValues": [""],
                },
                OWN: {
                    **(resource.more or {}),
                    "guarded": True,
                    "title": table.name,
                    "exact": exact,
                    "digest": digest(csv),
                },
            }
        )
        files += [(path, csv), (exact, _arrow(table.frame))]
    description = {
        "$schema": "https://datapackage.org/profiles/2.0/datapackage.json",
        "name": _slug(names[0]) if names else "package",
        "resources": described,
        **({OWN: dict(more)} if more else {}),
    }
    files.insert(0, (DESCRIPTION, orjson.dumps(description, option=orjson.OPT_INDENT_2)))
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for path, content in files:
            # A fixed date, so that the same table makes the same file.
            archive.writestr(zipfile.ZipInfo(path, _ZIP_DATE), content, _compression(content))
    packed = buffer.getvalue()
    with opened(packed, "The package") as archive:
        # What could not be read in again is not written.
        check_sizes(archive, len(packed), "The package", Limits())
    return packed


def _compression(content: bytes) -> int:
    """How a file is packed: one that would shrink to nearly nothing is taken for a trap."""
    if len(content) < _ALWAYS_PACKED:
        return zipfile.ZIP_DEFLATED
    head = content[:_ALWAYS_PACKED]
    swells = len(zlib.compress(head, 1)) * _MOST_TIMES < len(head)
    return zipfile.ZIP_STORED if swells else zipfile.ZIP_DEFLATED


_ALWAYS_PACKED = 1_000_000
_MOST_TIMES = 40


def _slug(name: str) -> str:
    return re.sub(r"[^a-z0-9._-]+", "-", name.lower()).strip("-.")[:80] or "table"


def _arrow(frame: pl.DataFrame) -> bytes:
    buffer = io.BytesIO()
    frame.write_ipc(buffer, compression="zstd")
    return buffer.getvalue()


def _csv(frame: pl.DataFrame) -> bytes:
    guarded = [
        pl.select(guarded_cells(pl.lit(column))).to_series()
        if column.dtype == pl.String or isinstance(column.dtype, pl.Enum)
        else column
        for column in frame.get_columns()
    ]
    headers = pl.Series(frame.columns, dtype=pl.String)
    safe = pl.select(guarded_cells(pl.lit(headers))).to_series().to_list()
    named = pl.DataFrame([c.alias(str(i)) for i, c in enumerate(guarded)])
    # One more apostrophe than another header has would make the two alike.
    named.columns = distinct_names(safe)
    return named.write_csv(datetime_format="%Y-%m-%dT%H:%M:%S%.f").encode("utf-8")


def _field(variable: Variable, column: pl.Series) -> dict[str, Any]:
    field: dict[str, Any] = {
        "name": variable.name,
        "type": of_kind(variable.kind).package_type(column),
        "title": variable.label,
    }
    if variable.unit:
        field["unit"] = variable.unit
    return field | of_kind(variable.kind).package_more(column)

"""Data packages (Frictionless Data Package, as a zip): tables with a description of themselves.

A package that this program wrote holds each table twice: as CSV, which every program reads, and as
an Arrow file that keeps every value to the last bit. The Arrow file is read where the CSV is still
the one that was written beside it; where someone changed the CSV, that counts.
"""

from __future__ import annotations

import hashlib
import io
import zipfile
from collections.abc import Mapping
from typing import Annotated, Any, BinaryIO

import orjson
import polars as pl
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.formula_cells import unguarded_cells
from yarrowdew.tables.kinds import KINDS
from yarrowdew.tables.limits import Limits
from yarrowdew.tables.reading.archives import check_sizes, member, opened
from yarrowdew.tables.reading.delimited import read_delimited
from yarrowdew.tables.reading.options import RawTable, ReadOptions
from yarrowdew.tables.table import Kind, Variable

DESCRIPTION = "datapackage.json"
OWN = "yarrowdew"
"""The property under which a package or a resource holds what only this program reads."""

_KINDS = {type_: kind for kind, one in KINDS.items() for type_ in one.package_types}


class _Described(BaseModel):
    model_config = ConfigDict(extra="ignore")


class _Coded(_Described):
    value: str | int | float


Listed = str | int | float | _Coded


class _Field(_Described):
    name: str
    type: str = "string"
    title: str | None = None
    unit: str | None = None
    categories: list[Listed] | None = None


class _Schema(_Described):
    fields: list[_Field] = []
    missingValues: list[Listed] = [""]  # noqa: N815 (as the standard writes it)


class _Dialect(_Described):
    delimiter: Annotated[str, Field(min_length=1, max_length=1)] | None = None


class _Resource(_Described):
    name: str | None = None
    path: str | Annotated[list[str], Field(min_length=1)] | None = None
    encoding: str | None = None
    dialect: _Dialect | None = None
    schema_: _Schema | None = Field(default=None, alias="schema")

    @property
    def first_path(self) -> str | None:
        """The file that holds it; the first where it is said to lie in several."""
        return self.path[0] if isinstance(self.path, list) else self.path


class _Description(_Described):
    resources: list[_Resource]


def read_package(content: bytes, name: str, options: ReadOptions, limits: Limits) -> RawTable:
    """Read a resource of the package: the one asked for, or the first."""
    with opened(content, name) as archive:
        check_sizes(archive, len(content), name, limits)
        plain = _description(member(archive, DESCRIPTION, name, limits), name)
        described = _Description.model_validate(plain)
        resources = {
            str(r.name or path): (r, path, plain["resources"][place])
            for place, r in enumerate(described.resources)
            if (path := r.first_path) is not None
        }
        if options.sheet is not None and options.sheet not in resources:
            known = ", ".join(resources)
            raise TableError(f"{name} has no table '{options.sheet}'.", f"It has: {known}.")
        if not resources:
            raise TableError(f"{name} holds no table.", "Choose another file.")
        key = options.sheet or next(iter(resources))
        resource, path, raw = resources[key]
        own = own_part(raw)
        data = member(archive, path, name, limits)
        exact = None
        if own.get("digest") == digest(data) and isinstance(own.get("exact"), str):
            exact = member(archive, own["exact"], name, limits)
    fields = resource.schema_.fields if resource.schema_ else []
    variables = tuple(_variable(f) for f in fields)
    sheets = tuple(resources)
    title = str(own.get("title") or key)
    if exact is not None:
        frame = pl.read_ipc(io.BytesIO(exact))
        if frame.width == len(variables) and frame.width:
            resolved = options.model_copy(update={"sheet": key})
            return RawTable(title, frame.columns, frame, resolved, variables, sheets)
    guarded = bool(own.get("guarded"))
    table = _from_csv(resource, data, key, options, guarded=guarded, limits=limits)
    return RawTable(title, table.headers, table.columns, table.options, table.described, sheets)


def _from_csv(
    resource: _Resource,
    data: bytes,
    key: str,
    options: ReadOptions,
    *,
    guarded: bool,
    limits: Limits,
) -> RawTable:
    schema = resource.schema_ or _Schema()
    variables = tuple(_variable(f) for f in schema.fields)
    given = options.model_copy(
        update={
            "sheet": key,
            "missing": [_written(code) for code in schema.missingValues][:50],
            "header": options.header if options.header is not None else 1,
            "encoding": options.encoding or resource.encoding or "utf-8",
            "delimiter": options.delimiter
            or (resource.dialect.delimiter if resource.dialect else None),
            # What is described as text is not read as numbers, or 1.50 would come back as 1.5.
            "kinds": {v.name: v.kind for v in variables} | options.kinds,
        }
    )
    raw = read_delimited(data, f"{key}.csv", given, limits)
    columns = raw.columns
    if guarded:
        columns = pl.DataFrame(
            [
                pl.select(unguarded_cells(pl.lit(c))).to_series().alias(c.name)
                if c.dtype == pl.String
                else c
                for c in columns.get_columns()
            ]
        )
    fits = len(variables) == columns.width
    return RawTable(
        key,
        raw.headers,
        _with_order(columns, schema.fields) if fits else columns,
        raw.options.model_copy(update={"kinds": options.kinds}),
        described=variables if fits else (),
    )


def digest(data: bytes) -> str:
    """Tell one file from another."""
    return hashlib.sha256(data).hexdigest()


def is_package(file: BinaryIO) -> bool:
    """Tell whether a file is a zip archive that describes itself as a data package."""
    try:
        with opened(file, "") as archive:
            return DESCRIPTION in archive.namelist()
    except TableError:
        return False


def describe_package(content: bytes, name: str, limits: Limits = Limits()) -> dict[str, Any]:
    """Return what a data package says of itself.

    Raises
    ------
    TableError
        If it is no data package.
    """
    if not zipfile.is_zipfile(io.BytesIO(content)):
        raise TableError(
            f"{name} is not a data package.", "Choose a file that was saved as one (.zip)."
        )
    with opened(content, name) as archive:
        check_sizes(archive, len(content), name, limits)
        if DESCRIPTION not in archive.namelist():
            raise TableError(
                f"{name} is not a data package.", "Choose a file that was saved as one (.zip)."
            )
        return _description(member(archive, DESCRIPTION, name, limits), name)


def own_part(described: Mapping[str, Any]) -> dict[str, Any]:
    """Return what only this program reads; empty where another program wrote it."""
    own = described.get(OWN)
    return own if isinstance(own, dict) else {}


def _description(content: bytes, name: str) -> dict[str, Any]:
    """Read and check a description; as it is written, so that its own parts are there too."""
    try:
        plain = orjson.loads(content)
        _Description.model_validate(plain)
    except orjson.JSONDecodeError as error:
        raise TableError(
            f"The {DESCRIPTION} of {name} is not JSON.", "Make the package again."
        ) from error
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(map(str, first["loc"]))
        raise TableError(
            f"The {DESCRIPTION} of {name} does not list resources with a path as it should"
            f"{f' ({place})' if place else ''}.",
            "Make the package again.",
        ) from error
    return dict(plain)


def _written(listed: Listed) -> str:
    return str(listed.value if isinstance(listed, _Coded) else listed)


def _variable(field: _Field) -> Variable:
    kind = _KINDS.get(field.type, Kind.TEXT)
    if field.categories is not None:
        kind = Kind.CATEGORY
    return Variable(field.name, kind, field.title or field.name, field.unit or "")


def _with_order(columns: pl.DataFrame, fields: list[_Field]) -> pl.DataFrame:
    """Give categories the order in which the package lists them."""
    series = []
    for column, field in zip(columns, fields, strict=True):
        order = list(dict.fromkeys(_written(c) for c in field.categories or []))
        text = column.cast(pl.String) if order else column
        known = bool(order) and set(text.drop_nulls().unique().to_list()) <= set(order)
        series.append(text.cast(pl.Enum(order)) if known else column)
    return pl.DataFrame(series)

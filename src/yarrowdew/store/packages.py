"""A study, or one figure with its table, as one file: out, and in again.

The file is a Data Package: other programs read its tables; what only this program knows stands
beside them under a property of its own.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any, TypeVar

import numpy as np
import polars as pl
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from yarrowdew.figures.document.categories import CategoryLook
from yarrowdew.figures.document.formulas import SavedFormula
from yarrowdew.figures.document.looks import SavedLook
from yarrowdew.figures.document.plate import PlateDocument
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.store.documents import FigureRecord
from yarrowdew.store.models import new_id
from yarrowdew.store.store import Store
from yarrowdew.store.studies import StudyRecord
from yarrowdew.store.table_queries import TableRecord
from yarrowdew.store.tables import PackedTable
from yarrowdew.tables.datasets import Dataset, DatasetFile
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.field_roles import RowNumber
from yarrowdew.tables.filters import SavedFilter
from yarrowdew.tables.kinds import as_text
from yarrowdew.tables.naming import LONGEST_NAME
from yarrowdew.tables.reading import ReadOptions, read_bytes
from yarrowdew.tables.reading.package import describe_package, own_part
from yarrowdew.tables.reading.progress import Progress, part_of, unheard
from yarrowdew.tables.summary import TableSummary
from yarrowdew.tables.table import Variable
from yarrowdew.tables.writing import Resource, write_package

VERSION = 1

Model = TypeVar("Model", bound=BaseModel)


class _Packed(BaseModel):
    model_config = ConfigDict(extra="ignore", defer_build=True)


class PackedFigure(_Packed):
    """A figure under the id by which plates speak of it."""

    id: str = Field(max_length=64)
    document: FigureDocument


class PackedDataset(_Packed):
    """A dataset of a study: where its files are, and what was found in them; not its rows."""

    id: str = Field(max_length=64)
    name: str = Field(max_length=200)
    path: str = Field(max_length=4_000)
    columns: dict[str, str]
    files: list[tuple[str, int, int, int]]
    """Of each its path, its bytes, when it was written, and its rows."""
    summary: TableSummary

    @classmethod
    def of(cls, store: Store, table_id: str, dataset: Dataset) -> PackedDataset:
        """Of a dataset that a study has."""
        record = store.tables.record(table_id)
        return cls(
            id=table_id,
            name=dataset.name,
            path=record.dataset or "",
            columns=dict(dataset.columns),
            files=[(f.path, f.size, f.changed, f.rows) for f in dataset.files],
            summary=record.summary,
        )

    def dataset(self) -> Dataset:
        """The dataset as it was; whether its files are still so is seen when they are read."""
        return Dataset(
            self.name,
            tuple(Variable(v.name, v.kind, v.label, v.unit) for v in self.summary.variables),
            self.columns,
            tuple(DatasetFile(*file) for file in self.files),
            made=tuple((v.name, v.recipe) for v in self.summary.variables if v.recipe),
        )


class PackedStudy(_Packed):
    """What a study holds besides its tables."""

    version: int = VERSION
    name: str = Field(default="", max_length=200)
    categories: dict[str, list[CategoryLook]] = {}
    filters: list[SavedFilter] = []
    looks: list[SavedLook] = []
    formulas: list[SavedFormula] = []
    figures: list[PackedFigure] = []
    plates: list[PlateDocument] = []
    datasets: list[PackedDataset] = []


class TableDescription(_Packed):
    """What a table holds besides its values."""

    id: str = Field(default="", max_length=64)
    title: str = Field(default="", max_length=200)
    recipes: dict[str, str] = {}
    """Expressions of derived variables, by their names."""
    row_numbers: list[RowNumber] | None = None
    """The rows' own numbers; their places where null."""
    next_row: RowNumber = 0
    """The number that the next new row gets; numbers are never given twice."""
    unread: dict[str, dict[int, str]] = {}
    """By variable and place, values that could not be read as its kind."""
    options: ReadOptions | None = None


def pack_study(store: Store, study_id: str) -> bytes:
    """Write a whole study as one file, as it stands at one moment."""
    with store.together():
        study = store.studies.get(study_id)
        tables = [
            (table.id, store.datasets.get(table.id)) for table in store.tables.of_study(study_id)
        ]
        packed = PackedStudy(
            name=study.name,
            categories=study.categories,
            filters=study.filters,
            looks=study.looks,
            formulas=study.formulas,
            figures=[_packed(figure) for figure in store.figures.of_study(study_id)],
            plates=[plate.document for plate in store.plates.of_study(study_id)],
            datasets=[
                PackedDataset.of(store, id_, dataset)
                for id_, dataset in tables
                if dataset is not None
            ],
        )
        resources = [_resource(store, id_) for id_, dataset in tables if dataset is None]
    return write_package(resources, packed.model_dump(mode="json"))


def pack_figure(store: Store, study_id: str, document: FigureDocument) -> bytes:
    """Write one figure and its table as one file that reads back as the same figure."""
    with store.together():
        known = store.studies.get(study_id).categories
        used = set(document.variables_used())
        packed = PackedStudy(
            categories={name: looks for name, looks in known.items() if name in used},
            figures=[PackedFigure(id="1", document=document)],
        )
        resource = _resource(store, document.table)
    return write_package([resource], packed.model_dump(mode="json"))


def unpack_study(
    store: Store,
    content: bytes,
    file_name: str,
    may_open: Callable[[str], bool] = lambda _: False,
    progress: Progress = unheard,
) -> StudyRecord:
    """Make a study from a file that one was written to.

    Parameters
    ----------
    store : Store
    content : bytes
    file_name : str
    may_open : callable
        Says of a path whether a dataset there may be opened.
    progress : callable
        Is told the share that is done; nothing is made where it raises.

    Raises
    ------
    TableError
        If it is no such file, is damaged, or has a dataset where none may be opened; nothing is
        made then.
    """
    packed = packed_study(content, file_name)
    if packed is None:
        raise TableError(
            f"{file_name} is a data package, but not a study.",
            "Open a study and read it in there as tables.",
        )
    for held in packed.datasets:
        if not all(may_open(path) for path in (held.path, *(file[0] for file in held.files))):
            raise TableError(
                f"{file_name} shows the dataset {held.name}, whose files lie in {held.path}: this "
                "server may not open them.",
                "Start it with --datasets and the folder that holds them.",
            )
    tables = _tables(content, file_name, progress=part_of(progress, 0, 0.9))
    name = (packed.name or file_name.removesuffix(".zip"))[:LONGEST_NAME]
    progress(0.95)
    with store.unit():
        study = store.studies.create(name)
        _fill(store, study.id, packed, tables)
        return store.studies.get(study.id)


def packed_study(content: bytes, file_name: str) -> PackedStudy | None:
    """Return what a data package holds of a study; None where another program wrote it.

    Raises
    ------
    TableError
        If a newer version of this program wrote it, or it is damaged.
    """
    own = own_part(describe_package(content, file_name))
    if not own:
        return None
    version = own.get("version", 0)
    if isinstance(version, int) and version > VERSION:
        raise TableError(
            f"{file_name} was written by a newer version of Yarrowdew.",
            "Update this installation.",
        )
    return _checked(PackedStudy, own, file_name)


def packed_tables(content: bytes, file_name: str) -> dict[str, TableDescription]:
    """By the names of a package's resources, what it holds of their tables beside their values."""
    resources = describe_package(content, file_name)["resources"]
    return {
        str(r.get("name") or r["path"]): _checked(TableDescription, own_part(r), file_name)
        for r in resources
        if r.get("path") is not None
    }


def unpack_table(
    store: Store,
    study_id: str,
    content: bytes,
    file_name: str,
    options: ReadOptions,
    *,
    name: str = "",
    progress: Progress = unheard,
) -> tuple[TableRecord, list[FigureRecord]] | None:
    """Take a table into a study with the figures that a package has of it.

    Returns None where the package holds no figures of the table that `options` choose.
    """
    packed = packed_study(content, file_name)
    tables = packed_tables(content, file_name)
    key = options.sheet or next(iter(tables), "")
    known = tables.get(key)
    if packed is None or known is None:
        return None
    packed.figures = [f for f in packed.figures if f.document.table == known.id]
    if not packed.figures:
        return None
    packed.plates, packed.filters, packed.looks, packed.formulas = [], [], [], []
    packed.datasets = []
    held = store.studies.get(study_id).categories
    packed.categories = {n: looks for n, looks in packed.categories.items() if n not in held}
    chosen = options.model_copy(update={"sheet": key})
    read = _tables(content, file_name, chosen, name, progress)
    with store.unit():
        made = _fill(store, study_id, packed, read)
        record = store.tables.record(made[known.id])
    return record, [f for f in store.figures.of_study(study_id) if f.document.table == record.id]


@dataclass(frozen=True, slots=True)
class _Read:
    """A table of a package, read, checked and packed before anything is written."""

    known: TableDescription
    packed: PackedTable


def _tables(
    content: bytes,
    file_name: str,
    only: ReadOptions | None = None,
    name: str = "",
    progress: Progress = unheard,
) -> list[_Read]:
    """Read the tables of a package: all of them, or the one that is chosen, under a name."""
    found = []
    described = [
        (key, known)
        for key, known in packed_tables(content, file_name).items()
        if only is None or only.sheet == key
    ]
    for place, (key, known) in enumerate(described):
        listen = part_of(progress, place / len(described), (place + 1) / len(described))
        result = read_bytes(content, file_name, only or ReadOptions(sheet=key))
        table = replace(result.table, name=name or known.title or key)
        numbers = known.row_numbers
        if numbers is not None:
            if len(numbers) != table.rows or len(set(numbers)) < len(numbers):
                raise TableError(
                    f"The rows of '{key}' in {file_name} do not match their numbers.",
                    "Export the file again where it came from.",
                )
            table = replace(table, ids=np.array(numbers, dtype=np.uint32))
        sources = {
            variable: _source(table.frame[variable], values)
            for variable, values in known.unread.items()
            if variable in table.frame.columns
        }
        packed = PackedTable.of(
            table,
            sources,
            options=known.options,
            recipes=known.recipes,
            next_row=known.next_row,
            progress=part_of(listen, 0.5, 1),
        )
        found.append(_Read(known, packed))
    return found


def _fill(store: Store, study_id: str, packed: PackedStudy, tables: list[_Read]) -> dict[str, str]:
    """Add what a package holds to a study; return the new ids of its tables by their old ones."""
    # First, so that values that the tables bring get the colours that they had.
    store.studies.fill(study_id, categories=packed.categories)
    ids = {read.known.id: store.tables.add_packed(study_id, read.packed).id for read in tables}
    for held in packed.datasets:
        ids[held.id] = store.datasets.add(
            study_id, held.dataset(), held.summary, Path(held.path)
        ).id
    owned = [figure for figure in packed.figures if figure.document.table in ids]
    figures = dict(
        zip(
            [figure.id for figure in owned],
            store.figures.create_all(
                study_id,
                [f.document.model_copy(update={"table": ids[f.document.table]}) for f in owned],
            ),
            strict=True,
        )
    )
    for plate in packed.plates:
        for cell in plate.cells:
            # A figure that was deleted stays in its place, under an id that no other has.
            cell.figure = figures.get(cell.figure) or new_id()
    store.plates.create_all(study_id, packed.plates)
    store.studies.fill(
        study_id,
        filters=[
            saved.model_copy(update={"table": ids[saved.table]})
            for saved in packed.filters
            if saved.table in ids
        ],
        looks=packed.looks,
        formulas=packed.formulas,
    )
    return ids


def _packed(figure: FigureRecord) -> PackedFigure:
    return PackedFigure(id=figure.id, document=figure.document)


def _resource(store: Store, table_id: str) -> Resource:
    table = store.tables.get(table_id)
    record = store.tables.record(table_id)
    more = TableDescription(
        id=table_id,
        title=table.name,
        recipes={v.name: v.recipe for v in record.summary.variables if v.recipe},
        row_numbers=None if table.ids is None else table.ids.tolist(),
        next_row=store.tables.next_row(table_id),
        unread={
            name: {
                place: str(text)
                for place, (text, value) in enumerate(zip(source, table.frame[name], strict=True))
                if value is None and text is not None
            }
            for name, source in store.tables.sources(table_id).items()
        },
        options=record.options,
    )
    return Resource(table, more.model_dump(mode="json"))


def _source(values: pl.Series, unread: Mapping[int, str]) -> pl.Series:
    """Put back the text of a variable some of whose values could not be read."""
    text = as_text(values).to_list()
    for place, value in unread.items():
        if 0 <= place < len(text):
            text[place] = value
    return pl.Series(values.name, text, dtype=pl.String)


def _checked(model: type[Model], held: Mapping[str, Any], name: str) -> Model:
    try:
        return model.model_validate(held)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        raise TableError(
            f"{name} holds something that cannot be read: {place}: {first['msg'].lower()}.",
            "Export the file again where it came from.",
        ) from error

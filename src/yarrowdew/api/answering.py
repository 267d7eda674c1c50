"""The answer to a document, whether its table has rows here or is a dataset elsewhere."""

from __future__ import annotations

from collections.abc import Callable
from collections.abc import Set as Names
from typing import TypeVar

from yarrowdew.api.settings import Settings
from yarrowdew.figures.answer import Answered, answer
from yarrowdew.figures.dataset_answer import VisibleRange, answer_dataset
from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.sharing.bundle import Load
from yarrowdew.figures.sharing.dataset import Counted
from yarrowdew.store import Store
from yarrowdew.store.table_queries import TableRecord
from yarrowdew.tables.datasets import Dataset
from yarrowdew.tables.draft import Draft
from yarrowdew.tables.engines.base import engine_named
from yarrowdew.tables.summary import VariableSummary
from yarrowdew.tables.table import Table

Result = TypeVar("Result")


def sources(store: Store, settings: Settings) -> Load:
    """What finds a table, or a dataset, of which figures are shared."""

    def load(table_id: str) -> Table | Counted:
        with store.together():
            linked = store.datasets.link(table_id)
            if linked is None:
                return store.tables.get(table_id)
        return Counted(DatasetView(linked.dataset, engine_named(settings.engine)), linked.words)

    return load


def change_table(
    store: Store,
    settings: Settings,
    table_id: str,
    change: Callable[[Draft], Result],
    expected: int | None,
) -> tuple[TableRecord, Result]:
    """Change a table, or what is made of a dataset, as one step that can be undone."""
    if store.datasets.link(table_id) is None:
        return store.tables.change(table_id, change, expected=expected)
    engine = engine_named(settings.engine)

    def look(dataset: Dataset, names: Names[str]) -> list[VariableSummary]:
        return DatasetView(dataset, engine).summary(names).variables

    return store.datasets.change(table_id, change, look, expected)


class Answering:
    """What a document looks at, found before the work is done."""

    def __init__(self, store: Store, settings: Settings, document: FigureDocument) -> None:
        self._document = document
        self._view: DatasetView | None = None
        self.table: Table
        with store.together():
            linked = store.datasets.link(document.table)
            if linked is None:
                self.table = store.tables.get(document.table, document.variables_used())
                return
        self._view = DatasetView(linked.dataset, engine_named(settings.engine))
        self.table = linked.words

    def answer(
        self,
        most_marks: int | None = None,
        *,
        cautioned: bool = True,
        seen: VisibleRange = VisibleRange(),
    ) -> Answered:
        """Work the answer out; see `figures.answer.answer` and `figures.of_dataset`."""
        if self._view is None:
            return answer(self._document, self.table, most_marks, cautioned=cautioned)
        return answer_dataset(
            self._document, self._view, seen, categories=self.table, is_small=most_marks is not None
        )

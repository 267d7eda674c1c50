"""A figure of a dataset in a script: its rows stay where they are."""

from __future__ import annotations

import base64
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, Unpack

import polars as pl

from yarrowdew.drawing.making import FigureRequest, document_of, saved_document, wanted
from yarrowdew.figures.answer import Answered
from yarrowdew.figures.dataset_answer import answer_dataset
from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.figures.sharing.dataset import Counted
from yarrowdew.script.figures import Figure
from yarrowdew.tables.errors import TableError


@dataclass(frozen=True)
class DatasetFigure(Figure):
    """A figure of a dataset: what it shows is asked of all rows, and `table` holds the first ones.

    Attributes
    ----------
    view : DatasetView
    """

    view: DatasetView = field(repr=False, kw_only=True)

    def __repr__(self) -> str:
        """Say what goes against what."""
        up = ", ".join(self.document.y)
        rows = self.view.dataset.rows
        return f"<yarrowdew figure: {up} against {self.document.x}, {rows:,} rows by parts>"

    @cached_property
    def answered(self) -> Answered:
        """Everything that it is drawn from."""
        return answer_dataset(self.document, self.view)

    @property
    def data(self) -> pl.DataFrame:
        """Refused: the rows are never together."""
        raise self._refused("Rows with their residuals")

    def with_(self, **changes: Unpack[FigureRequest]) -> Figure:
        """The same figure but for what is given; see `Figure`."""
        return figure_of_dataset(self.view, wanted({**self.asked, **changes}), None)

    def source(self) -> Counted:
        """What may be shared: counts, and never the rows."""
        return Counted(self.view, self.table)

    def open(self, address: str = "", *, browser: bool = True) -> str:
        """Refused: a dataset is linked, and not taken in."""
        raise self._refused("A study")

    def _repr_mimebundle_(self, **_: Any) -> dict[str, str]:
        """Show a picture."""
        return {
            "image/png": base64.b64encode(self.image("png", dpi=144)).decode(),
            "text/plain": repr(self),
        }

    @staticmethod
    def _refused(what: str) -> TableError:
        return TableError(
            f"{what} would need all rows of the dataset together.",
            "Save a picture, or import part of the rows.",
        )


def figure_of_dataset(
    view: DatasetView, asked: FigureRequest, document: Mapping[str, Any] | None
) -> DatasetFigure:
    """Make a figure of a dataset, by what is asked for or by a saved document."""
    kept = replace(view, dataset=view.dataset.kept_where(asked.get("where")))
    head = kept.dataset.head
    made = document_of(head, asked) if document is None else saved_document(document, head)
    return DatasetFigure(made, head, asked, head, view=kept)

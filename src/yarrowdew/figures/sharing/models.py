"""What may go out when figures are shared, as it is asked for and as it is said."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, model_validator

from yarrowdew.figures.answer import Answer
from yarrowdew.figures.document.base import DocumentPart, Words
from yarrowdew.figures.document.plate import MOST_CELLS, PlateDocument
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.wire.base import OnWire
from yarrowdew.tables.field_roles import RowNumber, VariableName

TableId = Annotated[str, Field(max_length=64)]


class ShareRequest(DocumentPart):
    """Figures to be shared, and what of their tables may be shared."""

    title: Words
    figures: list[FigureDocument] = Field(min_length=1, max_length=MOST_CELLS)
    plate: PlateDocument | None = None
    """The page on which they stand together; its cells are the figures in their order."""
    hover: list[VariableName] = Field(default_factory=list, max_length=2000)
    """Variables beyond those drawn whose values can be read at each mark."""
    leave_out: list[VariableName] = Field(default_factory=list, max_length=2000)
    """Variables that must not be shared: what they draw is removed from the figure."""
    rows_aside: bool = True
    """Whether rows that are set aside are shared."""
    rows_left_out: dict[TableId, Annotated[list[RowNumber], Field(max_length=1_000_000)]] = Field(
        default_factory=dict, max_length=MOST_CELLS
    )
    """By table, the numbers of rows that must not be shared."""

    @model_validator(mode="before")
    @classmethod
    def _of_one_table(cls, given: object) -> object:
        """Read a list of rows, as it was sent before rows were told apart by their table."""
        if not isinstance(given, dict) or not isinstance(given.get("rows_left_out"), list):
            return given
        figures = given.get("figures")
        held = [_table_of(figure) for figure in figures] if isinstance(figures, list) else []
        tables = {table for table in held if isinstance(table, str)}
        rows = given["rows_left_out"]
        if rows and len(tables) != 1:
            raise ValueError("rows to be left out of several tables are given by table")
        return {**given, "rows_left_out": dict.fromkeys(tables, rows)}


def _table_of(figure: object) -> object:
    return figure.get("table") if isinstance(figure, dict) else getattr(figure, "table", None)


class OutgoingVariable(OnWire):
    """A variable of a table that is shown."""

    name: str
    label: str
    drawn_as: list[str]
    """Its role on the figure: x, y, colour, size, labels; empty where it has none."""
    needed: bool
    """Whether there is no figure without it."""
    goes_out: bool


class Outgoing(OnWire):
    """What would be shared: every variable that could be read, and the number of rows."""

    variables: list[OutgoingVariable]
    rows: int
    rows_aside: int
    """Of them, how many are set aside."""
    counted: int
    """Rows of datasets whose counts in cells go out; they themselves stay."""
    rows_kept: int
    """Rows that are not shared: filtered out, left out, or without a position on the figure."""
    typed: list[str]
    """Sentences about text typed on the figures that mentions a variable which is left out."""


class SharedVariable(OnWire):
    """A variable whose values can be read at each mark."""

    name: str
    label: str
    unit: str
    kind: str


class SharedFigure(OnWire):
    """A figure and everything needed to draw and read it."""

    document: FigureDocument
    answer: Answer
    marks: str
    """An Arrow IPC stream, in base64."""
    variables: list[SharedVariable]
    """Every variable that is shared."""
    hovered: list[str]
    """Names of the variables that can be read beyond those drawn."""
    rows: str
    """A column for each of `hovered`, in their order, and `row`: an Arrow IPC stream, in base64."""


class Shared(OnWire):
    """What is shared, whole."""

    version: int = 1
    title: str
    figures: list[SharedFigure]
    plate: PlateDocument | None

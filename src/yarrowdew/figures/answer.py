"""The one answer to a figure document: everything needed to draw it, and what it says."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
from pydantic import Field

from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.kinds import KINDS
from yarrowdew.figures.kinds.base import FigureKind, KindAnswer
from yarrowdew.figures.pipeline.answer_models import AnswerBase
from yarrowdew.figures.pipeline.differences import DifferenceAnswer
from yarrowdew.figures.pipeline.view import view_of
from yarrowdew.figures.wire.base import OnWire, made_model
from yarrowdew.figures.wire.reports import AssociationAnswer, Caution, FitReport, SlopesAnswer
from yarrowdew.tables.table import Table


def _made() -> Any:
    parts: dict[str, Any] = {
        kind.part_name: (
            kind.answered | None,
            Field(default=None, description=f"Of a {kind.name}; null for other kinds."),
        )
        for kind in KINDS.values()
        if kind.answered is not None
    }
    return made_model("Answer", AnswerBase, AnswerBase.__doc__, **parts)


if TYPE_CHECKING:
    Answer = AnswerBase
else:
    Answer = _made()


class ReadingsAnswer(OnWire):
    """The readings of a figure, without what it draws."""

    fits: list[FitReport]
    slopes: list[SlopesAnswer]
    differences: list[DifferenceAnswer]
    association: AssociationAnswer | None
    cautions: list[Caution]
    problems: list[str]


def readings(document: FigureDocument, table: Table) -> ReadingsAnswer:
    """Work out what a figure says; see `answer`."""
    return readings_in(answer(document, table, most_marks=1).answer)


def readings_in(found: Answer) -> ReadingsAnswer:
    """Take from an answer what the figure says."""
    return ReadingsAnswer(
        fits=[trend.report for trend in found.trends],
        slopes=found.slopes,
        differences=found.differences,
        association=found.association,
        cautions=found.cautions,
        problems=found.problems,
    )


@dataclass(frozen=True, slots=True)
class Answered:
    """An answer and its marks, as an Arrow IPC stream."""

    answer: Answer
    marks: bytes


def answer(
    document: FigureDocument,
    table: Table,
    most_marks: int | None = None,
    *,
    cautioned: bool = True,
) -> Answered:
    """Work out everything that a figure needs to be drawn.

    Parameters
    ----------
    document : FigureDocument
    table : Table
        With at least the columns that the document uses.
    most_marks : int, optional
        For small pictures: at most so many marks, taken evenly from all rows.
    cautioned : bool
        Whether to look for what misleads, which a small picture does not show.

    Raises
    ------
    TableError
        If a variable does not exist or cannot stand where it is asked for.
    """
    kind = document.of_kind
    with np.errstate(all="ignore"):
        found = kind.answer(view_of(document, table), most_marks, cautioned)
    return answered(kind, found)


def answered(kind: FigureKind, found: KindAnswer) -> Answered:
    """Put together what a kind of figure answers."""
    part = {kind.part_name: found.part} if kind.part_name else {}
    # What it is made of was checked when it was made.
    made = Answer.model_construct(None, **found.common.__dict__, **part)
    return Answered(made, found.marks)

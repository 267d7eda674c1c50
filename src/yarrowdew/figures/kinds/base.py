"""What a kind of figure says of itself: everything that others need to know about it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from collections.abc import Set as Names
from dataclasses import dataclass
from typing import Any

from yarrowdew.core.sample import Mask
from yarrowdew.figures.document.base import DocumentPart
from yarrowdew.figures.document.figure import FigureBase
from yarrowdew.figures.document.redaction import Agreed
from yarrowdew.figures.pipeline.answer_models import AnswerBase
from yarrowdew.figures.pipeline.residual_diagnostics import ResidualDiagnostics
from yarrowdew.figures.pipeline.view import View
from yarrowdew.figures.wire.base import OnWire
from yarrowdew.tables.table import Table


@dataclass(frozen=True, slots=True)
class KindAnswer:
    """The answer of a kind.

    Attributes
    ----------
    common : AnswerBase
        What every kind answers.
    part : OnWire or None
        What this kind alone answers.
    marks : bytes
        An Arrow IPC stream.
    """

    common: AnswerBase
    part: OnWire | None
    marks: bytes


@dataclass(frozen=True, slots=True, kw_only=True)
class FigureKind:
    """A kind of figure: all that is known of it, in one place.

    Attributes
    ----------
    name : str
        As documents name it.
    label : str
        As it reads in a sentence.
    part_name : str
        The field of a document, and of an answer, that is its own; empty where there is none.
    part : type or None
        The model of its part of a document.
    part_holds : str
        What its part of a document holds, for the sentence that says that it is not there.
    answered : type or None
        The model of its part of an answer.
    shows : set of str
        The fields of a document that such a figure shows.
    counting : callable
        From a document to the same without what counts for nothing in such a figure.
    dataset_module : str
        The module whose `answer` draws it from a dataset, loaded when one is drawn; empty where a
        dataset cannot be drawn.
    residuals : callable or None
        From a view and the place of a trend to its residuals; None where nothing is fitted.
    answer : callable
        From a view, the most marks wanted, and whether to look for what misleads, to its answer.
    needed : callable
        From a document to the variables without which there is no figure.
    standing : callable
        From a document and what was agreed to, to fields that stand in for those that do not count.
    placed : callable
        From a document and its table to the rows that have a mark.
    entries : callable
        From a document and its table to what its legend may speak of.
    """

    name: str
    label: str
    shows: Names[str]
    answer: Callable[[View, int | None, bool], KindAnswer]
    needed: Callable[[FigureBase], Sequence[str]]
    placed: Callable[[FigureBase, Table], Mask]
    entries: Callable[[FigureBase, Table], Names[str]]
    standing: Callable[[FigureBase, Agreed], dict[str, Any]] = lambda _document, _agreed: {}
    part_name: str = ""
    part: type[DocumentPart] | None = None
    part_holds: str = "its part"
    answered: type[OnWire] | None = None
    counting: Callable[[FigureBase], FigureBase] = lambda document: document
    dataset_module: str = ""
    residuals: Callable[[View, int], ResidualDiagnostics] | None = None

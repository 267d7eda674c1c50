"""A formula that a study keeps under a name."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from yarrowdew.core.trends.family import LONGEST_WORDS
from yarrowdew.figures.document.base import DocumentPart


class SavedFormula(DocumentPart):
    """A named formula with bounds and fixed values, for every figure of a study."""

    name: Annotated[str, Field(min_length=1, max_length=200)]
    formula: Annotated[str, Field(min_length=1, max_length=LONGEST_WORDS)]
    known: Annotated[str, Field(max_length=LONGEST_WORDS)] = ""

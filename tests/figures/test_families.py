"""A document's part of a family: told apart by its name, and built when it is first needed."""

from __future__ import annotations

import subprocess
import sys

import pytest
from pydantic import ValidationError

from yarrowdew.figures.figure import FigureDocument

PLAIN = {"table": "t", "x": "a", "y": ["b"]}


def test_what_is_wrong_with_a_trend_is_told_with_its_place() -> None:
    trends = [{"family": "straight"}, {"family": "local", "settings": {"span": 7}}]
    with pytest.raises(ValidationError) as refused:
        FigureDocument.model_validate({**PLAIN, "trends": trends})
    error = refused.value.errors()[0]
    assert error["loc"] == ("trends", 1, "local", "settings", "span")
    assert error["type"] == "less_than_equal"


def test_only_what_a_document_names_is_built() -> None:
    ran = subprocess.run(  # noqa: S603 (our own code)
        [sys.executable, "-c", _WHAT_IS_BUILT], capture_output=True, text=True, check=True
    )
    assert ran.stdout.split() == ["StraightTrend", "SineWaveTrend"]


_WHAT_IS_BUILT = """
from yarrowdew.figures.document.trends import TrendPart
from yarrowdew.figures.figure import FigureDocument
trends = [{"family": family} for family in ("sine-wave", "straight")]
FigureDocument.model_validate({"table": "t", "x": "a", "y": ["b"], "trends": trends})
print(*(one.__name__ for one in TrendPart.__subclasses__() if one.__pydantic_complete__))
"""

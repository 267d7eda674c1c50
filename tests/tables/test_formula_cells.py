"""Cells that a spreadsheet would run as a formula."""

from __future__ import annotations

import polars as pl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarrowdew.tables.formula_cells import guarded_cells, unguarded_cells
from yarrowdew.tables.table import Kind, Table, Variable
from yarrowdew.tables.writing import write_table


def guarded(text: str | None) -> str | None:
    return pl.select(guarded_cells(pl.lit(text, dtype=pl.String))).item()


def unguarded(text: str | None) -> str | None:
    return pl.select(unguarded_cells(pl.lit(text, dtype=pl.String))).item()


@pytest.mark.parametrize("text", ["=1+1", "+A1", "-A1", "@sum", "\tx", "\rx", "'=1", "''-a"])
def test_what_begins_like_a_formula_gets_an_apostrophe(text: str) -> None:
    assert guarded(text) == "'" + text


@pytest.mark.parametrize("text", ["plain", "-3", "+4.5e-3", "-.5", "", "a=b", "'quoted'", None])
def test_everything_else_is_left_as_it_is(text: str | None) -> None:
    assert guarded(text) == text


@given(st.text(alphabet="'=+-@\tab19.", max_size=8))
def test_what_was_there_always_comes_back(text: str) -> None:
    assert unguarded(guarded(text)) == text


def test_headers_of_an_export_are_safe_too() -> None:
    variables = (Variable("=cmd()", Kind.TEXT, "Odd"), Variable("a", Kind.NUMBER, "A", "mm"))
    table = Table("odd", variables, pl.DataFrame({"=cmd()": ["@x", "-2"], "a": [-1.0, 2.5]}))
    assert write_table(table, "csv").decode().splitlines() == [
        "'=cmd(),a (mm)",
        "'@x,-1.0",
        "-2,2.5",
    ]

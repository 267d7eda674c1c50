"""Whatever the program says of numbers stands in docs/statistics.md."""

from __future__ import annotations

import ast
import re
from pathlib import Path
from typing import Any

import pytest

from yarrowdew.core.trends import FAMILIES, Family
from yarrowdew.figures.schema.register_page import with_tables

ROOT = Path(__file__).parents[2]
PAGE = (ROOT / "docs" / "statistics.md").read_text(encoding="utf-8").lower()
FIGURES = ROOT / "src/yarrowdew/figures"
CAUTIONS = [*FIGURES.glob("cautions/*.py"), *FIGURES.glob("kinds/*/words.py")]


def test_its_tables_are_what_the_code_declares() -> None:
    page = (ROOT / "docs" / "statistics.md").read_text(encoding="utf-8")
    assert with_tables(page) == page, "write it anew with yarrowdew statistics docs/statistics.md"


@pytest.mark.parametrize("family", FAMILIES.values(), ids=lambda family: family.name)
def test_every_trend_says_what_stands_behind_it(family: Family[Any]) -> None:
    assert family.entry.method
    assert family.entry.intervals
    assert family.entry.exactness


@pytest.mark.parametrize("family", [family.label for family in FAMILIES.values()])
def test_every_trend_is_described(family: str) -> None:
    words = family.removeprefix("straight ").lower()
    assert words in PAGE or words.removesuffix(" curve") in PAGE


def titles() -> list[str]:
    """What cautions begin with, as their modules write it."""
    found = []
    for module in CAUTIONS:
        tree = ast.parse(module.read_text(encoding="utf-8"))
        for node in ast.walk(tree):
            if isinstance(node, ast.keyword) and node.arg == "title":
                parts = node.value.values if isinstance(node.value, ast.JoinedStr) else [node.value]
                fixed = [p.value for p in parts if isinstance(p, ast.Constant)]
                found.append(max((str(text).strip() for text in fixed), key=len, default=""))
    return [text for text in found if len(text) > 6]


@pytest.mark.parametrize("title", titles())
def test_every_caution_is_described(title: str) -> None:
    words = re.sub(r" (about|for|of|on)$", "", title.lower())
    known = [words, words.replace("residual scatter", "residual scatter is"), words.strip("’s ")]
    assert any(text in PAGE for text in known), title


def functions_with_titles() -> list[tuple[str, ast.FunctionDef]]:
    """Functions at the top of their module in which a caution is made."""
    return [
        (module.stem, node)
        for module in CAUTIONS
        for node in ast.parse(module.read_text(encoding="utf-8")).body
        if isinstance(node, ast.FunctionDef)
        and any(isinstance(one, ast.keyword) and one.arg == "title" for one in ast.walk(node))
    ]


@pytest.mark.parametrize(
    "function", [node for _, node in functions_with_titles()], ids=lambda node: node.name
)
def test_every_caution_is_declared_where_it_is_made(function: ast.FunctionDef) -> None:
    names = {ast.unparse(one.func) for one in function.decorator_list if isinstance(one, ast.Call)}
    assert "documented" in names


def test_the_measured_table_is_there() -> None:
    assert "| design | number | due, % | found, % | runs |" in PAGE

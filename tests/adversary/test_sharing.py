"""Nothing that was left out goes out, in whatever way a document speaks of it."""

from __future__ import annotations

import base64
import io
import random
from typing import Any

import orjson
import polars as pl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.adversary.documents import document
from tests.scope import examples
from yarrowdew.drawing.single_page import single_page
from yarrowdew.figures.document.categories import CategoryLook
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.sharing.bundle import outgoing, shared
from yarrowdew.figures.sharing.models import ShareRequest
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Kind, Table, Variable

ROWS = 24


def marked(draw: random.Random) -> Table:
    """A table every word and number of which is found again wherever it goes."""
    names = {f"q{i}name": kind for i, kind in enumerate(["x", "y", "z", "c", "d", "t"])}
    columns, variables, looks = [], [], {}
    for place, (name, what) in enumerate(names.items()):
        if what in "xyz":
            values = [round(1000 * place + draw.uniform(1, 900), 4) for _ in range(ROWS)]
            columns.append(pl.Series(name, values))
            kind = Kind.NUMBER
        elif what == "t":
            columns.append(pl.Series(name, [f"q{place}text{r}" for r in range(ROWS)]))
            kind = Kind.TEXT
        else:
            words = [f"q{place}level{r % 4}" for r in range(ROWS)]
            columns.append(pl.Series(name, words, dtype=pl.Enum(sorted(set(words)))))
            kind = Kind.CATEGORY
            looks[name] = tuple(
                CategoryLook(value=w, label=f"{w}called", turn=t)
                for t, w in enumerate(sorted(set(words)))
            )
        variables.append(Variable(name, kind, f"Q{place}label", f"q{place}unit"))
    return Table("q table", tuple(variables), pl.DataFrame(columns), categories=looks)


def with_words(made: dict[str, Any], draw: random.Random) -> dict[str, Any]:
    """Let a document speak of categories wherever one can."""
    levels = [f"q{p}level{k}called" for p in (3, 4) for k in range(4)]
    some = draw.sample(levels, 4)
    made["legend"] = {
        "renamed": {some[0]: "renamed"},
        "hidden": [some[1], "Q2label"],
        "order": [some[2]],
        "title": None,
    }
    made.setdefault("marks", {}).update({"each": {some[3]: {"size": 2}}, "front": some[:2]})
    for trend in made.get("trends", []):
        trend["read_off"] = [{"at": 5, "group": level, "name": f"at {level}"} for level in some]
    made["singled_out"] = [{"rows": [1, 2], "name": "odd"}]
    if made.get("names"):
        made["names"]["moved"] = {"3": [1, 2], "4": [0, 1]}
    return made


def everything(content: bytes) -> str:
    """All that goes out, as text, with what is packed in it unpacked."""
    plain = orjson.loads(content)
    text = content.decode()
    for figure in plain["figures"]:
        for part in ("marks", "rows"):
            packed = base64.b64decode(figure[part])
            text += packed.decode("latin-1")
            text += str(pl.read_ipc_stream(io.BytesIO(packed)).to_dicts())
    return text


@given(st.integers(0, 2**32))
@settings(max_examples=examples(60, 240), deadline=None)
def test_what_is_left_out_is_in_no_byte_of_what_goes_out(seed: int) -> None:
    draw = random.Random(seed)
    table = marked(draw)
    made = document(draw, table)
    assert made is not None
    made = with_words(made, draw)
    names = [v.name for v in table.variables]
    left = draw.sample(names, draw.randrange(1, 4))
    rows_left = draw.sample(range(ROWS), draw.randrange(4))
    plate = {
        "cells": [
            {
                "figure": "a",
                "varied": draw.choice(
                    [
                        {"thing": "category", "variable": names[3], "value": "q3level1"},
                        {"thing": "x", "variable": draw.choice(names[:3])},
                        None,
                    ]
                ),
            }
        ],
        "columns": 1,
    }
    asked = ShareRequest.model_validate(
        {
            "title": "Shared",
            "figures": [made],
            "plate": plate if draw.random() < 0.5 else None,
            "leave_out": left,
            "rows_left_out": rows_left,
            "hover": draw.sample(names, 2),
        }
    )
    try:
        content = shared(asked, lambda _: table).model_dump_json().encode()
    except TableError as error:
        assert "Without" in error.message or error.remedy
        return
    text = everything(content)
    for name in left:
        place = names.index(name)
        for trace in (name, f"Q{place}label", f"q{place}unit", f"q{place}level", f"q{place}text"):
            assert trace not in text, trace
        if name in names[:3]:
            values = table.frame[name].to_list()
            assert not [v for v in values if f"{v}" in text]
    for row in rows_left:
        assert f"q5text{row}'" not in text
        for name in names[:3]:
            assert f": {table.frame[name][row]}" not in text
    listed = {v.name for v in outgoing(asked, lambda _: table).variables if v.goes_out}
    assert not listed & set(left)
    page = single_page("Shared", content.decode())
    assert not [name for name in left if name in page]


@pytest.mark.parametrize("hovered", ["row", "x", "aside"])
def test_a_variable_called_as_a_column_of_ours_can_be_hovered(hovered: str) -> None:
    table = Table(
        "t",
        (
            Variable("a", Kind.NUMBER, "A"),
            Variable("b", Kind.NUMBER, "B"),
            Variable(hovered, Kind.NUMBER, "Hovered"),
        ),
        pl.DataFrame({"a": [1.0, 2.0], "b": [3.0, 4.0], hovered: [70.0, 80.0]}),
    )
    figure = FigureDocument(table="t", x="a", y=["b"])
    asked = ShareRequest(title="T", figures=[figure], hover=[hovered])
    (made,) = shared(asked, lambda _: table).figures
    rows = pl.read_ipc_stream(io.BytesIO(base64.b64decode(made.rows)))
    assert made.hovered == [hovered]
    assert [c.to_list() for c in rows.get_columns()] == [[70.0, 80.0], [0, 1]]


def test_an_unknown_variable_is_a_sentence() -> None:
    table = marked(random.Random(1))
    figure = FigureDocument(table="t", x="q0name", y=["gone"])
    for ask in (shared, outgoing):
        with pytest.raises(TableError, match="no variable 'gone'"):
            ask(ShareRequest(title="T", figures=[figure]), lambda _: table)

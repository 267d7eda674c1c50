"""The 3-D scatterplot: what it answers, on a table that is made to break it."""

from __future__ import annotations

import io

import numpy as np
import polars as pl
import pytest

from yarrowdew.demo.tables import demo_tables
from yarrowdew.figures.answer import answer
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.sharing import ShareAsked, shared
from yarrowdew.tables import Kind, Table, Variable
from yarrowdew.tables.errors import TableError


def document(**space: object) -> FigureDocument:
    return FigureDocument.model_validate(
        {
            "table": "t",
            "kind": "3-D scatterplot",
            "x": "a",
            "y": ["c"],
            "space": {"variable": "b", **space},
        }
    )


@pytest.fixture
def table() -> Table:
    """Rows that lack one, two or all numbers, with numbers of their own; c = 1 + 2a − b."""
    a = [1.0, 2.0, None, 4.0, 5.0, 6.0, None, 8.0]
    b = [3.0, 1.0, 2.0, None, 5.0, 2.0, None, 7.0]
    c = [0.0, 4.0, 9.0, 9.0, None, 11.0, None, 10.0]
    frame = pl.DataFrame(
        {"a": a, "b": b, "c": c, "g": ["p", "p", "q", "q", "q", "q", "p", "p"]},
        schema_overrides={"g": pl.Enum(["p", "q"])},
    )
    variables = tuple(Variable(n, Kind.CATEGORY if n == "g" else Kind.NUMBER, n) for n in "abcg")
    return Table("odd", variables, frame, ids=np.arange(8, dtype=np.uint32) * 10 + 3)


def test_marks_are_the_rows_that_have_all_three_under_their_own_numbers(table: Table) -> None:
    found = answer(document(), table)
    marks = pl.read_ipc_stream(io.BytesIO(found.marks))
    assert marks["row"].to_list() == [3, 13, 53, 73]
    assert marks["x"].to_list() == [1, 2, 6, 8]
    assert marks["y"].to_list() == [0, 4, 11, 10]
    assert marks["depth"].to_list() == [3, 1, 2, 7]
    why = {one.reason: one.rows for one in found.answer.counts.not_drawn}
    assert why == {
        "without c": [43],
        "without a": [23],
        "without b": [33],
        "without c or a or b": [63],
    }


def test_the_plane_through_rows_that_lie_on_one_is_that_one(table: Table) -> None:
    plane = {"read_off": [{"across": 3, "depth": 4, "name": "here"}, {"across": 30, "depth": 4}]}
    (report,) = answer(document(plane=plane), table).answer.space.planes
    assert [c.value for c in report.coefficients] == pytest.approx([1, 2, -1])
    here, far = report.readings
    assert here.up == pytest.approx(3)
    assert (here.name, here.carried_on, far.carried_on) == ("here", False, True)
    assert here.places == pytest.approx((3, 4, 3))
    surface = report.surface
    at = [
        surface.terms[0]
        + surface.terms[1] * (x - surface.middle[0])
        + surface.terms[2] * (z - surface.middle[1])
        for x, z in ((0, 0), (1, 3))
    ]
    assert at == pytest.approx([1, 0])


def test_a_group_too_small_for_a_plane_says_so(table: Table) -> None:
    planes = answer(document(plane={"by": "g"}), table).answer.space.planes
    assert [p.group for p in planes] == ["p", "q"]
    assert "at least 4 rows" in planes[1].problem
    assert planes[1].surface is None


def test_rows_set_aside_are_drawn_and_not_fitted(table: Table) -> None:
    nights = demo_tables()[0]
    asked = FigureDocument.model_validate(
        {
            "table": "t",
            "kind": "3-D scatterplot",
            "x": "humidity",
            "y": ["yield"],
            "set_aside": [205, 206],
            "space": {"variable": "wind", "plane": {}},
        }
    )
    found = answer(asked, nights).answer
    assert found.counts.drawn == 627
    assert found.counts.set_aside == 2
    assert found.space.planes[0].n == 625


def test_a_surface_of_second_degree_is_evaluated_from_its_middle() -> None:
    nights = demo_tables()[0]
    asked = FigureDocument.model_validate(
        {
            "table": "t",
            "kind": "3-D scatterplot",
            "x": "humidity",
            "y": ["yield"],
            "space": {"variable": "wind", "plane": {"degree": 2}},
        }
    )
    (report,) = answer(asked, nights).answer.space.planes
    a, b, c, d, e, f = (one.value for one in report.coefficients)
    x, z = 71.0, 2.5
    u, v = x - report.surface.middle[0], z - report.surface.middle[1]
    terms = report.surface.terms
    seen = sum(t * p for t, p in zip(terms, (1, u, v, u * u, u * v, v * v), strict=True))
    assert seen == pytest.approx(a + b * x + c * z + d * x * x + e * x * z + f * z * z, rel=1e-9)


def test_dates_go_into_the_depth_and_are_read_off() -> None:
    cistern = demo_tables()[3]
    names = [v.name for v in cistern.variables]
    asked = FigureDocument.model_validate(
        {
            "table": "t",
            "kind": "3-D scatterplot",
            "x": names[2] if len(names) > 2 else names[1],
            "y": ["level"],
            "space": {"variable": "day", "plane": {}},
        }
    )
    found = answer(asked, cistern).answer
    assert found.space.depth.variable.kind is Kind.DATE
    (report,) = found.space.planes
    assert report.problem or "days since" in report.equation_note


def test_a_category_has_no_place_in_the_depth(table: Table) -> None:
    asked = document()
    asked.space.variable = "g"
    with pytest.raises(TableError, match="'g'"):
        answer(asked, table)


def test_without_its_third_variable_a_document_is_refused() -> None:
    with pytest.raises(ValueError, match="needs its third variable"):
        FigureDocument.model_validate(
            {"table": "t", "kind": "3-D scatterplot", "x": "a", "y": ["c"]}
        )


def test_the_third_variable_goes_out_only_where_that_was_agreed_to(table: Table) -> None:
    def ask(**more: object) -> ShareAsked:
        return ShareAsked.model_validate(
            {"title": "t", "figures": [document(plane={"by": "g"})], **more}
        )

    (whole,) = shared(ask(), lambda _: table).figures
    assert whole.document.space.plane.by == "g"
    (without,) = shared(ask(leave_out=["g"]), lambda _: table).figures
    assert without.document.space.plane is None or without.document.space.plane.by is None
    with pytest.raises(TableError, match="'b'"):
        shared(ask(leave_out=["b"]), lambda _: table)

"""The 3-D scatterplot: what it answers, on a table that is made to break it."""

from __future__ import annotations

import io

import numpy as np
import polars as pl
import pytest

from yarrowdew.demo.tables import demo_tables
from yarrowdew.figures.analyses.residuals import ResidualsRequest, residual_table, residuals
from yarrowdew.figures.answer import answer
from yarrowdew.figures.document.marks import Colour, Names
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.sharing.bundle import shared
from yarrowdew.figures.sharing.models import ShareRequest
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Kind, Table, Variable

NIGHTS = demo_tables()[0]


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
        "lacks c": [43],
        "lacks a": [23],
        "lacks b": [33],
        "lacks c and a and b": [63],
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
    def ask(**more: object) -> ShareRequest:
        return ShareRequest.model_validate(
            {"title": "t", "figures": [document(plane={"by": "g"})], **more}
        )

    (whole,) = shared(ask(), lambda _: table).figures
    assert whole.document.space.plane.by == "g"
    (without,) = shared(ask(leave_out=["g"]), lambda _: table).figures
    assert without.document.space.plane is None or without.document.space.plane.by is None
    with pytest.raises(TableError, match="'b'"):
        shared(ask(leave_out=["b"]), lambda _: table)


def lying(x: np.ndarray, z: np.ndarray, y: np.ndarray, **more: object) -> Table:
    """A table of numbers that go across (a), into the depth (b) and up (c)."""
    frame = pl.DataFrame({"a": x, "b": z, "c": y} | more)
    kinds = {
        n: Kind.CATEGORY if frame[n].dtype != pl.Float64 else Kind.NUMBER for n in frame.columns
    }
    return Table("t", tuple(Variable(n, kinds[n], n) for n in frame.columns), frame)


def titles(asked: FigureDocument, table: Table) -> list[str]:
    return [caution.title for caution in answer(asked, table).answer.cautions]


class TestCautions:
    """What misleads in a plane is said once, and nothing is said of a good one."""

    draw = np.random.default_rng(11)
    x, z = draw.uniform(0, 10, (2, 120))
    noise = draw.normal(0, 1, 120)

    def test_a_plane_that_holds_has_none(self) -> None:
        table = lying(self.x, self.z, 3 * self.x - self.z + self.noise)
        assert titles(document(plane={}), table) == []

    def test_axes_of_the_floor_that_are_tied(self) -> None:
        table = lying(self.x, self.x + self.noise / 50, 3 * self.x + self.noise)
        assert titles(document(plane={}), table) == ["a and b are collinear"]

    def test_rows_that_bend_about_it(self) -> None:
        table = lying(self.x, self.z, (self.x - 5) ** 2 + self.noise)
        assert "The relationship is curved about the plane" in titles(document(plane={}), table)
        # A surface of second degree bends with them.
        assert titles(document(plane={"degree": 2}), table) == []

    def test_one_row_that_pulls_it_under_its_own_number(self) -> None:
        x, y = self.x.copy(), 3 * self.x - self.z + self.noise
        x[17], y[17] = 40, -100
        table = lying(x, self.z, y)
        cautions = answer(document(plane={}), table).answer.cautions
        pulling = next(c for c in cautions if "influence" in c.title)
        assert (pulling.rows, pulling.remedy) == ([17], None)
        assert "along a" in pulling.text

    def test_a_group_that_goes_the_other_way(self) -> None:
        groups = pl.Series(["p", "q"] * 60, dtype=pl.Enum(["p", "q"]))
        way = np.tile([3.0, -2.0], 60)
        high = np.tile([0.0, 5.0], 60)
        table = lying(self.x, self.z, way * self.x + high + self.noise / 5, g=groups)
        asked = document(plane={})
        coloured = asked.model_copy(update={"colour": Colour(variable="g")})
        found = [c for c in answer(coloured, table).answer.cautions if "slope" in c.title.lower()]
        # All rows together are not clearly either: one group rises and the other falls.
        assert [c.remedy for c in found] == ["fit_each"]
        assert "One plane for all rows hides this" in found[0].text
        each = document(plane={"by": "g"})
        each = each.model_copy(update={"colour": Colour(variable="g")})
        said = [c for c in answer(each, table).answer.cautions if "slope" in c.title.lower()]
        assert "would hide this" in said[0].text

    def test_few_rows(self) -> None:
        table = lying(self.x[:5], self.z[:5], self.noise[:5])
        assert "Few rows for the plane" in titles(document(plane={}), table)

    def test_none_where_no_plane_is_wanted(self) -> None:
        table = lying(self.x, self.x, self.noise)
        assert titles(document(), table) == []


def test_the_furthest_from_the_plane_are_named() -> None:
    draw = np.random.default_rng(3)
    x, z = draw.uniform(0, 10, (2, 40))
    y = x + z
    y[[5, 31]] += [9, -7]
    names = pl.Series([f"n{i}" for i in range(40)])
    table = lying(x, z, y, name=names)
    variables = (*table.variables[:3], Variable("name", Kind.TEXT, "name"))
    table = Table("t", variables, table.frame)
    asked = document(plane={}).model_copy(
        update={"names": Names(variable="name", show="furthest", count=2)}
    )
    assert answer(asked, table).answer.names.texts == ["n5", "n31"]
    # Without a plane those that lie outermost in the box.
    asked = document().model_copy(
        update={"names": Names(variable="name", show="furthest", count=1)}
    )
    assert answer(asked, table).answer.names.texts == ["n5"]


def test_of_several_variables_up_the_first_is_shown_and_that_is_said(table: Table) -> None:
    asked = document().model_copy(update={"y": ["c", "a"]})
    found = answer(asked, table).answer
    assert found.y.variable.name == "c"
    assert any("Of several y variables only the first is shown" in p for p in found.problems)
    assert asked.variables_used() == ["a", "c", "b"]


def test_a_plane_of_dates_is_read_off_at_a_day() -> None:
    days = pl.date_range(pl.date(2031, 1, 1), pl.date(2031, 2, 9), eager=True)
    draw = np.random.default_rng(1)
    x = draw.uniform(0, 5, 40)
    since = np.arange(40.0)
    frame = pl.DataFrame({"a": x, "b": days, "c": 2 * x + 0.5 * since})
    kinds = (Kind.NUMBER, Kind.DATE, Kind.NUMBER)
    table = Table("t", tuple(map(Variable, "abc", kinds, "abc")), frame)
    first = (np.datetime64("2031-01-01") - np.datetime64("1970-01-01")).astype(int)
    asked = document(plane={"read_off": [{"across": 1, "depth": int(first) + 10}]})
    (plane,) = answer(asked, table).answer.space.planes
    assert plane.readings[0].depth == "2031-01-11"
    assert plane.readings[0].up == pytest.approx(7)
    assert plane.equation_note == "b in days since 2031-01-01"
    assert "0.500·b" in plane.equation
    # On the page the surface runs in the axis's own days.
    assert plane.surface.depth == pytest.approx((first, first + 39))


def test_the_printed_plane_lands_on_the_plane() -> None:
    draw = np.random.default_rng(8)
    x, z = 2000 + draw.uniform(0, 20, 60), draw.uniform(1e6, 2e6, 60)
    table = lying(x, z, 1e-3 * (x - 2000) + 1e-9 * z + draw.normal(0, 1e-6, 60))
    (plane,) = answer(document(plane={}), table).answer.space.planes
    text = plane.equation.split(" = ")[1].replace("−", "-").replace(" × 10^{", "e")
    a, b, c = (
        float(part.split("·")[0].replace("}", "").replace(" ", ""))
        for part in text.replace(" + ", "|+").replace(" - ", "|-").split("|")
    )
    drawn = [coefficient.value for coefficient in plane.coefficients]
    for u, w in ((x.min(), z.min()), (x.max(), z.max()), (x.min(), z.max())):
        printed = a + b * u + c * w
        exact = drawn[0] + drawn[1] * u + drawn[2] * w
        assert abs(printed - exact) < 0.002 * np.ptp(table.frame["c"].to_numpy())


class TestResiduals:
    """What a plane leaves, under the rows' own numbers."""

    def test_rows_fitted_values_and_what_they_do(self, table: Table) -> None:
        frame = table.frame.with_columns(c=pl.Series([0.0, 4.0, 9, 9, None, 12.0, None, 10.0]))
        more = pl.DataFrame({"a": [3.0, 2.0], "b": [1.0, 5.0], "c": [7.0, 0.0], "g": ["p", "q"]})
        frame = pl.concat([frame, more.with_columns(g=pl.col("g").cast(frame["g"].dtype))])
        table = Table("odd", table.variables, frame, ids=np.arange(10, dtype=np.uint32) * 10 + 3)
        made = residual_table(document(plane={}), table, 0)
        assert made.row_ids().tolist() == [3, 13, 53, 73, 83, 93]
        assert made.frame.columns[:5] == ["row", "order", "a", "b", "c"]
        assert made.frame["row"].to_list() == [4, 14, 54, 74, 84, 94]
        fitted, off = made.frame["fitted"].to_numpy(), made.frame["residual"].to_numpy()
        assert fitted + off == pytest.approx(made.frame["c"].to_numpy())
        # Residuals of least squares have nothing in common with a, b or a constant.
        for column in (np.ones(6), made.frame["a"].to_numpy(), made.frame["b"].to_numpy()):
            assert off @ column == pytest.approx(0, abs=1e-9)
        assert made.frame["leverage"].sum() == pytest.approx(3)
        h, p, df = made.frame["leverage"].to_numpy(), 3, 3
        sd = np.sqrt(off @ off / df)
        assert made.frame["studentised"].to_numpy() == pytest.approx(off / (sd * np.sqrt(1 - h)))
        cook = (off / sd) ** 2 * h / (p * (1 - h) ** 2)
        assert made.frame["cook"].to_numpy() == pytest.approx(cook)

    def test_a_figure_of_them_for_each_group(self) -> None:
        asked = FigureDocument.model_validate(
            {
                "table": "t",
                "kind": "3-D scatterplot",
                "x": "humidity",
                "y": ["yield"],
                "space": {"variable": "wind", "plane": {"by": "valley"}},
            }
        )
        shown, answered = residuals(ResidualsRequest(document=asked, against="quantile"), NIGHTS)
        assert answered.answer.colour.categories == ["Argill", "Bracken", "Corrie", "Dunlin"]
        assert answered.answer.counts.drawn == 627
        assert shown.y == ["studentised"]

    def test_without_a_plane_there_are_none(self, table: Table) -> None:
        with pytest.raises(TableError, match="no plane"):
            residual_table(document(), table, 0)
        spread = FigureDocument.model_validate(
            {"table": "t", "kind": "distribution", "x": "a", "y": ["a"]}
            | {"distribution": {"variable": "a"}}
        )
        with pytest.raises(TableError, match="Nothing is fitted"):
            residual_table(spread, table, 0)

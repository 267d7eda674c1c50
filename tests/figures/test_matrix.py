"""The scatterplot matrix, and every pair of a table."""

from __future__ import annotations

import io

import numpy as np
import polars as pl
import pytest
from pydantic import ValidationError

from yarrowdew.demo.tables import demo_tables
from yarrowdew.figures.analyses.pairs import PairsRequest, pairs_of
from yarrowdew.figures.answer import Answered, answer
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.kinds.matrix.cells import MatrixAnswer, MatrixCell
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Kind, Table, Variable

NIGHTS = demo_tables()[0]
FOUR = ["yield", "humidity", "wind", "dew-point gap"]


def ask(table: Table = NIGHTS, variables: list[str] = FOUR, **parts: object) -> Answered:
    matrix = parts.pop("matrix", {})
    document = {
        "table": "t",
        "kind": "scatterplot matrix",
        "x": variables[0],
        "y": [variables[1]],
        "matrix": {"variables": variables, **matrix},  # type: ignore[dict-item]
        **parts,
    }
    return answer(FigureDocument.model_validate(document), table)


def matrix_of(answered: Answered) -> MatrixAnswer:
    assert answered.answer.matrix is not None
    return answered.answer.matrix


def cell_of(found: MatrixAnswer, x: str, y: str) -> MatrixCell:
    names = [v.name for v in found.variables]
    return next(c for c in found.cells if (names[c.x], names[c.y]) == (x, y))


def numbers(**columns: list[float | None]) -> Table:
    variables = tuple(Variable(name, Kind.NUMBER, name) for name in columns)
    schema = dict.fromkeys(columns, pl.Float64)
    return Table("small", variables, pl.DataFrame(columns, schema_overrides=schema))


class TestMatrix:
    def test_every_pair_in_both_places_with_one_r(self) -> None:
        found = matrix_of(ask())
        assert len(found.cells) == 12
        kept = NIGHTS.frame.drop_nulls(["yield", "wind"])
        expected = np.corrcoef(kept["yield"], kept["wind"])[0, 1]
        for x, y in (("yield", "wind"), ("wind", "yield")):
            cell = cell_of(found, x, y)
            assert (cell.n, cell.r) == (len(kept), pytest.approx(expected))

    def test_marks_come_as_a_column_for_each_variable(self) -> None:
        answered = ask()
        marks = pl.read_ipc_stream(io.BytesIO(answered.marks))
        assert [c for c in marks.columns if c.startswith("v")] == ["v0", "v1", "v2", "v3"]
        assert marks["v2"].fill_nan(None).drop_nulls().len() == NIGHTS.frame["wind"].count()
        assert answered.answer.counts.drawn == 640

    def test_complete_rows_alone_where_that_is_wanted(self) -> None:
        table = numbers(a=[1, 2, 3, None, 5], b=[2, 1, 4, 3, 5], c=[1, None, 2, 5, 3])
        pairwise = matrix_of(ask(table, ["a", "b", "c"]))
        complete = matrix_of(ask(table, ["a", "b", "c"], matrix={"missing": "complete"}))
        assert cell_of(pairwise, "a", "b").n == 4
        assert {c.n for c in complete.cells} == {3}
        assert (pairwise.complete, pairwise.rows) == (3, 5)

    def test_what_goes_together_stands_together(self) -> None:
        draw = np.random.default_rng(6)
        a, b = draw.normal(0, 1, 80), draw.normal(0, 1, 80)
        near = {"a": a, "b": b, "a2": a + draw.normal(0, 0.2, 80), "b2": b - 3}
        table = numbers(**{k: v.tolist() for k, v in near.items()})
        names = [
            v.name
            for v in matrix_of(ask(table, list(near), matrix={"order": "together"})).variables
        ]
        assert abs(names.index("a") - names.index("a2")) == 1
        assert abs(names.index("b") - names.index("b2")) == 1
        found = matrix_of(ask(table, list(near), matrix={"order": "together"}))
        assert cell_of(found, "b", "b2").r == pytest.approx(1)

    def test_groups_have_their_own_r_trend_and_distribution(self) -> None:
        found = matrix_of(
            ask(
                colour={"variable": "mesh"},
                matrix={"below": "trend", "above": "r", "diagonal": "both"},
            )
        )
        above = next(c for c in found.cells if c.x > c.y)
        below = next(c for c in found.cells if c.y > c.x)
        assert [g.code for g in above.groups] == [0, 1, 2]
        assert [c.code for c in below.curves] == [0, 1, 2]
        assert len(below.curves[0].curve.bands) == 1
        assert [len(v.density) for v in found.variables] == [3] * 4
        assert [len(v.histogram) for v in found.variables] == [3] * 4

    def test_contours_and_counts(self) -> None:
        found = matrix_of(ask(matrix={"below": "contours", "above": "counts"}))
        below = next(c for c in found.cells if c.y > c.x)
        assert {line.share for line in below.contours} == {0.5, 0.8, 0.95}
        above = next(c for c in found.cells if c.x > c.y)
        assert sum(above.counts[0].counts) == above.n

    def test_rows_set_aside_count_in_no_number(self) -> None:
        table = numbers(a=[1, 2, 3, 4, 9], b=[1, 2, 3, 4, -20])
        found = matrix_of(ask(table, ["a", "b"], set_aside=[4]))
        assert [c.r for c in found.cells] == pytest.approx([1, 1])

    def test_categories_take_part_as_strips(self) -> None:
        found = matrix_of(
            ask(
                variables=["yield", "mesh", "humidity", "valley"],
                matrix={"below": "trend", "diagonal": "both", "order": "together"},
            )
        )
        by_name = {v.name: v for v in found.variables}
        mesh = by_name["mesh"]
        assert mesh.categories == ["single", "double", "ribbed"]
        assert (mesh.low, mesh.high, mesh.density) == (-0.5, 2.5, [])
        held = NIGHTS.frame["mesh"].drop_nulls().cast(pl.String).to_list()
        assert mesh.histogram[0].height == [held.count(name) for name in mesh.categories]
        strip = cell_of(found, "mesh", "yield")
        assert (strip.strip, strip.r, strip.curves) == (True, None, [])
        assert strip.n == 640 - 6  # six nights without a yield
        pair = cell_of(found, "humidity", "yield")
        assert not pair.strip
        assert pair.r == pytest.approx(
            NIGHTS.frame.select(pl.corr("humidity", "yield")).item(), rel=1e-9
        )

    def test_strips_are_drawn_at_their_categorys_place(self) -> None:
        answered = ask(variables=["yield", "mesh", "humidity"])
        marks = pl.read_ipc_stream(io.BytesIO(answered.marks))
        place = [v.name for v in matrix_of(answered).variables].index("mesh")
        drawn = NIGHTS.frame["mesh"].cast(pl.String).gather(marks["row"].to_list())
        names = ["single", "double", "ribbed"]
        assert marks[f"v{place}"].to_list() == [names.index(name) for name in drawn]

    def test_what_cannot_stand_in_a_matrix_is_said(self) -> None:
        with pytest.raises(TableError, match="must hold numbers or dates"):
            ask(variables=["yield", "humidity", "station"])
        with pytest.raises(TableError, match="at least two variables of numbers"):
            ask(variables=["yield", "valley"])
        with pytest.raises(ValidationError, match="needs its variables"):
            FigureDocument(table="t", kind="scatterplot matrix", x="a", y=["b"])
        with pytest.raises(ValidationError):
            FigureDocument.model_validate(
                {"table": "t", "x": "a", "y": ["b"], "matrix": {"variables": ["a"]}}
            )


class TestPairs:
    def test_strongest_first_with_adjusted_p(self) -> None:
        found = pairs_of(PairsRequest(table="t"), NIGHTS)
        strengths = [abs(p.r or 0) for p in found.pairs]
        assert strengths == sorted(strengths, reverse=True)
        assert len(found.pairs) == 15
        assert all((p.p_adjusted or 0) >= (p.p_value or 0) for p in found.pairs)
        assert "15 pairs were looked at" in found.caution
        assert all(0 <= v <= 1 for p in found.pairs for v in (*p.across, *p.up))

    def test_what_goes_with_one_variable_within_each_category(self) -> None:
        asked = PairsRequest(table="t", with_variable="yield", by="valley", method="spearman")
        found = pairs_of(asked, NIGHTS).pairs
        assert {p.group for p in found} == {"Argill", "Bracken", "Corrie", "Dunlin"}
        assert all("yield" in (p.x, p.y) for p in found)
        assert len(found) == 20

    def test_a_bent_relation_is_strong_by_distance_alone(self) -> None:
        x = np.linspace(-1, 1, 200)
        table = numbers(x=x.tolist(), y=(x**2).tolist())
        by_r = pairs_of(PairsRequest(table="t"), table).pairs[0]
        by_distance = pairs_of(PairsRequest(table="t", method="distance"), table).pairs[0]
        assert abs(by_r.r or 0) < 1e-9
        # The distance correlation of a parabola on an even grid.
        assert by_distance.r == pytest.approx(0.49, abs=0.02)
        assert (by_distance.p_value or 1) < 1e-6

    def test_too_few_variables_are_said(self) -> None:
        with pytest.raises(TableError, match="fewer than two number variables"):
            pairs_of(PairsRequest(table="t"), numbers(a=[1, 2, 3]))

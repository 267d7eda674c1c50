from __future__ import annotations

import polars as pl
import pytest

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reshape import join, numbered_alike, spread, stack
from yarrowdew.tables.row_pages import RowOrder, places_in_order
from yarrowdew.tables.table import Kind, Table, Variable


def table(name: str, **columns: list[object]) -> Table:
    frame = pl.DataFrame(columns, strict=False)
    kinds = {pl.Float64: Kind.NUMBER, pl.Date: Kind.DATE, pl.String: Kind.TEXT}
    variables = tuple(Variable(c.name, kinds[type(c.dtype)], c.name, "g") for c in frame)
    return Table(name, variables, frame)


@pytest.fixture
def wide() -> Table:
    return table("wide", night=["n1", "n2"], single=[1.0, 2.0], double=[3.0, None])


class TestStack:
    def test_columns_become_a_name_and_a_value(self, wide: Table) -> None:
        long = stack(wide, ["single", "double"], "mesh", "yield")
        assert long.frame.columns == ["night", "mesh", "yield"]
        assert long.frame.rows() == [
            ("n1", "single", 1.0),
            ("n2", "single", 2.0),
            ("n1", "double", 3.0),
            ("n2", "double", None),
        ]
        assert [(v.kind, v.unit) for v in long.variables[1:]] == [
            (Kind.CATEGORY, ""),
            (Kind.NUMBER, "g"),
        ]

    def test_what_cannot_be_stacked(self, wide: Table) -> None:
        with pytest.raises(TableError, match="nothing to stack"):
            stack(wide, ["single"])
        with pytest.raises(TableError, match="'night' and 'single' hold different kinds"):
            stack(wide, ["night", "single"])

    def test_a_name_that_is_taken_is_numbered(self, wide: Table) -> None:
        assert stack(wide, ["single", "double"], "night").frame.columns[:2] == ["night", "night 2"]

    def test_columns_numbered_alike_give_their_numbers(self) -> None:
        weeks = table("t", plant=["a", "b"], wk1=[1.0, 2.0], wk2=[3.0, 4.0], wk10=[5.0, None])
        long = stack(weeks, ["wk1", "wk2", "wk10"], "wk", "height", numbered=True)
        assert long.variable("wk").kind is Kind.NUMBER
        assert long.frame["wk"].to_list() == [1, 1, 2, 2, 10, 10]
        assert long.frame["height"].to_list() == [1, 2, 3, 4, 5, None]
        with pytest.raises(TableError, match="do not all end in a number of their own"):
            stack(table("t", wk1=[1.0], total=[2.0]), ["wk1", "total"], numbered=True)

    def test_a_column_named_twice_is_stacked_once(self, wide: Table) -> None:
        assert stack(wide, ["single", "double", "single"]).rows == 4

    @pytest.mark.parametrize(
        ("names", "found"),
        [
            (["wk1", "wk2"], ("wk", [1, 2])),
            (["Day 1", "day 2.5"], ("Day", [1, 2.5])),
            (["2001", "2002"], ("", [2001, 2002])),
            (["wk1", "wk01"], None),
            (["wk1", "day2"], None),
            (["wk1", "total"], None),
            (["b12 low", "b13 low"], None),
        ],
    )
    def test_names_that_are_numbered_alike(
        self, names: list[str], found: tuple[str, list[float]] | None
    ) -> None:
        assert numbered_alike(names) == found


class TestSpread:
    def test_it_undoes_stacking(self, wide: Table) -> None:
        back = spread(stack(wide, ["single", "double"]), "name", "value")
        assert back.frame.equals(wide.frame)

    def test_two_rows_for_one_place_are_refused(self) -> None:
        twice = table("t", night=["n1", "n1"], mesh=["single", "single"], value=[1.0, 2.0])
        with pytest.raises(TableError, match="Row 1 and another agree in everything but 'value'"):
            spread(twice, "mesh", "value")

    def test_without_anything_beside_rows_are_counted(self) -> None:
        long = table("t", mesh=["single", "double", "single"], value=[1.0, 2.0, 3.0])
        assert spread(long, "mesh", "value").frame.rows() == [(2.0, 1.0), (None, 3.0)]


class TestJoin:
    def test_rows_that_agree_stand_beside_one_another(self, wide: Table) -> None:
        wind = table("wind", when=["n2", "n3"], wind=[7.0, 8.0], single=[0.5, 0.6])
        joined = join(wide, wind, "night", "when")
        assert joined.frame.columns == ["night", "single", "double", "wind", "single 2"]
        assert joined.frame["wind"].to_list() == [None, 7.0]
        assert join(wide, wind, "night", "when", keep_all=False).rows == 1

    def test_kinds_may_differ_if_values_read_alike(self) -> None:
        left, right = table("a", k=[1.0, 2.0]), table("b", k=["2", "3"], v=[5.0, 6.0])
        assert join(left, right, "k", "k").frame["v"].to_list() == [None, 5.0]

    def test_nothing_in_common_is_said(self, wide: Table) -> None:
        other = table("other", when=["n8"], wind=[1.0])
        with pytest.raises(TableError, match="no value in common"):
            join(wide, other, "night", "when")


class TestOrder:
    @pytest.mark.parametrize(
        ("order", "expected"),
        [
            (RowOrder(), [0, 1, 2, 3]),
            (RowOrder(sort="x"), [3, 0, 2, 1]),
            (RowOrder(sort="x", descending=True), [0, 2, 3, 1]),
            (RowOrder(find="MIST"), [1, 3]),
            (RowOrder(sort="x", find="mist"), [3, 1]),
            (RowOrder(find="2"), [0, 2]),
        ],
    )
    def test_sorted_and_found(self, order: RowOrder, expected: list[int]) -> None:
        rows = table("t", x=[2.0, None, 2.0, 1.0], note=["dew", "mist", "", "Mist"])
        assert places_in_order(rows, order).tolist() == expected

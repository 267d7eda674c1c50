from __future__ import annotations

import numpy as np
import polars as pl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarrowdew.core.errors import UserFacingError
from yarrowdew.tables.draft import Cell, Draft
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.kinds import Marks
from yarrowdew.tables.table import Kind, Table, Variable


def draft_of(table: Table, recipes: dict[str, str] | None = None, marks: Marks = Marks()) -> Draft:
    return Draft(
        table,
        recipes or {},
        int(table.row_ids().max()) + 1,
        column=lambda name: table.frame[name],
        source=lambda _name: None,
        marks=marks,
    )


def numbers(*values: float, marks: Marks = Marks()) -> Draft:
    frame = pl.DataFrame({"x": [float(v) for v in values]})
    return draft_of(Table("t", (Variable("x", Kind.NUMBER, "X"),), frame), marks=marks)


@pytest.fixture
def draft() -> Draft:
    frame = pl.DataFrame(
        {
            "dose": [1.0, 2.0, None],
            "coating": pl.Series(["wax", "film", "wax"], dtype=pl.Enum(["film", "wax"])),
            "day": pl.Series(["2031-04-01", "2031-04-02", None]).str.to_date(),
            "note": ["a", None, "c"],
        }
    )
    kinds = (Kind.NUMBER, Kind.CATEGORY, Kind.DATE, Kind.TEXT)
    variables = tuple(
        Variable(name, kind, name.title()) for name, kind in zip(frame.columns, kinds, strict=True)
    )
    return draft_of(Table("trial", variables, frame))


def values(draft: Draft, name: str) -> list[object]:
    return [v if isinstance(v, float) or v is None else str(v) for v in draft.column(name)]


class TestWriting:
    def test_values_are_read_as_their_variable_is(self, draft: Draft) -> None:
        draft.write(
            [
                Cell(2, "dose", " 2.5 "),
                Cell(0, "dose", ""),
                Cell(1, "coating", "bare"),
                Cell(2, "day", "2031-05-06"),
                Cell(1, "note", "b"),
            ]
        )
        assert values(draft, "dose") == [None, 2.0, 2.5]
        assert values(draft, "coating") == ["wax", "bare", "wax"]
        assert values(draft, "day") == ["2031-04-01", "2031-04-02", "2031-05-06"]
        assert values(draft, "note") == ["a", "b", "c"]
        assert draft.changed == {"dose", "coating", "day", "note"}

    def test_a_time_of_day_makes_dates_hold_times(self, draft: Draft) -> None:
        draft.write([Cell(2, "day", "2031-04-03 06:30")])
        assert values(draft, "day")[0] == "2031-04-01 00:00:00"
        assert values(draft, "day")[2] == "2031-04-03 06:30:00"

    def test_what_cannot_be_read_changes_nothing(self, draft: Draft) -> None:
        with pytest.raises(TableError, match="“many” is not a number") as caught:
            draft.write([Cell(0, "dose", "7"), Cell(1, "dose", "many")])
        assert (caught.value.row, caught.value.column) == (2, "dose")
        assert values(draft, "dose") == [1.0, 2.0, None]

    def test_a_row_that_is_gone_is_said(self, draft: Draft) -> None:
        with pytest.raises(TableError, match="There is no row 10"):
            draft.write([Cell(9, "dose", "1")])

    def test_derived_variables_follow_and_are_not_written(self, draft: Draft) -> None:
        draft.derive("double", "2 * dose")
        draft.write([Cell(2, "dose", "4")])
        draft.derive_again()
        assert values(draft, "double") == [2.0, 4.0, 8.0]
        with pytest.raises(TableError, match="'double' is derived"):
            draft.write([Cell(0, "double", "1")])


class TestRows:
    def test_rows_keep_their_numbers(self, draft: Draft) -> None:
        assert draft.numbered is None
        assert draft.add_rows(2, before=1) == [3, 4]
        assert draft.ids.tolist() == [0, 3, 4, 1, 2]
        assert values(draft, "dose") == [1.0, None, None, 2.0, None]
        draft.delete_rows([0, 4])
        assert draft.ids.tolist() == [3, 1, 2]
        assert values(draft, "note") == [None, None, "c"]
        # A number is not given again, so that figures do not take a new row for an old one.
        assert draft.add_rows(1) == [5]

    def test_numbers_that_are_places_are_not_kept(self, draft: Draft) -> None:
        draft.add_rows(1)
        assert draft.numbered is None
        draft.delete_rows([0])
        assert draft.numbered is not None

    def test_variables_are_added_and_deleted(self, draft: Draft) -> None:
        draft.add_variable("weight", Kind.NUMBER, "g")
        draft.write([Cell(1, "weight", "3")])
        assert values(draft, "weight") == [None, 3.0, None]
        draft.delete_variable("note")
        assert [h.variable.name for h in draft.held] == ["dose", "coating", "day", "weight"]
        with pytest.raises(TableError, match="already has a variable 'dose'"):
            draft.add_variable("dose", Kind.TEXT)


class TestPasting:
    def test_rows_that_were_chosen_are_told_from_all_others(self, draft: Draft) -> None:
        draft.delete_rows([0])
        draft.add_choice("wet nights", [2])
        assert values(draft, "wet nights") == ["others", "wet nights"]
        draft.add_choice("others", [1])
        assert values(draft, "others") == ["others", "not others"]
        with pytest.raises(TableError, match="no row 1"):
            draft.add_choice("more", [0])
        with pytest.raises(TableError, match="already has a variable"):
            draft.add_choice("dose", [1])

    def test_rows_are_added_below_and_variables_on_the_right(self, draft: Draft) -> None:
        draft.paste([2], "note", [["x", "7"], ["y", "8"]])
        assert values(draft, "note") == ["a", None, "x", "y"]
        assert values(draft, "column 5") == [None, None, 7.0, 8.0]
        assert values(draft, "dose") == [1.0, 2.0, None, None]

    def test_rows_in_another_order(self, draft: Draft) -> None:
        draft.paste([2, 0], "dose", [["30"], ["10"]])
        assert values(draft, "dose") == [10.0, 2.0, 30.0]

    def test_a_decimal_comma(self, draft: Draft) -> None:
        draft.paste([0, 1, 2], "dose", [["1,5"], ["2,25"], ["3"]])
        assert values(draft, "dose") == [1.5, 2.25, 3.0]

    def test_headers_describe_what_was_blank_and_name_what_is_new(self) -> None:
        blank = pl.DataFrame({"x": pl.Series([None, None], dtype=pl.Float64)})
        draft = draft_of(Table("typed", (Variable("x", Kind.NUMBER, "X"),), blank))
        draft.paste([0, 1], "x", [["coating", "shed (%)"], ["wax", "5"], ["film", "9"]])
        held = [h.variable for h in draft.held]
        assert [(v.name, v.label, v.kind, v.unit) for v in held] == [
            ("x", "Coating", Kind.CATEGORY, ""),
            ("shed", "Shed", Kind.NUMBER, "%"),
        ]
        assert values(draft, "shed") == [5.0, 9.0]

    def test_values_of_words_are_not_taken_for_headers(self, draft: Draft) -> None:
        draft.paste([0, 1], "note", [["p"], ["q"]])
        assert values(draft, "note") == ["p", "q", "c"]


class TestReadingInAgain:
    def test_labels_and_recipes_stay_and_changes_are_said(self, draft: Draft) -> None:
        draft.describe("dose", "Dose of wax", "g/m²")
        draft.derive("double", "2 * dose")
        draft.derive("noted", "if_else(note == 'a', 1, 0)")
        newer = pl.DataFrame({"dose": [5.0, 6.0], "shed": [1.0, 2.0]})
        variables = (
            Variable("dose", Kind.NUMBER, "Dose"),
            Variable("shed", Kind.NUMBER, "Shed"),
        )
        compared = draft.replace(Table("newer", variables, newer), {})
        draft.derive_again()
        assert (compared.gone, compared.new) == (["coating", "day", "note"], ["shed"])
        assert values(draft, "double") == [10.0, 12.0]
        assert values(draft, "noted") == [None, None]
        first = draft.held[0].variable
        assert (first.label, first.unit) == ("Dose of wax", "g/m²")
        assert draft.ids.tolist() == [0, 1]


def test_places_of_rows_by_their_numbers() -> None:
    ids = np.array([4, 0, 7], dtype=np.uint32)
    table = Table("t", (Variable("x", Kind.NUMBER, "X"),), pl.DataFrame({"x": [1.0, 2, 3]}), ids)
    assert table.places_of([7, 5, 4]).tolist() == [2, 0]
    assert table.where(pl.Series([True, False, True])).row_ids().tolist() == [4, 7]


class TestDependencies:
    def test_a_redefined_variable_follows_one_that_was_made_after_it(self) -> None:
        draft = numbers(1, 2)
        draft.derive("b", "x + 1")
        draft.derive("d", "x * 5")
        draft.derive("b", "d * 3")
        draft.write([Cell(0, "x", "100")])
        draft.derive_again()
        assert values(draft, "d") == [500.0, 10.0]
        assert values(draft, "b") == [1500.0, 30.0]

    def test_a_file_read_again_brings_every_derived_variable_back(self) -> None:
        draft = numbers(1, 2)
        draft.derive("b", "x")
        draft.derive("wet", "x > 1")
        # Of another kind than the blank that stands for it while the file is read.
        draft.derive("b", "if_else(wet == 'yes', 10 * x, x)")
        frame = pl.DataFrame({"x": [3.0, 0.5]})
        draft.replace(Table("newer", (Variable("x", Kind.NUMBER, "X"),), frame), {})
        draft.derive_again()
        assert values(draft, "wet") == ["yes", "no"]
        assert values(draft, "b") == [30.0, 0.5]

    def test_members_of_a_cycle_are_blank(self) -> None:
        frame = pl.DataFrame({"x": [1.0], "a": [2.0], "b": [3.0]})
        variables = tuple(Variable(name, Kind.NUMBER, name) for name in frame.columns)
        draft = draft_of(Table("t", variables, frame), {"a": "b + x", "b": "a + x"})
        draft.write([Cell(0, "x", "5")])
        draft.derive_again()
        assert draft.find("a").recipe == "b + x"

    @given(
        st.lists(
            st.tuples(st.sampled_from("abcd"), st.sampled_from("xabcd"), st.integers(-3, 3)),
            max_size=12,
        ),
        st.integers(-50, 50),
    )
    def test_each_derived_value_is_what_its_expression_says(
        self, steps: list[tuple[str, str, int]], typed: int
    ) -> None:
        draft = numbers(1, 2, 3)
        for name, source, plus in steps:
            try:
                draft.derive(name, f"{source} * 2 + {plus}")
            except UserFacingError:
                continue
            draft.derive_again()
        draft.write([Cell(1, "x", str(typed))])
        draft.derive_again()
        for held in draft.held:
            if held.recipe is None:
                continue
            source, _, rest = held.recipe.partition(" * 2 + ")
            expected = [2 * v + int(rest) for v in draft.column(source)]
            assert draft.column(held.variable.name).to_list() == expected


COMMAS, POINTS = Marks(","), Marks(".")


class TestTypedNumbers:
    @pytest.mark.parametrize(
        ("marks", "typed", "read"),
        [
            (POINTS, "1.234", 1.234),
            (POINTS, "12,5", 12.5),
            (POINTS, "0,123", 0.123),
            (POINTS, "1,234.5", 1234.5),
            (POINTS, "1,234,567", 1234567.0),
            (Marks(".", ","), "1,234", 1234.0),
            (COMMAS, "1,234", 1.234),
            (COMMAS, "12.5", 12.5),
            (COMMAS, "1.234,5", 1234.5),
            (Marks(",", "."), "1.234", 1234.0),
            (Marks(",", "."), "−1.234,5", -1234.5),
        ],
    )
    def test_are_read_by_the_marks_of_their_table(
        self, marks: Marks, typed: str, read: float
    ) -> None:
        draft = numbers(0, 0, marks=marks)
        draft.write([Cell(1, "x", typed)])
        assert values(draft, "x") == [0.0, read]

    @pytest.mark.parametrize(
        ("marks", "typed", "both"),
        [(POINTS, "1,234", "1234 or 1.234"), (COMMAS, "12.345", "12345 or 12,345")],
    )
    def test_that_could_be_two_numbers_are_refused(
        self, marks: Marks, typed: str, both: str
    ) -> None:
        draft = numbers(7, marks=marks)
        with pytest.raises(TableError, match=f"“{typed}” could be {both}"):
            draft.write([Cell(0, "x", typed)])
        assert values(draft, "x") == [7.0]

    def test_a_block_says_by_its_other_values_which_is_meant(self) -> None:
        draft = numbers(0, 0)
        draft.paste([0, 1], "x", [["12,5"], ["1,234"]])
        assert values(draft, "x") == [12.5, 1.234]

    def test_words_with_commas_stay_words(self, draft: Draft) -> None:
        draft.write([Cell(0, "note", "1,234"), Cell(1, "coating", "1,234")])
        assert values(draft, "note")[0] == values(draft, "coating")[1] == "1,234"

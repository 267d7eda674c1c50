from __future__ import annotations

import io
from pathlib import Path
from typing import ClassVar

import numpy as np
import polars as pl
import pytest
from pydantic import ValidationError

from yarrowdew.demo.tables import PULLING_ROW, demo_tables
from yarrowdew.figures.answer import Answered, answer
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.pipeline.fitting import FitRequest, ReadOffs, fit_groups
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.figures.pipeline.readings import reading_of
from yarrowdew.figures.schema.format_page import figure_format
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Kind, Table, Variable

NIGHTS, STATIONS, _, CISTERN = demo_tables()


def ask(table: Table = NIGHTS, most_marks: int | None = None, **parts: object) -> Answered:
    document = {"table": "t", "x": "humidity", "y": ["yield"]} | parts
    return answer(FigureDocument.model_validate(document), table, most_marks)


def marks(answered: Answered) -> pl.DataFrame:
    return pl.read_ipc_stream(io.BytesIO(answered.marks))


def small(**columns: list) -> Table:
    variables, series = [], []
    for name, values in columns.items():
        words = any(isinstance(v, str) for v in values)
        kind = Kind.TEXT if words else Kind.NUMBER
        variables.append(Variable(name, kind, name))
        series.append(pl.Series(name, values, dtype=None if words else pl.Float64))
    return Table("small", tuple(variables), pl.DataFrame(series))


class TestMarks:
    def test_one_mark_per_row_that_has_both_values(self) -> None:
        answered = ask()
        drawn = NIGHTS.frame.with_row_index("row").drop_nulls(["humidity", "yield"])
        found = marks(answered)
        assert found["row"].to_list() == drawn["row"].to_list()
        assert found["x"].to_list() == drawn["humidity"].to_list()
        assert found["y"].to_list() == drawn["yield"].to_list()
        assert answered.answer.counts.drawn == len(drawn)

    def test_rows_not_drawn_are_counted_by_reason(self) -> None:
        counts = ask().answer.counts
        assert [(n.reason, n.count) for n in counts.not_drawn] == [
            ("lack yield", 6),
            ("lack humidity", 3),
        ]
        assert counts.not_drawn[0].rows == NIGHTS.frame["yield"].is_null().arg_true().to_list()
        assert counts.rows == counts.drawn + 9

    def test_colour_by_category_sends_codes(self) -> None:
        answered = ask(colour={"variable": "mesh"})
        colour = answered.answer.colour
        assert colour is not None
        assert (colour.scale, colour.categories) == ("category", ["single", "double", "ribbed"])
        found = marks(answered)
        meshes = NIGHTS.frame["mesh"].cast(pl.String).gather(found["row"])
        assert [colour.categories[c] for c in found["colour"]] == meshes.to_list()

    def test_colour_by_amount_sends_values(self) -> None:
        answered = ask(colour={"variable": "wind"})
        colour = answered.answer.colour
        assert colour is not None
        assert (colour.scale, colour.missing) == ("amount", 4)
        assert np.isnan(marks(answered)["colour"].to_numpy()).sum() == 4

    def test_a_number_can_be_read_as_a_category(self) -> None:
        colour = ask(colour={"variable": "cloud", "scale": "category"}).answer.colour
        assert colour is not None
        assert colour.categories == [str(k) for k in range(9)]

    def test_dates_stand_as_days(self) -> None:
        answered = ask(CISTERN, x="day", y=["level"])
        first = CISTERN.frame["day"].min().toordinal() - 719_163
        assert marks(answered)["x"].min() == first
        assert answered.answer.x.low == first

    def test_a_small_picture_gets_fewer_marks_and_the_same_numbers(self) -> None:
        thin = ask(most_marks=50, trends=[{}])
        assert len(marks(thin)) == 50
        assert thin.answer.trends == ask(trends=[{}]).answer.trends

    def test_no_row_has_both(self) -> None:
        answered = ask(small(a=[1, None], b=[None, 2]), x="a", y=["b"])
        assert len(marks(answered)) == 0
        assert (answered.answer.x.low, answered.answer.counts.drawn) == (None, 0)


class TestTrends:
    def test_the_line_through_each_valley(self) -> None:
        found = ask(colour={"variable": "valley"}, trends=[{"by": "valley"}]).answer.trends
        assert [t.report.group for t in found] == ["Argill", "Bracken", "Corrie", "Dunlin"]
        assert [t.group_code for t in found] == [0, 1, 2, 3]
        for trend in found:
            rows = NIGHTS.frame.filter(pl.col("valley") == trend.report.group).drop_nulls(
                ["humidity", "yield"]
            )
            slope, intercept = np.polyfit(rows["humidity"], rows["yield"], 1)
            b = next(c for c in trend.report.coefficients if c.name == "b")
            assert b.value == pytest.approx(slope, rel=1e-9)
            assert trend.curve is not None
            assert trend.curve.y[0] == pytest.approx(intercept + slope * rows["humidity"].min())
            (band,) = trend.curve.bands
            assert all(
                low < y < high
                for low, y, high in zip(band.low, trend.curve.y, band.high, strict=True)
            )

    def test_a_date_is_fitted_from_its_first_day_and_says_so(self) -> None:
        (trend,) = ask(CISTERN, x="day", y=["level"], trends=[{}]).answer.trends
        assert trend.report.equation_note == "x in days since 2030-03-01"
        a = next(c for c in trend.report.coefficients if c.name == "a")
        assert trend.curve is not None
        assert trend.curve.y[0] == pytest.approx(a.value)
        assert trend.curve.x[0] == CISTERN.frame["day"].min().toordinal() - 719_163

    def test_rows_set_aside_are_left_out_of_fits_and_still_drawn(self) -> None:
        trends = [{"by": "valley"}]
        with_it = ask(trends=trends).answer
        without = ask(trends=trends, set_aside=[PULLING_ROW]).answer
        assert without.counts.set_aside == 1
        assert without.counts.drawn == with_it.counts.drawn
        assert without.trends[1].report.dropped["set_aside"] == 1
        slopes = [a.trends[1].report.coefficients[1].value for a in (with_it, without)]
        assert slopes[1] > slopes[0] + 1
        flagged = marks(ask(set_aside=[PULLING_ROW])).filter(pl.col("aside") == 1)
        assert flagged["row"].to_list() == [PULLING_ROW]

    def test_a_group_too_small_is_reported_and_the_rest_stands(self) -> None:
        table = small(g=["a"] * 5 + ["b"] * 2, x=[1, 2, 3, 4, 5, 1, 2], y=[2, 4, 5, 4, 5, 9, 9])
        found = ask(table, x="x", y=["y"], trends=[{"by": "g"}]).answer.trends
        assert found[0].report.problem is None
        assert "at least three rows" in (found[1].report.problem or "")
        assert found[1].curve is None

    def test_one_distinct_x_is_said(self) -> None:
        (trend,) = ask(small(x=[2, 2, 2], y=[1, 2, 3]), x="x", y=["y"], trends=[{}]).answer.trends
        assert "same x (2)" in (trend.report.problem or "")

    def test_several_bands_at_once(self) -> None:
        bands = [{"level": 0.9}, {"level": 0.99}, {"kind": "prediction"}]
        (trend,) = ask(trends=[{"bands": bands}]).answer.trends
        assert trend.curve is not None
        widths = [b.high[0] - b.low[0] for b in trend.curve.bands]
        assert widths[0] < widths[1] < widths[2]


class TestRowFilter:
    BRACKEN: ClassVar = {
        "conditions": [{"variable": "valley", "test": "one_of", "values": ["Bracken"]}]
    }

    def test_rows_left_out_are_neither_drawn_nor_fitted(self) -> None:
        answered = ask(rows=self.BRACKEN, trends=[{}])
        each = ask(trends=[{"by": "valley"}]).answer.trends[1].report
        (only,) = answered.answer.trends
        assert only.report.coefficients == each.coefficients
        assert answered.answer.counts.filtered == 480
        found = marks(answered)
        assert NIGHTS.frame["valley"].gather(found["row"]).unique().to_list() == ["Bracken"]

    def test_rows_keep_their_names(self) -> None:
        """A row is called by its place in the table, whatever is left out."""
        found = ask(rows=self.BRACKEN, trends=[{}]).answer
        assert found.cautions[0].title == "Row 206 has high influence on the line"
        assert found.cautions[0].rows == [PULLING_ROW]
        missing = found.counts.not_drawn[0].rows
        assert NIGHTS.frame["yield"].gather(missing).to_list() == [None] * len(missing)
        aside = ask(rows=self.BRACKEN, set_aside=[PULLING_ROW, 0])
        assert aside.answer.counts.set_aside == 1

    def test_a_filter_that_leaves_nothing(self) -> None:
        rows = {"conditions": [{"variable": "humidity", "test": "between", "low": 500}]}
        found = ask(rows=rows, trends=[{}]).answer
        assert (found.counts.drawn, found.counts.filtered) == (0, 640)
        assert "no rows" in (found.trends[0].report.problem or "")


class TestCautions:
    def test_the_valley_that_goes_the_other_way(self) -> None:
        whole = ask(colour={"variable": "valley"}, trends=[{}]).answer.cautions
        (caution,) = [c for c in whole if "other way" in c.title]
        assert caution.title == "One valley slopes the other way"
        assert caution.text.startswith("Dunlin falls with humidity")
        assert (caution.group, caution.remedy) == ("Dunlin", "fit_each")
        each = ask(colour={"variable": "valley"}, trends=[{"by": "valley"}]).answer.cautions
        assert next(c for c in each if "other way" in c.title).remedy is None

    def test_the_row_that_has_high_influence(self) -> None:
        found = ask(trends=[{"by": "valley"}]).answer.cautions
        caution = next(c for c in found if "Bracken" in c.title)
        assert caution.title == "Row 206 has high influence on Bracken’s line"
        # Nobody is led to leave a row out by one click for that reason alone.
        assert (caution.rows, caution.remedy) == ([PULLING_ROW], None)
        aside = ask(trends=[{"by": "valley"}], set_aside=[PULLING_ROW]).answer.cautions
        assert not [c for c in aside if "206" in c.title]

    def test_many_marks_on_one_place(self) -> None:
        found = ask(x="cloud", y=["cloud"]).answer.cautions
        assert found[-1].remedy == "thin_marks"
        assert "99 % of points" in found[-1].text.replace("\u00a0", " ")

    def test_few_rows(self) -> None:
        table = small(x=[1, 2, 3, 4], y=[1, 3, 2, 4])
        found = ask(table, x="x", y=["y"], trends=[{}]).answer.cautions
        assert found[0].title == "Few rows for the line"


class TestBadInput:
    def test_words_where_numbers_are_needed(self) -> None:
        with pytest.raises(TableError, match="the x variable must hold numbers or dates"):
            ask(x="station")

    def test_words_have_no_amount(self) -> None:
        with pytest.raises(TableError, match="no amount"):
            ask(colour={"variable": "valley", "scale": "amount"})

    def test_too_many_groups_to_tell_apart(self) -> None:
        with pytest.raises(TableError, match="at most 48 groups"):
            ask(colour={"variable": "air temperature", "scale": "category"})
        problems = ask(trends=[{"by": "humidity"}]).answer.problems
        assert "at most 48 groups" in problems[0]

    @pytest.mark.parametrize(
        "wrong",
        [
            {"y": []},
            {"trends": [{"level": 0.2}]},
            {"axes": {"x": {"low": 5, "high": 5}}},
            {"bogus": 1},
            {"version": 4},
            {"marks": {"shape": "blob"}},
        ],
    )
    def test_a_document_that_is_not_valid(self, wrong: dict) -> None:
        with pytest.raises(ValidationError):
            FigureDocument.model_validate({"table": "t", "x": "a", "y": ["b"]} | wrong)

    def test_a_level_that_is_no_number(self) -> None:
        with pytest.raises(TableError, match="'soon' is not a date such as"):
            AxisValues.of(CISTERN, "day", "across").asked("soon")


def reading_off(**wanted: list) -> FitRequest:
    return FitRequest(read_off=lambda _: ReadOffs(**wanted))


def test_reading_off_a_date_and_back() -> None:
    x, y = AxisValues.of(CISTERN, "day", "across"), AxisValues.of(CISTERN, "level", "up")
    (fitted,) = fit_groups(reading_off(at=[(x.asked("2030-06-01"), None)]), x, y)
    (reading,) = reading_of(fitted).report.readings
    assert (reading.x, reading.carried_on) == ("2030-06-01", False)
    level = y.asked(repr(reading.y))
    (again,) = fit_groups(reading_off(levels=[(level, None)]), x, y)
    assert reading_of(again).report.solutions[0].x[:10] in ("2030-06-01", "2030-05-31")


def test_numbers_as_groups_keep_distinct_names() -> None:
    table = small(g=[0.1234567, 0.1234568, 0.1234567], y=[1, 2, 3])
    assert len(set(Groups.of(table, "g").labels)) == 2


def test_a_line_is_told_with_and_without_what_is_set_aside() -> None:
    table = small(a=[1, 2, 3, 4, 5], b=[2, 4, 6, 8, 30])
    (trend,) = ask(table, x="a", y=["b"], trends=[{}], set_aside=[4]).answer.trends
    assert trend.report.r_squared == pytest.approx(1)
    assert trend.with_all is not None
    # By hand: Sxy = 60, Sxx = 10, Syy = 520.
    assert (trend.with_all.n, trend.with_all.slope) == (5, pytest.approx(6))
    assert trend.with_all.r_squared == pytest.approx(360 / 520)
    (whole,) = ask(table, x="a", y=["b"], trends=[{}]).answer.trends
    assert whole.with_all is None


def test_margins_are_told_for_each_colour() -> None:
    shown = ask(colour={"variable": "valley"}, margins={"x": "histogram", "y": "box"}).answer
    drawn = NIGHTS.frame.drop_nulls(["humidity", "yield"])
    sizes = drawn["valley"].value_counts().sort("valley")["count"].to_list()
    assert [sum(m.height) for m in shown.x.margin] == sizes
    assert [m.code for m in shown.y.margin] == [0, 1, 2, 3]
    argill = drawn.filter(drawn["valley"] == "Argill")["yield"]
    assert shown.y.margin[0].at[2] == argill.median()
    assert ask().answer.x.margin == []


class TestBubbles:
    def test_sizes_are_sent_and_those_without_are_counted(self) -> None:
        table = small(a=[1, 2, 3, 4, 5], b=[1, 2, 3, 4, 5], s=[4, 0, -2, None, 9])
        answered = ask(table, x="a", y=["b"], size={"variable": "s"})
        size = answered.answer.size
        assert size is not None
        assert (size.low, size.high, size.non_positive, size.missing) == (4, 9, 2, 1)
        assert marks(answered)["size"].to_list()[:3] == [4, 0, -2]

    def test_words_have_no_size(self) -> None:
        with pytest.raises(TableError, match="'station' holds text"):
            ask(size={"variable": "station"})


class TestErrorBars:
    def test_from_one_variable_two_an_amount_and_a_share(self) -> None:
        table = small(a=[1, 2, 3], b=[10, 20, -30], low=[1, None, -2], high=[2, 3, 4])

        def ends(**bar: object) -> list[list[float | None]]:
            found = marks(ask(table, x="a", y=["b"], error_bars={"y": bar}))
            return [found[c].fill_nan(None).to_list() for c in ("y_low", "y_high")]

        assert ends(kind="variable", below="high") == [[8, 17, -34], [12, 23, -26]]
        # An amount below zero is no amount.
        assert ends(kind="two", below="low", above="high") == [[9, None, None], [12, 23, -26]]
        assert ends(kind="fixed", amount=2) == [[8, 18, -32], [12, 22, -28]]
        assert ends(kind="share", amount=0.1) == [[9, 18, -33], [11, 22, -27]]

    def test_bars_without_their_variables_are_refused(self) -> None:
        for bar in ({"kind": "variable"}, {"kind": "two", "below": "wind"}):
            with pytest.raises(ValidationError):
                ask(error_bars={"y": bar})
        with pytest.raises(TableError, match="error bars need amounts"):
            ask(error_bars={"y": {"kind": "variable", "below": "valley"}})


class TestNames:
    def test_the_furthest_from_the_line(self) -> None:
        names = {"variable": "station", "show": "furthest", "count": 1}
        answered = ask(names=names, trends=[{}]).answer
        assert answered.names is not None
        x, y = (NIGHTS.frame[v].to_numpy() for v in ("humidity", "yield"))
        there = np.isfinite(x) & np.isfinite(y)
        slope, start = np.polyfit(x[there], y[there], 1)
        furthest = int(np.nanargmax(np.abs(y - start - slope * x)))
        assert answered.names.rows == [furthest]
        assert answered.names.texts == [NIGHTS.frame["station"][furthest]]

    def test_the_outermost_the_chosen_and_all(self) -> None:
        def named(**names: object) -> list[int]:
            answered = ask(
                STATIONS, x="altitude", y=["mean yield"], names={"variable": "station"} | names
            ).answer
            assert answered.names is not None
            return answered.names.rows

        far = int(STATIONS.frame["altitude"].arg_max() or 0)
        assert named(show="outermost", count=1) == [far]
        assert named(show="chosen", rows=[3, 99]) == [3]
        # What was chosen keeps its name beside those that are found.
        assert named(show="outermost", count=1, rows=[3]) == [3, far]
        assert named() == list(range(32))

    def test_the_largest_in_size_or_else_in_y(self) -> None:
        def named(**more: object) -> list[int]:
            answered = ask(
                STATIONS,
                x="altitude",
                y=["mean yield"],
                names={"variable": "station", "show": "largest", "count": 2},
                **more,
            ).answer
            assert answered.names is not None
            return answered.names.rows

        def largest(variable: str) -> list[int]:
            return STATIONS.frame[variable].arg_sort(descending=True, nulls_last=True)[:2].to_list()

        assert named() == largest("mean yield")
        assert named(size={"variable": "altitude"}) == largest("altitude")


class TestSeveralUp:
    def test_each_variable_has_its_marks_its_colour_and_its_line(self) -> None:
        answered = ask(y=["yield", "dew-point gap"], trends=[{}])
        shown = answered.answer
        frame = NIGHTS.frame
        counts = [frame.drop_nulls(["humidity", v]).height for v in ("yield", "dew-point gap")]
        found = marks(answered)
        assert found["colour"].value_counts(sort=True)["count"].to_list() == sorted(
            counts, reverse=True
        )
        assert shown.colour is not None
        assert shown.colour.categories == ["Yield", "Dew-point gap"]
        assert [t.group_code for t in shown.trends] == [0, 1]
        alone = ask(y=["dew-point gap"], trends=[{}]).answer.trends[0].report
        assert shown.trends[1].report.coefficients == alone.coefficients
        assert shown.trends[1].report.sentence == alone.sentence
        assert shown.y.variable.label == "Yield and dew-point gap"
        assert shown.y.variable.unit == ""

    def test_dates_and_numbers_do_not_share_an_axis(self) -> None:
        with pytest.raises(TableError, match="cannot share one axis"):
            ask(y=["yield", "night"])

    def test_colour_is_taken_and_said(self) -> None:
        shown = ask(y=["yield", "wind"], colour={"variable": "valley"}).answer
        assert "'valley' does not colour the marks" in shown.problems[0]


def test_a_reference_line_asks_for_the_mean_or_the_median() -> None:
    shown = ask(references=[{"axis": "y", "at": "mean"}, {"axis": "x", "at": "median"}]).answer
    drawn = NIGHTS.frame.drop_nulls(["humidity", "yield"])
    assert shown.y.mean == pytest.approx(drawn["yield"].mean())
    assert shown.x.median == pytest.approx(drawn["humidity"].median())
    assert (shown.x.mean, shown.y.median) == (None, None)


def test_points_are_connected_by_a_variable() -> None:
    found = marks(ask(connect={"order": "variable", "variable": "night"}))
    assert found["order"].is_not_null().all()
    with pytest.raises(ValidationError):
        ask(connect={"order": "variable"})


def test_the_page_of_the_figure_format_is_up_to_date() -> None:
    page = Path(__file__).parents[2] / "docs" / "figure-format.md"
    # Written anew by: yarrowdew figure-format > docs/figure-format.md
    assert page.read_text(encoding="utf-8") == figure_format()


def test_letters_stand_for_rows_and_long_ones_are_cut() -> None:
    table = small(x=[1.0, 2.0, 3.0], y=[1.0, 2.0, 3.0], word=["a", " ", "incomprehensible"])
    answered = ask(table, x="x", y=["y"], marks={"text": "word"})
    assert answered.answer.markers == ["a", "incomprehen…"]
    assert marks(answered)["text"].to_list() == [0, 65_535, 1]

"""Trends of every family as figures show and report them."""

from __future__ import annotations

import io
import math
from dataclasses import replace
from typing import Any

import numpy as np
import polars as pl
import pytest
from pydantic import ValidationError
from scipy.stats import norm

from yarrowdew.core.trends import FAMILIES, fit_trend
from yarrowdew.demo.tables import demo_tables
from yarrowdew.figures.analyses.comparison import ComparisonRequest, compare
from yarrowdew.figures.analyses.pairs import PairsRequest, pairs_of
from yarrowdew.figures.analyses.residuals import ResidualsRequest, residuals
from yarrowdew.figures.answer import Answer, answer
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Kind, Table, Variable

NIGHTS, _, TRIAL, CISTERN = demo_tables()


def document(x: str = "humidity", y: str = "yield", **parts: object) -> FigureDocument:
    return FigureDocument.model_validate({"table": "t", "x": x, "y": [y]} | parts)


def ask(table: Table = NIGHTS, x: str = "humidity", y: str = "yield", **parts: object) -> Answer:
    return answer(document(x, y, **parts), table).answer


def numbers(**columns: list[float | None]) -> Table:
    variables = tuple(Variable(name, Kind.NUMBER, name) for name in columns)
    return Table(
        "small",
        variables,
        pl.DataFrame(columns, schema_overrides=dict.fromkeys(columns, pl.Float64)),
    )


def titles(found: Answer) -> list[str]:
    return [c.title for c in found.cautions]


SETTINGS = {"moving-average": {"window": 3}, "sine-wave": {"period": 12}}
"""Of families that these rows are too few for without them."""


class TestFamilies:
    @pytest.mark.parametrize("family", FAMILIES)
    def test_every_family_answers_with_a_curve_and_words(self, family: str) -> None:
        frame = TRIAL.frame
        table = replace(
            TRIAL,
            variables=(*TRIAL.variables, Variable("half shed", Kind.NUMBER, "Half shed")),
            frame=frame.with_columns(
                (frame["droplets shed"] > 50).cast(pl.Float64).alias("half shed")
            ),
        )
        (trend,) = ask(
            table,
            "dose",
            "half shed" if family == "logistic" else "droplets shed",
            trends=[{"family": family, "settings": SETTINGS.get(family, {})}],
            error_bars={"x": {"kind": "fixed", "amount": 0.2}, "y": {"below": "SE low"}},
        ).trends
        assert trend.report.problem is None
        assert trend.curve is not None
        assert len(trend.curve.x) == len(trend.curve.y) > 5
        assert trend.report.sentence.endswith(".")
        assert "nan" not in trend.model_dump_json().lower()

    def test_the_form_is_what_the_core_is_told(self) -> None:
        (trend,) = ask(trends=[{"family": "polynomial", "settings": {"degree": 4}}]).trends
        assert [c.name for c in trend.report.coefficients] == ["b0", "b1", "b2", "b3", "b4"]
        with pytest.raises(ValidationError):
            document(trends=[{"family": "polynomial", "settings": {"degree": 11}}])

    def test_a_fit_that_cannot_be_made_says_why_and_the_figure_stands(self) -> None:
        table = numbers(x=[-1, 0, 1, 2], y=[1, 2, 3, 5])
        found = ask(table, "x", "y", trends=[{"family": "power"}, {}])
        assert "at or below 0" in (found.trends[0].report.problem or "")
        assert found.trends[0].curve is None
        assert found.trends[1].curve is not None
        assert found.counts.drawn == 4

    def test_nested_bands_and_a_band_for_new_rows(self) -> None:
        bands = [{"level": 0.99}, {"level": 0.9}, {"kind": "prediction"}]
        (trend,) = ask(trends=[{"bands": bands}]).trends
        assert trend.curve is not None
        wide, narrow, new = (np.subtract(b.high, b.low) for b in trend.curve.bands)
        assert (wide > narrow).all()
        assert (new > wide).all()

    def test_a_form_without_a_band_draws_none(self) -> None:
        (trend,) = ask(trends=[{"family": "theil-sen"}]).trends
        assert trend.curve is not None
        assert trend.curve.bands == []

    def test_weights_and_standard_errors(self) -> None:
        table = numbers(x=[1, 2, 3, 4], y=[1, 2, 3, 9], se=[1, 1, 1, 10], w=[1, 1, 1, 0.01])
        by_se = ask(table, "x", "y", trends=[{"weights": "se", "weights_are": "standard_errors"}])
        by_weight = ask(table, "x", "y", trends=[{"weights": "w"}])
        slopes = [found.trends[0].report.coefficients[1].value for found in (by_se, by_weight)]
        assert slopes[0] == pytest.approx(slopes[1])
        # Weighted by hand: Σw = 3.01, means 6.04/3.01 and 6.09/3.01.
        sxy = 14 + 0.36 - 6.04 * 6.09 / 3.01
        sxx = 14 + 0.16 - 6.04**2 / 3.01
        assert slopes[0] == pytest.approx(sxy / sxx)

    def test_counts_are_rows_through_every_reading(self) -> None:
        x, y, k = [1, 2, 3, 4, 5, 6], [1, 2.5, 2, 4.5, 4, 7], [3, 1, 2, 0, 1, 2]
        again = [i for i, times in enumerate(k) for _ in range(times)]
        counted = ask(
            numbers(x=x, y=y, k=k), "x", "y", trends=[{"weights": "k", "weights_are": "counts"}]
        )
        written = ask(
            numbers(x=[x[i] for i in again], y=[y[i] for i in again]), "x", "y", trends=[{}]
        )
        one, other = counted.trends[0].report, written.trends[0].report
        assert (one.n, one.degrees_of_freedom) == (9, 7)
        assert one.coefficients == other.coefficients
        assert (one.r_squared, one.p_value, one.r) == (other.r_squared, other.p_value, other.r)

    @pytest.mark.parametrize(
        ("asked", "said"),
        [
            ({"weights": "half", "weights_are": "counts"}, "Row 2 counts 0.5 rows"),
            ({"errors": "given"}, "none are given"),
            ({"errors": "given", "weights": "half"}, "none are given"),
            ({"weights": "tiny", "weights_are": "standard_errors", "errors": "given"}, "'tiny'"),
        ],
    )
    def test_weights_that_cannot_be_what_they_are_said_to_be(
        self, asked: dict[str, str], said: str
    ) -> None:
        table = numbers(x=[1, 2, 3], y=[1, 2, 4], half=[1, 0.5, 1], tiny=[1e-300, 1, 1])
        found = ask(table, "x", "y", trends=[asked])
        assert [said in problem for problem in found.problems] == [True]

    def test_slopes_of_groups_with_given_errors_are_compared_by_chi_squared(self) -> None:
        y = [1.0, 2.1, 2.9, 4.0, 1.0, 3.1, 4.9, 7.0]
        plain = numbers(x=[1.0, 2, 3, 4] * 2, y=y, se=[0.1] * 8)
        table = replace(
            plain,
            variables=(*plain.variables, Variable("g", Kind.CATEGORY, "g")),
            frame=plain.frame.with_columns(
                g=pl.Series(["a"] * 4 + ["b"] * 4, dtype=pl.Enum(["a", "b"]))
            ),
        )
        trend = {"weights": "se", "weights_are": "standard_errors", "errors": "given", "by": "g"}
        (found,) = ask(table, "x", "y", trends=[trend]).slopes
        # Each slope has the variance 0.01 / 5; they are 0.98 and 1.98 in exact numbers.
        assert found.df_rest is None
        assert found.p_value == pytest.approx(2 * norm.sf(1 / math.sqrt(2 * 0.01 / 5)), rel=1e-6)
        assert "χ²(1) = 250.00" in found.sentence

    def test_the_equation_speaks_of_variables_in_so_many_digits(self) -> None:
        (trend,) = ask(trends=[{"letters": "variables", "digits": 2}]).trends
        assert trend.report.equation is not None
        assert trend.report.equation.startswith("yield = ")
        assert trend.report.equation.endswith(" humidity")


class TestCarriedOnAndReadOff:
    def test_carried_on_by_days(self) -> None:
        found = ask(CISTERN, "day", "level", trends=[{"carry": {"after": 60}}])
        (trend,) = found.trends
        (after,) = trend.carried
        assert trend.curve is not None
        assert after.x[0] == trend.curve.x[-1]
        assert after.x[-1] - after.x[0] == pytest.approx(60)
        assert after.y[0] == pytest.approx(trend.curve.y[-1])
        assert len(after.bands) == 1

    def test_numbers_are_kept_with_their_names_and_places(self) -> None:
        wanted = [{"at": 80, "name": "damp"}, {"level": 250, "name": "enough"}]
        (trend,) = ask(trends=[{"read_off": wanted}]).trends
        (reading,), (solution,) = trend.report.readings, trend.report.solutions
        assert (reading.name, solution.name) == ("damp", "enough")
        a, b = (c.value for c in trend.report.coefficients)
        assert reading.y_place == pytest.approx(a + 80 * b)
        assert solution.x_place == pytest.approx((250 - a) / b)
        assert solution.low_place < solution.x_place < solution.high_place

    def test_one_group_alone_is_read(self) -> None:
        trend = {"by": "valley", "read_off": [{"at": 80, "group": "Corrie"}]}
        counts = {t.report.group: len(t.report.readings) for t in ask(trends=[trend]).trends}
        assert counts == {"Argill": 0, "Bracken": 0, "Corrie": 1, "Dunlin": 0}

    def test_what_is_read_outside_the_data_or_never_reached_is_cautioned(self) -> None:
        found = ask(trends=[{"read_off": [{"at": 20}]}])
        assert "Reading outside the data" in titles(found)
        found = ask(trends=[{"family": "s-curve", "read_off": [{"level": 9000}]}])
        assert any("never reaches 9000" in title for title in titles(found))

    def test_a_number_is_read_at_x_or_at_a_level(self) -> None:
        with pytest.raises(ValidationError, match="at an x or at a level"):
            document(trends=[{"read_off": [{}]}])


class TestWhatIsSaid:
    def test_groups_with_one_slope_and_groups_that_differ(self) -> None:
        (slopes,) = ask(trends=[{"by": "valley"}]).slopes
        assert slopes.p_value < 1e-6
        assert slopes.sentence.startswith("The slopes differ between categories of valley")
        x = [0.0, 1, 2, 3] * 2
        y = [0.1, 1, 2, 2.9, 5, 5.9, 7.1, 8]
        table = Table(
            "t",
            (
                Variable("x", Kind.NUMBER, "x"),
                Variable("y", Kind.NUMBER, "y"),
                Variable("g", Kind.TEXT, "g"),
            ),
            pl.DataFrame({"x": x, "y": y, "g": ["a"] * 4 + ["b"] * 4}),
        )
        (slopes,) = ask(table, "x", "y", trends=[{"by": "g"}]).slopes
        # Slopes 0.94 and 1.02, Sxx 5 each; residual sums by hand 0.002 and 0.018, on 2 each.
        first, second = 0.001 / 5, 0.009 / 5
        assert slopes.slope == pytest.approx(
            (0.94 / first + 1.02 / second) / (1 / first + 1 / second)
        )
        assert slopes.f == pytest.approx(0.08**2 / (first + second))
        assert "do not clearly differ" in slopes.sentence
        (pair,) = slopes.pairs
        assert pair.slopes.value == pytest.approx(0.08)
        assert pair.sentence.startswith("The slope of b is 0.08")

    def test_two_variables_without_a_trend_are_correlated(self) -> None:
        found = ask()
        kept = NIGHTS.frame.drop_nulls(["humidity", "yield"])
        assert found.association is not None
        assert found.association.r == pytest.approx(
            np.corrcoef(kept["humidity"], kept["yield"])[0, 1]
        )
        assert ask(trends=[{}]).association is None

    def test_rows_that_bend_or_fan_out_are_cautioned(self) -> None:
        draw = np.random.default_rng(1)
        x = np.linspace(0, 10, 200)
        bent = numbers(x=x.tolist(), y=(x**2 + draw.normal(0, 1, 200)).tolist())
        found = ask(bent, "x", "y", trends=[{}])
        assert "The relationship is curved about the line" in titles(found)
        fanned = numbers(x=x.tolist(), y=(x + x * draw.normal(0, 1, 200)).tolist())
        assert "Residual scatter about the line is not constant" in titles(
            ask(fanned, "x", "y", trends=[{}])
        )
        plain = numbers(x=x.tolist(), y=(x + draw.normal(0, 1, 200)).tolist())
        assert titles(ask(plain, "x", "y", trends=[{}])) == []

    def test_one_odd_row_is_cautioned_once_and_not_as_a_bend_or_a_fan(self) -> None:
        draw = np.random.default_rng(1)
        x = np.linspace(0, 10, 60)
        y = x + draw.normal(0, 0.3, 60)
        y[59] = -30
        found = titles(ask(numbers(x=x.tolist(), y=y.tolist()), "x", "y", trends=[{}]))
        assert found == ["Row 60 has high influence on the line"]

    def test_rows_missing_at_one_end_are_cautioned(self) -> None:
        x = [float(i) for i in range(60)]
        y: list[float | None] = [float(i % 7) for i in range(60)]
        for i in range(45, 57):
            y[i] = None
        assert "y is missing mostly where x is high" in titles(ask(numbers(x=x, y=y), "x", "y"))

    def test_r_squared_of_different_kinds_is_cautioned(self) -> None:
        found = ask(trends=[{}, {"family": "exponential"}])
        assert "R² cannot be compared here" in titles(found)

    def test_marks_sized_by_influence(self) -> None:
        table = numbers(x=[1, 2, 3, 4, 10], y=[1, 2, 3, 4, 0])
        answered = answer(document("x", "y", trends=[{}], size={"influence": True}), table)
        sizes = pl.read_ipc_stream(io.BytesIO(answered.marks))["size"].to_list()
        assert sizes.index(max(sizes)) == 4
        assert answered.answer.size is not None
        assert answered.answer.size.variable.label == "Cook’s distance"
        with pytest.raises(ValidationError, match="a variable, or the influence"):
            document(size={"influence": True, "variable": "x"})


class TestResiduals:
    def test_against_fitted_values_under_the_rows_own_numbers(self) -> None:
        table = numbers(x=[1, 2, 3, 4], y=[1, 3, 2, None])
        figure = document("x", "y", trends=[{}])
        shown, answered = residuals(ResidualsRequest(document=figure), table)
        drawn = pl.read_ipc_stream(io.BytesIO(answered.marks))
        # The line is 1 + x/2.
        assert drawn["x"].to_list() == pytest.approx([1.5, 2, 2.5])
        assert drawn["y"].to_list() == pytest.approx([-0.5, 1, -0.5])
        assert drawn["row"].to_list() == [0, 1, 2]
        assert (shown.x, shown.y) == ("fitted", ["residual"])

    def test_against_normal_quantiles_in_their_groups_colours(self) -> None:
        figure = document(trends=[{"by": "valley"}])
        shown, answered = residuals(ResidualsRequest(document=figure, against="quantile"), NIGHTS)
        assert shown.colour is not None
        assert shown.colour.variable == "group"
        assert answered.answer.colour is not None
        assert answered.answer.colour.categories == ["Argill", "Bracken", "Corrie", "Dunlin"]
        drawn = pl.read_ipc_stream(io.BytesIO(answered.marks)).sort("x")
        assert drawn["x"].median() == pytest.approx(0, abs=0.02)

    @pytest.mark.parametrize("against", ["x", "order", "fitted"])
    def test_every_other_way(self, against: str) -> None:
        figure = document("day", "level", trends=[{"family": "moving-average"}])
        asked = ResidualsRequest.model_validate({"document": figure, "against": against})
        _, answered = residuals(asked, CISTERN)
        assert answered.answer.counts.drawn > 400

    def test_what_cannot_be_had_is_said(self) -> None:
        with pytest.raises(TableError, match="no trend 1"):
            residuals(ResidualsRequest(document=document()), NIGHTS)
        figure = document(trends=[{"family": "theil-sen"}])
        with pytest.raises(TableError, match="no studentised residuals"):
            residuals(ResidualsRequest(document=figure, against="quantile"), NIGHTS)


class TestComparison:
    def test_the_form_that_made_the_data_comes_first_and_why(self) -> None:
        x = np.linspace(0, 20, 60)
        y = 5 + 90 / (1 + np.exp(-0.6 * (x - 9))) + np.random.default_rng(3).normal(0, 2, 60)
        told: list[float] = []
        figure = document("x", "y", trends=[{}])
        table = numbers(x=x.tolist(), y=y.tolist())
        found = compare(ComparisonRequest(document=figure), table, told.append)
        assert found.forms[0].family == "s-curve"
        assert found.is_clear
        assert found.why.startswith("The logistic S-curve predicts left-out rows best (RMSE ")
        errors = [f.left_out_error for f in found.forms if f.left_out_error is not None]
        assert errors == sorted(errors)
        assert told == sorted(told)
        assert told[-1] == 1

    def test_a_straight_line_is_not_beaten_by_what_only_bends_with_it(self) -> None:
        draw = np.random.default_rng(2)
        x = np.linspace(1, 10, 100)
        table = numbers(x=x.tolist(), y=(3 + 2 * x + draw.normal(0, 1, 100)).tolist())
        found = compare(
            ComparisonRequest(document=document("x", "y", trends=[{}])), table, lambda _: None
        )
        assert not found.is_clear
        best = found.forms[0]
        if best.gain is not None:
            assert "No trend is clearly closer than the straight line." in found.why
        names = [f.label for f in found.forms if f.problem]
        # They show no end of an S-curve, and less than a wave.
        assert set(names) <= {"logistic S-curve", "sine wave"}

    def test_one_group_alone(self) -> None:
        figure = document(trends=[{"by": "valley"}])
        found = compare(ComparisonRequest(document=figure, group="Corrie"), NIGHTS, lambda _: None)
        assert 100 < found.n < 200
        with pytest.raises(TableError, match="no line for 'Nowhere'"):
            compare(ComparisonRequest(document=figure, group="Nowhere"), NIGHTS, lambda _: None)


class TestBetweenGroups:
    def test_what_is_read_off_two_lines_is_compared(self) -> None:
        found = ask(
            TRIAL,
            "dose",
            "droplets shed",
            trends=[{"family": "s-curve", "by": "coating", "read_off": [{"level": 50}, {"at": 4}]}],
        )
        by_x = [d for d in found.differences if d.of == "x"]
        assert [(d.first, d.second) for d in by_x] == [
            ("plain wax", "silica"),
            ("plain wax", "lotus film"),
            ("silica", "lotus film"),
        ]
        places = {t.report.group: t.report.solutions[0].x_place for t in found.trends}
        first = by_x[0]
        assert first.value == pytest.approx(places["silica"] - places["plain wax"])
        assert first.ratio == pytest.approx(places["silica"] / places["plain wax"])
        assert first.low < first.value < first.high < 0
        assert first.ratio_low < first.ratio < first.ratio_high < 1
        assert "silica reaches 50" in first.sentence
        assert "less than plain wax" in first.sentence
        by_y = [d for d in found.differences if d.of == "y"]
        heights = {t.report.group: t.report.readings[0].y for t in found.trends}
        assert by_y[0].value == pytest.approx(heights["silica"] - heights["plain wax"])

    def test_a_level_that_a_line_reaches_twice_or_never_is_not_compared(self) -> None:
        trend = {"family": "s-curve", "by": "coating", "read_off": [{"level": 1000}]}
        assert ask(TRIAL, "dose", "droplets shed", trends=[trend]).differences == []

    def test_many_groups_are_compared_with_the_first(self) -> None:
        rng = np.random.default_rng(4)
        frame = pl.DataFrame(
            {"x": np.tile(np.arange(10.0), 6), "y": rng.normal(0, 1, 60), "g": list("abcdef") * 10}
        ).with_columns(pl.col("g").sort().cast(pl.Enum(list("abcdef"))))
        table = Table(
            "t",
            (
                Variable("x", Kind.NUMBER, "x"),
                Variable("y", Kind.NUMBER, "y"),
                Variable("g", Kind.CATEGORY, "g"),
            ),
            frame,
        )
        found = ask(table, "x", "y", trends=[{"by": "g", "read_off": [{"at": 3}]}]).differences
        assert [d.second for d in found] == list("bcdef")
        assert {d.first for d in found} == {"a"}

    @staticmethod
    def two_lines(of_a: list[float], of_b: list[float], at: float = 1) -> Answer:
        frame = pl.DataFrame(
            {
                "x": [*range(len(of_a)), *range(len(of_b))],
                "y": [*of_a, *of_b],
                "g": ["a"] * len(of_a) + ["b"] * len(of_b),
            },
            schema={"x": pl.Float64, "y": pl.Float64, "g": pl.Enum(["a", "b"])},
        )
        kinds = {"x": Kind.NUMBER, "y": Kind.NUMBER, "g": Kind.CATEGORY}
        variables = tuple(Variable(name, kind, name) for name, kind in kinds.items())
        table = Table("t", variables, frame)
        trend = {"by": "g", "read_off": [{"at": at}]}
        return ask(table, "x", "y", trends=[trend])

    def test_what_does_not_exist_is_not_compared(self) -> None:
        # So far to the right one line is beyond the largest number, and the other is not.
        found = self.two_lines([0, 3e305, 5e305, 9e305], [0, 3, 5, 9], at=1e5)
        assert [t.report.readings[0].y is None for t in found.trends] == [True, False]
        assert found.differences == []

    def test_no_difference_is_said_to_be_none(self) -> None:
        (found,) = self.two_lines([1, 2, 4, 5], [1, 2, 4, 5]).differences
        assert found.value == 0
        assert found.sentence.startswith("At x 1, y is about the same for b as for a (95")


class TestScatterThatFansOut:
    @pytest.fixture
    def fan(self) -> Table:
        rng = np.random.default_rng(8)
        x = np.linspace(1, 10, 300)
        return numbers(x=x.tolist(), y=(2 * x + rng.normal(0, 1, 300) * x / 2).tolist())

    @pytest.mark.parametrize(
        ("family", "remedy"),
        [("straight", "allow_unequal"), ("logarithmic", "allow_unequal"), ("local", "resample")],
    )
    def test_it_is_said_with_what_helps(self, fan: Table, family: str, remedy: str) -> None:
        found = ask(fan, "x", "y", trends=[{"family": family}])
        (caution,) = (c for c in found.cautions if "not constant" in c.title)
        assert caution.remedy == remedy

    def test_where_intervals_allow_for_it_nothing_is_left_to_say(self, fan: Table) -> None:
        for family, errors in (("straight", "hc3"), ("local", "bootstrap")):
            found = ask(fan, "x", "y", trends=[{"family": family, "errors": errors}])
            assert not [title for title in titles(found) if "not constant" in title]
            assert found.trends[0].report.errors == errors

    def test_without_an_odd_row_the_line_is_fitted_again_as_it_was_set(
        self, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        rng = np.random.default_rng(3)
        x = np.linspace(1, 10, 200)
        y = 3 * x + rng.normal(0, 1, 200)
        y[-1] += 400
        again = []

        def noted(sample: object, family: str, settings: object = None) -> object:
            again.append((family, settings.intercept))  # type: ignore[attr-defined]
            return fit_trend(sample, family, settings)  # type: ignore[arg-type]

        monkeypatch.setattr("yarrowdew.figures.cautions.trend.fit_trend", noted)
        table = numbers(x=x.tolist(), y=y.tolist())
        found = ask(table, "x", "y", trends=[{"settings": {"intercept": 1.5}}])
        assert [c.rows for c in found.cautions if "influence" in c.title] == [[199]]
        assert set(again) == {("straight", 1.5)}


class TestHeavyTails:
    """Fisher's interval of r rests on normal margins: said wherever it stands."""

    @pytest.fixture
    def tailed(self) -> Table:
        rng = np.random.default_rng(8)
        x = rng.standard_t(2, 300)
        return numbers(x=x.tolist(), y=(x + rng.normal(0, 1, 300)).tolist())

    @pytest.mark.parametrize("trends", [[], [{}]])
    def test_beside_a_line_and_without_one(self, tailed: Table, trends: list[Any]) -> None:
        found = [c.title for c in ask(tailed, "x", "y", trends=trends).cautions]
        assert found.count("The interval of r may be too short") == 1

    def test_in_the_list_of_pairs_of_r_alone(self, tailed: Table) -> None:
        asked = PairsRequest(table="t")
        assert "Intervals of r with x and y may be too short" in pairs_of(asked, tailed).caution
        by_ranks = PairsRequest(table="t", method="spearman")
        assert "too short" not in pairs_of(by_ranks, tailed).caution

    def test_beside_a_matrix(self, tailed: Table) -> None:
        made = {"kind": "scatterplot matrix", "matrix": {"variables": ["x", "y"]}}
        (caution,) = ask(tailed, "x", "y", **made).cautions
        assert caution.title == "Intervals of r may be too short"
        assert "x and y have heavy tails" in caution.text

    def test_nothing_is_said_of_normal_rows(self) -> None:
        rng = np.random.default_rng(8)
        x = rng.normal(size=300)
        table = numbers(x=x.tolist(), y=(x + rng.normal(0, 1, 300)).tolist())
        assert not [c for c in ask(table, "x", "y").cautions if "too short" in c.title]
        assert "too short" not in pairs_of(PairsRequest(table="t"), table).caution

"""Whatever is asked of whatever table ends as an answer whose numbers exist, or as a sentence."""

from __future__ import annotations

import random
from collections import Counter

import mpmath
import numpy as np
import polars as pl
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy import optimize

from tests.adversary.answering import tried
from tests.families import settings_of
from tests.scope import examples
from yarrowdew.core.association import pearson
from yarrowdew.core.checkpoints import asking
from yarrowdew.core.distributions.density import box_numbers, histogram, kernel_density
from yarrowdew.core.errors import FitError
from yarrowdew.core.pairs import METHODS, pairs
from yarrowdew.core.prediction import read_at, solve_for
from yarrowdew.core.sample import Array, paired
from yarrowdew.core.trends import FAMILIES, fit_trend
from yarrowdew.figures.analyses.residuals import ResidualsRequest, residual_table, residuals
from yarrowdew.figures.answer import answer
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Kind, Table, Variable


def test_random_documents_over_awkward_tables() -> None:
    found = Counter(came for came, _, _ in tried(260, seed=9))
    assert set(found) <= {"answer", "sentence"}
    assert found["answer"] > 150


SCALES = st.sampled_from([1e-300, 1e-200, 1e-80, 1e-12, 1.0, 1e12, 1e80, 1e200, 1e300])
SHAPES = st.lists(st.integers(-50, 50), min_size=6, max_size=25)


@given(st.sampled_from(list(FAMILIES)), SHAPES, st.data(), SCALES, SCALES)
@settings(max_examples=examples(20, 140), deadline=None)
def test_only_sentences_leave_the_core_whatever_the_values_are(
    family: str, up: list[int], data: st.DataObject, x_scale: float, y_scale: float
) -> None:
    across = data.draw(st.lists(st.integers(-50, 50), min_size=len(up), max_size=len(up)))
    x = np.array(across) * x_scale + data.draw(st.sampled_from([0.0, 2018.0, 1e15, -1e15]))
    y = np.array(up) * y_scale
    level = data.draw(st.sampled_from([0.0, 1.0, 1e155, -1e300, 1.7e308]))
    scatter = data.draw(st.sampled_from(["multiplicative", "additive"]))
    try:
        fit = fit_trend(paired(x, y), family, settings_of(family, scatter=scatter, window=3))
        numbers = [fit.residual_sd, fit.degrees_of_freedom]
        numbers += [c.value for c in fit.coefficients(0.95)]
        assert np.isfinite(numbers).all()
        # Nothing that was fitted is written as 0 but what is 0.
        if fit.form is not None:
            assert np.isfinite(fit.form.values).all()
        read_at(fit, level, 0.9)
        for solution in solve_for(fit, level, 0.9):
            ends = (solution.crossing.x, solution.crossing.low, solution.crossing.high)
            assert all(end is None or np.isfinite(end) for end in ends)
    except FitError as error:
        assert error.message.endswith(".")


def weighted(draw: np.random.Generator, n: int, uneven: bool) -> Array | None:
    return draw.uniform(0.2, 5, n) if uneven else None


@given(st.integers(0, 2**32), st.integers(1, 4), st.booleans(), st.sampled_from([0.0, 2018.0, 1e7]))
@settings(max_examples=examples(12, 50), deadline=None)
def test_lines_and_polynomials_agree_with_normal_equations_in_many_digits(
    seed: int, degree: int, uneven: bool, offset: float
) -> None:
    draw = np.random.default_rng(seed)
    n = int(draw.integers(degree + 3, 30))
    x, y = draw.normal(0, 3, n) + offset, draw.normal(0, 5, n)
    w = weighted(draw, n, uneven)
    family = "straight" if degree == 1 else "polynomial"
    fit = fit_trend(paired(x, y, w), family, settings_of(family, degree=max(degree, 2)))
    with mpmath.workdps(150):
        rows = mpmath.matrix([[mpmath.mpf(v) ** k for k in range(degree + 1)] for v in x.tolist()])
        weights = mpmath.diag(np.ones(n).tolist() if w is None else w.tolist())
        left = rows.T * weights * rows
        solved = mpmath.lu_solve(left, rows.T * weights * mpmath.matrix(y.tolist()))
        exact = [float(v) for v in rows * solved]
    assert fit.predict(x) == pytest.approx(exact, rel=1e-9, abs=1e-8 * float(np.abs(y).max()))


CURVES = {
    "exponential": lambda c, x: c[0] * np.exp(c[1] * x),
    "power": lambda c, x: c[0] * np.power(x, c[1]),
    "s-curve": lambda c, x: c[0] + (c[1] - c[0]) / (1 + np.exp(-c[3] * (x - c[2]))),
}


@given(st.sampled_from(list(CURVES)), st.integers(0, 2**32))
@settings(max_examples=examples(12, 50), deadline=None)
def test_curves_leave_no_more_than_a_search_from_elsewhere_finds(family: str, seed: int) -> None:
    draw = np.random.default_rng(seed)
    x = np.sort(draw.uniform(1, 10, 40))
    true = {"exponential": [3, 0.2], "power": [2, 0.7], "s-curve": [5, 60, 5, 1.2]}[family]
    y = CURVES[family](true, x) + draw.normal(0, 1, len(x))
    fit = fit_trend(paired(x, y), family, settings_of(family, scatter="additive"))
    start = np.array(true) * draw.uniform(0.8, 1.2, len(true))
    other = optimize.least_squares(lambda c: CURVES[family](c, x) - y, start, xtol=1e-14)
    left = float(np.sum((y - fit.predict(x)) ** 2))
    assert left <= 2 * other.cost * (1 + 1e-9)


@given(
    st.sampled_from(
        ["straight", "polynomial", "local", "spline", "theil-sen", "reduced-major-axis"]
    ),
    st.integers(0, 2**32),
)
@settings(max_examples=examples(15, 60), deadline=None)
def test_order_shift_and_scale_change_what_they_should_and_nothing_else(
    family: str, seed: int
) -> None:
    draw = np.random.default_rng(seed)
    x, y = draw.uniform(0, 10, 30), draw.normal(0, 2, 30)
    y += x
    fit = fit_trend(paired(x, y), family)
    at = np.linspace(x.min(), x.max(), 7)
    order = draw.permutation(30)
    permuted = fit_trend(paired(x[order], y[order]), family)
    assert permuted.predict(at) == pytest.approx(fit.predict(at), rel=1e-8, abs=1e-8)
    moved = fit_trend(paired(4 * x - 64, 8 * y + 16), family)
    # A penalty is found by search, and the curve depends on it but little.
    near = 1e-4 if family == "spline" else 1e-7
    assert moved.predict(4 * at - 64) == pytest.approx(8 * fit.predict(at) + 16, rel=near, abs=near)
    assert moved.r_squared == pytest.approx(fit.r_squared, abs=near)
    # As far away as numbers go, it is the same fit to the last bit.
    far = fit_trend(paired(np.ldexp(x, 300), np.ldexp(y, -300)), family)
    assert far.predict(np.ldexp(at, 300)) == pytest.approx(
        np.ldexp(fit.predict(at), -300), rel=near
    )


class TestFarFromZero:
    YEARS = np.arange(2018.0, 2023.0)

    def test_an_exponential_on_years_is_printed_about_a_named_origin(self) -> None:
        fit = fit_trend(paired(self.YEARS, 3.1 * np.exp(0.5 * (self.YEARS - 2018))), "exponential")
        assert fit.form is not None
        digits = fit.form.digits_needed(fit.x_range, 20.0)
        assert fit.form.text(digits, "plain") == "y = 8.43 exp(0.500 (x - 2020))"
        # As printed, it lands within 0.1 % of the range of y.
        printed = 8.43 * np.exp(0.5 * (self.YEARS - 2020))
        assert printed == pytest.approx(3.1 * np.exp(0.5 * (self.YEARS - 2018)), abs=0.02)

    def test_years_with_no_clear_growth_are_fitted_all_the_same(self) -> None:
        table = Table(
            "t",
            (Variable("year", Kind.NUMBER, "Year"), Variable("n", Kind.NUMBER, "N")),
            pl.DataFrame({"year": self.YEARS, "n": [1.0, 5, 2, 8, 1]}),
        )
        made = FigureDocument.model_validate(
            {"table": "t", "x": "year", "y": ["n"], "trends": [{"family": "exponential"}]}
        )
        (trend,) = answer(made, table).answer.trends
        slope = next(c for c in trend.report.coefficients if c.name == "b")
        # By hand: ln y on x − 2020 is (0, ln 5, ln 2, ln 8, 0), and b = Σ d ln y / Σ d² = (3 ln 2 − ln 5)/10.
        assert slope.value == pytest.approx((3 * np.log(2) - np.log(5)) / 10)

    def test_a_parabola_far_away_is_printed_so_that_it_lands(self) -> None:
        x = 1e15 + np.arange(7.0)
        table = Table(
            "t",
            (Variable("x", Kind.NUMBER, "X"), Variable("y", Kind.NUMBER, "Y")),
            pl.DataFrame({"x": x, "y": [1.0, 3, 2, 5, 4, 7, 6]}),
        )
        trends = [{"family": "polynomial"}, {"family": "straight"}]
        made = FigureDocument.model_validate({"table": "t", "x": "x", "y": ["y"], "trends": trends})
        for trend in answer(made, table).answer.trends:
            assert "(x − 1000000000000003)" in str(trend.report.equation) or "10^{15}" in str(
                trend.report.equation
            )

    def test_pearson_of_the_largest_numbers(self) -> None:
        x = np.array([1e308, -1e308, 1e308, -1e308, 1e308, 1e308])
        y = np.array([-1e308, 1e308, 1e308, -1e308, -1e308, 1e308])
        found = pearson(paired(x, y))
        assert found.r == pytest.approx(pearson(paired(x / 1e308, y / 1e308)).r)
        assert found.p_value is not None
        assert found.p_value > 0.1


@given(SHAPES, SCALES, st.sampled_from([0.0, 1e15, -1e300]))
@settings(max_examples=examples(12, 50), deadline=None)
def test_distributions_of_any_numbers(up: list[int], scale: float, offset: float) -> None:
    values = np.array(up) * scale + offset
    bars = histogram(values)
    assert bars.counts.sum() == len(values)
    box = box_numbers(values)
    assert values.min() <= box.low <= box.median <= box.high <= values.max()
    assume(values.min() < values.max())
    curve = kernel_density(values)
    assert np.isfinite(curve.at).all()
    area = float(np.trapezoid(curve.density, curve.at))
    assert np.isfinite(area)


@pytest.mark.parametrize("method", list(METHODS))
def test_pairs_at_once_are_those_one_by_one(method: str) -> None:
    draw = np.random.default_rng(4)
    columns = {f"v{i}": np.round(draw.normal(0, 3, 60), 1) for i in range(6)}
    columns["v1"][draw.random(60) < 0.3] = np.nan
    columns["v2"] = 1e9 + columns["v3"] * 1e-3
    columns["v4"] = 2 * columns["v3"] + 1
    columns["v5"][:] = 7
    for pair in pairs(columns, method):
        alone = METHODS[method](paired(columns[pair.x], columns[pair.y]), 0.95)
        assert pair.correlation.n == alone.n
        for mine, other in zip(
            (pair.correlation.r, pair.correlation.low, pair.correlation.p_value),
            (alone.r, alone.low, alone.p_value),
            strict=True,
        ):
            assert (mine is None) is (other is None)
            if mine is not None:
                assert mine == pytest.approx(other, rel=1e-7, abs=1e-12)


class TestNames:
    """Variables that are called as something of ours is."""

    def table(self, x: str, y: str, by: str = "mesh") -> Table:
        return Table(
            "t",
            (
                Variable(x, Kind.NUMBER, "X"),
                Variable(y, Kind.NUMBER, "Y"),
                Variable(by, Kind.CATEGORY, "By"),
                Variable("other", Kind.CATEGORY, "Other"),
            ),
            pl.DataFrame(
                {
                    x: [1.0, 2, 3, 4, 5, 6, 7, 8],
                    y: [2.0, 1, 4, 3, 7, 5, 8, 9],
                    by: pl.Series(["yes", "no"] * 4, dtype=pl.Enum(["no", "yes"])),
                    "other": pl.Series(["no", "yes"] * 4, dtype=pl.Enum(["no", "yes"])),
                }
            ),
            ids=np.array([11, 12, 13, 14, 15, 16, 17, 18], dtype=np.uint32),
        )

    @pytest.mark.parametrize(
        "name", ["fitted", "residual", "order", "row", "group", "leverage", "cook", "*", "^.*$"]
    )
    def test_residuals_keep_the_variable_and_the_result_apart(self, name: str) -> None:
        table = self.table(name, "yield")
        made = FigureDocument.model_validate(
            {"table": "t", "x": name, "y": ["yield"], "trends": [{"by": "mesh"}]}
        )
        out = residual_table(made, table, 0)
        assert out.frame[name].to_list() == table.frame[name].to_list()
        assert out.frame["yield"].to_list() == table.frame["yield"].to_list()
        assert out.row_ids().tolist() == table.row_ids().tolist()
        numbers = "row" if name != "row" else "row 2"
        assert out.frame[numbers].to_list() == [12, 13, 14, 15, 16, 17, 18, 19]
        _shown, answered = residuals(ResidualsRequest(document=made, against="x"), table)
        marks = pl.read_ipc_stream(answered.marks)
        assert marks["x"].to_list() == table.frame[name].to_list()
        # Observed less fitted, by hand from the line of each group.
        fits = {g: np.polyfit(*table.frame.filter(table.frame["mesh"] == g)[[name, "yield"]].to_numpy().T, 1) for g in ("yes", "no")}  # fmt: skip
        expected = [
            u - np.polyval(fits[g], v)
            for v, u, g in zip(
                table.frame[name], table.frame["yield"], table.frame["mesh"], strict=True
            )
        ]
        assert marks["y"].to_list() == pytest.approx(expected, abs=1e-12)
        assert answered.answer.colour is not None

    def test_a_line_takes_its_colour_only_from_the_variable_that_colours(self) -> None:
        table = self.table("x", "y")
        for by, codes in (("mesh", [0, 1]), ("other", [None, None])):
            made = FigureDocument.model_validate(
                {"table": "t", "x": "x", "y": ["y"], "colour": {"variable": "mesh"}, "trends": [{"by": by}]}
            )  # fmt: skip
            assert [t.group_code for t in answer(made, table).answer.trends] == codes

    def test_two_variables_up_that_are_called_alike_are_told_apart(self) -> None:
        table = self.table("x", "y")
        variables = tuple(
            Variable(v.name, v.kind, "Alike" if v.kind is Kind.NUMBER else v.label)
            for v in table.variables
        )
        table = Table("t", variables, table.frame)
        made = FigureDocument.model_validate(
            {"table": "t", "x": "x", "y": ["x", "y"], "trends": [{}]}
        )
        found = answer(made, table).answer
        assert [t.group_code for t in found.trends] == [0, 1]
        assert found.colour is not None
        assert found.colour.categories == ["Alike (x)", "Alike (y)"]
        assert residual_table(made, table, 0).rows == 16

    def test_names_are_exact(self) -> None:
        table = self.table("aa", "AA")
        made = FigureDocument.model_validate({"table": "t", "x": "AA", "y": ["aa"]})
        marks = pl.read_ipc_stream(answer(made, table).marks)
        assert marks["x"].to_list() == table.frame["AA"].to_list()
        with pytest.raises(TableError, match="no variable 'Aa'"):
            answer(FigureDocument.model_validate({"table": "t", "x": "Aa", "y": ["aa"]}), table)


def test_lines_for_ten_thousand_categories_are_refused_with_a_sentence() -> None:
    words = [f"c{i}" for i in range(10_000)]
    table = Table(
        "t",
        (
            Variable("x", Kind.NUMBER, "X"),
            Variable("y", Kind.NUMBER, "Y"),
            Variable("c", Kind.CATEGORY, "C"),
        ),
        pl.DataFrame(
            {
                "x": np.arange(10_000.0),
                "y": np.arange(10_000.0) ** 0.5,
                "c": pl.Series(words, dtype=pl.Enum(words)),
            }
        ),
    )
    made = FigureDocument.model_validate(
        {"table": "t", "x": "x", "y": ["y"], "trends": [{"by": "c"}], "margins": {"x": "density"}}
    )
    found = answer(made, table).answer
    assert found.trends == []
    assert "10,000 categories" in found.problems[0]


def test_a_document_with_a_row_that_cannot_be_is_refused_where_it_comes_in() -> None:
    draw = random.Random(1)
    for row in (2**32, 2**64, -1, draw.randrange(2**40, 2**60)):
        with pytest.raises(ValueError, match="set_aside"):
            FigureDocument.model_validate({"table": "t", "x": "x", "y": ["y"], "set_aside": [row]})


class TestLargeFits:
    """What is done above a stated number of rows, against what is done below it."""

    X = np.random.default_rng(6).uniform(0, 20, 12_000)
    NOISE = np.random.default_rng(7).normal(0, 1, 12_000)

    def test_a_local_smooth_of_rows_taken_together(self, monkeypatch: pytest.MonkeyPatch) -> None:
        y = 3 * np.sin(self.X / 3) + self.NOISE
        y[::60] += 40
        sample, at = paired(self.X, y), np.linspace(0, 20, 15)
        alone = fit_trend(sample, "local", settings_of("local", span=0.3))
        monkeypatch.setattr("yarrowdew.core.trends.families.loess.ROW_BY_ROW", 10_000)
        monkeypatch.setattr("yarrowdew.core.trends.solvers.windows.BINS", 2_000)
        together = fit_trend(sample, "local", settings_of("local", span=0.3))
        mine, theirs = (f.band(at, 0.95, "confidence") for f in (together, alone))
        assert mine is not None
        assert theirs is not None
        width = float((theirs.high - theirs.low).min())
        assert np.abs(together.predict(at) - alone.predict(at)).max() < 0.02 * width
        assert mine.high - mine.low == pytest.approx(theirs.high - theirs.low, rel=0.01)
        assert any("taken together" in each.text for each in together.assumptions)

    def test_a_curve_descended_to_over_all_rows(self, monkeypatch: pytest.MonkeyPatch) -> None:
        sample = paired(self.X, 5 + 90 / (1 + np.exp(-0.6 * (self.X - 9))) + self.NOISE)
        alone = fit_trend(sample, "s-curve")
        for module in ("optimise", "nonlinear"):
            monkeypatch.setattr(f"yarrowdew.core.trends.solvers.{module}.MOST_SEARCHED", 3_000)
        descended = fit_trend(sample, "s-curve")
        for mine, theirs in zip(
            descended.coefficients(0.95), alone.coefficients(0.95), strict=True
        ):
            assert theirs.se is not None
            assert abs(mine.value - theirs.value) < 1e-5 * theirs.se
            assert mine.se == pytest.approx(theirs.se, rel=1e-7)

    def test_no_best_curve_is_told_of_many_rows_as_of_few(
        self, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        # A straight line is an S-curve the ends of which are ever farther away.
        draw = np.random.default_rng(3)
        x = draw.uniform(0, 20, 8_000)
        sample = paired(x, 1 + 2 * x + draw.normal(0, 5, 8_000))
        for most in (8_000, 3_000):
            for module in ("optimise", "nonlinear"):
                monkeypatch.setattr(f"yarrowdew.core.trends.solvers.{module}.MOST_SEARCHED", most)
            monkeypatch.setattr("yarrowdew.core.trends.solvers.optimise.MOST_GONE_THROUGH", most)
            with pytest.raises(FitError, match="No best curve"):
                fit_trend(sample, "s-curve")

    def test_a_resistant_line_of_some_of_the_rows(self, monkeypatch: pytest.MonkeyPatch) -> None:
        sample = paired(self.X, 2 * self.X + self.NOISE)
        alone = fit_trend(sample, "theil-sen")
        monkeypatch.setattr("yarrowdew.core.trends.families.theil_sen.MOST_COUNTED", 6_000)
        some = fit_trend(sample, "theil-sen")
        slopes = [next(c for c in f.coefficients(0.95) if c.name == "b") for f in (alone, some)]
        assert slopes[1].low is not None
        assert slopes[1].high is not None
        assert slopes[1].low < slopes[0].value < slopes[1].high
        assert any("6,000 rows" in each.text for each in some.assumptions)

    def test_work_that_is_not_wanted_any_more_ends_at_its_next_checkpoint(self) -> None:
        class UnwantedError(Exception):
            """Nobody waits."""

        def ask(_share: float) -> None:
            raise UnwantedError

        sample = paired(self.X, self.NOISE)
        for family in ("local", "theil-sen", "s-curve"):
            with pytest.raises(UnwantedError), asking(ask):
                fit_trend(sample, family)

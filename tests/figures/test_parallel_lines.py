"""Parallel lines through groups: analysis of covariance, by independent sums and by simulation."""

from __future__ import annotations

import numpy as np
import polars as pl
import pytest
from scipy import stats

from tests.scope import examples
from yarrowdew.figures.answer import Answer, answer
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.tables.table import Kind, Table, Variable


def table(x: np.ndarray, y: np.ndarray, g: list[str]) -> Table:
    frame = pl.DataFrame({"x": x, "y": y, "g": g}).with_columns(
        pl.col("g").cast(pl.Enum(sorted(set(g))))
    )
    kinds = (Kind.NUMBER, Kind.NUMBER, Kind.CATEGORY)
    variables = tuple(Variable(n, k, n) for n, k in zip("xyg", kinds, strict=True))
    return Table("t", variables, frame)


def ask(held: Table, **trend: object) -> Answer:
    document = FigureDocument.model_validate(
        {"table": "t", "x": "x", "y": ["y"], "trends": [{"by": "g", "slopes": "common"} | trend]}
    )
    return answer(document, held).answer


def three_groups(seed: int, slopes: tuple[float, float, float] = (2, 2, 2)) -> Table:
    r = np.random.default_rng(seed)
    x = r.uniform(0, 10, 45)
    codes = np.repeat([0, 1, 2], 15)
    y = np.array([0.0, 3.0, 7.0])[codes] + np.array(slopes)[codes] * x + r.normal(0, 1, 45)
    return table(x, y, ["abc"[code] for code in codes])


def by_design(held: Table) -> tuple[np.ndarray, np.ndarray, float, int]:
    """Coefficients (heights, slope), their covariance over σ², σ² and df, by one least squares."""
    frame = held.frame
    x, y = frame["x"].to_numpy(), frame["y"].to_numpy()
    codes = frame["g"].to_physical().to_numpy()
    design = np.column_stack([*(codes == k for k in range(3)), x]).astype(float)
    found, left, *_ = np.linalg.lstsq(design, y, rcond=None)
    df = len(x) - 4
    return found, np.linalg.inv(design.T @ design), float(left[0]) / df, df


def test_they_are_those_of_one_least_squares_with_a_height_for_each_group() -> None:
    held = three_groups(1)
    found, inverse, variance, df = by_design(held)
    trends = ask(held).trends
    assert [trend.report.group for trend in trends] == ["a", "b", "c"]
    for k, trend in enumerate(trends):
        a, b = trend.report.coefficients
        assert (a.value, b.value) == pytest.approx((found[k], found[3]))
        assert b.se == pytest.approx(np.sqrt(variance * inverse[3, 3]))
        assert a.se == pytest.approx(np.sqrt(variance * inverse[k, k]))
        assert trend.report.degrees_of_freedom == df
        assert "parallel lines" in trend.report.assumptions[0]
        # r of one group stands beside no test of all.
        assert trend.report.r is None


def test_adjusted_means_are_said_with_their_intervals() -> None:
    held = three_groups(1)
    found, inverse, variance, df = by_design(held)
    mean = float(held.frame["x"].mean() or 0)
    (slopes,) = ask(held).slopes
    for k, group in enumerate("abc"):
        at = np.zeros(4)
        at[[k, 3]] = 1, mean
        value = float(at @ found)
        half = float(stats.t.ppf(0.975, df) * np.sqrt(variance * at @ inverse @ at))
        said = f"{value:.1f} (95 % interval {value - half:.1f} to {value + half:.1f}) in {group}"
        assert said in slopes.adjusted.replace("\u00a0", " "), slopes.adjusted


def test_slopes_are_still_compared_as_each_group_has_its_own() -> None:
    held = three_groups(2, (1, 2, 3))
    common, own = ask(held), ask(held, slopes="own")
    assert common.slopes[0].sentence == own.slopes[0].sentence
    assert own.slopes[0].adjusted == ""
    assert [c.title for c in common.cautions][:1] == ["Parallel lines hide different slopes"]
    assert "Parallel lines hide different slopes" not in [
        c.title for c in ask(three_groups(1)).cautions
    ]


@pytest.mark.parametrize(
    ("trend", "said"),
    [
        ({"family": "polynomial"}, "Only straight lines can have a common slope"),
        ({"errors": "hc3"}, "takes rows as equal and the scatter as equal everywhere"),
        ({"settings": {"intercept": 1.0}}, "leaves every group its own height"),
    ],
)
def test_what_has_no_common_slope_is_said(trend: dict[str, object], said: str) -> None:
    trends = ask(three_groups(1), **trend).trends
    assert len(trends) == 3
    assert all(one.report.problem and said in one.report.problem for one in trends)


def test_the_slope_is_covered_as_often_as_it_says() -> None:
    runs = examples(60, 1000)
    held = 0
    for seed in range(runs):
        b = ask(three_groups(seed)).trends[0].report.coefficients[1]
        assert b.low is not None
        assert b.high is not None
        held += b.low <= 2 <= b.high
    assert 0.86 <= held / runs <= 1


def test_rows_of_one_group_that_are_alike_offer_standard_errors_by_cluster() -> None:
    r = np.random.default_rng(6)
    codes = np.repeat(np.arange(9), 8)
    x = r.uniform(0, 10, 72)
    held = table(
        x, 2 * x + r.normal(0, 3, 9)[codes] + r.normal(0, 0.5, 72), [str(c) for c in codes]
    )

    def asked(**trend: object) -> Answer:
        return ask(held, by=None, slopes="own", **trend)

    document = {"table": "t", "x": "x", "y": ["y"], "colour": {"variable": "g"}}

    def coloured(**trend: object) -> Answer:
        made = FigureDocument.model_validate(document | {"trends": [trend]})
        return answer(made, held).answer

    (caution,) = [c for c in coloured().cautions if c.title.startswith("Rows of the same g")]
    assert (caution.remedy, caution.variable) == ("cluster", "g")
    allowing = coloured(errors="cluster", clusters="g")
    assert not [c for c in allowing.cautions if c.title.startswith("Rows of the same g")]
    plain, own = coloured().trends[0].report, allowing.trends[0].report
    assert own.errors == "cluster"
    assert own.coefficients[0].se is not None
    assert plain.coefficients[0].se is not None
    assert own.coefficients[0].se > 1.1 * plain.coefficients[0].se
    assert any("by cluster (CR2), of 9 clusters" in text for text in own.assumptions)
    (without,) = asked(errors="cluster").trends
    assert without.report.problem is not None
    assert "which rows belong together" in without.report.problem

"""The demo data hold the stories that they are there for; each is checked by fitting it."""

from __future__ import annotations

import polars as pl
import pytest

from yarrowdew.core.influence import influential_row
from yarrowdew.core.sample import paired
from yarrowdew.core.trends.families.straight import StraightLine, fit_line
from yarrowdew.demo.tables import FAR_STATION, PULLING_ROW, demo_tables, drift
from yarrowdew.tables.summary import summarise
from yarrowdew.tables.table import Kind, Table, axis_values

NIGHTS, STATIONS, TRIAL, CISTERN = demo_tables()


def line(table: Table, x: str, y: str, rows: pl.Expr | None = None) -> StraightLine:
    frame = table.frame if rows is None else table.frame.filter(rows)
    return fit_line(paired(axis_values(frame[x]), axis_values(frame[y])))


def test_it_is_the_same_at_every_call() -> None:
    for table, again in zip((NIGHTS, STATIONS, TRIAL, CISTERN), demo_tables(), strict=True):
        assert table.frame.equals(again.frame)


@pytest.mark.parametrize(
    ("table", "rows", "names"),
    [
        (
            NIGHTS,
            640,
            "night station valley mesh humidity air_temperature dew-point_gap wind cloud yield",
        ),
        (
            STATIONS,
            32,
            "station valley altitude distance_to_sea mean_yield standard_error "
            "households_served collectors",
        ),
        (TRIAL, 54, "coating dose droplets_shed SE_low SE_high"),
        (CISTERN, 430, "day level"),
    ],
)
def test_sizes_and_variables(table: Table, rows: int, names: str) -> None:
    assert table.rows == rows
    assert [v.name.replace(" ", "_") for v in table.variables] == names.split()


def test_one_valley_runs_against_the_whole() -> None:
    whole = line(NIGHTS, "humidity", "yield")
    assert whole.coefficients(0.95)[1].low > 0
    for valley in ("Argill", "Bracken", "Corrie"):
        model = line(NIGHTS, "humidity", "yield", pl.col("valley") == valley)
        assert model.coefficients(0.95)[1].low > 0
    dunlin = line(NIGHTS, "humidity", "yield", pl.col("valley") == "Dunlin")
    assert dunlin.coefficients(0.95)[1].high < 0


def test_the_misread_gauge_moves_its_valleys_line() -> None:
    bracken = NIGHTS.frame.with_row_index().filter(pl.col("valley") == "Bracken")
    sample = paired(bracken["humidity"].to_numpy(), bracken["yield"].to_numpy())
    found = influential_row(fit_line(sample), sample, fit_line)
    assert found is not None
    assert bracken["index"][found.row] == PULLING_ROW
    assert abs(found.without.value - found.slope.value) > fit_line(sample).slope_se


def test_half_of_the_droplets_run_off_at_a_dose_inside_the_range() -> None:
    dose = TRIAL.frame["dose"]
    for coating in TRIAL.frame["coating"].unique():
        model = line(TRIAL, "dose", "droplets shed", pl.col("coating") == coating)
        (crossing,) = model.crossings(50, 0.95)
        assert dose.min() < crossing.low < crossing.x < crossing.high < dose.max()


def test_one_station_stands_far_from_the_rest() -> None:
    altitude = STATIONS.frame.sort("altitude", descending=True)
    assert altitude["station"][0] == FAR_STATION
    assert altitude["altitude"][0] - altitude["altitude"][1] > 500


def test_the_cistern_slowly_fills() -> None:
    model = line(CISTERN, "day", "level")
    assert model.coefficients(0.99)[1].low > 0
    assert 10 < model.slope * 430 < 40


def test_blanks_and_whole_numbers() -> None:
    summary = {v.name: v for v in summarise(NIGHTS).variables}
    assert (summary["yield"].missing, summary["humidity"].missing, summary["wind"].missing) == (
        6,
        3,
        4,
    )
    assert summary["cloud"].distinct == 9
    assert summary["mesh"].kind is Kind.CATEGORY
    assert summary["humidity"].max <= 100


def test_drift_is_as_long_as_asked() -> None:
    table = drift(5000)
    assert table.rows == 5000
    assert table.frame["humidity"].null_count() == 0

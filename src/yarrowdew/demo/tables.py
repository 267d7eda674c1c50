"""A valley network of dew and fog collectors, generated from a fixed seed.

No place, person or measurement in it is real. Its stories are built in on purpose: a valley whose
trend runs against the whole, a misread gauge that pulls a line, a station far from the rest, a
coating dose at which half of the droplets run off, a cistern that slowly fills.
"""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.naming import label_of
from yarrowdew.tables.table import Kind, Table, Variable

SEED = 20_310_401
STATIONS_A_VALLEY = 8
NIGHTS_A_STATION = 20
PULLING_ROW = 205
"""Place in `nights` of the misread gauge that pulls its valley's line (0 is the first row)."""
FAR_STATION = "C8"
DRIFT_ROWS = 1_000_000
MOST_IN_ONE = 50_000_000
_ROWS_A_FILE = 1_000_000


@dataclass(frozen=True, slots=True)
class _Valley:
    name: str
    mean_humidity: float
    intercept: float
    slope: float


_VALLEYS = (
    _Valley("Argill", 83.0, -352.0, 7.1),
    _Valley("Bracken", 84.0, -330.0, 6.5),
    _Valley("Corrie", 75.0, -205.0, 5.0),
    _Valley("Dunlin", 85.0, 700.0, -4.2),
)
VALLEYS = tuple(valley.name for valley in _VALLEYS)
_MESHES = ("single", "double", "ribbed")
_COATINGS = (("plain wax", 6.4, 0.9), ("silica", 4.6, 1.1), ("lotus film", 3.1, 1.4))
_DOSES = (0.5, 2.0, 3.5, 5.0, 7.0, 9.0)


def demo_tables() -> tuple[Table, ...]:
    """Make the four tables of the demo study, the same at every call."""
    rng = np.random.default_rng(SEED)
    altitudes, distances = _slopes(rng)
    nights = _nights(rng, altitudes)
    return nights, _stations(rng, nights, altitudes, distances), _coating_trial(rng), _cistern(rng)


def write_parts(folder: Path, rows: int) -> None:
    """Write such a table as a folder of Parquet files, one after the other.

    Parameters
    ----------
    folder : Path
        That holds nothing yet.
    rows : int

    Raises
    ------
    OSError
        If it cannot be written.
    TableError
        If it holds something.
    """
    if folder.exists() and (not folder.is_dir() or any(folder.iterdir())):
        raise TableError(
            f"{folder} is there already.", "Choose a folder that is empty, or not there."
        )
    folder.mkdir(parents=True, exist_ok=True)
    for place, first in enumerate(range(0, rows, _ROWS_A_FILE)):
        part = drift(min(_ROWS_A_FILE, rows - first), first)
        part.frame.with_columns(pl.col("valley").cast(pl.String)).write_parquet(
            folder / f"part-{place:06d}.parquet"
        )


def drift(rows: int = DRIFT_ROWS, first: int = 0) -> Table:
    """Make a table for trying out scale: one fine collector read again and again.

    Parameters
    ----------
    rows : int
        How many readings.
    first : int
        How many came before them.
    """
    rng = np.random.default_rng([SEED + 1, first] if first else SEED + 1)
    hour = (first + np.arange(rows)) / 3600
    humidity = np.clip(82 + 9 * np.sin(hour / 24 * 2 * np.pi) + rng.normal(0, 4, rows), 30, 100)
    uptake = 0.9 * (humidity - 60) + 4 * rng.standard_normal(rows) + 0.002 * hour
    valley = rng.integers(0, len(_VALLEYS), rows)
    names = np.array([v.name for v in _VALLEYS])
    return _table(
        "drift",
        {
            "hour": (hour.round(4), "h", Kind.NUMBER),
            "humidity": (humidity.round(3), "%", Kind.NUMBER),
            "uptake": (uptake.round(3), "mL/h", Kind.NUMBER),
            "valley": (names[valley], "", Kind.CATEGORY),
        },
    )


def _slopes(rng: np.random.Generator) -> tuple[np.ndarray, np.ndarray]:
    """Altitude (m) and distance to the sea (km) of every station; one stands far above the rest."""
    count = STATIONS_A_VALLEY * len(_VALLEYS)
    altitude = rng.uniform(180, 880, count).round(-1)
    distance = (4 + altitude / 60 + rng.uniform(0, 9, count)).round(1)
    far = _station_names().index(FAR_STATION)
    altitude[far], distance[far] = 1460, 41.5
    return altitude, distance


def _station_names() -> list[str]:
    return [f"{v.name[0]}{k}" for v in _VALLEYS for k in range(1, STATIONS_A_VALLEY + 1)]


def _nights(rng: np.random.Generator, altitudes: np.ndarray) -> Table:
    a_valley = STATIONS_A_VALLEY * NIGHTS_A_STATION
    n = a_valley * len(_VALLEYS)
    valley = np.repeat(np.arange(len(_VALLEYS)), a_valley)
    station = np.repeat(np.arange(len(altitudes)), NIGHTS_A_STATION)
    mesh = np.tile(np.repeat(np.arange(3), NIGHTS_A_STATION), 11)[:n]
    first = dt.date(2031, 4, 1)
    night = np.concatenate(
        [np.sort(rng.choice(120, NIGHTS_A_STATION, replace=False)) for _ in altitudes]
    )
    mean = np.array([v.mean_humidity for v in _VALLEYS])[valley]
    # A tail of dry nights below the mean, and a soft ceiling under saturation.
    humidity = mean + 12 - 34 * rng.beta(2.3, 4.2, n) + rng.normal(0, 1.2, n)
    humidity = np.where(humidity > 96, 96 + (humidity - 96) * 0.4, humidity)
    air = 13 - 0.0062 * (altitudes[station] - 500) - 0.08 * (humidity - 82) + rng.normal(0, 2.2, n)
    gap = air - _dew_point(air, humidity)
    wind = rng.gamma(3.0, 0.9, n) + 0.8 * (altitudes[station] > 600)
    cloud = np.clip(np.round(8 * rng.beta(1.1, 1.3, n)), 0, 8)
    intercept = np.array([v.intercept for v in _VALLEYS])[valley]
    slope = np.array([v.slope for v in _VALLEYS])[valley]
    yielded = (
        intercept
        + slope * humidity
        + 0.045 * (np.minimum(altitudes[station], 900) - 520)
        + np.array([-12.0, 4.0, 12.0])[mesh]
        + 5 * (wind - 3)
        + rng.normal(0, 33, n)
    )
    yielded = np.maximum(yielded, 8 + rng.uniform(0, 14, n)).round()
    humidity = humidity.round(1)
    # Two misread gauges: one that decides its valley's line, and a mild one.
    humidity[PULLING_ROW], yielded[PULLING_ROW] = 60.7, 498
    yielded[70] = 431
    blank = rng.choice(np.setdiff1d(np.arange(n), [PULLING_ROW, 70]), 13, replace=False)
    yielded[blank[:6]] = np.nan
    wind[blank[6:10]] = np.nan
    humidity[blank[10:]] = np.nan
    names = np.array(_station_names())
    return _table(
        "nights",
        {
            "night": ([first + dt.timedelta(int(d)) for d in night], "", Kind.DATE),
            "station": (names[station], "", Kind.TEXT),
            "valley": (np.array([v.name for v in _VALLEYS])[valley], "", Kind.CATEGORY),
            "mesh": (np.array(_MESHES)[mesh], "", Kind.CATEGORY),
            "humidity": (humidity, "%", Kind.NUMBER),
            "air temperature": (air.round(1), "°C", Kind.NUMBER),
            "dew-point gap": (gap.round(1), "°C", Kind.NUMBER),
            "wind": (wind.round(1), "m/s", Kind.NUMBER),
            "cloud": (cloud, "oktas", Kind.NUMBER),
            "yield": (yielded, "mL/m²", Kind.NUMBER),
        },
        categories={"mesh": list(_MESHES)},
    )


def _dew_point(air: np.ndarray, humidity: np.ndarray) -> np.ndarray:
    """Dew point in °C by the Magnus formula (Sonntag 1990)."""
    a, b = 17.62, 243.12
    strength = np.log(humidity / 100) + a * air / (b + air)
    return np.asarray(b * strength / (a - strength))


def _stations(
    rng: np.random.Generator, nights: Table, altitudes: np.ndarray, distances: np.ndarray
) -> Table:
    by_station = nights.frame.group_by("station", maintain_order=True).agg(
        pl.col("yield").mean().round(1).alias("mean"),
        (pl.col("yield").std() / pl.col("yield").count().sqrt()).round(1).alias("se"),
    )
    count = len(altitudes)
    households = np.maximum(3, (rng.lognormal(3.6, 0.8, count) * 500 / altitudes)).round()
    collectors = np.maximum(2, (households / 4 + rng.uniform(0, 9, count))).round()
    valleys = np.repeat([v.name for v in _VALLEYS], STATIONS_A_VALLEY)
    return _table(
        "stations",
        {
            "station": (by_station["station"], "", Kind.TEXT),
            "valley": (valleys, "", Kind.CATEGORY),
            "altitude": (altitudes, "m", Kind.NUMBER),
            "distance to sea": (distances, "km", Kind.NUMBER),
            "mean yield": (by_station["mean"], "mL/m² per night", Kind.NUMBER),
            "standard error": (by_station["se"], "mL/m² per night", Kind.NUMBER),
            "households served": (households, "", Kind.NUMBER),
            "collectors": (collectors, "", Kind.NUMBER),
        },
    )


def _coating_trial(rng: np.random.Generator) -> Table:
    rows = [(c, d) for c in range(len(_COATINGS)) for d in _DOSES for _ in range(3)]
    coating = np.array([c for c, _ in rows])
    dose = np.array([d for _, d in rows])
    middle = np.array([c[1] for c in _COATINGS])[coating]
    steepness = np.array([c[2] for c in _COATINGS])[coating]
    shed = 4 + 91 / (1 + np.exp(-steepness * (dose - middle))) + rng.normal(0, 3.5, len(rows))
    shed = np.clip(shed, 0.4, 99.5).round(1)
    spread = 1.5 + 0.08 * np.sqrt(shed * (100 - shed))
    low = np.minimum(shed, spread * rng.uniform(0.8, 1.6, len(rows))).round(1)
    high = np.minimum(100 - shed, spread * rng.uniform(0.5, 1.1, len(rows))).round(1)
    names = [c[0] for c in _COATINGS]
    return _table(
        "coating trial",
        {
            "coating": (np.array(names)[coating], "", Kind.CATEGORY),
            "dose": (dose, "g/m²", Kind.NUMBER),
            "droplets shed": (shed, "%", Kind.NUMBER),
            "SE low": (low, "%", Kind.NUMBER),
            "SE high": (high, "%", Kind.NUMBER),
        },
        categories={"coating": names},
    )


def _cistern(rng: np.random.Generator) -> Table:
    days = 430
    day = np.arange(days)
    noise = np.zeros(days)
    shocks = rng.normal(0, 3.2, days)
    for k in range(1, days):
        noise[k] = 0.82 * noise[k - 1] + shocks[k]
    level = (118 + 0.061 * day + 5 * np.sin(2 * np.pi * (day - 40) / 365) + noise).round(1)
    level[rng.choice(days, 5, replace=False)] = np.nan
    first = dt.date(2030, 3, 1)
    return _table(
        "cistern",
        {
            "day": ([first + dt.timedelta(int(d)) for d in day], "", Kind.DATE),
            "level": (level, "cm", Kind.NUMBER),
        },
    )


def _table(
    name: str,
    columns: dict[str, tuple[Any, str, Kind]],
    categories: dict[str, list[str]] | None = None,
) -> Table:
    variables, series = [], []
    for variable, (values, unit, kind) in columns.items():
        column = pl.Series(variable, values, nan_to_null=kind is Kind.NUMBER)
        if kind is Kind.CATEGORY:
            order = (categories or {}).get(variable) or column.unique().sort().to_list()
            column = column.cast(pl.Enum(order))
        elif kind is Kind.NUMBER:
            column = column.cast(pl.Float64)
        variables.append(Variable(variable, kind, label_of(variable), unit))
        series.append(column)
    return Table(name, tuple(variables), pl.DataFrame(series))

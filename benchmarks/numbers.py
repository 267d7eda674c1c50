"""Fits, and answers over HTTP."""

from __future__ import annotations

import datetime as dt
import http.client
import json
import tempfile
from collections.abc import Iterator
from pathlib import Path
from statistics import median

import numpy as np
import polars as pl
from scipy import stats
from tests.families import settings_of
from tests.web.running import running

from benchmarks.measuring import Ratio, compare, milliseconds
from yarrowdew.core.association import kendall
from yarrowdew.core.sample import paired
from yarrowdew.core.trends import fit_trend
from yarrowdew.demo.tables import drift
from yarrowdew.figures.analyses.comparison import ComparisonRequest
from yarrowdew.figures.analyses.comparison import compare as compare_forms
from yarrowdew.figures.answer import answer
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.store import Store
from yarrowdew.tables.reading import read_file
from yarrowdew.tables.table import Kind, Table, Variable


def straight_line() -> Ratio:
    """A straight line with both bands on a million rows."""
    x, y = _drift(1_000_000)

    def ours() -> None:
        model = fit_trend(paired(x, y), "straight")
        at = np.linspace(*model.x_range, 129)
        model.band(at, 0.95, "confidence")
        model.band(at, 0.95, "prediction")

    return compare(
        "straight line with bands, 1,000,000 rows (numpy.polyfit with cov)",
        ours,
        lambda: np.polyfit(x, y, 1, cov=True),
        at_most=1.2,
    )


def polynomial() -> Ratio:
    """A polynomial of degree 5 on a million rows."""
    x, y = _drift(1_000_000)
    return compare(
        "polynomial of degree 5, 1,000,000 rows (numpy.polyfit)",
        lambda: fit_trend(paired(x, y), "polynomial", settings_of("polynomial", degree=5)),
        lambda: np.polyfit(x, y, 5),
        at_most=1.5,
        runs=5,
    )


def kendalls_tau() -> Ratio:
    """Kendall's τ-b of 100,000 rows; SciPy's is the yardstick, and is used nowhere else."""
    x, y = _drift(100_000)
    return compare(
        "Kendall's tau-b, 100,000 rows (scipy.stats.kendalltau)",
        lambda: kendall(paired(x, y)),
        lambda: stats.kendalltau(x, y),
        at_most=1.5,
    )


def within_a_second() -> Iterator[Ratio]:
    """What is promised in seconds, at 100,000 rows: a clock of one second is the yardstick."""
    x, y = _drift(100_000)
    for family, title in (("local", "local regression"), ("theil-sen", "Theil–Sen line")):
        times = [
            milliseconds(lambda family=family: fit_trend(paired(x, y), family).coefficients(0.95))
            for _ in range(5)
        ]
        yield Ratio(f"{title}, 100,000 rows (one second)", median(times), 1000, 1.0)
    table = drift(100_000)
    document = FigureDocument.model_validate(
        {"table": "t", "x": "humidity", "y": ["uptake"], "trends": [{}]}
    )
    asked = ComparisonRequest(document=document)
    times = [milliseconds(lambda: compare_forms(asked, table, lambda _: None)) for _ in range(3)]
    yield Ratio("compare forms, 100,000 rows (one second)", median(times), 1000, 3.0)


def _drift(rows: int) -> tuple[np.ndarray, np.ndarray]:
    frame = drift(rows).frame
    return frame["humidity"].to_numpy(), frame["uptake"].to_numpy()


def answer_over_http() -> Ratio:
    """The answer to a figure of 100,000 rows: document in, Arrow and JSON out."""
    table = drift(100_000)
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder)
        store = Store(data)
        study = store.studies.create("bench")
        record = store.tables.add(study.id, table)
        store.close()
        document = FigureDocument.model_validate(
            {
                "table": record.id,
                "x": "humidity",
                "y": ["uptake"],
                "colour": {"variable": "valley"},
                "trends": [{}],
            }
        ).model_dump_json()
        parquet = data / "drift.parquet"
        table.frame.write_parquet(parquet)

        def yardstick() -> None:
            frame = pl.read_parquet(parquet, columns=["humidity", "uptake", "valley"])
            np.polyfit(frame["humidity"].to_numpy(), frame["uptake"].to_numpy(), 1)

        with running(data) as server:
            host = server.address.removeprefix("http://")
            connection = http.client.HTTPConnection(host)

            def ours() -> None:
                connection.request(
                    "POST", "/api/answers", document, {"Content-Type": "application/json"}
                )
                response = connection.getresponse()
                body = response.read()
                assert response.status == 200, json.loads(body)
                assert len(body) > 2_000_000

            return compare(
                "answer to 100,000 rows over HTTP (Parquet read and numpy.polyfit)",
                ours,
                yardstick,
                at_most=2.0,
                runs=15,
            )


def reading_in() -> Ratio:
    """A million rows of ten variables, from delimited text into a study."""
    draw = np.random.default_rng(20310401)
    rows = 1_000_000
    days = pl.date_range(dt.date(2031, 1, 1), dt.date(2033, 9, 26), eager=True)
    frame = pl.DataFrame(
        {f"gauge {i}": np.round(draw.normal(50, 10, rows), 3) for i in range(6)}
        | {
            "count": draw.integers(0, 500, rows),
            "valley": draw.choice(["Argill", "Bracken", "Corrie", "Dunlin"], rows),
            "night": days.sample(rows, with_replacement=True, seed=1),
            "station": [f"S{i % 997}" for i in range(rows)],
        }
    )
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "nights.csv"
        frame.write_csv(path)
        store = Store(Path(folder) / "data")
        study = store.studies.create("bench")

        def ours() -> None:
            read = read_file(path)
            record = store.tables.add(study.id, read.table, (), read.sources)
            assert record.summary.rows == rows

        ratio = compare(
            "1,000,000 x 10 CSV into a study (polars.read_csv)",
            ours,
            lambda: pl.read_csv(path),
            at_most=2.5,
            runs=7,
        )
        store.close()
        return ratio


def matrix_of_eight() -> Ratio:
    """A matrix of 8 variables by 100,000 rows: numpy.corrcoef 1.5 times and a second."""
    table, document = eight_columns(100_000)

    def yardstick() -> None:
        np.corrcoef(table.frame.to_numpy(), rowvar=False)

    ours = median(milliseconds(lambda: answer(document, table)) for _ in range(5))
    most = 1.5 * median(milliseconds(yardstick) for _ in range(5)) + 1000
    return Ratio("matrix, 8 x 100,000 (1.5 numpy.corrcoef and a second)", ours, most, 1.0)


def eight_columns(rows: int, table_id: str = "t") -> tuple[Table, FigureDocument]:
    """A table of eight related numbers, and the matrix of them with points on both sides."""
    draw = np.random.default_rng(20310402)
    common = draw.normal(size=rows)
    frame = pl.DataFrame(
        {f"gauge {i}": common * (i % 3) / 2 + draw.normal(size=rows) for i in range(8)}
    )
    names = frame.columns
    table = Table("gauges", tuple(Variable(n, Kind.NUMBER, n) for n in names), frame)
    document = FigureDocument.model_validate(
        {
            "table": table_id,
            "kind": "scatterplot matrix",
            "x": names[0],
            "y": [names[1]],
            "matrix": {"variables": names, "below": "points", "above": "points"},
        }
    )
    return table, document


def all_ratios() -> Iterator[Ratio]:
    """Every measurement of this module."""
    yield straight_line()
    yield polynomial()
    yield kendalls_tau()
    yield from within_a_second()
    yield matrix_of_eight()
    yield reading_in()
    yield answer_over_http()

"""Distributions and matrices of a dataset, against the same rows as a table."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import polars as pl
import pytest

from yarrowdew.figures.answer import answer
from yarrowdew.figures.dataset_answer import answer_dataset
from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.tables import datasets
from yarrowdew.tables.dataset_files import open_dataset
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading import read_file
from yarrowdew.tables.table import Table

ROWS = 6_000


@pytest.fixture(scope="module")
def frame() -> pl.DataFrame:
    """Strange on purpose: gaps, ties, a group of one, a group without values, dates, one value."""
    rng = np.random.default_rng(11)
    x = rng.gamma(2, 3, ROWS)
    group = rng.choice(["Ash", "Birch", "Cedar"], ROWS).astype(object)
    group[:3] = ["Lone", "Void", "Void"]
    frame = pl.DataFrame(
        {
            "x": x,
            "y": 4 - 2 * x + rng.normal(0, 2, ROWS),
            "z": rng.integers(0, 9, ROWS).astype(float),
            "g": group.tolist(),
            "same": np.full(ROWS, 7.5),
            "day": np.arange(ROWS) // 60,
        }
    )
    every = pl.int_range(ROWS)
    return frame.with_columns(
        pl.when((every % 101 == 5) | every.is_between(1, 2)).then(None).otherwise("y").alias("y"),
        pl.when(every % 97 == 3).then(float("nan")).otherwise("x").alias("x"),
        pl.when(every % 89 == 7).then(None).otherwise("g").alias("g"),
        (pl.date(2031, 4, 1) + pl.duration(days=pl.col("day"))).alias("day"),
    )


@pytest.fixture(scope="module")
def both(
    frame: pl.DataFrame, tmp_path_factory: pytest.TempPathFactory
) -> tuple[Table, DatasetView]:
    folder = tmp_path_factory.mktemp("set")
    for place, (start, rows) in enumerate([(0, 2500), (2500, 10), (2510, 3490)]):
        frame.slice(start, rows).write_parquet(folder / f"{place}.parquet")
    whole = tmp_path_factory.mktemp("whole") / "whole.parquet"
    frame.write_parquet(whole)
    return read_file(whole).table, DatasetView(open_dataset(folder))


@pytest.fixture(autouse=True)
def small_parts(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(datasets, "PART_ROWS", 700)


def distribution(**more: Any) -> dict[str, Any]:
    shown = {"variable": "y", "by": None} | more
    return {"kind": "distribution", "distribution": shown}


def matrix(**more: Any) -> dict[str, Any]:
    return {"kind": "scatterplot matrix", "matrix": {"variables": ["x", "y", "z"]} | more}


def answers(both: tuple[Table, DatasetView], asked: dict[str, Any]) -> tuple[Any, Any]:
    table, view = both
    document = FigureDocument.model_validate({"table": "t", "x": "x", "y": ["y"]} | asked)
    return answer_dataset(document, view).answer, answer(document, table).answer


def near(found: Any, wanted: Any, rel: float = 1e-9) -> None:
    """The same, to rounding, in every number of a report."""
    for name, value in wanted.items():
        one = found[name]
        if isinstance(value, dict):
            near(one, value, rel)
        elif isinstance(value, list):
            if name != "far":
                assert one == pytest.approx(value, rel=rel, abs=1e-12), name
        else:
            assert one == (pytest.approx(value, rel=rel) if isinstance(value, float) else value)


def space(**more: Any) -> dict[str, Any]:
    return {"kind": "3-D scatterplot", "space": {"variable": "z", "plane": more}}


FILTERED = {
    "rows": {"conditions": [{"variable": "z", "test": "between", "low": 2, "high": 7}]},
    "colour": {"variable": "g"},
}


class TestDistribution:
    @pytest.mark.parametrize(
        "asked",
        [
            distribution(),
            distribution(by="g", order="median"),
            distribution(by="g", order="name", level=0.9, bin_width=2.5, bin_start=0.3),
            distribution(variable="z", by="g", bandwidth=0.4) | FILTERED,
            distribution(variable="x", by="g") | FILTERED,
            distribution(variable="same", by="g"),
            distribution(variable="day", by="g"),
        ],
    )
    def test_says_what_a_table_of_the_rows_says(
        self, both: tuple[Table, DatasetView], asked: dict[str, Any]
    ) -> None:
        found, wanted = answers(both, asked)
        one, other = found.distribution, wanted.distribution
        assert [(g.group, g.code, g.colour_code, g.n) for g in one.groups] == [
            (g.group, g.code, g.colour_code, g.n) for g in other.groups
        ]
        for group, like in zip(one.groups, other.groups, strict=True):
            near(group.model_dump(), like.model_dump())
            assert group.counts == like.counts
            assert group.box == like.box
        assert (one.bin_width, one.bin_start) == (other.bin_width, other.bin_start)
        assert one.bandwidth == (
            None if other.bandwidth is None else pytest.approx(other.bandwidth, rel=1e-6)
        )
        for pair, like in zip(one.compared, other.compared, strict=True):
            near({"p": pair.means_p}, {"p": like.means_p}, 1e-6)
            assert pair.shift.value is None
        of_means = [said for said in other.sentences if "rank" not in said.lower()]
        assert one.sentences[: len(of_means)] == of_means
        assert [(n.reason, n.count) for n in found.counts.not_drawn] == [
            (n.reason, n.count) for n in wanted.counts.not_drawn
        ]
        counts, like = found.counts, wanted.counts
        assert (counts.rows, counts.filtered, counts.drawn) == (ROWS, like.filtered, like.drawn)
        assert (found.x.low, found.x.high) == (wanted.x.low, wanted.x.high)
        assert {c.title for c in found.cautions} == {c.title for c in wanted.cautions}
        far = sum(len(g.far) for g in other.groups)
        said = [s for s in one.sentences if "beyond the whiskers" in s]
        assert [s.split()[0].replace(",", "").replace("\u202f", "") for s in said] == (
            [str(far)] if far else []
        )

    def test_draws_no_row(self, both: tuple[Table, DatasetView]) -> None:
        document = {"table": "t", "x": "x", "y": ["y"]} | distribution()
        found = answer_dataset(FigureDocument.model_validate(document), both[1])
        marks = pl.read_ipc_stream(io.BytesIO(found.marks))
        assert marks.height == 0
        assert set(marks.columns) >= {"row", "x", "y", "aside", "group"}

    def test_of_no_row_has_no_group(self, both: tuple[Table, DatasetView]) -> None:
        nothing = {"rows": {"conditions": [{"variable": "z", "test": "between", "low": 99}]}}
        found, _ = answers(both, distribution(by="g") | nothing)
        assert found.distribution.groups == []
        assert found.counts.filtered == ROWS


class TestMatrix:
    @pytest.mark.parametrize(
        "asked",
        [
            matrix(),
            matrix(order="together", diagonal="both", missing="complete", above="contours"),
            matrix(below="r", above="counts", variables=["day", "x", "y"]) | FILTERED,
            matrix(below="trend", diagonal="density") | {"colour": {"variable": "g"}},
        ],
    )
    def test_says_what_a_table_of_the_rows_says(
        self, both: tuple[Table, DatasetView], asked: dict[str, Any]
    ) -> None:
        found, wanted = answers(both, asked)
        one, other = found.matrix, wanted.matrix
        assert (one.rows, one.complete) == (other.rows, other.complete)
        for variable, like in zip(one.variables, other.variables, strict=True):
            ends = (variable.name, variable.low, variable.high, variable.missing)
            # Rows that are not complete lack nothing that is shown.
            lacking = like.missing if asked["matrix"].get("missing") != "complete" else None
            assert ends[:3] == (like.name, like.low, like.high)
            assert lacking is None or ends[3] == lacking
            assert [(m.code, m.at, m.height) for m in variable.histogram] == [
                (m.code, m.at, m.height) for m in like.histogram
            ]
            for curve, own in zip(variable.density, like.density, strict=True):
                assert curve.code == own.code
                assert curve.height == pytest.approx(own.height, rel=1e-6, abs=1e-6)
        for cell, like in zip(one.cells, other.cells, strict=True):
            assert (cell.x, cell.y, cell.n) == (like.x, like.y, like.n)
            assert cell.r == pytest.approx(like.r, rel=1e-10)
            assert cell.p_value == pytest.approx(like.p_value, rel=1e-8)
            assert [(g.code, g.n) for g in cell.groups] == [(g.code, g.n) for g in like.groups]
            assert [g.r for g in cell.groups] == pytest.approx([g.r for g in like.groups])
            for curve, own in zip(cell.curves, like.curves, strict=True):
                assert curve.code == own.code
                assert curve.curve.y == pytest.approx(own.curve.y, rel=1e-9)

    @pytest.mark.parametrize("colour", [None, {"variable": "g"}])
    def test_counts_every_row_in_its_cell(
        self, both: tuple[Table, DatasetView], frame: pl.DataFrame, colour: dict | None
    ) -> None:
        found, wanted = answers(both, matrix() | {"colour": colour})
        cell = next(c for c in found.matrix.cells if c.counts)
        names = [found.matrix.variables[place].name for place in (cell.x, cell.y)]
        held = frame.drop_nulls(names).filter(pl.all_horizontal(pl.col(names).is_finite()))
        grid = cell.counts[0]
        by_hand = np.histogram2d(
            held[names[1]],
            held[names[0]],
            bins=(
                np.linspace(grid.y_low, grid.y_high, len(grid.counts) // grid.across + 1),
                np.linspace(grid.x_low, grid.x_high, grid.across + 1),
            ),
        )[0]
        counted = sum(np.array(grid.counts) for grid in cell.counts)
        assert counted.sum() == cell.n == held.height
        # A value on an edge may fall to either side of one that was worked out otherwise.
        assert np.abs(counted - by_hand.ravel()).sum() <= 4
        if colour is not None:
            names_of = wanted.colour.categories
            assert {names_of[g.code] for g in cell.counts if g.code < len(names_of)} == {
                "Ash",
                "Birch",
                "Cedar",
                "Lone",
            }

    def test_contours_lie_where_those_of_the_rows_lie(
        self, both: tuple[Table, DatasetView]
    ) -> None:
        found, wanted = answers(both, matrix(above="contours", variables=["x", "y"]))
        for share in (0.5, 0.8, 0.95):
            ends = []
            for answered in (found, wanted):
                cell = next(c for c in answered.matrix.cells if c.contours)
                lines = [np.reshape(c.points, (-1, 2)) for c in cell.contours if c.share == share]
                every = np.concatenate(lines)
                ends.append(np.concatenate([every.min(axis=0), every.max(axis=0)]))
            assert ends[0] == pytest.approx(ends[1], abs=0.3)

    def test_of_no_row_and_of_one_value_is_shown(self, both: tuple[Table, DatasetView]) -> None:
        found, _ = answers(both, matrix(variables=["x", "same"], diagonal="both", above="contours"))
        assert [c.r for c in found.matrix.cells] == [None, None]
        (same,) = [v for v in found.matrix.variables if v.name == "same"]
        assert [m.height for m in same.histogram] == [[float(ROWS)]]
        assert same.density == []
        nothing = {"rows": {"conditions": [{"variable": "z", "test": "between", "low": 99}]}}
        document = {"table": "t", "x": "x", "y": ["y"]} | matrix(diagonal="both") | nothing
        empty = answer_dataset(FigureDocument.model_validate(document), both[1]).answer
        assert [(c.n, c.r) for c in empty.matrix.cells] == [(0, None)] * 6

    def test_categories_have_no_strips_and_it_is_said(
        self, both: tuple[Table, DatasetView]
    ) -> None:
        found, _ = answers(both, matrix(variables=["x", "g", "y"]))
        assert [v.name for v in found.matrix.variables] == ["x", "y"]
        assert any("Categories" in said for said in found.problems)
        document = {"table": "t", "x": "x", "y": ["y"]} | matrix(variables=["x", "g"])
        with pytest.raises(TableError, match="at least two variables of numbers"):
            answer_dataset(FigureDocument.model_validate(document), both[1])


class TestSpace:
    @pytest.mark.parametrize(
        "asked",
        [
            space(),
            space(degree=2, read_off=[{"across": 3, "depth": 4}]) | {"colour": {"variable": "g"}},
            space(by="g") | FILTERED,
            space() | {"x": "day"},
        ],
    )
    def test_planes_say_what_a_table_of_the_rows_says(
        self, both: tuple[Table, DatasetView], asked: dict[str, Any]
    ) -> None:
        found, wanted = answers(both, asked)
        assert len(found.space.planes) == len(wanted.space.planes)
        for plane, like in zip(found.space.planes, wanted.space.planes, strict=True):
            one, other = plane.model_dump(), like.model_dump()
            assert (one["group"], one["group_code"]) == (other["group"], other["group_code"])
            if like.problem:
                assert plane.problem == like.problem
                continue
            for name in ("equation", "equation_note", "n", "sentence", "degree"):
                assert one[name] == other[name]
            near(one["surface"], other["surface"], 1e-7)
            for name in ("r_squared", "residual_sd", "f", "condition"):
                assert one[name] == pytest.approx(other[name], rel=1e-8)
        assert found.counts.drawn == wanted.counts.drawn
        assert sum(n.count for n in found.counts.not_drawn) == sum(
            n.count for n in wanted.counts.not_drawn
        )
        for name in ("low", "high"):
            ends = [getattr(axis, name) for axis in (found.x, found.y, found.space.depth)]
            like = [getattr(axis, name) for axis in (wanted.x, wanted.y, wanted.space.depth)]
            assert ends == like

    def test_draws_rows_as_they_are_each_as_likely_as_any_other(
        self,
        both: tuple[Table, DatasetView],
        frame: pl.DataFrame,
        monkeypatch: pytest.MonkeyPatch,
    ) -> None:
        monkeypatch.setattr("yarrowdew.figures.kinds.space.dataset.MOST_MARKS", 900)
        asked = {"table": "t", "x": "x", "y": ["y"], "colour": {"variable": "g"}} | space()
        found = answer_dataset(FigureDocument.model_validate(asked), both[1])
        marks = pl.read_ipc_stream(io.BytesIO(found.marks))
        assert marks.height == 900
        assert any("900 rows of" in said for said in found.answer.problems)
        own = frame[marks["row"].to_list()]
        for mark, variable in (("x", "x"), ("y", "y"), ("depth", "z")):
            assert marks[mark].to_list() == own[variable].to_list()
        names = found.answer.colour.categories
        called = [names[code] if code < len(names) else None for code in marks["colour"]]
        assert called == own["g"].to_list()
        # From all over the rows, and in the shares in which they are there.
        assert abs(marks["row"].mean() - ROWS / 2) < 0.1 * ROWS
        ash = frame.filter(pl.col("g") == "Ash").height / ROWS
        assert abs(called.count("Ash") / 900 - ash) < 0.06

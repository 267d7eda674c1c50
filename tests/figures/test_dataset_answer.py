"""A figure of a dataset against the same rows as a table, and its cells against counting by hand."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
import pytest

from yarrowdew.core.lru_cache import SizedLRUCache
from yarrowdew.figures.answer import answer
from yarrowdew.figures.dataset_answer import VisibleRange, answer_dataset
from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.kinds.scatterplot import dataset as dataset_plot
from yarrowdew.tables.dataset_files import open_dataset
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading import read_file

ROWS = 60_000


@pytest.fixture(scope="module")
def frame() -> pl.DataFrame:
    rng = np.random.default_rng(3)
    x = rng.gamma(2, 3, ROWS)
    y = 4 + 2 * x + rng.normal(0, 2, ROWS)
    return pl.DataFrame(
        {"x": x, "y": y, "g": rng.choice(["A", "B", "C"], ROWS), "day": np.arange(ROWS) // 600}
    ).with_columns(
        pl.when(pl.int_range(ROWS) % 101 == 0).then(None).otherwise(pl.col("y")).alias("y"),
        pl.when(pl.int_range(ROWS) % 1009 == 0).then(None).otherwise(pl.col("x")).alias("x"),
        (pl.date(2031, 4, 1) + pl.duration(days=pl.col("day"))).alias("day"),
    )


@pytest.fixture(scope="module")
def folder(frame: pl.DataFrame, tmp_path_factory: pytest.TempPathFactory) -> Path:
    made = tmp_path_factory.mktemp("set")
    for place, (start, rows) in enumerate([(0, 20_000), (20_000, 39_000), (59_000, 1_000)]):
        frame.slice(start, rows).write_parquet(made / f"{place}.parquet")
    return made


@pytest.fixture
def view(folder: Path) -> DatasetView:
    return DatasetView(open_dataset(folder))


def document(**more: Any) -> FigureDocument:
    return FigureDocument.model_validate({"table": "t", "x": "x", "y": ["y"]} | more)


def marks(found: Any) -> pl.DataFrame:
    return pl.read_ipc_stream(io.BytesIO(found.marks))


def inside(frame: pl.DataFrame, across: tuple[float, float], up: tuple[float, float]) -> int:
    return frame.filter(pl.col("x").is_between(*across), pl.col("y").is_between(*up)).height


@pytest.mark.parametrize("by", [None, "g"])
@pytest.mark.parametrize("held", [200, 20_000, 1_000_000])
def test_however_one_came_to_a_view_it_is_what_is_there(
    view: DatasetView,
    frame: pl.DataFrame,
    monkeypatch: pytest.MonkeyPatch,
    held: int,
    by: str | None,
) -> None:
    """Closer, farther, beside: by what was counted, by rows that are kept, or by a look at all."""
    monkeypatch.setattr(dataset_plot, "FEW_ROWS", 400)
    monkeypatch.setattr(dataset_plot, "MOST_ROWS_KEPT", held)
    monkeypatch.setattr("yarrowdew.figures.datasets.pair_scan.MOST_ROWS_KEPT", held)
    monkeypatch.setattr("yarrowdew.figures.datasets.cache._kept", SizedLRUCache(1 << 28))
    asked = document(colour=None if by is None else {"variable": by})
    draw = np.random.default_rng(held)
    across, up = (0.0, 20.0), (0.0, 50.0)
    for step in range(14):
        found = answer_dataset(asked, view, VisibleRange(across, up))
        own, cells, there = marks(found), found.answer.cells, inside(frame, across, up)
        if cells is None:
            assert own.height == there <= 400
            assert own["x"].is_between(*across).all()
        else:
            # Cells at the rim lie in part outside.
            rim = [(s.high - s.low) / s.count for s in (cells.across, cells.up)]
            low, high = (
                inside(
                    frame,
                    (across[0] + k * rim[0], across[1] - k * rim[0]),
                    (up[0] + k * rim[1], up[1] - k * rim[1]),
                )
                for k in (1.01, -1.01)
            )
            assert low <= cells.rows == own["count"].sum() <= high
        if step % 5 == 4:
            across, up = (0.0, 15.0), (0.0, 40.0)
        middle = draw.uniform(0.3, 0.7, 2)
        share = draw.uniform(0.3, 0.8)
        across, up = (
            (low + (high - low) * m * (1 - share), low + (high - low) * (m * (1 - share) + share))
            for (low, high), m in zip((across, up), middle, strict=True)
        )


class TestFromAfar:
    def test_every_row_lies_in_the_cell_that_it_is_counted_in(
        self, view: DatasetView, frame: pl.DataFrame
    ) -> None:
        found = answer_dataset(document(), view)
        cells = found.answer.cells
        assert cells is not None
        held = frame.drop_nulls(["x", "y"])
        edges = [np.linspace(s.low, s.high, s.count + 1) for s in (cells.across, cells.up)]
        by_hand, _, _ = np.histogram2d(held["x"].to_numpy(), held["y"].to_numpy(), bins=edges)
        own = marks(found)
        width = [edge[1] - edge[0] for edge in edges]
        at = [
            ((own[name].to_numpy() - edge[0]) / w).astype(int)
            for name, edge, w in zip("xy", edges, width, strict=True)
        ]
        counted = np.zeros_like(by_hand)
        counted[at[0], at[1]] = own["count"].to_numpy()
        # A value within rounding of an edge may lie on either side of it.
        assert np.abs(counted - by_hand).sum() <= 4
        assert counted.sum() == cells.rows == held.height

    def test_what_it_says_is_what_a_table_of_the_rows_says(
        self, view: DatasetView, frame: pl.DataFrame, tmp_path: Path
    ) -> None:
        frame.write_parquet(tmp_path / "whole.parquet")
        table = read_file(tmp_path / "whole.parquet").table
        asked = document(
            colour={"variable": "g"},
            trends=[
                {"family": "straight", "by": "g", "read_off": [{"at": 5}]},
                {"family": "polynomial", "bands": [{"kind": "prediction"}]},
            ],
        )
        found, wanted = answer_dataset(asked, view).answer, answer(asked, table).answer
        assert (found.x.low, found.x.high) == (wanted.x.low, wanted.x.high)
        assert (found.y.low, found.y.high) == (wanted.y.low, wanted.y.high)
        assert found.colour.categories == wanted.colour.categories
        assert found.colour.turns == wanted.colour.turns
        assert [(n.reason, n.count) for n in found.counts.not_drawn] == [
            (n.reason, n.count) for n in wanted.counts.not_drawn
        ]
        assert (found.counts.rows, found.counts.drawn) == (ROWS, wanted.counts.drawn)
        assert len(found.trends) == len(wanted.trends) == 4
        for one, other in zip(found.trends, wanted.trends, strict=True):
            assert one.group_code == other.group_code
            assert one.report.equation == other.report.equation
            assert one.report.sentence == other.report.sentence
            assert one.curve.y == pytest.approx(other.curve.y, rel=1e-9)
            for band, other_band in zip(one.curve.bands, other.curve.bands, strict=True):
                assert band.low == pytest.approx(other_band.low, rel=1e-9)
        assert found.slopes[0].sentence == wanted.slopes[0].sentence

    def test_rows_that_a_filter_leaves_out_are_counted_nowhere(
        self, view: DatasetView, frame: pl.DataFrame
    ) -> None:
        kept = {"conditions": [{"variable": "g", "test": "one_of", "values": ["A", "B"]}]}
        found = answer_dataset(document(rows=kept), view).answer
        held = frame.filter(pl.col("g") != "C")
        assert found.counts.filtered == ROWS - held.height
        assert found.counts.drawn == held.drop_nulls(["x", "y"]).height

    def test_cells_are_even_on_the_axis_as_it_is_drawn(self, view: DatasetView) -> None:
        found = answer_dataset(document(axes={"x": {"scale": "log"}}), view)
        cells = found.answer.cells
        assert cells is not None
        step = (cells.across.high - cells.across.low) / cells.across.count
        places = (np.log(marks(found)["x"].to_numpy()) - cells.across.low) / step
        assert np.abs(places - np.floor(places) - 0.5).max() < 1e-6

    def test_dates_go_across(self, view: DatasetView) -> None:
        found = answer_dataset(document(x="day", trends=[{"family": "straight"}]), view).answer
        # 2031-04-01 is day 22,370.
        assert found.x.low == 22_370
        assert "days since 2031-04-01" in found.trends[0].report.equation_note


class TestNames:
    @pytest.mark.parametrize("show", ["all", "outermost", "furthest", "largest", "chosen"])
    @pytest.mark.parametrize("by", [None, "g"])
    def test_are_those_of_a_table_of_the_rows_in_view(
        self, view: DatasetView, frame: pl.DataFrame, tmp_path: Path, show: str, by: str | None
    ) -> None:
        across, up = (9.0, 11.0), (20.0, 26.0)
        inside = frame.with_row_index("place").filter(
            pl.col("x").is_between(*across), pl.col("y").is_between(*up)
        )
        rows = inside["place"][3:40:7].to_list() if show == "chosen" else []
        named = {"variable": "day", "show": show, "count": 9, "rows": rows}
        asked = document(
            names=named,
            colour={"variable": "g"},
            trends=[{"family": "straight", "by": by}] if show == "furthest" else [],
        )
        found = answer_dataset(asked, view, VisibleRange(across, up)).answer
        inside.write_parquet(tmp_path / "some.parquet")
        own = answer(
            asked.model_copy(update={"trends": []}), read_file(tmp_path / "some.parquet").table
        ).answer
        assert found.names is not None
        days = dict(zip(inside["place"], inside["day"].cast(pl.String), strict=True))
        assert found.names.texts == [days[row] for row in found.names.rows]
        if show == "chosen":
            assert found.names.rows == named["rows"]
        elif show == "furthest":
            left = _left_by_hand(frame, by)
            far = sorted(inside["place"], key=lambda place: -left[place])[:9]
            assert found.names.rows == far
        else:
            assert [inside["place"][row] for row in own.names.rows] == found.names.rows

    def test_stand_nowhere_from_afar(self, view: DatasetView, monkeypatch: Any) -> None:
        monkeypatch.setattr(dataset_plot, "FEW_ROWS", 10)
        found = answer_dataset(document(names={"variable": "g"}), view).answer
        assert found.names is None
        assert any("zoom in" in said for said in found.problems)


def _left_by_hand(frame: pl.DataFrame, by: str | None) -> dict[int, float]:
    """Residuals from lines through all rows, in units of their own scatter."""
    held = frame.with_row_index("place").drop_nulls(["x", "y"])
    out: dict[int, float] = {}
    for own in held.partition_by(by) if by else [held]:
        x, y = own["x"].to_numpy(), own["y"].to_numpy()
        left = np.abs(y - np.polyval(np.polyfit(x, y, 1), x))
        sd = np.sqrt((left**2).sum() / (len(x) - 2))
        out |= dict(zip(own["place"], left / sd, strict=True))
    return out


class TestFromNear:
    def test_the_rows_of_a_view_are_those_of_the_files(
        self, view: DatasetView, frame: pl.DataFrame
    ) -> None:
        seen = VisibleRange((3.0, 4.0), (8.0, 12.0))
        found = answer_dataset(document(colour={"variable": "g"}), view, seen)
        assert found.answer.cells is None
        own = marks(found)
        inside = frame.with_row_index().filter(
            pl.col("x").is_between(3, 4) & pl.col("y").is_between(8, 12)
        )
        assert own["row"].to_list() == inside["index"].to_list()
        assert own["x"].to_list() == inside["x"].to_list()
        assert [found.answer.colour.categories[c] for c in own["colour"]] == inside["g"].to_list()
        # What it says is said of all rows, wherever one looks.
        assert found.answer.counts.drawn == frame.drop_nulls(["x", "y"]).height

    @pytest.mark.parametrize("span", [(0.0, 12.0), (2.0, 5.0), (4.0, 4.2)])
    def test_the_cells_of_a_view_hold_its_rows(
        self, view: DatasetView, frame: pl.DataFrame, span: tuple[float, float], monkeypatch: Any
    ) -> None:
        monkeypatch.setattr(dataset_plot, "FEW_ROWS", 10)
        found = answer_dataset(document(), view, VisibleRange(span, (0.0, 60.0)))
        cells = found.answer.cells
        assert cells is not None
        held = frame.drop_nulls(["x", "y"]).filter(
            pl.col("x").is_between(cells.across.low, cells.across.high)
            & pl.col("y").is_between(cells.up.low, cells.up.high)
        )
        assert cells.across.low <= max(span[0], held["x"].min())
        assert cells.across.high >= span[1]
        assert abs(cells.rows - held.height) <= 2
        assert marks(found)["count"].sum() == cells.rows

    def test_looking_here_and_there_tells_of_each_place_what_is_there(
        self, view: DatasetView, frame: pl.DataFrame, monkeypatch: Any
    ) -> None:
        monkeypatch.setattr(dataset_plot, "FEW_ROWS", 300)
        held = frame.drop_nulls(["x", "y"])
        views = [(4.0, 4.3), (9.0, 9.4), (4.1, 4.2), (2.0, 6.0), (4.1, 4.11), (9.1, 9.3)]
        for low, high in [*views, *reversed(views)]:
            found = answer_dataset(document(), view, VisibleRange((low, high), (0.0, 80.0)))
            own = marks(found)
            inside = held.filter(pl.col("x").is_between(low, high) & (pl.col("y") >= 0))
            if found.answer.cells is None:
                assert own["x"].to_list() == inside["x"].to_list()
            else:
                assert own["count"].sum() == found.answer.cells.rows
                # Cells begin and end a little outside of the view.
                assert inside.height <= found.answer.cells.rows + 2
                assert found.answer.cells.across.low <= low
                assert found.answer.cells.across.high >= high

    def test_parts_without_a_row_in_view_are_not_read(
        self, folder: Path, frame: pl.DataFrame, monkeypatch: Any
    ) -> None:
        dataset = open_dataset(folder)
        asked = document(x="day")
        whole = answer_dataset(asked, DatasetView(dataset))
        assert whole.answer.counts.drawn > 0
        read: list[tuple[str, int]] = []
        plain = type(dataset)._frame
        monkeypatch.setattr(
            type(dataset),
            "_frame",
            lambda self, part, names=None: (
                read.append((part.file.path, part.rows)) or plain(self, part, names)
            ),
        )
        # Day 22,370 + 99 lies in the last file, all of it.
        found = answer_dataset(
            asked, DatasetView(dataset), VisibleRange((22_469.0, 22_470.0), (0.0, 90.0))
        )
        inside = frame.drop_nulls(["y"]).filter(
            (pl.col("day") == pl.date(2031, 7, 9)) & (pl.col("y") >= 0)
        )
        assert marks(found).height == inside.height
        # The first thousand rows of all are looked at for what variables there are.
        names = [Path(path).name for path, _ in read]
        assert names.count("2.parquet") == 1
        assert "1.parquet" not in names
        assert all(rows == 1_000 for _, rows in read)

    def test_a_view_without_rows_is_empty(self, view: DatasetView) -> None:
        found = answer_dataset(document(), view, VisibleRange((900.0, 901.0), (0.0, 1.0)))
        assert marks(found).height == 0
        assert found.answer.counts.drawn > 0


@pytest.mark.parametrize(
    ("asked", "said"),
    [
        ({"x": "g"}, "must hold numbers or dates"),
        ({"y": ["y", "x"]}, "A figure of a dataset has one y variable"),
        ({"x": "y"}, "both the x and the y variable"),
        ({"colour": {"variable": "x"}}, "grouped by categories only"),
        (
            {"kind": "3-D scatterplot", "space": {"variable": "x"}},
            "Choose three different variables",
        ),
        ({"x": "fog"}, "has no variable 'fog'"),
    ],
)
def test_what_cannot_be_shown_says_why(view: DatasetView, asked: dict, said: str) -> None:
    with pytest.raises(TableError, match=said):
        answer_dataset(document(**asked), view)


def test_what_is_not_shown_is_said(view: DatasetView) -> None:
    asked = document(
        size={"variable": "x"},
        names={"variable": "g"},
        margins={"x": "histogram"},
        trends=[
            {"family": "straight", "errors": "hc3"},
            {"family": "straight", "weights": "x"},
        ],
    )
    said = " ".join(answer_dataset(asked, view).answer.problems)
    for what in (
        "Sizes",
        "Labels are shown where rows",
        "Distributions along the axes",
        "all rows in memory",
        "weights",
    ):
        assert what in said


def test_one_value_everywhere_is_shown(tmp_path: Path) -> None:
    pl.DataFrame({"x": [2.0] * 50, "y": [3.0] * 50}).write_parquet(tmp_path / "d.parquet")
    found = answer_dataset(document(), DatasetView(open_dataset(tmp_path)))
    assert found.answer.counts.drawn == 50


class TestWhatMisleads:
    @pytest.mark.parametrize("by", [None, "g"])
    @pytest.mark.parametrize("family", ["straight", "local"])
    def test_groups_that_go_the_other_way_are_found_as_in_a_table(
        self, tmp_path: Path, by: str | None, family: str
    ) -> None:
        draw = np.random.default_rng(4)
        parts = []
        for place, name in enumerate("ABC"):
            x = draw.uniform(place, place + 2, 700)
            y = 3 * place - x + draw.normal(0, 0.3, 700)
            parts.append(pl.DataFrame({"x": x, "y": y, "g": [name] * 700}))
        frame = pl.concat(parts).sample(fraction=1, shuffle=True, seed=1)
        for place in range(2):
            frame.slice(place * 1050, 1050).write_parquet(tmp_path / f"{place}.parquet")
        asked = document(
            colour={"variable": "g"},
            trends=[{"family": family, "by": by, "read_off": [{"at": 99}]}],
        )
        found = answer_dataset(asked, DatasetView(open_dataset(tmp_path))).answer.cautions
        frame.write_parquet(tmp_path / "whole.parquet")
        wanted = answer(asked, read_file(tmp_path / "whole.parquet").table).answer.cautions
        others = (
            "curved",
            "cut off",
            "too short",
            "not constant",
            "influence",
            "alike",
            "spread",
            "share",
        )
        assert [(c.title, c.text, c.remedy) for c in found] == [
            (c.title, c.text, c.remedy)
            for c in wanted
            if not any(word in (c.title + c.text).lower() for word in others)
        ]
        assert any("slopes the other way" in c.title for c in found)

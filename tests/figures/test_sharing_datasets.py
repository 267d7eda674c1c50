"""A figure of a dataset as it is shared: counts that can be counted again, and no row."""

from __future__ import annotations

import base64
import io
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
import pytest

from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.figures.document.categories import CategoryLook
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.sharing.bundle import outgoing, shared
from yarrowdew.figures.sharing.dataset import Counted
from yarrowdew.figures.sharing.models import SharedFigure, ShareRequest
from yarrowdew.tables.dataset_files import open_dataset
from yarrowdew.tables.draft import Draft
from yarrowdew.tables.errors import TableError

ROWS = 3_000


@pytest.fixture(scope="module")
def frame() -> pl.DataFrame:
    rng = np.random.default_rng(8)
    return pl.DataFrame(
        {
            "x": rng.normal(10, 2, ROWS),
            "y": rng.normal(5, 1, ROWS),
            "valley": rng.choice(["Aldermoor", "Brackenfell"], ROWS),
            "keeper": rng.choice(["secretone", "secrettwo"], ROWS),
        }
    ).with_columns(
        # A valley of whose rows none can be drawn.
        pl.when(pl.int_range(ROWS) < 9)
        .then(pl.lit("Undrawnvalley"))
        .otherwise("valley")
        .alias("valley"),
        pl.when(pl.int_range(ROWS) < 9).then(None).otherwise("y").alias("y"),
    )


@pytest.fixture(scope="module")
def source(frame: pl.DataFrame, tmp_path_factory: pytest.TempPathFactory) -> Counted:
    folder = tmp_path_factory.mktemp("set")
    for place in range(3):
        frame.slice(1_000 * place, 1_000).write_parquet(folder / f"{place}.parquet")
    view = DatasetView(open_dataset(folder))
    return Counted(view, view.dataset.head)


def asked(more: dict[str, Any] | None = None, **what: Any) -> ShareRequest:
    given = {"table": "t", "x": "x", "y": ["y"], "trends": [{"family": "straight"}]} | (more or {})
    return ShareRequest(title="T", figures=[FigureDocument.model_validate(given)], **what)


def page_of(source: Counted, wanted: ShareRequest) -> SharedFigure:
    return shared(wanted, lambda _: source).figures[0]


def marks(figure: SharedFigure) -> pl.DataFrame:
    return pl.read_ipc_stream(io.BytesIO(base64.b64decode(figure.marks)))


def test_counts_go_out_and_no_row_however_few_they_are(
    source: Counted, frame: pl.DataFrame
) -> None:
    figure = page_of(source, asked())
    cells = figure.answer.cells
    assert cells is not None
    own = marks(figure)
    assert own["count"].sum() == cells.rows == ROWS - 9
    # Each mark stands in the middle of a cell: no value of a row is among them.
    assert not set(own["x"].to_list()) & set(frame["x"].to_list())
    held = frame.drop_nulls("y")
    edges = [np.linspace(s.low, s.high, s.count + 1) for s in (cells.across, cells.up)]
    by_hand, _, _ = np.histogram2d(held["x"].to_numpy(), held["y"].to_numpy(), bins=edges)
    assert sorted(by_hand[by_hand > 0]) == pytest.approx(sorted(own["count"]), abs=1)
    assert pl.read_ipc_stream(io.BytesIO(base64.b64decode(figure.rows))).shape == (0, 1)
    slope, intercept = np.polyfit(held["x"].to_numpy(), held["y"].to_numpy(), 1)
    values = [c.value for c in figure.answer.trends[0].report.coefficients]
    assert values == pytest.approx([intercept, slope], rel=1e-9)


def test_nothing_of_what_is_left_out_or_not_drawn_is_in_the_page(source: Counted) -> None:
    wanted = asked(
        {
            "colour": {"variable": "valley"},
            "trends": [{"family": "straight", "by": "valley"}],
            "rows": {
                "conditions": [{"variable": "keeper", "test": "one_of", "values": ["secretone"]}]
            },
            "set_aside": [3, 2741],
        },
        hover=["keeper"],
    )
    whole = shared(wanted, lambda _: source).model_dump_json()
    assert "Aldermoor" in whole
    for hidden in ("secret", "keeper", "Undrawnvalley", "2741"):
        assert hidden not in whole
    plain = shared(wanted.model_copy(update={"leave_out": ["valley"]}), lambda _: source)
    assert "Aldermoor" not in plain.model_dump_json()
    with pytest.raises(TableError, match="Without 'x' there is no figure"):
        shared(wanted.model_copy(update={"leave_out": ["x"]}), lambda _: source)


@pytest.mark.parametrize(
    "shown",
    [
        {"kind": "distribution", "distribution": {"variable": "y", "by": "valley"}},
        {
            "kind": "scatterplot matrix",
            "matrix": {"variables": ["x", "y"], "diagonal": "both"},
        },
    ],
)
def test_of_a_distribution_or_a_matrix_nothing_goes_out_but_what_is_drawn(
    source: Counted, frame: pl.DataFrame, shown: dict
) -> None:
    figure = page_of(source, asked({"colour": {"variable": "valley"}, "trends": []} | shown))
    assert marks(figure).height == 0
    told = figure.model_dump_json()
    assert "keeper" not in told
    assert "secret" not in told
    assert "Aldermoor" in told
    # None of the nine rows of that valley has both values; a matrix draws those that have one.
    if shown["kind"] == "distribution":
        assert "Undrawnvalley" not in told
        assert [g.n for g in figure.answer.distribution.groups] == [
            frame.filter(pl.col("valley") == name).height for name in ("Aldermoor", "Brackenfell")
        ]


def test_what_shows_rows_is_not_shared(source: Counted) -> None:
    three = {"kind": "3-D scatterplot", "space": {"variable": "z"}}
    view = replace(source.view, dataset=source.view.dataset.change(_with_z)[0])
    made = Counted(view, view.dataset.head)
    with pytest.raises(TableError, match="rows of a dataset are never shared"):
        page_of(made, asked(three | {"trends": []}))


def _with_z(draft: Draft) -> None:
    draft.derive("z", "x * y")


def test_names_and_sizes_are_not_drawn_of_counts_and_stay(source: Counted) -> None:
    more = {"names": {"variable": "keeper"}, "size": {"variable": "y"}}
    wanted = asked(more)
    told = page_of(source, wanted).model_dump_json()
    assert "keeper" not in told
    said = outgoing(wanted, lambda _: source)
    assert [v.name for v in said.variables] == ["x", "y"]
    assert {role for v in said.variables for role in v.drawn_as} == {"x axis", "y axis"}


def test_a_category_goes_out_as_the_study_calls_it(source: Counted) -> None:
    looks = {"valley": (CategoryLook(value="Aldermoor", label="Alder", colour_index=3),)}
    called = replace(source, words=replace(source.words, categories=looks))
    own = {"each": {"Aldermoor": {"shape": "star"}}}
    figure = page_of(called, asked({"colour": {"variable": "valley"}, "marks": own}))
    assert figure.answer.colour.categories[:1] == figure.answer.colour.values[:1] == ["Alder"]
    assert figure.document.marks.each["Alder"].shape == "star"
    assert "Aldermoor" not in figure.model_dump_json()


def test_what_would_go_out_is_said(source: Counted) -> None:
    found = outgoing(asked(hover=["keeper"]), lambda _: source)
    assert (found.rows, found.counted, found.rows_kept) == (0, ROWS - 9, ROWS)
    assert [(v.name, v.goes_out) for v in found.variables] == [("x", True), ("y", True)]


def test_a_variable_that_does_not_vary_has_no_cells(tmp_path: Path) -> None:
    pl.DataFrame({"x": [1.0, 1.0, 1.0], "y": [1.0, 2.0, 3.0]}).write_parquet(tmp_path / "a.parquet")
    view = DatasetView(open_dataset(tmp_path))
    with pytest.raises(TableError, match="does not vary"):
        page_of(Counted(view, view.dataset.head), asked({"trends": []}))

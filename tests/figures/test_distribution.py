"""The distribution: what it answers, on a table that is made to break it."""

from __future__ import annotations

import io
from statistics import mean, median

import numpy as np
import polars as pl
import pytest

from yarrowdew.demo.tables import demo_tables
from yarrowdew.figures.answer import answer
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.sharing.bundle import shared
from yarrowdew.figures.sharing.models import ShareRequest
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Kind, Table, Variable

NIGHTS = demo_tables()[0]


def document(variable: str = "v", by: str | None = "g", **more: object) -> FigureDocument:
    own = {"variable": variable, "by": by, **more.pop("distribution", {})}  # type: ignore[dict-item]
    return FigureDocument.model_validate(
        {"table": "t", "kind": "distribution", "x": variable, "y": [variable]}
        | {"distribution": own}
        | more
    )


@pytest.fixture
def table() -> Table:
    """Groups out of order, a value and a group that lack, and numbers of rows of their own."""
    frame = pl.DataFrame(
        {
            "v": [4.0, 1.0, None, 2.0, 9.0, 3.0, 8.0, 7.0],
            "g": ["q", "p", "p", "p", "q", "p", None, "q"],
        },
        schema_overrides={"g": pl.Enum(["p", "q", "unused"])},
    )
    variables = (Variable("v", Kind.NUMBER, "Value"), Variable("g", Kind.CATEGORY, "Group"))
    return Table("odd", variables, frame, ids=np.arange(8, dtype=np.uint32) * 5 + 2)


def test_every_group_has_its_own_rows_and_no_others(table: Table) -> None:
    found = answer(document(), table)
    part = found.answer.distribution
    assert [(g.group, g.n) for g in part.groups] == [("p", 3), ("q", 3)]
    assert part.groups[0].mean.value == pytest.approx(mean([1, 2, 3]))
    assert part.groups[1].median.value == median([4, 9, 7])
    marks = pl.read_ipc_stream(io.BytesIO(found.marks))
    assert marks["row"].to_list() == [2, 7, 17, 22, 27, 37]
    assert marks["y"].to_list() == [4, 1, 2, 9, 3, 7]
    assert marks["group"].to_list() == [1, 0, 0, 1, 0, 1]
    assert {n.reason: n.rows for n in found.answer.counts.not_drawn} == {
        "lacks value": [12],
        "lacks group": [32],
    }


def test_bins_hold_every_row_and_are_the_same_in_all_groups(table: Table) -> None:
    asked = document(distribution={"bin_width": 2, "bin_start": 0.5})
    groups = answer(asked, table).answer.distribution.groups
    for group in groups:
        assert sum(group.counts) == group.n
        steps = [(edge - 0.5) / 2 for edge in group.edges]
        assert steps == pytest.approx([round(step) for step in steps])
    # 1 and 2 lie from 0.5 to 2.5, and 3 beyond.
    assert groups[0].counts == [2, 1]


def test_bins_that_nobody_could_see_are_not_made_and_that_is_said(table: Table) -> None:
    asked = document(distribution={"bin_width": 1e-9, "histogram": True})
    found = answer(asked, table).answer
    assert len(found.distribution.groups[0].counts) < 400
    assert found.problems == ["Bins 1e-09 wide do not suit these values: they are 5 wide."]


def test_the_mean_leaves_out_what_is_set_aside(table: Table) -> None:
    found = answer(document(set_aside=[22]), table).answer
    assert found.counts.drawn == 6
    assert found.distribution.groups[1].mean.value == pytest.approx(5.5)


@pytest.mark.parametrize(
    ("order", "groups"),
    [
        ("study", ["Argill", "Bracken", "Corrie", "Dunlin"]),
        ("median", ["Corrie", "Bracken", "Argill", "Dunlin"]),
    ],
)
def test_groups_stand_in_their_order(order: str, groups: list[str]) -> None:
    asked = document("yield", "valley", distribution={"order": order})
    assert [g.group for g in answer(asked, NIGHTS).answer.distribution.groups] == groups


def test_what_differs_is_said_in_words_that_are_true() -> None:
    valleys = answer(document("yield", "valley"), NIGHTS).answer.distribution
    means = {g.group: g.mean.value for g in valleys.groups}
    assert "differ between categories of valley (Welch's F" in valleys.sentences[0]
    assert any(
        "172" in said and "larger for Dunlin than for Corrie" in said for said in valleys.sentences
    )
    assert means["Dunlin"] - means["Corrie"] == pytest.approx(171.8, abs=0.1)
    assert len(valleys.compared) == 6
    for one in valleys.compared:
        assert one.means.value == pytest.approx(means[one.second] - means[one.first])
    meshes = answer(document("yield", "mesh"), NIGHTS).answer.distribution
    assert "do not clearly differ" in meshes.sentences[0]


def test_what_misleads_is_said() -> None:
    draw = np.random.default_rng(4)
    frame = pl.DataFrame(
        {
            "v": np.concatenate([np.exp(draw.normal(0, 1.6, 80)), [1.0, 2.0, 3.0]]),
            "g": ["many"] * 80 + ["few"] * 3,
            "steps": np.concatenate([np.repeat([1.0, 2.0, 3.0, 4.0], 20), [100.0, 101.0, 102.0]]),
        },
        schema_overrides={"g": pl.Enum(["many", "few"])},
    )
    variables = tuple(Variable(n, Kind.CATEGORY if n == "g" else Kind.NUMBER, n) for n in "vg")
    table = Table("t", (*variables, Variable("steps", Kind.NUMBER, "steps")), frame)
    titles = {c.title for c in answer(document(), table).answer.cautions}
    assert titles == {
        "Few rows",
        "Right-skewed",
        "Unequal spread",
        "The interval of the mean may be too short",
    }
    said = answer(document("steps", None), table).answer.cautions
    assert [c.title for c in said if "alike" in c.title] == ["Many values are alike"]


def test_values_that_are_all_one_have_bars_and_no_density() -> None:
    table = Table("t", (Variable("v", Kind.NUMBER, "v"),), pl.DataFrame({"v": [7.0, 7.0, 7.0]}))
    (group,) = answer(document(by=None), table).answer.distribution.groups
    assert (group.density, sum(group.counts), group.skewness) == ([], 3, None)


def test_too_many_categories_are_refused_with_a_sentence() -> None:
    names = [f"c{i}" for i in range(60)]
    frame = pl.DataFrame({"v": np.arange(60.0), "g": names}, schema_overrides={"g": pl.Enum(names)})
    variables = (Variable("v", Kind.NUMBER, "v"), Variable("g", Kind.CATEGORY, "g"))
    with pytest.raises(TableError, match="60 categories"):
        answer(document(), Table("t", variables, frame))


def test_a_shared_distribution_holds_what_it_shows_and_nothing_else(table: Table) -> None:
    asked = ShareRequest.model_validate({"title": "t", "figures": [document()]})
    (found,) = shared(asked, lambda _: table).figures
    assert found.document.distribution.by == "g"
    assert [v.name for v in found.variables] == ["v", "g"]
    with pytest.raises(TableError, match="'g'"):
        shared(asked.model_copy(update={"leave_out": ["g"]}), lambda _: table)

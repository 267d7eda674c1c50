"""What goes out holds what was agreed to, and not a trace of anything else."""

from __future__ import annotations

import base64
import io
import re

import polars as pl
import pytest

from yarrowdew.demo.study import demo_study
from yarrowdew.figures.document.marks import Colour, Names, SingledOut, Size
from yarrowdew.figures.document.matrix import Matrix
from yarrowdew.figures.document.trends import trend_of
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.sharing.bundle import outgoing, shared
from yarrowdew.figures.sharing.models import Shared, ShareRequest
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.filters import Condition, RowFilter
from yarrowdew.tables.table import Table

STATIONS = demo_study()[1][0]
BUBBLES = FigureDocument(
    table="stations",
    x="altitude",
    y=["mean yield"],
    colour=Colour(variable="valley"),
    size=Size(variable="households served"),
    names=Names(variable="station"),
    trends=[trend_of(by="valley")],
)


def load(_: str) -> Table:
    return STATIONS


def asked(document: FigureDocument = BUBBLES, **more: object) -> ShareRequest:
    return ShareRequest.model_validate({"title": "Stations", "figures": [document], **more})


def frame_of(content: str) -> pl.DataFrame:
    return pl.read_ipc_stream(io.BytesIO(base64.b64decode(content)))


def text_of(made: Shared) -> str:
    """Everything that goes out as text, with what is packed in it unpacked."""
    figure = made.figures[0]
    plain = made.model_copy(
        update={"figures": [figure.model_copy(update={"marks": "", "rows": ""})]}
    )
    frames = [frame_of(content).to_dicts() for content in (figure.marks, figure.rows)]
    return plain.model_dump_json() + str(frames)


def holds(text: str, word: str) -> bool:
    return re.search(rf"\b{re.escape(word)}\b", text) is not None


class TestListing:
    def test_every_variable_that_can_be_read_is_listed_with_what_it_draws(self) -> None:
        listed = {v.name: v for v in outgoing(asked(), load).variables}
        assert list(listed) == [v.name for v in STATIONS.variables]
        assert listed["station"].drawn_as == ["names"]
        assert listed["valley"].drawn_as == ["trend for each", "colour"]
        assert listed["altitude"].needed
        assert not listed["valley"].needed
        assert {v.name for v in listed.values() if v.goes_out} == {
            "altitude",
            "mean yield",
            "valley",
            "households served",
            "station",
        }

    def test_hovering_is_agreed_to_one_by_one(self) -> None:
        listed = outgoing(asked(hover=["collectors"]), load).variables
        assert {v.name for v in listed if v.goes_out} >= {"collectors"}
        assert "distance to sea" not in {v.name for v in listed if v.goes_out}

    def test_rows_are_counted(self) -> None:
        document = BUBBLES.model_copy(
            update={
                "rows": RowFilter(
                    conditions=[
                        Condition(variable="valley", test="one_of", values=["Argill", "Corrie"])
                    ]
                ),
                "set_aside": [0, 1],
            }
        )
        said = outgoing(asked(document, rows_left_out=[2]), load)
        assert (said.rows, said.rows_aside, said.rows_kept) == (15, 2, 17)
        without = outgoing(asked(document, rows_aside=False), load)
        assert (without.rows, without.rows_aside) == (14, 0)

    def test_words_that_speak_of_what_is_left_out_are_named(self) -> None:
        document = BUBBLES.model_copy(
            update={"title": "Yield by valley", "subtitle": "Valleyward", "caption": "Dew"}
        )
        assert outgoing(asked(document), load).typed == []
        said = outgoing(asked(document, leave_out=["valley"], title="The VALLEY page"), load)
        # Whole words, whatever their capitals; once each.
        assert said.typed == [
            "“Yield by valley” speaks of Valley, which is left out.",
            "“The VALLEY page” speaks of Valley, which is left out.",
        ]


class TestLeavingOut:
    def test_a_variable_that_is_left_out_is_nowhere(self) -> None:
        made = shared(asked(leave_out=["valley", "station"], hover=["collectors"]), load)
        text = text_of(made)
        for value in (*STATIONS.frame["valley"].unique(), *STATIONS.frame["station"], "valley"):
            assert not holds(text, value)
        document = made.figures[0].document
        assert (document.colour, document.names, document.trends) == (None, None, [])
        assert document.size is not None
        assert frame_of(made.figures[0].rows).columns == ["collectors", "row"]

    def test_a_variable_that_is_not_agreed_to_is_nowhere(self) -> None:
        text = text_of(shared(asked(), load))
        assert "distance to sea" not in text
        assert "collectors" not in text

    def test_rows_that_are_left_out_are_nowhere(self) -> None:
        lost = STATIONS.frame["station"][5]
        made = shared(asked(rows_left_out=[5]), load)
        assert lost not in text_of(made)
        marks = frame_of(made.figures[0].marks)
        assert 5 not in marks["row"].to_list()
        assert marks.height == STATIONS.rows - 1

    def test_a_filter_does_not_tell_what_it_kept_back(self) -> None:
        conditions = [Condition(variable="collectors", test="between", low=3.251749)]
        document = BUBBLES.model_copy(
            update={
                "rows": RowFilter(conditions=conditions),
                "legend": BUBBLES.legend.model_copy(
                    update={"renamed": {"Nowhere": "Secret valley"}, "hidden": ["Nowhere"]}
                ),
            }
        )
        text = text_of(shared(asked(document), load))
        assert "3.251749" not in text
        assert "collectors" not in text
        assert "Nowhere" not in text

    def test_categories_of_rows_that_stay_are_not_named(self) -> None:
        document = BUBBLES.model_copy(
            update={
                "rows": RowFilter(
                    conditions=[Condition(variable="valley", test="one_of", values=["Argill"])]
                )
            }
        )
        text = text_of(shared(asked(document), load))
        assert "Argill" in text
        assert "Bracken" not in text

    def test_numbers_of_rows_that_stay_are_forgotten(self) -> None:
        document = BUBBLES.model_copy(
            update={"set_aside": [3, 7], "singled_out": [SingledOut(rows=[3], name="Odd one")]}
        )
        made = shared(asked(document, rows_left_out=[3]), load).figures[0].document
        assert made.set_aside == [7]
        assert made.singled_out == []

    def test_without_its_axis_there_is_no_figure(self) -> None:
        with pytest.raises(TableError, match="'altitude'"):
            shared(asked(leave_out=["altitude"]), load)

    def test_a_matrix_goes_on_with_the_variables_that_are_left(self) -> None:
        document = FigureDocument(
            table="stations",
            kind="scatterplot matrix",
            x="altitude",
            y=["mean yield"],
            matrix=Matrix(variables=["altitude", "mean yield", "collectors"]),
        )
        made = shared(asked(document, leave_out=["altitude"]), load)
        assert made.figures[0].document.matrix.variables == ["mean yield", "collectors"]  # type: ignore[union-attr]
        assert "altitude" not in text_of(made)
        with pytest.raises(TableError, match="two variables"):
            shared(asked(document, leave_out=["altitude", "collectors"]), load)


def test_what_goes_out_says_the_same_as_the_figure() -> None:
    made = shared(asked(), load).figures[0]
    slopes = [t.report.coefficients[1].value for t in made.answer.trends]
    # Least squares by hand, valley by valley.
    for slope, (_, rows) in zip(
        slopes, STATIONS.frame.group_by("valley", maintain_order=True), strict=True
    ):
        x, y = rows["altitude"], rows["mean yield"]
        by_hand = ((x - x.mean()) * (y - y.mean())).sum() / ((x - x.mean()) ** 2).sum()
        assert slope == pytest.approx(by_hand, rel=1e-12)

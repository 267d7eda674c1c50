"""Figures from plain arguments, and the calls that make them again."""

from __future__ import annotations

import json
import re

import numpy as np
import polars as pl
import pytest

from yarrowdew.drawing.built import DrawingError
from yarrowdew.drawing.calls import command_of, python_of, request_of
from yarrowdew.drawing.making import FigureRequest, document_of, kept_table, saved_document
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading import read_frame
from yarrowdew.tables.table import Table

Demo = list[tuple[FigureDocument, Table]]


def dew() -> Table:
    """Ten rows of two coatings."""
    dose = np.arange(1.0, 11)
    frame = pl.DataFrame(
        {
            "dose": dose,
            "shed": 4 + 9.5 * dose + (-1) ** dose,
            "coating": ["plain", "waxed"] * 5,
            "site": [f"S{i}" for i in range(10)],
        }
    )
    return read_frame(frame, "trial").table


class TestThreeAxes:
    def test_a_plane_is_asked_for_as_a_line_is(self) -> None:
        asked = FigureRequest(x="dose", y=("shed",), z="night", trends=("plane",), by="coating")
        table = read_frame(dew().frame.with_columns(night=pl.int_range(10) ** 2), "t").table
        made = document_of(table, asked | FigureRequest(on_figure="equation", level=0.9))
        plane = made.space.plane  # type: ignore[attr-defined]
        assert (made.kind, plane.by, plane.level) == ("3-D scatterplot", "coating", 0.9)
        assert plane.on_figure == ["equation"]
        assert made.trends == []
        # What made it is what is said of it.
        plain = document_of(table, asked)
        assert request_of(plain, table)["trends"] == ["plane"]  # type: ignore[index, typeddict-item]
        assert "--z night --by coating --trend plane" in command_of(plain, table, "t.csv")
        with pytest.raises(TableError, match="fitted by one plane, not by 'straight'"):
            document_of(table, asked | FigureRequest(trends="straight"))
        with pytest.raises(TableError, match="fitted by one plane"):
            document_of(table, asked | FigureRequest(trends=("plane", "plane")))


class TestDocument:
    def test_it_says_what_was_asked_for(self) -> None:
        asked = FigureRequest(
            x="Dose",
            y=("shed",),
            colour="coating",
            names="site",
            trends=("straight", {"family": "polynomial", "settings": {"degree": 2}}),
            by="coating",
            level=(0.9, 0.99),
            on_figure=("equation", "n"),
            title="Shed",
            width=100,
            height=80,
        )
        made = document_of(dew(), asked)
        assert (made.x, made.y, made.title) == ("dose", ["shed"], "Shed")
        assert made.colour is not None
        assert [t.family for t in made.trends] == ["straight", "polynomial"]
        assert {t.by for t in made.trends} == {"coating"}
        assert [b.level for b in made.trends[0].bands] == [0.9, 0.99]
        assert made.trends[0].on_figure == ["equation", "n"]
        assert made.page.width == pytest.approx(100 / 25.4 * 72, abs=1e-3)
        assert made.page.height == pytest.approx(80 / 25.4 * 72, abs=1e-3)

    def test_a_venue_sets_page_and_text(self) -> None:
        plain, slide = (
            document_of(dew(), FigureRequest(x="dose", y=("shed",), venue=venue))
            for venue in (None, "slide")
        )
        assert slide.page.venue == "slide"
        assert slide.type.scale > plain.type.scale

    def test_a_look_is_put_on(self) -> None:
        other = document_of(dew(), FigureRequest(x="dose", y=("shed",), venue="poster"))
        made = document_of(
            dew(),
            FigureRequest(x="shed", y=("dose",), title="T", look=other.model_dump(mode="json")),
        )
        assert (made.x, made.title) == ("shed", "T")
        assert (made.marks, made.page) == (other.marks, other.page)

    @pytest.mark.parametrize(
        ("asked", "said"),
        [
            (FigureRequest(x="dose"), "needs an x variable and a y variable"),
            (FigureRequest(x="dose", y=("nothing",)), "no variable 'nothing'"),
            (FigureRequest(x="dose", y=("shed",), trends=("wavy",)), "cannot be made"),
            (
                FigureRequest(x="dose", y=("shed",), trends=("straight",), level=(2,)),
                "cannot be made",
            ),
            (
                FigureRequest(x="dose", y=("shed",), trends=("straight",), on_figure=("age",)),
                "on_figure",
            ),
            (FigureRequest(x="dose", y=("shed",), width=1e9), "A page cannot be"),
            (FigureRequest(matrix=("dose",)), "cannot be made"),
            (FigureRequest(x="dose", y=("shed",), look={"a": 1}), "no look"),
        ],
    )
    def test_what_cannot_be_is_said(self, asked: FigureRequest, said: str) -> None:
        with pytest.raises(TableError, match=said):
            document_of(dew(), asked)

    def test_a_venue_that_is_none_is_said_with_those_there_are(self) -> None:
        with pytest.raises(DrawingError, match="no venue 'moon'") as found:
            document_of(dew(), FigureRequest(x="dose", y=("shed",), venue="moon"))
        assert "poster" in found.value.remedy


class TestRows:
    def test_rows_are_kept_where_it_is_true(self) -> None:
        kept = kept_table(dew(), 'dose > 3 and coating == "waxed"')
        assert kept.frame["dose"].to_list() == [4, 6, 8, 10]
        assert kept.row_ids().tolist() == [3, 5, 7, 9]

    @pytest.mark.parametrize(
        ("where", "said"), [("dose + 1", "is a value"), ("dose > 99", "No row matches")]
    )
    def test_what_keeps_none_is_said(self, where: str, said: str) -> None:
        with pytest.raises(TableError, match=said):
            kept_table(dew(), where)

    def test_a_document_goes_to_other_data_with_the_same_variables(self) -> None:
        made = document_of(dew(), FigureRequest(x="dose", y=("shed",), colour="coating"))
        other = read_frame(dew().frame.drop("coating").rename({"shed": "lost"}), "other").table
        with pytest.raises(TableError, match="other has no 'shed', 'coating'"):
            saved_document(made.model_dump(mode="json"), other)


class TestCalls:
    def test_plain_arguments_make_the_same_figure_again(self) -> None:
        asked = FigureRequest(
            x="dose",
            y=("shed",),
            colour="coating",
            trends=("straight", "spline"),
            by="coating",
            level=(0.9,),
            on_figure=("equation",),
            title='Don\'t "shed"',
            venue="slide",
        )
        table = dew()
        document = document_of(table, asked)
        found = request_of(document, table)
        assert found is not None
        assert document_of(table, found) == document
        assert command_of(document, table, "my trial.csv").startswith(
            "yarrowdew draw 'my trial.csv' --x dose --y shed --colour coating"
        )

    def test_what_takes_more_is_said_as_a_document(self, demo_figures: Demo) -> None:
        for document, table in demo_figures:
            command = command_of(document, table, "file.csv")
            found = re.search(r"<<'END'\n(.*)\nEND", command, re.DOTALL)
            if found is None:
                assert request_of(document, table) is not None
                continue
            again = saved_document(json.loads(found[1]), table)
            assert again.counting() == document.counting()

    def test_python_runs_and_makes_the_same(self, demo_figures: Demo) -> None:
        for document, table in demo_figures:
            lines = python_of(document, table, "file.csv").splitlines()
            (made,) = (line for line in lines if line.startswith("figure = "))
            call = made.removeprefix("figure = ").replace("'file.csv'", "table", 1)
            import yarrowdew as yd

            figure = eval(call, {"yd": yd, "table": table})  # noqa: S307 (what we wrote)
            same = {"name": None, "table": ""}
            assert (figure.document.model_copy(update=same)) == document.counting().model_copy(
                update=same
            )

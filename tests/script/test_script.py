"""Figures in a script: from any data, into any format, to the app and back."""

from __future__ import annotations

import doctest
import html
import json
import re
import subprocess
import sys
from datetime import date
from importlib import import_module
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
import pytest

import yarrowdew as yd
from tests.drawing.test_making import dew
from tests.web.running import running
from yarrowdew.drawing.built import DrawingError
from yarrowdew.script.data import table_of
from yarrowdew.script.figures import ENDINGS
from yarrowdew.script.reference import python_reference
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Kind


class Foreign:
    """A table of some other library, which speaks Arrow."""

    def __init__(self, frame: pl.DataFrame) -> None:
        self._frame = frame

    def __arrow_c_stream__(self, requested_schema: object = None) -> object:
        return self._frame.__arrow_c_stream__(requested_schema)  # type: ignore[attr-defined]


def shed(**asked: Any) -> yd.Figure:
    return yd.figure(dew(), x="dose", y="shed", **asked)


@pytest.mark.parametrize("module", ["figures", "plates", "numbers", "data", "moving"])
def test_what_the_docstrings_show_is_so(module: str) -> None:
    result = doctest.testmod(import_module(f"yarrowdew.script.{module}"))
    assert result.failed == 0
    assert result.attempted > 0 or module in ("data", "moving")


def test_nothing_heavy_is_loaded_before_it_is_used() -> None:
    code = "import sys, yarrowdew; print([m for m in ('numpy', 'polars', 'pydantic') if m in sys.modules])"
    ran = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)  # noqa: S603
    assert ran.stdout.strip() == "[]"


def test_the_page_of_the_package_is_up_to_date() -> None:
    page = Path(__file__).parents[2] / "docs" / "python.md"
    # Written anew by: yarrowdew python-reference > docs/python.md
    assert page.read_text(encoding="utf-8") == python_reference()


class TestData:
    FRAME = pl.DataFrame(
        {
            "day": [date(2031, 4, 1), date(2031, 4, 2)],
            "n": [1, 2],
            "r": [0.5, None],
            "w": ["a", "b"],
        }
    )

    @pytest.mark.parametrize("form", ["polars", "arrow", "mapping", "file"])
    def test_it_may_be_anything_with_columns(self, form: str, tmp_path: Path) -> None:
        path = tmp_path / "rows.csv"
        self.FRAME.write_csv(path)
        forms: dict[str, Any] = {
            "polars": self.FRAME,
            "arrow": Foreign(self.FRAME),
            "mapping": self.FRAME.to_dict(as_series=False),
            "file": str(path),
        }
        table = table_of(forms[form])
        assert [v.name for v in table.variables] == ["day", "n", "r", "w"]
        assert table.variable("day").kind is Kind.DATE
        assert table.frame["n"].to_list() == [1.0, 2.0]
        assert table.frame["r"].to_list() == [0.5, None]

    @pytest.mark.parametrize(
        "data", [3, [1, 2], {"a": [1, 2], "b": [1]}, {}, "/nowhere/at/all.csv", {"a": object()}]
    )
    def test_what_is_no_table_is_said(self, data: Any) -> None:
        with pytest.raises(TableError):
            yd.figure(data, x="a", y="b")

    def test_arrays_and_numbers_that_do_not_exist(self) -> None:
        x = np.array([1.0, 2.0, np.nan, 4.0])
        figure = yd.figure({"x": x, "y": x * 2}, x="x", y="y", trends=["straight"])
        (line,) = figure.readings.fits
        assert line.n == 3
        assert line.coefficients[1].value == pytest.approx(2)


class TestFigure:
    def test_readings_are_those_of_least_squares(self) -> None:
        figure = shed(trends=["straight"])
        slope, intercept = np.polyfit(
            *(dew().frame[name].to_numpy() for name in ("dose", "shed")), 1
        )
        (line,) = figure.readings.fits
        assert [c.value for c in line.coefficients] == pytest.approx([intercept, slope])
        data = figure.data
        assert data["residual"].to_numpy() == pytest.approx(
            dew().frame["shed"].to_numpy() - intercept - slope * dew().frame["dose"].to_numpy()
        )

    def test_rows_that_are_not_kept_are_not_fitted(self) -> None:
        figure = shed(trends=["straight"], where="dose > 3")
        assert figure.readings.fits[0].n == 7
        assert figure.with_(where=None).readings.fits[0].n == 10

    @pytest.mark.parametrize(
        ("given", "said"),
        [
            ({"trends": 3}, "'trends': Input should be a valid string"),
            ({"colour": 3}, "'colour': Input should be a valid string"),
            ({"width": "wide"}, "'width': Input should be a valid number"),
            ({"on_figure": ["age"]}, "'on_figure': Input should be 'equation'"),
            ({"matrix": 5}, "'matrix'"),
            ({"look": 3}, "'look': Input should be a valid dictionary"),
        ],
    )
    def test_what_is_of_another_kind_is_said(self, given: dict[str, Any], said: str) -> None:
        with pytest.raises(TableError, match=said):
            shed(**given)

    def test_one_thing_or_several_and_arrays_of_them_are_the_same(self) -> None:
        one = shed(trends="straight", level=0.9, width=80)
        several = yd.figure(
            dew(),
            x="dose",
            y=np.array(["shed"]),
            trends=("straight",),
            level=np.array([0.9]),
            width=np.float32(80),
            title=None,
            on_figure=[],
        )
        assert one.document == several.document
        assert one.asked == several.asked | {"y": "shed", "trends": "straight", "level": 0.9}

    def test_what_is_not_known_is_said(self) -> None:
        with pytest.raises(TableError, match="knows no 'color'"):
            shed(color="coating")
        with pytest.raises(TableError, match="says everything"):
            yd.figure(dew(), x="dose", document=shed().document)

    @pytest.mark.parametrize(
        ("ending", "start"),
        [
            ("svg", b"<?xml"),
            ("png", b"\x89PNG"),
            ("jpg", b"\xff\xd8"),
            ("pdf", b"%PDF"),
            ("html", b"<!doctype html>"),
            ("json", b"{"),
        ],
    )
    def test_it_is_saved_as_its_ending_says(
        self, ending: str, start: bytes, tmp_path: Path
    ) -> None:
        assert ending in ENDINGS
        saved = shed().save(tmp_path / f"shed.{ending}", dpi=72)
        assert saved.read_bytes().startswith(start)

    def test_where_it_cannot_be_saved_it_is_said(self, tmp_path: Path) -> None:
        for path, said in (
            (tmp_path / "shed.gif", "does not say in which format"),
            (tmp_path / "none" / "shed.svg", "cannot be written"),
        ):
            with pytest.raises(DrawingError, match=said):
                shed().save(path)
        with pytest.raises(DrawingError, match="no format 'gif'"):
            shed().save(tmp_path / "shed", format="gif")

    def test_a_saved_document_is_drawn_again_from_new_data(self, tmp_path: Path) -> None:
        saved = shed(colour="coating", title="Shed").save(tmp_path / "shed.json")
        again = yd.figure(dew().frame, document=json.loads(saved.read_text()))
        assert again.image("svg") == shed(colour="coating", title="Shed").image("svg")

    def test_a_notebook_shows_a_page_of_its_own_that_asks_for_nothing(self) -> None:
        shown = shed(trends=["straight"])._repr_mimebundle_()
        assert set(shown) == {"text/html", "image/png", "text/plain"}
        frame = re.fullmatch(
            r'<iframe sandbox="([^"]*)" .*srcdoc="(.*)"></iframe>', shown["text/html"], re.DOTALL
        )
        assert frame is not None
        assert frame[1] == "allow-scripts"
        page = html.unescape(frame[2])
        assert "default-src 'none'" in page
        assert not re.search(r'(?:src|href)="https?:', page)


class TestPlate:
    def test_figures_stand_on_one_page(self, tmp_path: Path) -> None:
        made = yd.plate(
            [shed(), shed(trends=["straight"])],
            headings=["without", "with"],
            title="Two",
            width=170,
        )
        svg = made.image("svg").decode()
        for word in ("without", "with", "Two"):
            assert f">{word}</text>" in svg
        assert made.save(tmp_path / "two.html").stat().st_size > 10_000
        assert made.save(tmp_path / "two.pdf").read_bytes().startswith(b"%PDF")

    def test_none_is_none(self) -> None:
        with pytest.raises(TableError, match="needs a figure"):
            yd.plate([])


class TestNumbers:
    def test_pairs_are_those_of_numpy(self) -> None:
        rng = np.random.default_rng(2)
        a, b, c = rng.normal(size=(3, 50))
        found = yd.pairs({"a": a, "b": a + b, "c": c})
        r = np.corrcoef([a, a + b])[0, 1]
        assert found[0].correlation.r == pytest.approx(r)
        with pytest.raises(TableError, match="fewer than two"):
            yd.pairs({"a": a})

    def test_a_formula_is_fitted(self) -> None:
        x = np.linspace(1, 5, 20)
        curve = yd.fit(x, 3 * np.exp(-0.7 * x) + 2, family="formula", formula="a*exp(-b*x)+c")
        assert curve.coefficient_values() == pytest.approx({"a": 3, "b": 0.7, "c": 2}, rel=1e-6)


class TestMoving:
    def test_a_figure_goes_to_the_app_and_comes_back(self, tmp_path: Path) -> None:
        figure = shed(colour="coating", trends=["straight"], by="coating", title="Shed")
        with running(tmp_path) as app:
            there = figure.open(app.address, browser=False)
            assert there.startswith(f"{app.address}/studies/")
            again = yd.fetch(there)
            with pytest.raises(DrawingError, match="no address of a figure"):
                yd.fetch(f"{app.address}/")
            with pytest.raises(DrawingError, match="no study"):
                yd.fetch(f"{app.address}/studies/nowhere")
        assert again.image("svg") == figure.image("svg")
        with pytest.raises(DrawingError, match="No app answers"):
            figure.open(app.address, browser=False)

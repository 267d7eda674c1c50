"""Images drawn without a browser: what is in the file, and what one sees."""

from __future__ import annotations

import io
import re
from typing import Any
from xml.etree import ElementTree as ET

import numpy as np
import polars as pl
import pytest
from PIL import Image

from tests.drawing.test_making import dew
from tests.scope import LONG
from yarrowdew.drawing.built import DrawingError
from yarrowdew.drawing.images import ImageFormat, Pictured, image_of
from yarrowdew.drawing.making import FigureRequest, document_of
from yarrowdew.figures.answer import answer
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading import read_frame
from yarrowdew.tables.table import Table

Demo = list[tuple[FigureDocument, Table]]
SVG = "{http://www.w3.org/2000/svg}"


def drawn(
    document: FigureDocument, table: Table, format: ImageFormat = "svg", dpi: float = 72
) -> bytes:
    return image_of([Pictured(document, answer(document, table), table)], format, dpi=dpi)


def pixels(png: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(png)).convert("RGB"), dtype=np.int16)


class TestDemo:
    def test_every_figure_is_drawn_in_every_format(self, demo_figures: Demo) -> None:
        for place, (document, table) in enumerate(demo_figures):
            root = ET.fromstring(drawn(document, table))  # noqa: S314 (our own)
            assert root.tag == f"{SVG}svg"
            (style,) = root.iter(f"{SVG}style")
            style.text = ""
            assert "NaN" not in ET.tostring(root, "unicode")
            png = Image.open(io.BytesIO(drawn(document, table, "png", dpi=96)))
            page = document.page
            assert png.size == (round(page.width * 96 / 72), round(page.height * 96 / 72))
            assert png.info["dpi"] == pytest.approx((96, 96), abs=0.02)
            # Neither blank nor black.
            shades = np.asarray(png.convert("L"))
            assert 0.5 < float(np.mean(shades > 240)) < 0.999
            if place % 4 and not LONG:
                continue
            assert Image.open(io.BytesIO(drawn(document, table, "jpeg"))).format == "JPEG"
            pdf = drawn(document, table, "pdf")
            assert pdf.startswith(b"%PDF-1.7")
            assert pdf.rstrip().endswith(b"%%EOF")

    def test_pixels_show_what_the_vectors_say(self, demo_figures: Demo) -> None:
        document, table = demo_figures[1]
        vectors = ET.fromstring(drawn(document, table))  # noqa: S314
        places = [
            (float(use.get("x", 0)), float(use.get("y", 0))) for use in vectors.iter(f"{SVG}use")
        ]
        assert len(places) > 500
        image = pixels(drawn(document, table, "png", dpi=144))
        ink = [tuple(image[round(2 * y), round(2 * x)]) for x, y in places]
        # In the middle of every mark there is the colour of a mark: of none the paper's.
        assert sum(min(colour) > 240 for colour in ink) == 0


class TestSize:
    def test_many_marks_are_pixels_in_the_vectors(self) -> None:
        rng = np.random.default_rng(1)
        table = read_frame(
            pl.DataFrame({"a": rng.normal(size=30_000), "b": rng.normal(size=30_000)}),
            "many",
        ).table
        document = document_of(table, FigureRequest(x="a", y=("b",)))
        svg = drawn(document, table).decode()
        assert "<use" not in svg
        (inside,) = re.findall(r'href="data:image/png;base64,([^"]+)"', svg)
        assert len(svg) < 3_000_000
        assert len(inside) > 1_000
        assert float(np.mean(pixels(drawn(document, table, "png")) < 200)) > 0.05
        assert drawn(document, table, "pdf").startswith(b"%PDF")

    @pytest.mark.parametrize("dpi", [10, 5_000])
    def test_a_resolution_that_makes_no_sense_is_refused(self, dpi: float) -> None:
        table = dew()
        with pytest.raises(DrawingError, match="dots per inch is not offered"):
            drawn(document_of(table, FigureRequest(x="dose", y=("shed",))), table, "png", dpi=dpi)


class TestWords:
    def test_letters_that_no_font_has_are_said_of_a_pdf(self) -> None:
        table = dew()
        document = document_of(table, FigureRequest(x="dose", y=("shed",), title="露 and dew"))
        assert "露 and dew" in drawn(document, table).decode()
        with pytest.raises(DrawingError, match="no letters for 露"):
            drawn(document, table, "pdf")
        # What comes after is drawn as if nothing had been.
        assert drawn(document_of(table, FigureRequest(x="dose", y=("shed",))), table, "pdf")

    def test_spaces_that_no_font_has_are_room_in_a_pdf(self) -> None:
        # Between readings, and in the numbers of an axis beyond 9 999.
        frame = pl.DataFrame({"dose": [1, 2, 3, 4], "shed": [10_000, 30_000, 20_000, 50_000]})
        table = read_frame(frame, "wide.csv").table
        shown: list[Any] = ["equation", "r_squared"]
        asked = FigureRequest(x="dose", y=("shed",), trends=("straight",), on_figure=shown)
        document = document_of(table, asked)
        svg = drawn(document, table).decode()
        assert "\u202f" in svg
        assert "\u2002" in svg
        assert drawn(document, table, "pdf").startswith(b"%PDF")

    def test_what_is_typed_cannot_break_out(self) -> None:
        table = dew()
        title = "</text><script>alert(1)</script>"
        svg = drawn(document_of(table, FigureRequest(x="dose", y=("shed",), title=title)), table)
        root = ET.fromstring(svg)  # noqa: S314
        assert not list(root.iter(f"{SVG}script"))
        assert any(title in "".join(text.itertext()) for text in root.iter(f"{SVG}text"))


class TestExtremeValues:
    ASKED: tuple[FigureRequest, ...] = (
        {"x": "x", "y": ("y",), "trends": ["straight", "local"], "level": 0.95, "by": "g"},
        {"x": "x", "y": ("y",), "colour": "x", "size": "x"},
        {"x": "x", "y": ("y",), "z": "y"},
        {"matrix": ["x", "y"]},
    )

    @staticmethod
    def table(unit: float) -> Table:
        steps = np.arange(-10.0, 11.0)
        return read_frame(
            pl.DataFrame({"x": steps * unit, "y": steps[::-1] * unit, "g": ["a", "b", "c"] * 7}),
            "far",
        ).table

    @pytest.mark.parametrize("unit", [9.9e304, 1e-304])
    @pytest.mark.parametrize("asked", ASKED)
    def test_the_furthest_and_nearest_are_drawn(self, unit: float, asked: FigureRequest) -> None:
        table = self.table(unit)
        made = document_of(table, asked)
        svg = re.sub(r"<style>.*?</style>", "", drawn(made, table).decode(), flags=re.S)
        assert not re.search(r"NaN|Infinity|undefined", svg)
        assert drawn(made, table, "pdf").startswith(b"%PDF")

    @pytest.mark.parametrize("unit", [1.7e307, 1e-310])
    @pytest.mark.parametrize("asked", ASKED)
    def test_beyond_a_sentence_says_what_to_do(self, unit: float, asked: FigureRequest) -> None:
        table = self.table(unit)
        with pytest.raises(TableError, match="cannot be drawn") as refused:
            drawn(document_of(table, asked), table)
        assert "Derive a variable in other units" in str(refused.value.remedy)

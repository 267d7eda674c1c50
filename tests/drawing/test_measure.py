"""Widths of letters that the front end keeps, against HarfBuzz on the fonts that come along."""

from __future__ import annotations

import json

import pytest

from tests.drawing.font_metrics import KEPT, WEIGHTS, measured, metrics
from yarrowdew.drawing.engine import engine

WORDS = (
    "Yield (mL/m²)",
    "AVATAR, To Ye: “Water” – 12.5",
    "Höhe über dem Meer",
    "Température à l’ombre",
    "Ňáměsť",
    "R² = 0.87, n = 640",
)


def test_what_is_kept_is_what_the_fonts_say() -> None:
    assert json.loads(KEPT.read_text()) == metrics()


@pytest.mark.parametrize("weight", WEIGHTS)
@pytest.mark.parametrize("face", ["sans", "serif", "mono"])
def test_words_are_as_wide_as_they_are_set(face: str, weight: int) -> None:
    for text in WORDS:
        # Browsers set word by word, and a space by itself.
        alone = sum(measured(face, weight, word) for word in text.split() if word)
        spaces = text.count(" ") * measured(face, weight, " ")
        found = float(engine()._call("widthOf", [text, 1000, weight, face]))
        # Letters of several parts of a font stand beside each other without kerning.
        assert found == pytest.approx(alone + spaces, abs=30 if text == "Ňáměsť" else 3)


def test_letters_that_no_font_has_have_a_width_all_the_same() -> None:
    wide = float(engine()._call("widthOf", ["露", 1000, 400, "sans"]))
    assert wide == 1000
    accent = float(engine()._call("widthOf", ["e\u0301", 1000, 400, "sans"]))
    assert accent == float(engine()._call("widthOf", ["e", 1000, 400, "sans"]))

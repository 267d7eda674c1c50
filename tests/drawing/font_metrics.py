"""How wide the letters of the shipped fonts are, measured by HarfBuzz, as the front end keeps it.

`python -m tests.drawing.font_metrics` writes `web/src/render/text/metrics.json` anew.
"""

from __future__ import annotations

import io
import json
import unicodedata
from functools import cache
from itertools import groupby
from pathlib import Path

import uharfbuzz as hb
from fontTools.ttLib import TTFont

WEB = Path(__file__).parents[2] / "web"
KEPT = WEB / "src" / "render" / "text" / "metrics.json"
FAMILIES = {"sans": "source-sans-3", "serif": "source-serif-4", "mono": "source-code-pro"}
WEIGHTS = (400, 600)
SUBSETS = ("latin", "latin-ext", "greek", "greek-ext", "cyrillic", "cyrillic-ext", "vietnamese")
DIGITS = "0123456789abcdefghijklmnopqrstuvwxyz"
_KERNED = [*map(chr, range(0x21, 0x7F)), *"‘’“”…–—−·×°²³µ"]
_RANGES = ((0x20, 0x17F), (0x370, 0x3FF), (0x400, 0x45F), (0x2000, 0x22FF))
"""Letters that have widths of their own; the others are as wide as their base, or as most."""


@cache
def fonts(face: str, weight: int) -> list[tuple[frozenset[str], hb.Font]]:
    """The parts of a font at a weight, each with its letters, in thousandths of an em."""
    out = []
    name = FAMILIES[face]
    for subset in SUBSETS:
        folder = WEB / "node_modules" / "@fontsource-variable" / name / "files"
        file = folder / f"{name}-{subset}-wght-normal.woff2"
        if not file.exists():
            continue
        opened = TTFont(file)
        opened.flavor = None
        written = io.BytesIO()
        opened.save(written)
        font = hb.Font(hb.Face(written.getvalue()))
        font.scale = (1000, 1000)
        font.set_variations({"wght": weight})
        out.append((frozenset(map(chr, opened.getBestCmap())), font))
    return out


def part_of(face: str, weight: int, letter: str) -> int | None:
    """Which part of a font writes a letter."""
    return next((i for i, (own, _) in enumerate(fonts(face, weight)) if letter in own), None)


def measured(face: str, weight: int, text: str) -> int:
    """Width of a text, in thousandths of an em; each part of a font sets its letters by itself."""
    width = 0
    for part, letters in groupby(text, lambda letter: part_of(face, weight, letter) or 0):
        buffer = hb.Buffer()
        buffer.add_str("".join(letters))
        buffer.guess_segment_properties()
        hb.shape(fonts(face, weight)[part][1], buffer)
        width += sum(place.x_advance for place in buffer.glyph_positions)
    return width


def base_of(letter: str) -> str:
    """The letter without what stands above and below it."""
    return unicodedata.normalize("NFD", letter)[0]


def metrics_of(face: str, weight: int) -> dict[str, object]:
    """Widths of letters and of pairs, in as few characters as will do."""
    widths = {}
    for own, _ in fonts(face, weight):
        for letter in sorted(own):
            if letter not in widths and any(low <= ord(letter) <= high for low, high in _RANGES):
                widths[letter] = measured(face, weight, letter)
    # A letter with an accent is as wide as without, unless it is said here.
    kept = {
        letter: width
        for letter, width in widths.items()
        if base_of(letter) == letter or widths.get(base_of(letter)) != width
    }
    most = max(set(kept.values()), key=list(kept.values()).count)
    if face == "mono":
        kept = {letter: width for letter, width in kept.items() if width != most}
        return {"width": most, **_listed(kept), "pairs": None}
    return {"width": most, **_listed(kept), "pairs": _pairs(face, weight, widths)}


def _listed(widths: dict[str, int]) -> dict[str, str]:
    return {
        "letters": "".join(widths),
        "widths": "".join(_two(width) for width in widths.values()),
    }


def _two(value: int) -> str:
    return DIGITS[value // 36] + DIGITS[value % 36]


def _pairs(face: str, weight: int, widths: dict[str, int]) -> dict[str, str]:
    letters = [c for c in _KERNED if c in widths and base_of(c) == c]
    rows = []
    for first in letters:
        part = part_of(face, weight, first)
        rows.append(
            [
                measured(face, weight, first + second) - widths[first] - widths[second]
                if part_of(face, weight, second) == part
                else 0
                for second in letters
            ]
        )
    # Letters that go with all others alike are of one class, to the left and to the right.
    lefts = sorted(set(map(tuple, rows)), key=lambda row: rows.index(list(row)))
    columns = [tuple(row[i] for row in rows) for i in range(len(letters))]
    rights = sorted(set(columns), key=columns.index)
    left = [lefts.index(tuple(row)) for row in rows]
    right = [rights.index(column) for column in columns]
    matrix = [
        rows[left.index(a)][right.index(b)] for a in range(len(lefts)) for b in range(len(rights))
    ]
    return {
        "letters": "".join(letters),
        "left": "".join(map(_two, left)),
        "right": "".join(map(_two, right)),
        # Thousandths of an em, from −648.
        "kerning": "".join(_two(value + 648) for value in matrix),
    }


def metrics() -> dict[str, dict[str, object]]:
    """Of every face and weight."""
    return {f"{face} {weight}": metrics_of(face, weight) for face in FAMILIES for weight in WEIGHTS}


if __name__ == "__main__":
    KEPT.write_text(json.dumps(metrics(), ensure_ascii=False, indent=1) + "\n")

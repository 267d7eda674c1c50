"""Vectors made into pixels, with the fonts that come along."""

from __future__ import annotations

import atexit
import io
import re
import struct
import zlib
from functools import cache
from pathlib import Path
from tempfile import TemporaryDirectory

from yarrowdew.drawing.built import font_files
from yarrowdew.drawing.engine import Laid

POINTS_AN_INCH = 72
JPEG_QUALITY = 92
_METRES_AN_INCH = 0.0254
_FACES = {
    "source-sans-3": "Source Sans 3 Variable",
    "source-serif-4": "Source Serif 4 Variable",
    "source-code-pro": "Source Code Pro Variable",
}
"""What the front end calls each family."""
_FAMILY_NAMES, _NAMES_IN_FULL = (1, 16), (2, 17)
_SIZE = re.compile(r'(<svg [^>]*?)width="[^"]*" height="[^"]*"')
_NOT_OURS = re.compile(r"[\u0530-\u1dff\u2e80-\U0010ffff]")
_AFTER_HEADER = 8 + 25


def png_of(svg: str, laid: Laid, dpi: float) -> bytes:
    """Rasterise vectors, and write into the file what they show.

    Parameters
    ----------
    svg : str
    laid : Laid
        What they were written from.
    dpi : float
    """
    import resvg_py  # noqa: PLC0415 (a large library)

    across, down = (round(side * dpi / POINTS_AN_INCH) for side in (laid.width, laid.height))
    # A size in points is not understood.
    sized = _SIZE.sub(rf'\g<1>width="{across}" height="{down}"', svg, count=1)
    png = resvg_py.svg_to_bytes(
        svg_string=sized,
        width=across,
        height=down,
        skip_system_fonts=_NOT_OURS.search(svg) is None,
        font_files=[_static_font(name) for name in laid.plain_fonts],
        shape_rendering="geometric_precision",
        text_rendering="geometric_precision",
        # Marks are pixels of the image's own already.
        image_rendering="optimize_speed",
    )
    return _with_chunks(bytes(png), dpi, laid.alt)


def jpeg_of(png: bytes, dpi: float) -> bytes:
    """Write an image without transparency as JPEG."""
    from PIL import Image  # noqa: PLC0415 (a large library)

    out = io.BytesIO()
    with Image.open(io.BytesIO(png)) as image:
        image.convert("RGB").save(out, "JPEG", quality=JPEG_QUALITY, dpi=(dpi, dpi))
    return out.getvalue()


def _with_chunks(png: bytes, dpi: float, alt: str) -> bytes:
    """Write resolution and description behind the header (ISO 15948: pHYs, iTXt)."""
    metre = round(dpi / _METRES_AN_INCH)
    words = b"Description\0\0\0en\0\0" + alt.replace("\0", "").encode()
    chunks = _chunk(b"iTXt", words) + _chunk(b"pHYs", struct.pack(">IIB", metre, metre, 1))
    return png[:_AFTER_HEADER] + chunks + png[_AFTER_HEADER:]


def _chunk(kind: bytes, data: bytes) -> bytes:
    return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))


@cache
def _folder() -> Path:
    held = TemporaryDirectory(prefix="yarrowdew-fonts-")
    atexit.register(held.cleanup)
    return Path(held.name)


@cache
def _static_font(name: str) -> str:
    """A font of one weight, called as the page calls its family: the path of a file.

    Letters beyond the Latin ones stand in files of their own. They are called otherwise, for of
    several of one name only one is looked into; letters that it lacks are looked for in all others.
    """
    from fontTools.ttLib import TTFont  # noqa: PLC0415 (a large library)

    stem = next(stem for stem in _FACES if name.startswith(stem))
    is_latin = name.startswith((f"{stem}-latin-4", f"{stem}-latin-6"))
    family = _FACES[stem] if is_latin else name
    font = TTFont(font_files()[name])
    font.flavor = None
    for record in list(font["name"].names):
        if record.nameID in _FAMILY_NAMES:
            record.string = family
        elif record.nameID in _NAMES_IN_FULL:
            record.string = "Regular"
    made = _folder() / f"{Path(name).stem}.ttf"
    font.save(made)
    return str(made)

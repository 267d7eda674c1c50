"""Cells that a spreadsheet would run as a formula, made safe; and back.

A text that begins like a formula gets an apostrophe in front, which spreadsheets take for "this is
text"; so does one whose first sign is a full-width form of such a mark, or stands behind signs of no
width. So does a text that begins with apostrophes and goes on like a formula, so that taking one
apostrophe away always gives back what was there. Plain numbers are left as they are.
"""

from __future__ import annotations

import polars as pl

_UNSEEN = r"[\s\p{Cc}\p{Cf}]*"
"""What a spreadsheet may pass over before it looks for a formula."""
_BEGINS = r"[=+\-@\t\r\n＝＋－＠﹢﹣]"
_FORMULA = rf"^'*{_UNSEEN}{_BEGINS}"
_NUMBER = r"^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?$"
_GUARDED = rf"^''*{_UNSEEN}{_BEGINS}"


def guarded_cells(column: pl.Expr) -> pl.Expr:
    """Make text safe for spreadsheets."""
    text = column.cast(pl.String)
    risky = text.str.contains(_FORMULA) & ~text.str.contains(_NUMBER)
    return pl.when(risky).then(pl.lit("'") + text).otherwise(text)


def unguarded_cells(column: pl.Expr) -> pl.Expr:
    """Give back text that was made safe."""
    text = column.cast(pl.String)
    return pl.when(text.str.contains(_GUARDED)).then(text.str.slice(1)).otherwise(text)

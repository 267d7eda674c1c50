"""Cells that a spreadsheet would run as a formula, made safe; and back.

A text that begins like a formula gets an apostrophe in front, which spreadsheets take for "this is
text". So does a text that begins with apostrophes and goes on like a formula, so that taking one
apostrophe away always gives back what was there. Plain numbers are left as they are.
"""

from __future__ import annotations

import polars as pl

_FORMULA = r"^'*[=+\-@\t\r]"
_NUMBER = r"^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?$"
_GUARDED = r"^''*[=+\-@\t\r]"


def guarded_cells(column: pl.Expr) -> pl.Expr:
    """Make text safe for spreadsheets."""
    text = column.cast(pl.String)
    risky = text.str.contains(_FORMULA) & ~text.str.contains(_NUMBER)
    return pl.when(risky).then(pl.lit("'") + text).otherwise(text)


def unguarded_cells(column: pl.Expr) -> pl.Expr:
    """Give back text that was made safe."""
    text = column.cast(pl.String)
    return pl.when(text.str.contains(_GUARDED)).then(text.str.slice(1)).otherwise(text)

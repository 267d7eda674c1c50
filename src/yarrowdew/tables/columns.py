"""Columns by their names as they are written: to Polars `*` and `^…$` would stand for many."""

from __future__ import annotations

from collections.abc import Iterable

import polars as pl
from polars import selectors


def column_named(name: str) -> pl.Expr:
    """Mean the one column of this name."""
    return selectors.by_name(name).as_expr()


def select_named(frame: pl.DataFrame, names: Iterable[str]) -> pl.DataFrame:
    """Keep these columns, in this order."""
    return pl.DataFrame([frame[name] for name in names])

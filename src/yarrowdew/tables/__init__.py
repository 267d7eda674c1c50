"""Typed tables: reading files, kinds and units, summaries."""

from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Kind, Table, Variable

__all__ = ["Kind", "Table", "TableError", "Variable"]

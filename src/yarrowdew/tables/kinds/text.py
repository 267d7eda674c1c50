"""Text: whatever is nothing else."""

from __future__ import annotations

import polars as pl

from yarrowdew.tables.kinds.base import Kind, Marks, Native, Typed, VariableKind, as_text


class TextKind(VariableKind):
    """Text."""

    kind = Kind.TEXT
    plural = "text"
    example = "text"
    package_types = ("string",)

    def holds(self, column: pl.Series) -> bool:
        """Whether a column holds text: every one can."""
        return True

    def native(self, column: pl.Series) -> Native:
        """Write every value."""
        return Native(as_text(column))

    def read(self, text: pl.Series, marks: Marks) -> Typed:
        """Take text as it is."""
        return Typed(text, self.kind, 0)

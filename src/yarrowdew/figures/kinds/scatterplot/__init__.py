"""The scatterplot, and the bubble chart: one mark for each row."""

from yarrowdew.figures.kinds.scatterplot.table import KIND

__all__ = ["KIND"]

"""The scatterplot matrix: every pair of some variables on one page."""

from yarrowdew.figures.kinds.matrix.table import KIND

__all__ = ["KIND"]

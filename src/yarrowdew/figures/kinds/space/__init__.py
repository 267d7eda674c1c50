"""The 3-D scatterplot, with planes through its points."""

from yarrowdew.figures.kinds.space.table import KIND

__all__ = ["KIND"]

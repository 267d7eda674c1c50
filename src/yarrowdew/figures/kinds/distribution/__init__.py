"""The distribution: one number by itself, or one for each category."""

from yarrowdew.figures.kinds.distribution.table import KIND

__all__ = ["KIND"]

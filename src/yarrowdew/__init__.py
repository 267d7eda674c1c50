"""Yarrowdew: scatterplots, and trend lines that hold up in front of others."""

from importlib.metadata import version

__version__ = version("yarrowdew")

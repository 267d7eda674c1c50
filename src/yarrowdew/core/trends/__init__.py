"""Trend families: one module each, behind one protocol, listed in the registry."""

from yarrowdew.core.trends.base import (
    Coefficient,
    Crossing,
    Family,
    Interval,
    TrendFit,
    TrendSettings,
)
from yarrowdew.core.trends.registry import FAMILIES, fit_trend

__all__ = [
    "FAMILIES",
    "Coefficient",
    "Crossing",
    "Family",
    "Interval",
    "TrendFit",
    "TrendSettings",
    "fit_trend",
]

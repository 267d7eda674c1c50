"""Trend families: one module each, behind one protocol, listed in the registry."""

from yarrowdew.core.trends.base import Coefficient, Crossing, Interval, TrendFit
from yarrowdew.core.trends.family import Candidate, Family, NoSettings, Setting, setting
from yarrowdew.core.trends.registry import FAMILIES, family_of, fit_trend, register

__all__ = [
    "FAMILIES",
    "Candidate",
    "Coefficient",
    "Crossing",
    "Family",
    "Interval",
    "NoSettings",
    "Setting",
    "TrendFit",
    "family_of",
    "fit_trend",
    "register",
    "setting",
]

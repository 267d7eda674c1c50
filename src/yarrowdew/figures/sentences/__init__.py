"""What a fitted trend means, in plain words: one module for each family that says more than others.

A family without a module of its own says what all lines say, or what share lies along its curve.
"""

from __future__ import annotations

from collections.abc import Callable

from yarrowdew.core.trends.families import exponential as exponential_family
from yarrowdew.core.trends.families import logarithmic as logarithmic_family
from yarrowdew.core.trends.families import power as power_family
from yarrowdew.core.trends.families import quantile as quantile_family
from yarrowdew.core.trends.families import s_curve as s_curve_family
from yarrowdew.core.trends.families import segmented as broken_family
from yarrowdew.core.trends.families import sine_wave as wave_family
from yarrowdew.figures.sentences import (
    along,
    broken,
    exponential,
    logarithmic,
    power,
    quantile,
    s_curve,
    straight,
    wave,
)
from yarrowdew.figures.sentences.base import ToSay, nothing_to_say

SENTENCES: dict[str, Callable[[ToSay], str]] = {
    exponential_family.FAMILY.name: exponential.sentence,
    logarithmic_family.FAMILY.name: logarithmic.sentence,
    power_family.FAMILY.name: power.sentence,
    s_curve_family.FAMILY.name: s_curve.sentence,
    quantile_family.FAMILY.name: quantile.sentence,
    broken_family.FAMILY.name: broken.sentence,
    wave_family.FAMILY.name: wave.sentence,
}


def trend_sentence(say: ToSay) -> str:
    """Say what a fitted trend means, and what share of the variation it accounts for."""
    if say.family.one_slope:
        return straight.sentence(say)
    if say.r_squared is None and say.family.r_squared_about != "nothing":
        return nothing_to_say(say.y)
    return SENTENCES.get(say.family.name, along.sentence)(say)


__all__ = ["SENTENCES", "ToSay", "trend_sentence"]

"""What a fitted trend means, in plain words: one module for each family that says more than others.

A family without a module of its own says what all lines say, or what share lies along its curve.
"""

from __future__ import annotations

from collections.abc import Callable

from yarrowdew.core.trends.families.exponential import FAMILY as EXPONENTIAL
from yarrowdew.core.trends.families.log_linear import FAMILY as LOG_LINEAR
from yarrowdew.core.trends.families.logarithmic import FAMILY as LOGARITHMIC
from yarrowdew.core.trends.families.logistic import FAMILY as LOGISTIC
from yarrowdew.core.trends.families.power import FAMILY as POWER
from yarrowdew.core.trends.families.quantile import FAMILY as QUANTILE
from yarrowdew.core.trends.families.s_curve import FAMILY as S_CURVE
from yarrowdew.core.trends.families.segmented import FAMILY as SEGMENTED
from yarrowdew.core.trends.families.sine_wave import FAMILY as SINE_WAVE
from yarrowdew.figures.text.sentences import (
    along,
    exponential,
    logarithmic,
    logistic,
    power,
    quantile,
    s_curve,
    segmented,
    sine_wave,
    straight,
)
from yarrowdew.figures.text.sentences.base import ToSay, nothing_to_say

SENTENCES: dict[str, Callable[[ToSay], str]] = {
    EXPONENTIAL.name: exponential.sentence,
    POWER.name: power.sentence,
    LOGARITHMIC.name: logarithmic.sentence,
    # By a share for each step, as an exponential curve does.
    LOG_LINEAR.name: exponential.sentence,
    LOGISTIC.name: logistic.sentence,
    S_CURVE.name: s_curve.sentence,
    QUANTILE.name: quantile.sentence,
    SEGMENTED.name: segmented.sentence,
    SINE_WAVE.name: sine_wave.sentence,
}


def trend_sentence(say: ToSay) -> str:
    """Say what a fitted trend means, and what share of the variation it accounts for."""
    if say.family.one_slope:
        return straight.sentence(say)
    if say.r_squared is None and say.family.r_squared_about != "nothing":
        return nothing_to_say(say.y)
    return SENTENCES.get(say.family.name, along.sentence)(say)


__all__ = ["SENTENCES", "ToSay", "trend_sentence"]

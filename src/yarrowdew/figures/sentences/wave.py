"""What a wave says: about which level y swings, how far, and how long a wave is."""

from __future__ import annotations

from yarrowdew.core.equation import decimals_for
from yarrowdew.core.trends import Coefficient
from yarrowdew.figures.sentences.base import ToSay, spoken_level
from yarrowdew.figures.words import number, with_unit
from yarrowdew.tables.table import Kind


def sentence(say: ToSay) -> str:
    """Say its height, its level and its period."""
    level, height, period = (say.coefficients[name] for name in ("m", "A", "T"))
    unit = "days" if say.x.kind is Kind.DATE else say.x.unit
    said = (
        f"{say.y.label} swings by {_amount(height, say.y.unit)} above and below "
        f"{_amount(level, say.y.unit)}; from crest to crest it is {_amount(period, unit)}"
    )
    if period.low is not None and period.high is not None:
        decimals = decimals_for((period.high - period.low) / 2)
        ends = f"{number(period.low, decimals)} to {number(period.high, decimals)}"
        said += f" ({spoken_level(say.level)} interval {ends})"
    return f"{said}. {say.share}"


def _amount(c: Coefficient, unit: str) -> str:
    if c.low is None or c.high is None:
        return with_unit(f"{c.value:.6g}", unit)
    return with_unit(number(c.value, decimals_for((c.high - c.low) / 2)), unit)

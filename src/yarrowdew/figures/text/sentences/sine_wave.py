"""What a wave says: about which level y swings, how far, how long a wave is, and whether it is
one.
"""

from __future__ import annotations

from yarrowdew.core.equation import decimals_for
from yarrowdew.core.trends import Coefficient
from yarrowdew.figures.text.sentences.base import ToSay, spoken_level, tested
from yarrowdew.figures.text.words import TELLING, ends, number, with_unit
from yarrowdew.tables.table import Kind

_TEST = "best period against noise, by simulation"


def sentence(say: ToSay) -> str:
    """Say its height, its level and its period, and how easily noise makes such a wave."""
    level, height, period = (say.coefficients[name] for name in ("m", "A", "T"))
    unit = "days" if say.x.kind is Kind.DATE else say.x.unit
    found = _amount(period, unit)
    if say.searched_p is not None and say.searched_p >= TELLING:
        return (
            f"No clear wave: the best period found is {found}, and noise alone often has one that "
            f"fits as well {tested(_TEST, say.searched_p)}."
        )
    said = (
        f"{say.y.label} swings by {_amount(height, say.y.unit)} above and below "
        f"{_amount(level, say.y.unit)}, with a period of {found}"
    )
    if period.low is not None and period.high is not None:
        decimals = decimals_for((period.high - period.low) / 2)
        said += (
            f" ({spoken_level(say.level)} interval {ends(period.low, period.high, decimals)}, if "
            "this is the true period of several that are possible)"
        )
    test = f" {tested(_TEST, say.searched_p)}" if say.searched_p is not None else ""
    return f"{said}{test}.{say.share}"


def _amount(c: Coefficient, unit: str) -> str:
    if c.low is None or c.high is None:
        return with_unit(f"{c.value:.6g}", unit)
    return with_unit(number(c.value, decimals_for((c.high - c.low) / 2)), unit)

"""What a segmented line says: where it breaks, how y differs before, between and beyond, and
whether.
"""

from __future__ import annotations

from yarrowdew.core.equation import decimals_for
from yarrowdew.core.trends import Coefficient
from yarrowdew.figures.text.sentences.base import ToSay, change_text, per_step, spoken_level, tested
from yarrowdew.figures.text.words import NOTHING, TELLING, ends, in_sentence, number, with_unit
from yarrowdew.tables.table import Kind

_TEST = "sup-F test of a break, by simulation"


def sentence(say: ToSay) -> str:
    """Say the slope of every piece, where each ends, and whether a straight line would do."""
    step, per = per_step(say.x, say.x_span)
    slopes = [
        c for name, c in say.coefficients.items() if name.startswith("b") and name[1:].isdigit()
    ]
    breaks = [c for name, c in say.coefficients.items() if name.startswith("break")]
    steepest = max(abs(c.value) for c in slopes)
    pieces = [
        change_text(c, step, say.y.unit, say.level)
        if abs(c.value) > NOTHING * steepest
        else "the same"
        for c in slopes
    ]
    per = per[0].lower() + per[1:]
    said = f"Up to {_place(breaks[0], say)}, {in_sentence(say.y)} is {pieces[0]} {per}"
    for piece, end in zip(pieces[1:-1], breaks[1:], strict=True):
        said += f"; from there to {_place(end, say)}, {piece}"
    return f"{said}; beyond it, {pieces[-1]}.{_test(say)}{say.share}"


def _test(say: ToSay) -> str:
    p = say.searched_p
    if p is None:
        return ""
    if p >= TELLING:
        return f" No clear break: a straight line fits as well {tested(_TEST, p)}."
    return f" The break is clear {tested(_TEST, p)}."


def _place(at: Coefficient, say: ToSay) -> str:
    """Name a break; dates have their places in the readings."""
    if say.x.kind is Kind.DATE:
        return "the break" if at.name == "break1" else "the second break"
    there = [end for end in (at.low, at.high) if end is not None]
    decimals = decimals_for(
        max(abs(end - at.value) for end in there) if there else say.x_span / 100
    )
    place = f"{in_sentence(say.x)} = {with_unit(number(at.value, decimals), say.x.unit)}"
    if at.low is None or at.high is None:
        return place
    return f"{place} ({spoken_level(say.level)} interval {ends(at.low, at.high, decimals)})"

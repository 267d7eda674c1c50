"""What a broken line says: where it is broken, and how y changes before, between and beyond."""

from __future__ import annotations

from yarrowdew.core.equation import decimals_for
from yarrowdew.core.trends import Coefficient
from yarrowdew.figures.sentences.base import ToSay, of_across, spoken_level, step_of
from yarrowdew.figures.words import in_sentence, number, with_unit
from yarrowdew.tables.table import Kind


def sentence(say: ToSay) -> str:
    """Say the slope of every piece, and where each ends."""
    step, step_text = step_of(say.x, say.x_span)
    up = in_sentence(say.y)
    slopes = [
        c for name, c in say.coefficients.items() if name.startswith("b") and name[1:].isdigit()
    ]
    breaks = [c for name, c in say.coefficients.items() if name.startswith("break")]
    pieces = [_change(c, step, say, up if not i else "") for i, c in enumerate(slopes)]
    each = f"{step_text[0].lower()}{step_text[1:]}{of_across(say.x)}"
    said = f"Up to {_place(breaks[0], say)}, {each} goes with {pieces[0]}"
    for piece, end in zip(pieces[1:-1], breaks[1:], strict=True):
        said += f"; from there to {_place(end, say)} with {piece}"
    return f"{said}; beyond it with {pieces[-1]}. {say.share}"


def _change(slope: Coefficient, step: float, say: ToSay, up: str) -> str:
    low, high = (slope.value if end is None else end for end in (slope.low, slope.high))
    decimals = decimals_for((high - low) * step / 2)
    amount = with_unit(number(abs(slope.value * step), decimals), say.y.unit)
    return f"{amount} {'more' if slope.value > 0 else 'less'} {up}".rstrip()


def _place(at: Coefficient, say: ToSay) -> str:
    """Name a break; dates have their places in the readings."""
    if say.x.kind is Kind.DATE:
        return "the break" if at.name == "break1" else "the second break"
    ends = [end for end in (at.low, at.high) if end is not None]
    decimals = decimals_for(max(abs(end - at.value) for end in ends) if ends else say.x_span / 100)
    place = f"{in_sentence(say.x)} = {with_unit(number(at.value, decimals), say.x.unit)}"
    if at.low is None or at.high is None:
        return place
    low, high = number(at.low, decimals), number(at.high, decimals)
    return f"{place} ({spoken_level(say.level)} interval {low} to {high})"

"""A formula in print: its tree with the fitted values in the places of its parameters."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from yarrowdew.core.equation import EquationForm, Slot
from yarrowdew.core.expressions.calculus import value_of
from yarrowdew.core.expressions.tree import (
    Arithmetic,
    Call,
    Comparison,
    Constant,
    Name,
    Node,
    Sign,
    parts_of,
)
from yarrowdew.core.sample import Array

Part = str | Slot
_SUM, _PRODUCT, _POWER, _ATOM = range(4)
_MARKS = {"<=": "≤", ">=": "≥"}
_CONSTANTS = {"pi": "π"}


@dataclass(frozen=True, slots=True)
class _Printed:
    """A node in print, without the minus that stands before it."""

    parts: tuple[Part, ...]
    binds: int = _ATOM
    is_negative: bool = False

    @property
    def begins_with_number(self) -> bool:
        first = self.parts[0]
        return isinstance(first, Slot) or first[:1].isdigit()


@dataclass(slots=True)
class _Writer:
    """Notes every place of a parameter, with the size that stands there."""

    values: Mapping[str, float]
    across: str
    slots: list[tuple[str, float]] = field(default_factory=list)

    def said(self, node: Node, *, raised: bool = False) -> _Printed:  # noqa: PLR0911 (one for each kind of node)
        match node:
            case Constant(value=value):
                return _Printed((f"{abs(float(value)):.12g}",), _ATOM, float(value) < 0)
            case Name(text=text) if text == self.across:
                return _Printed(("{x}",))
            case Name(text=text) if text in _CONSTANTS:
                return _Printed((_CONSTANTS[text],))
            case Name(text=text):
                value = self.values[text]
                self.slots.append((text, value))
                return _Printed((Slot(len(self.slots) - 1, raised=raised),), _ATOM, value < 0)
            case Sign(mark=mark, operand=operand):
                inner = self.said(operand, raised=raised)
                if inner.binds == _SUM and mark == "-":
                    inner = _within(inner)
                turned = inner.is_negative is not (mark == "-")
                return replace(inner, is_negative=turned)
            case Arithmetic():
                return self._arithmetic(node, raised=raised)
            case Comparison(mark=mark, left=left, right=right):
                sides = (self._whole(left), self._whole(right))
                return _Printed((*sides[0], f" {_MARKS.get(mark, mark)} ", *sides[1]), _SUM)
            case Call(name=name):
                parts: list[Part] = [f"{name}("]
                for i, argument in enumerate(parts_of(node)):
                    parts += [*((", ",) if i else ()), *self._whole(argument, raised=raised)]
                return _Printed((*parts, ")"))
        raise AssertionError(node)

    def _whole(self, node: Node, *, raised: bool = False) -> tuple[Part, ...]:
        return _signed(self.said(node, raised=raised)).parts

    def _arithmetic(self, node: Arithmetic, *, raised: bool) -> _Printed:
        if node.mark in ("**", "^"):
            base = self.said(node.left, raised=raised)
            if base.is_negative or base.binds < _ATOM:
                base = _within(base)
            exponent = _signed(self.said(node.right, raised=True)).parts
            if raised:
                # What stands raised cannot be raised once more.
                return _Printed((*base.parts, "^(", *exponent, ")"), _POWER)
            return _Printed((*base.parts, "^{{", *exponent, "}}"), _POWER)
        left, right = (self.said(part, raised=raised) for part in (node.left, node.right))
        if node.mark in ("+", "-"):
            first = _signed(left)
            if node.mark == "-" and right.binds == _SUM:
                right = _within(right)
            minus = right.is_negative is not (node.mark == "-")
            return _Printed((*first.parts, " − " if minus else " + ", *right.parts), _SUM)
        left = _within(left) if left.binds < _PRODUCT else left
        tight = _PRODUCT if node.mark == "*" else _POWER
        right = _within(right) if right.binds < tight else right
        sign = left.is_negative is not right.is_negative
        if node.mark == "/":
            between = " / "
        else:
            # 2 π x is a product; a number that follows, or a product behind a quotient, is not read so.
            divides = isinstance(node.left, Arithmetic) and node.left.mark == "/"
            between = " × " if divides or right.begins_with_number else " "
        return _Printed((*left.parts, between, *right.parts), _PRODUCT, sign)


def _signed(said: _Printed) -> _Printed:
    """With the minus that stands before it."""
    if not said.is_negative:
        return said
    return _Printed(("−", *said.parts), _SUM)


def _within(said: _Printed) -> _Printed:
    """In parentheses."""
    return _Printed(("(", *_signed(said).parts, ")"))


def printed(node: Node, across: str, values: Mapping[str, float]) -> EquationForm:
    """Print a formula with the values of its parameters.

    Parameters
    ----------
    node : Node
    across : str
        The name that is x.
    values : mapping of str to float
        Of every parameter.
    """
    writer = _Writer(values, across)
    parts = _signed(writer.said(node)).parts
    slots = list(writer.slots)
    if not slots:
        return EquationForm((), lambda _, x: _evaluated(node, across, {}, x), parts, ())
    first = {name: i for i, (name, _) in reversed(list(enumerate(slots)))}

    def evaluate(sizes: tuple[float, ...], x: Array) -> Array:
        given = {name: sizes[i] if slots[i][1] >= 0 else -sizes[i] for name, i in first.items()}
        return _evaluated(node, across, given, x)

    return EquationForm(
        tuple(abs(value) for _, value in slots), evaluate, parts, ((0, 0),) * len(slots)
    )


def _evaluated(node: Node, across: str, values: Mapping[str, float], x: Array) -> Array:
    found = value_of(node, {**values, **CONSTANTS, across: x})
    return np.asarray(x * 0.0 + found)


CONSTANTS = {"pi": 3.141592653589793}
"""Names that stand for a number by themselves."""

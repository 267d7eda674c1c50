"""What a curve's tree is worth at given values, and its derivatives as trees."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from typing import Any

import numpy as np

from yarrowdew.core.expressions import building as b
from yarrowdew.core.expressions.elementary import ELEMENTARY
from yarrowdew.core.expressions.tree import (
    Arithmetic,
    Call,
    Comparison,
    Constant,
    ExpressionError,
    Joined,
    Name,
    Negated,
    Node,
    Sign,
    parts_of,
)

CHOICE = "if_else"
_ARITHMETIC: dict[str, Callable[[Any, Any], Any]] = {
    "+": np.add,
    "-": np.subtract,
    "*": np.multiply,
    "/": np.divide,
    "**": np.power,
    "^": np.power,
}
_CONDITIONS: dict[str, Callable[[Any, Any], Any]] = {
    "<": np.less,
    "<=": np.less_equal,
    ">": np.greater,
    ">=": np.greater_equal,
}


def names_of(node: Node) -> Iterator[Name]:
    """Every name of a tree, from left to right."""
    if isinstance(node, Name):
        yield node
    for part in parts_of(node):
        yield from names_of(part)


def check_curve(node: Node) -> None:
    """Check that a tree is made of what changes smoothly from value to value.

    Raises
    ------
    ExpressionError
        At what it may not hold.
    """
    match node:
        case Call(name=name, arguments=arguments):
            wanted = 3 if name == CHOICE else 1
            if name != CHOICE and name not in ELEMENTARY:
                offered = ", ".join([*ELEMENTARY, CHOICE])
                raise ExpressionError(
                    f"'{name}' has no place in a curve", node.position, f"There are: {offered}."
                )
            if len(arguments) != wanted:
                values = "1 value" if wanted == 1 else "a condition and two values"
                raise ExpressionError(
                    f"'{name}' takes {values}, not {len(arguments)}", node.position
                )
            if name == CHOICE and not isinstance(arguments[0], Comparison):
                raise ExpressionError(f"'{name}' starts with a condition", arguments[0].position)
            for i, argument in enumerate(arguments):
                if name == CHOICE and i == 0:
                    _check_condition(argument)
                else:
                    check_curve(argument)
            return
        case Arithmetic(mark=mark) if mark not in _ARITHMETIC:
            raise ExpressionError(f"'{mark}' has no place in a curve", node.mark_position)
        case Constant(value=value) if not isinstance(value, float):
            raise ExpressionError("A curve is made of numbers, and this is text", node.position)
        case Comparison() | Joined() | Negated():
            raise ExpressionError(
                "In a curve, a condition may be used only inside if_else(…)", node.position
            )
    for part in parts_of(node):
        check_curve(part)


def _check_condition(node: Node) -> None:
    if isinstance(node, Comparison) and node.mark not in _CONDITIONS:
        raise ExpressionError(f"'{node.mark}' has no place here", node.mark_position)
    for part in parts_of(node):
        check_curve(part)


def value_of(
    node: Node, values: Mapping[str, Any], memory: dict[int, tuple[Node, Any]] | None = None
) -> Any:
    """Work a checked tree out.

    Parameters
    ----------
    node : Node
    values : mapping of str to float or ndarray
        Of every name; arrays are joined by NumPy's rules.
    memory : dict, optional
        What was worked out before with the same values, for trees that share branches.

    Returns
    -------
    float or ndarray
    """
    if memory is None:
        memory = {}
    known = memory.get(id(node))
    if known is None:
        known = (node, _value(node, values, memory))
        memory[id(node)] = known
    return known[1]


def _value(node: Node, values: Mapping[str, Any], memory: dict[int, tuple[Node, Any]]) -> Any:  # noqa: PLR0911 (one for each kind of node)
    parts = [value_of(part, values, memory) for part in parts_of(node)]
    match node:
        case Constant(value=value):
            return value
        case Name(text=text):
            return values[text]
        case Sign(mark=mark):
            return np.negative(parts[0]) if mark == "-" else parts[0]
        case Arithmetic(mark=mark):
            if mark in ("**", "^") and b.known(node.right) == 2:
                return np.square(parts[0])
            return _ARITHMETIC[mark](*(np.asarray(part, dtype=np.float64) for part in parts))
        case Comparison(mark=mark):
            return _CONDITIONS[mark](*parts)
        case Call(name=name):
            return np.where(*parts) if name == CHOICE else ELEMENTARY[name].value(parts[0])
    raise AssertionError(node)


def derivative(node: Node, name: str) -> Node:  # noqa: PLR0911 (one for each kind of node)
    """Differentiate a checked tree by one of its names."""

    def by(part: Node) -> Node:
        return derivative(part, name)

    match node:
        case Name(text=text):
            return b.ONE if text == name else b.ZERO
        case Sign(mark=mark, operand=operand):
            return b.minus(b.ZERO, by(operand)) if mark == "-" else by(operand)
        case Arithmetic(mark="+", left=left, right=right):
            return b.plus(by(left), by(right))
        case Arithmetic(mark="-", left=left, right=right):
            return b.minus(by(left), by(right))
        case Arithmetic(mark="*", left=left, right=right):
            return b.plus(b.times(by(left), right), b.times(left, by(right)))
        case Arithmetic(mark="/", left=left, right=right):
            inner = b.over(b.times(left, by(right)), b.raised(right, b.TWO))
            return b.minus(b.over(by(left), right), inner)
        case Arithmetic(left=left, right=right):
            return _of_power(node, by(left), by(right))
        case Call(name=called, arguments=arguments):
            if called == CHOICE:
                yes, no = by(arguments[1]), by(arguments[2])
                if b.known(yes) == 0 == b.known(no):
                    return b.ZERO
                return b.call(CHOICE, arguments[0], yes, no)
            return b.times(ELEMENTARY[called].slope(arguments[0]), by(arguments[0]))
        case _:
            return b.ZERO


def _of_power(node: Arithmetic, base: Node, exponent: Node) -> Node:
    """Differentiate a power, of which the derivatives of both parts are given."""
    left, right = node.left, node.right
    lowered = b.raised(left, b.minus(right, b.ONE))
    by_base = b.times(b.times(right, lowered), base)
    by_exponent = b.times(b.times(node, b.call("ln", left)), exponent)
    return b.plus(by_base, by_exponent)

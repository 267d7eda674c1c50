"""Trees put together, with what is plain at once left out: nothing added, nothing times one."""

from __future__ import annotations

from yarrowdew.core.expressions.tree import Arithmetic, Call, Constant, Node

ZERO, ONE, TWO = (Constant(0, value) for value in (0.0, 1.0, 2.0))


def constant(value: float) -> Constant:
    """A number."""
    return Constant(0, float(value))


def call(name: str, *arguments: Node) -> Call:
    """A function of some values."""
    return Call(0, name, arguments)


def known(node: Node) -> float | None:
    """The value of a number; None for everything else."""
    return node.value if isinstance(node, Constant) and isinstance(node.value, float) else None


def plus(left: Node, right: Node) -> Node:
    """Add."""
    if known(left) == 0:
        return right
    return left if known(right) == 0 else _joined("+", left, right)


def minus(left: Node, right: Node) -> Node:
    """Take away."""
    return left if known(right) == 0 else _joined("-", left, right)


def times(left: Node, right: Node) -> Node:
    """Multiply."""
    if known(left) == 0 or known(right) == 0:
        return ZERO
    if known(left) == 1:
        return right
    return left if known(right) == 1 else _joined("*", left, right)


def over(left: Node, right: Node) -> Node:
    """Divide."""
    if known(left) == 0:
        return ZERO
    return left if known(right) == 1 else _joined("/", left, right)


def raised(base: Node, exponent: Node) -> Node:
    """Take a power."""
    if known(exponent) == 0:
        return ONE
    return base if known(exponent) == 1 else _joined("**", base, exponent)


def _joined(mark: str, left: Node, right: Node) -> Node:
    a, b = known(left), known(right)
    if a is not None and b is not None and mark in "+-*":
        return constant(a + b if mark == "+" else a - b if mark == "-" else a * b)
    return Arithmetic(0, mark, 0, left, right)

"""A tree checked against a table: every name found, every value of the type that is needed."""

from __future__ import annotations

from collections.abc import Callable

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
    Type,
)
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.expressions.functions import FUNCTIONS
from yarrowdew.tables.expressions.typed import Checked, alike, need
from yarrowdew.tables.kinds import of_kind
from yarrowdew.tables.table import Table


def checked(node: Node, table: Table) -> Checked:  # noqa: PLR0911 (one for each kind of node)
    """Check a tree against a table's variables; nothing is worked out.

    Raises
    ------
    ExpressionError
        If there is no such variable or function, or a value is of another type than is needed.
    """

    def check(part: Node) -> Checked:
        return checked(part, table)

    match node:
        case Constant(value=value):
            type_ = Type.NUMBER if isinstance(value, float) else Type.TEXT
            return Checked(node, type_, constant=value)
        case Name():
            return _variable(node, table)
        case Sign():
            return _signed(node, check(node.operand))
        case Arithmetic():
            return _arithmetic(node, check(node.left), check(node.right))
        case Comparison():
            return _comparison(node, check(node.left), check(node.right))
        case Joined():
            parts = (check(node.left), check(node.right))
            for part in parts:
                need(part, Type.TRUTH, f"'{node.word}' joins conditions")
            return Checked(node, Type.TRUTH, parts)
        case Negated():
            part = check(node.operand)
            need(part, Type.TRUTH, "'not' turns a condition round")
            return Checked(node, Type.TRUTH, (part,))
        case Call():
            return _call(node, check)


def _variable(node: Name, table: Table) -> Checked:
    try:
        variable = table.called(node.text)
    except TableError as error:
        raise ExpressionError(
            f"There is no variable '{node.text}'", node.position, error.remedy
        ) from error
    return Checked(node, Type(of_kind(variable.kind).gives), variable=variable)


def _signed(node: Sign, part: Checked) -> Checked:
    need(part, Type.NUMBER, f"'{node.mark}' needs a number")
    constant = part.constant
    if isinstance(constant, float) and node.mark == "-":
        constant = -constant
    return Checked(node, Type.NUMBER, (part,), constant=constant)


def _arithmetic(node: Arithmetic, left: Checked, right: Checked) -> Checked:
    if not (node.mark == "-" and left.type is right.type is Type.DATE):
        for part in (left, right):
            need(part, Type.NUMBER, f"'{node.mark}' needs numbers")
    return Checked(node, Type.NUMBER, (left, right))


def _comparison(node: Comparison, left: Checked, right: Checked) -> Checked:
    left, right = alike(left, right)
    if left.type is not right.type:
        raise ExpressionError(
            f"{left.type.value.capitalize()} cannot be compared with {right.type.value}",
            node.mark_position,
        )
    return Checked(node, Type.TRUTH, (left, right))


def _call(node: Call, check: Callable[[Node], Checked]) -> Checked:
    function = FUNCTIONS.get(node.name)
    if function is None:
        known = ", ".join(FUNCTIONS)
        raise ExpressionError(
            f"There is no function '{node.name}'", node.position, f"There are: {known}."
        )
    return function.check(node, tuple(check(argument) for argument in node.arguments))

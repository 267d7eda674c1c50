"""What an expression says, as a tree: the text understood, and nothing looked up or worked out."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from yarrowdew.core.errors import UserFacingError


class Type(StrEnum):
    """What an expression gives for each row."""

    NUMBER = "a number"
    TEXT = "text"
    DATE = "a date"
    TRUTH = "yes or no"


class ExpressionError(UserFacingError):
    """An expression that cannot be evaluated.

    Parameters
    ----------
    message, remedy : str
    position : int
        Where in the text it is wrong, from 0.
    """

    def __init__(self, message: str, position: int, remedy: str = "") -> None:
        super().__init__(f"{message} (at character {position + 1}).", remedy)
        self.position = position


@dataclass(frozen=True, slots=True)
class Constant:
    """A number or a text."""

    position: int
    value: float | str


@dataclass(frozen=True, slots=True)
class Name:
    """The name of a variable, as it was typed."""

    position: int
    text: str


@dataclass(frozen=True, slots=True)
class Sign:
    """Plus or minus before a value."""

    position: int
    mark: str
    operand: Node


@dataclass(frozen=True, slots=True)
class Arithmetic:
    """Two values added, multiplied, raised; `mark_position` is where the mark stands."""

    position: int
    mark: str
    mark_position: int
    left: Node
    right: Node


@dataclass(frozen=True, slots=True)
class Comparison:
    """Two values compared."""

    position: int
    mark: str
    mark_position: int
    left: Node
    right: Node


@dataclass(frozen=True, slots=True)
class Joined:
    """Two conditions joined by a word."""

    position: int
    word: str
    left: Node
    right: Node


@dataclass(frozen=True, slots=True)
class Negated:
    """A condition turned round."""

    position: int
    operand: Node


@dataclass(frozen=True, slots=True)
class Call:
    """A function of some values."""

    position: int
    name: str
    arguments: tuple[Node, ...]


Node = Constant | Name | Sign | Arithmetic | Comparison | Joined | Negated | Call


def parts_of(node: Node) -> tuple[Node, ...]:
    """The nodes that a node is made of."""
    match node:
        case Arithmetic() | Comparison() | Joined():
            return node.left, node.right
        case Sign() | Negated():
            return (node.operand,)
        case Call():
            return node.arguments
        case _:
            return ()

"""From the text of an expression to its tree: a small parser of our own.

The syntax is that of arithmetic: ``2 * yield / {air temperature} ** 2``, comparisons, ``and``,
``or``, ``not``, and functions; a power may be written ``^``. Names with spaces stand in braces; a brace that is part of a name is
written twice. Nothing is ever handed to Python to be run: what is not in the grammar is refused with
its place.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import dataclass

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
)

ALIASES = {"arctan": "atan"}
"""Other names of functions."""
MOST_CHARACTERS = 2_000
MOST_DEPTH = 50

_COMPARISONS = ("<", "<=", ">", ">=", "==", "!=")
_SUMS = ("+", "-")
_PRODUCTS = ("*", "/", "//", "%")


@dataclass(frozen=True, slots=True)
class _Token:
    kind: str
    text: str
    position: int


_TOKEN = re.compile(
    r"\s*(?:"
    r"(?P<number>\d+\.?\d*(?:[eE][+-]?\d+)?|\.\d+(?:[eE][+-]?\d+)?)"
    r"|(?P<name>[^\W\d]\w*|\{(?:[^{}]|\{\{|\}\})*\})"
    r"|(?P<text>'[^']*'|\"[^\"]*\")"
    r"|(?P<mark>\*\*|//|<=|>=|==|!=|[-+*/%<>(),^])"
    r")"
)


def parsed(text: str) -> Node:
    """Understand an expression.

    Raises
    ------
    ExpressionError
        If it is not one, pointing at the place.
    """
    if len(text) > MOST_CHARACTERS:
        raise ExpressionError(
            f"The expression is longer than {MOST_CHARACTERS:,} characters", MOST_CHARACTERS
        )
    return _Parser(_tokens(text)).whole()


class _Parser:
    """Recursive descent; one method for each level of precedence, loosest first."""

    def __init__(self, tokens: list[_Token]) -> None:
        self._tokens = tokens
        self._next = 0
        self._depth = 0

    def whole(self) -> Node:
        node = self._or()
        rest = self._peek()
        if rest.kind != "end":
            raise ExpressionError(f"'{rest.text}' is not expected here", rest.position)
        return node

    def _peek(self) -> _Token:
        return self._tokens[self._next]

    def _take(self, *texts: str) -> _Token | None:
        token = self._peek()
        if token.kind in ("mark", "name") and token.text in texts:
            self._next += 1
            return token
        return None

    def _expect(self, text: str) -> None:
        token = self._peek()
        if self._take(text) is None:
            found = f"'{token.text}'" if token.text else "the end"
            raise ExpressionError(f"'{text}' is expected instead of {found}", token.position)

    def _or(self) -> Node:
        return self._joined(self._and, "or")

    def _and(self) -> Node:
        return self._joined(self._not, "and")

    def _joined(self, below: Callable[[], Node], word: str) -> Node:
        left = below()
        while self._take(word):
            left = Joined(left.position, word, left, below())
        return left

    def _not(self) -> Node:
        token = self._take("not")
        if token is None:
            return self._comparison()
        return Negated(token.position, self._deeper(self._not))

    def _comparison(self) -> Node:
        left = self._sum()
        token = self._take(*_COMPARISONS)
        if token is None:
            return left
        return Comparison(left.position, token.text, token.position, left, self._sum())

    def _sum(self) -> Node:
        return self._arithmetic(self._product, *_SUMS)

    def _product(self) -> Node:
        return self._arithmetic(self._unary, *_PRODUCTS)

    def _arithmetic(self, below: Callable[[], Node], *marks: str) -> Node:
        left = below()
        while token := self._take(*marks):
            left = Arithmetic(left.position, token.text, token.position, left, below())
        return left

    def _unary(self) -> Node:
        token = self._take("-", "+")
        if token is None:
            return self._power()
        return Sign(token.position, token.text, self._deeper(self._unary))

    def _power(self) -> Node:
        base = self._atom()
        token = self._take("**", "^")
        if token is None:
            return base
        # As in Python: 2 ** 3 ** 2 is 2 ** 9, and -2 ** 2 is -4.
        exponent = self._deeper(self._unary)
        return Arithmetic(base.position, "**", token.position, base, exponent)

    def _deeper(self, method: Callable[[], Node]) -> Node:
        self._depth += 1
        if self._depth > MOST_DEPTH:
            raise ExpressionError("The expression is nested too deeply", self._peek().position)
        node = method()
        self._depth -= 1
        return node

    def _atom(self) -> Node:
        token = self._peek()
        if self._take("("):
            node = self._deeper(self._or)
            self._expect(")")
            return node
        self._next += 1
        if token.kind == "number":
            value = float(token.text)
            if not math.isfinite(value):
                raise ExpressionError(f"'{token.text}' is too large for a number", token.position)
            return Constant(token.position, value)
        if token.kind == "text":
            return Constant(token.position, token.text[1:-1])
        if token.kind == "name":
            if not token.text.startswith("{") and self._peek().text == "(":
                return self._call(token)
            name = token.text
            if name.startswith("{"):
                name = name[1:-1].replace("{{", "{").replace("}}", "}")
            return Name(token.position, name)
        self._next -= 1
        found = f"'{token.text}'" if token.text else "the end"
        raise ExpressionError(f"A value is expected instead of {found}", token.position)

    def _call(self, token: _Token) -> Node:
        self._expect("(")
        given: list[Node] = []
        if not self._take(")"):
            given.append(self._deeper(self._or))
            while self._take(","):
                given.append(self._deeper(self._or))
            self._expect(")")
        return Call(token.position, ALIASES.get(token.text, token.text), tuple(given))


def _tokens(text: str) -> list[_Token]:
    tokens = []
    position = 0
    while position < len(text.rstrip()):
        found = _TOKEN.match(text, position)
        if found is None:
            start = position + len(text[position:]) - len(text[position:].lstrip())
            raise ExpressionError(f"'{text[start]}' has no meaning here", start)
        kind = str(found.lastgroup)
        tokens.append(_Token(kind, found[kind], found.start(kind)))
        position = found.end()
    return [*tokens, _Token("end", "", len(text))]

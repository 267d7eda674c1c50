"""In which units the parameters of a formula are counted, told from where they stand.

Sums are of like things, powers and functions of bare numbers: each node gives equations that are
linear in the exponents of the units of y and x. What they leave open is taken as small as can be.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from yarrowdew.core.expressions import building as b
from yarrowdew.core.expressions.calculus import CHOICE
from yarrowdew.core.expressions.tree import Arithmetic, Call, Comparison, Constant, Name, Node, Sign
from yarrowdew.core.sample import Array

_WEAKLY, _MORE_WEAKLY = 1e-3, 1e-5
_CONTRADICTED = 1e-2


def units_of(node: Node, across: str, parameters: Sequence[str]) -> dict[str, tuple[float, float]]:
    """Powers of the units of y and x that every parameter is counted in.

    Parameters
    ----------
    node : Node
        Of y.
    across : str
        The name that is x.
    parameters : sequence of str

    Returns
    -------
    dict of str to tuple of float
        Empty where the formula fits no units, such as a power of x that is fitted.
    """
    equations = _Equations(across, parameters)
    equations.same(equations.of(node), equations.y)
    return equations.solved()


class _Equations:
    """Every unit is a row of coefficients of the unknowns, and a constant, for y and for x."""

    def __init__(self, across: str, parameters: Sequence[str]) -> None:
        self._across = across
        self._parameters = list(parameters)
        self._unknowns = len(self._parameters)
        self._bare: list[int] = []
        self._rows: list[tuple[Array, Array]] = []
        self.y = self._plain(1.0, 0.0)

    def _plain(self, y: float, x: float) -> tuple[Array, Array]:
        return np.zeros(64), np.array([y, x])

    def of(self, node: Node) -> tuple[Array, Array]:  # noqa: PLR0911 (one for each kind of node)
        """The unit of a node; what has to hold within it is noted."""
        match node:
            case Name(text=text) if text == self._across:
                return self._plain(0.0, 1.0)
            case Name(text=text) if text in self._parameters:
                unit = self._plain(0.0, 0.0)
                unit[0][self._parameters.index(text)] = 1.0
                return unit
            case Constant():
                return self._constant()
            case Sign(operand=operand):
                return self.of(operand)
            case Arithmetic():
                return self._arithmetic(node)
            case Call(name=name, arguments=arguments):
                if name == CHOICE:
                    self.of(arguments[0])
                    yes, no = self.of(arguments[1]), self.of(arguments[2])
                    self.same(yes, no)
                    return yes
                inner = self.of(arguments[0])
                if name == "sqrt":
                    return inner[0] / 2, inner[1] / 2
                if name == "abs":
                    return inner
                self.same(inner, self._plain(0.0, 0.0))
                return self._plain(0.0, 0.0)
            case Comparison(left=left, right=right):
                self.same(self.of(left), self.of(right))
        return self._plain(0.0, 0.0)

    def _constant(self) -> tuple[Array, Array]:
        """A number that is written down may be counted in anything, and most likely in nothing."""
        unit = self._plain(0.0, 0.0)
        if self._unknowns < 64:
            unit[0][self._unknowns] = 1.0
            self._bare.append(self._unknowns)
            self._unknowns += 1
        return unit

    def _arithmetic(self, node: Arithmetic) -> tuple[Array, Array]:
        left = self.of(node.left)
        if node.mark in ("+", "-"):
            right = self.of(node.right)
            self.same(left, right)
            return left
        if node.mark in ("*", "/"):
            bare = b.known(node.left) is not None, b.known(node.right) is not None
            # A factor that is written down is a bare number.
            right = self.of(node.right) if not bare[1] else self._plain(0.0, 0.0)
            left = left if not bare[0] else self._plain(0.0, 0.0)
            sign = 1.0 if node.mark == "*" else -1.0
            return left[0] + sign * right[0], left[1] + sign * right[1]
        power = b.known(node.right)
        if power is not None:
            return left[0] * power, left[1] * power
        self.same(self.of(node.right), self._plain(0.0, 0.0))
        self.same(left, self._plain(0.0, 0.0))
        return self._plain(0.0, 0.0)

    def same(self, left: tuple[Array, Array], right: tuple[Array, Array]) -> None:
        """Note that two units are one."""
        self._rows.append((left[0] - right[0], right[1] - left[1]))

    def solved(self) -> dict[str, tuple[float, float]]:
        """Solve for the parameters; what is not determined is as near to a bare number as can
        be.
        """
        count = self._unknowns
        hard = np.array([row[:count] for row, _ in self._rows])
        wanted = np.array([constant for _, constant in self._rows])
        weak = np.full(count, _MORE_WEAKLY)
        weak[self._bare] = _WEAKLY
        solution: Array = np.linalg.lstsq(
            np.vstack([hard, np.diag(weak)]), np.vstack([wanted, np.zeros((count, 2))]), rcond=None
        )[0]
        if np.abs(hard @ solution - wanted).max(initial=0.0) > _CONTRADICTED:
            return {}
        found: Array = np.round(solution, 2) + 0.0
        return {
            name: (float(found[i, 0]), float(found[i, 1]))
            for i, name in enumerate(self._parameters)
        }

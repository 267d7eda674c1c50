"""A curve of one's own: y = f(x; p₁ … pₖ), typed as one writes it.

The formula is parsed and never run by Python; its derivatives are found by symbols. Parameters are
the names that are neither x nor a constant. Starting values are searched for (see `starting`), and
the minimum is found as for every other curve.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np

from yarrowdew.core.equation import EquationForm
from yarrowdew.core.errors import FitError
from yarrowdew.core.expressions.calculus import check_curve, derivative, names_of, value_of
from yarrowdew.core.expressions.parsing import parsed
from yarrowdew.core.expressions.printing import CONSTANTS, printed
from yarrowdew.core.expressions.tree import ExpressionError, Node
from yarrowdew.core.expressions.units import units_of
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends.base import needs_rows
from yarrowdew.core.trends.constraints import known_of
from yarrowdew.core.trends.family import Entry, Family, setting
from yarrowdew.core.trends.forms import FORMS
from yarrowdew.core.trends.solvers.nonlinear import CurveProblem, NonlinearFit
from yarrowdew.core.trends.solvers.starting import starting_values

MOST_PARAMETERS = 9
X = "x"


@dataclass(frozen=True, slots=True, kw_only=True)
class FormulaSettings:
    """Settings of a formula."""

    formula: str = setting(
        "a + b * x",
        "Formula",
        "The formula, with x for the x variable: a * exp(-b * x) + c.",
        begins={form.label: {"formula": form.formula, "known": form.known} for form in FORMS},
    )
    known: str = setting(
        "",
        "Known of its parameters",
        "Ends and values that are given: b > 0, 0 < half < 40, c = 5.",
        free="nothing",
    )
    start: str = ""
    """Where the search for parameters begins, as in ``b1 = 500``; not kept with a figure, for the
    program finds better places than most people."""


@dataclass(frozen=True, slots=True)
class Formula:
    """A formula that makes sense.

    Attributes
    ----------
    curve : Node
        Of y.
    parameters : tuple of str
        In the order in which they stand.
    slopes : mapping of str to Node
        Its derivative by every parameter.
    units : mapping of str to tuple of float
        See `units_of`.
    """

    curve: Node
    parameters: tuple[str, ...]
    slopes: Mapping[str, Node]
    units: Mapping[str, tuple[float, float]]


@lru_cache(maxsize=64)
def formula_of(text: str) -> Formula:
    """Understand a formula.

    Raises
    ------
    FitError
        If it is none, pointing at the place, or has no or too many parameters.
    """
    try:
        curve = parsed(_right_hand_side(text))
        check_curve(curve)
    except ExpressionError as error:
        raise FitError(error.message, error.remedy) from error
    names = list(dict.fromkeys(name.text for name in names_of(curve)))
    if X not in names:
        raise FitError(
            "The formula does not contain x.", "Write x for the x variable: a + b * sqrt(x)."
        )
    parameters = tuple(name for name in names if name != X and name not in CONSTANTS)
    if not parameters:
        raise FitError(
            "The formula has no parameter to be fitted.", "Write names for them: a + b * x."
        )
    if len(parameters) > MOST_PARAMETERS:
        raise FitError(
            f"The formula has {len(parameters)} parameters; at most {MOST_PARAMETERS} are fitted.",
            f"They are: {', '.join(parameters)}. Write numbers for those that are known.",
        )
    slopes = {name: derivative(curve, name) for name in parameters}
    return Formula(curve, parameters, slopes, units_of(curve, X, parameters))


def _right_hand_side(text: str) -> str:
    """What stands behind "y =", where somebody wrote that too; places stay as they are."""
    head, mark, tail = text.partition("=")
    own = mark and head.strip() == "y" and not tail.startswith("=")
    return " " * (len(head) + 1) + tail if own else text


def fit(sample: Sample, settings: FormulaSettings) -> NonlinearFit:
    """Fit a typed curve by (weighted) least squares.

    Raises
    ------
    FitError
        If the formula or what is known of its parameters cannot be understood, there are too few
        rows, or the rows do not determine the parameters.
    """
    formula = formula_of(settings.formula)
    names = formula.parameters
    known = known_of(settings.known, names)
    free = tuple(i for i, name in enumerate(names) if name not in known.given)
    if not free:
        raise FitError("Every parameter of the formula is given.", "Leave one to be fitted.")
    needs_rows(sample, len(free) + 1, "This formula", distinct=len(free))
    starts = starting_values(
        sample,
        formula.curve,
        formula.slopes,
        across=X,
        given=known.given,
        units=formula.units,
        ends=known.ends,
    )
    if settings.start:
        starts = _begun(settings.start, names, known.given, starts)
    if not starts:
        raise FitError(
            "The formula has no value at these rows, whatever its parameters are.",
            "Look for logarithms or powers of what is not above 0, and for divisions by 0.",
        )
    ends = np.array([known.ends(name) for name in names])

    def curve(c: Array, x: Array) -> Array:
        return np.asarray(x * 0.0 + value_of(formula.curve, _named(names, c, x)))

    def slopes(c: Array, x: Array) -> Array:
        memory: dict[int, Any] = {}
        values = _named(names, c, x)
        return np.column_stack(
            [x * 0.0 + value_of(formula.slopes[name], values, memory) for name in names]
        )

    def equation(c: Array) -> EquationForm:
        return printed(formula.curve, X, dict(zip(names, c.tolist(), strict=True)))

    found = CurveProblem(
        family=FAMILY.name,
        what="This formula",
        names=names,
        free=free,
        curve=curve,
        slopes=slopes,
        equation=equation,
        meaning="The mean of y follows the formula.",
        bounds=None if np.isinf(ends).all() else (ends[:, 0], ends[:, 1]),
    ).fit(sample, starts)
    held = [names[i] for i in free if i not in found.free]
    if not held:
        return found
    said = ", ".join(f"{name} = {found.values[names.index(name)]:g}" for name in held)
    return replace(
        found,
        meaning=f"{found.meaning} At an end of what was known, and so held there: {said}.",
    )


def _begun(
    text: str, names: tuple[str, ...], given: Mapping[str, float], found: list[Array]
) -> list[Array]:
    """Places to begin from, with the values that were asked for in the place of those found."""
    asked = known_of(text, names).given
    if not asked:
        raise FitError(f"“{text}” says no value to start from.", "Write, for example: b1 = 500.")
    if set(names) <= set(asked) | set(given):
        return [np.array([asked.get(name, given.get(name)) for name in names])]
    return [
        np.array([asked.get(name, value) for name, value in zip(names, one, strict=True)])
        for one in found
    ]


def _named(names: tuple[str, ...], values: Array, x: Array) -> dict[str, Any]:
    return {**CONSTANTS, **dict(zip(names, values.tolist(), strict=True)), X: x}


def meanings(settings: FormulaSettings) -> dict[str, str]:
    """What the parameters of a form that was begun from are, in words."""
    return next((dict(f.means) for f in FORMS if f.formula == settings.formula.strip()), {})


FAMILY = Family(
    name="formula",
    label="formula",
    entry=Entry(
        method="least squares (Moré 1978), Gauss–Newton to full precision; of equally good minima the one that turns least between rows",
        intervals="delta method (Seber and Wild 1989, ch. 5)",
        exactness="approximate; no p value, as its null hypothesis leaves coefficients without meaning",
    ),
    note="typed as you write it",
    settings=FormulaSettings,
    fit=fit,
    takes_units=False,
    said_as="{formula}",
    meanings=meanings,
)

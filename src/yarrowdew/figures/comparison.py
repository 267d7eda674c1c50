"""Forms of trend compared on the same rows."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, Any, Literal

import numpy as np
from pydantic import ConfigDict, Field, TypeAdapter

from yarrowdew.core.beside import SharedOut
from yarrowdew.core.diagnostics import left_out_error
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends import FAMILIES, Candidate, Family, TrendFit, fit_trend
from yarrowdew.core.trends.formula import FAMILY as FORMULA
from yarrowdew.core.trends.formula import FormulaSettings
from yarrowdew.core.validation import cross_validated_error
from yarrowdew.figures.document.families import FamilySettings, by_family
from yarrowdew.figures.document.formulas import SavedFormula
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.fitting import fit_of
from yarrowdew.figures.points import points_of
from yarrowdew.figures.view import view_of
from yarrowdew.figures.wire import Number, OnWire
from yarrowdew.figures.words import joined, percent
from yarrowdew.tables.documented import Documented
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Table

PICTURE_POINTS = 49
MUCH_THE_SAME = 0.01
"""Errors within so large a share of the least are as good as the same."""


class ComparisonAsked(Documented):
    """Which rows the forms are compared on: those of one line of a trend."""

    model_config = ConfigDict(extra="forbid")

    document: FigureDocument
    trend: int = 0
    group: str | None = None
    """The category whose rows are fitted; null for the whole."""
    formulas: list[SavedFormula] = Field(default_factory=list, max_length=40)
    """Formulas that are compared along with the families."""


class FormComparedPart(OnWire):
    """One form, and how well it does."""

    family: str
    settings: FamilySettings

    label: str
    left_out_error: Number = None
    """Root mean square distance of rows from the trend fitted without them."""
    left_out_by: Literal["row", "part"] = "row"
    """Whether each row was left out by itself, or a tenth of the rows at a time."""
    aicc: Number = None
    r_squared: Number = None
    """On the scale of y, so that all forms can be compared."""
    residual_sd: Number = None
    parameters: Number = None
    x: list[float] = []
    """A tiny picture: places from 0 to 1 across and up the data."""
    y: list[Number] = []
    problem: str | None = None
    """Why there is no such fit."""


if TYPE_CHECKING:
    FormCompared = FormComparedPart
else:
    FormCompared = by_family(FormComparedPart, "Compared")


class Comparison(OnWire):
    """Every form that applies, the best first."""

    n: int
    forms: list[FormCompared]
    why: str
    """Which is best, by what, and which does nearly as well with less."""
    across: tuple[Number, Number] = (None, None)
    """Ends of the data on the axes, between which the pictures lie."""
    up: tuple[Number, Number] = (None, None)


def compare(asked: ComparisonAsked, table: Table, progress: Callable[[float], None]) -> Comparison:
    """Fit every form to the rows of one line, and rank them by their left-out error.

    Raises
    ------
    TableError
        If there is no such trend or group.
    """
    document = asked.document.reduced()
    if not 0 <= asked.trend < len(document.trends):
        raise TableError(f"The figure has no trend {asked.trend + 1}.", "Add a trend first.")
    fitted = fit_of(points_of(view_of(document, table)), asked.trend, document.trends[asked.trend])
    line = next((f for f in fitted.lines if f.group == asked.group), None)
    if line is None:
        raise TableError(f"The trend has no line for '{asked.group}'.", "Choose one of its groups.")
    tried = [(family, one) for family in FAMILIES.values() for one in family.candidates]
    tried += [
        (FORMULA, Candidate(one.name, FormulaSettings(formula=one.formula, known=one.known)))
        for one in asked.formulas
    ]
    forms = []
    progress(0.0)
    fits = [partial(_form, family, candidate, line.sample) for family, candidate in tried]
    for form in SharedOut(fits, line.sample.n):
        forms.append(form)
        progress(len(forms) / len(tried))
    forms.sort(key=_rank)
    return Comparison(
        n=line.sample.n,
        forms=forms,
        why=_why(forms),
        across=_ends(line.sample.x, line.x.origin),
        up=_ends(line.sample.y, line.y.origin),
    )


def _ends(values: Array, origin: float) -> tuple[float | None, float | None]:
    if not len(values):
        return None, None
    return float(values.min()) + origin, float(values.max()) + origin


def _rank(form: FormComparedPart) -> tuple[bool, bool, float]:
    error = form.left_out_error
    return form.problem is not None, error is None, error or 0.0


def _form(family: Family[Any], candidate: Candidate[Any], sample: Sample) -> FormComparedPart:
    out: dict[str, Any] = {
        "family": family.name,
        "settings": {name: getattr(candidate.settings, name) for name in family.declared()},
        "label": candidate.label,
    }
    try:
        fit = fit_trend(sample, family.name, candidate.settings)
    except FitError as error:
        return _COMPARED.validate_python(out | {"problem": str(error)})
    x, y = _picture(fit, sample)
    off = left_out_error(fit, sample)
    by_part = off is None
    if off is None:
        off = cross_validated_error(
            sample, lambda rows: fit_trend(rows, family.name, candidate.settings)
        )
    return _COMPARED.validate_python(
        out
        | {
            "left_out_error": off,
            "left_out_by": "part" if by_part else "row",
            "aicc": fit.aicc,
            "r_squared": fit.r_squared,
            "residual_sd": fit.residual_sd,
            "parameters": fit.parameters,
            "x": x,
            "y": y,
        }
    )


_COMPARED: TypeAdapter[FormComparedPart] = TypeAdapter(FormCompared)


def _picture(fit: TrendFit, sample: Sample) -> tuple[list[float], list[Number]]:
    at = np.linspace(*fit.x_range, PICTURE_POINTS)
    low, high = float(sample.y.min()), float(sample.y.max())
    share = (fit.predict(at) - low) / ((high - low) or 1.0)
    return np.linspace(0, 1, PICTURE_POINTS).tolist(), share.tolist()


def _why(forms: list[FormComparedPart]) -> str:
    ranked = [f for f in forms if f.problem is None and f.left_out_error is not None]
    if not ranked:
        return "No form could be fitted to these rows."
    best = ranked[0]
    least = best.left_out_error or 0.0
    close = [
        f
        for f in ranked[1:]
        if (f.left_out_error or 0.0) <= least * (1 + MUCH_THE_SAME)
        and (f.parameters or 0) < (best.parameters or 0)
    ]
    said = (
        f"Rows left out lie nearest to the {best.label} fitted without them "
        f"(root mean square {least:.4g})"
    )
    line = next((f for f in ranked if FAMILIES[f.family].least_squares_line), None)
    if line is not None and line is not best and line.left_out_error:
        said += f", {percent(1 - least / line.left_out_error)} nearer than to the straight line"
    if close:
        simplest = min(close, key=lambda f: f.parameters or 0)
        same = [f.label for f in close if f.parameters == simplest.parameters]
        said += f". The {joined(same)} {'does' if len(same) == 1 else 'do'} as well within 1\u00a0%, with fewer coefficients"
    return said + "."

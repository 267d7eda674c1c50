"""Forms of trend compared on the same rows."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from pydantic import BaseModel, ConfigDict

from yarrowdew.core.diagnostics import left_out_error
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Sample
from yarrowdew.core.trends import TrendFit, fit_trend
from yarrowdew.figures.document import FigureDocument
from yarrowdew.figures.parts import Form
from yarrowdew.figures.report import Number, family_label
from yarrowdew.figures.shown import shown_of
from yarrowdew.figures.trends import fits_of, groups_of
from yarrowdew.figures.words import joined, percent
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.filters import kept_rows
from yarrowdew.tables.table import Table

PICTURE_POINTS = 49
MUCH_THE_SAME = 0.01
"""Errors within so large a share of the least are as good as the same."""


class ComparisonAsked(BaseModel):
    """Which rows the forms are compared on: those of one line of a trend."""

    model_config = ConfigDict(extra="forbid", use_attribute_docstrings=True)

    document: FigureDocument
    trend: int = 0
    group: str | None = None
    """The category whose rows are fitted; null for the whole."""


class FormCompared(BaseModel):
    """One form, and how well it does."""

    model_config = ConfigDict(use_attribute_docstrings=True)

    family: str
    form: Form
    label: str
    left_out_error: Number = None
    """Root mean square distance of rows from the trend fitted without them."""
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


class Comparison(BaseModel):
    """Every form that applies, the best first."""

    model_config = ConfigDict(use_attribute_docstrings=True)

    n: int
    forms: list[FormCompared]
    why: str
    """Which is best, by what, and which does nearly as well with less."""


CANDIDATES: tuple[tuple[str, str, dict[str, object]], ...] = (
    ("straight", "straight line", {}),
    ("polynomial", "parabola", {"degree": 2}),
    ("polynomial", "cubic", {"degree": 3}),
    ("logarithmic", "logarithmic curve", {}),
    ("exponential", "exponential curve", {}),
    ("power", "power law", {}),
    ("s-curve", "S-curve", {}),
    ("local", "local smooth", {}),
    ("spline", "smoothing spline", {}),
    ("resistant", "resistant line", {}),
)


def compare(asked: ComparisonAsked, table: Table, progress: Callable[[float], None]) -> Comparison:
    """Fit every form to the rows of one line, and rank them by their left-out error.

    Raises
    ------
    TableError
        If there is no such trend or group.
    """
    document = asked.document
    if not 0 <= asked.trend < len(document.trends):
        raise TableError(f"The figure has no trend {asked.trend + 1}.", "Add a trend first.")
    if document.rows is not None:
        table = table.where(kept_rows(table, document.rows))
    shown = shown_of(document, table)
    trend = document.trends[asked.trend]
    aside = np.isin(shown.rows, document.set_aside)
    fits = fits_of(trend.model_copy(update={"read_off": []}), shown, groups_of(trend, shown), aside)
    one = next((f for f in fits if f.report.group == asked.group), None)
    if one is None:
        raise TableError(f"The trend has no line for '{asked.group}'.", "Choose one of its groups.")
    sample = one.sample
    forms = []
    for i, (family, label, settings) in enumerate(CANDIDATES):
        progress(i / len(CANDIDATES))
        forms.append(_form(family, label, Form.model_validate(settings), sample))
    progress(1.0)
    forms.sort(key=_rank)
    return Comparison(n=sample.n, forms=forms, why=_why(forms))


def _rank(form: FormCompared) -> tuple[bool, bool, float]:
    error = form.left_out_error
    return form.problem is not None, error is None, error or 0.0


def _form(family: str, label: str, form: Form, sample: Sample) -> FormCompared:
    out = FormCompared(family=family, form=form, label=label or family_label(family))
    try:
        fit = fit_trend(family, sample, form.settings())
    except FitError as error:
        return out.model_copy(update={"problem": str(error)})
    x, y = _picture(fit, sample)
    return FormCompared(
        family=family,
        form=form,
        label=label,
        left_out_error=left_out_error(fit, sample),
        aicc=fit.aicc,
        r_squared=fit.r_squared,
        residual_sd=fit.residual_sd,
        parameters=fit.parameters,
        x=x,
        y=y,
    )


def _picture(fit: TrendFit, sample: Sample) -> tuple[list[float], list[Number]]:
    at = np.linspace(*fit.x_range, PICTURE_POINTS)
    low, high = float(sample.y.min()), float(sample.y.max())
    share = (fit.predict(at) - low) / ((high - low) or 1.0)
    return np.linspace(0, 1, PICTURE_POINTS).tolist(), share.tolist()


def _why(forms: list[FormCompared]) -> str:
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
    line = next((f for f in ranked if f.family == "straight"), None)
    if line is not None and line is not best and line.left_out_error:
        said += f", {percent(1 - least / line.left_out_error)} nearer than to the straight line"
    if close:
        simplest = min(close, key=lambda f: f.parameters or 0)
        same = [f.label for f in close if f.parameters == simplest.parameters]
        said += f". The {joined(same)} {'does' if len(same) == 1 else 'do'} as well within 1\u00a0%, with fewer coefficients"
    return said + "."

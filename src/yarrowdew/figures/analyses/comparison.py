"""Trends compared by how well they predict rows that they were fitted without."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, Any

import numpy as np
from pydantic import ConfigDict, Field, TypeAdapter

from yarrowdew.core.errors import FitError
from yarrowdew.core.parallel import ParallelMap
from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends import FAMILIES, Candidate, Family, TrendFit, fit_trend
from yarrowdew.core.trends.families.formula import FAMILY as FORMULA
from yarrowdew.core.trends.families.formula import FormulaSettings
from yarrowdew.core.validation import (
    cross_validation_residuals,
    gain,
    root_mean_square,
    rows_to_validate,
    within_one_standard_error,
)
from yarrowdew.figures.document.families import FamilySettings, by_family
from yarrowdew.figures.document.formulas import SavedFormula
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.pipeline.fitting import fit_of
from yarrowdew.figures.pipeline.points import points_of
from yarrowdew.figures.pipeline.view import view_of
from yarrowdew.figures.text.words import joined, percent
from yarrowdew.figures.wire.base import Number, OnWire
from yarrowdew.tables.documented import Documented
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Table

PICTURE_POINTS = 49


class ComparisonRequest(Documented):
    """Which rows the trend types are compared on: those of one line."""

    model_config = ConfigDict(extra="forbid")

    document: FigureDocument
    trend: int = 0
    group: str | None = None
    """The category whose rows are fitted; null for the whole."""
    formulas: list[SavedFormula] = Field(default_factory=list, max_length=40)
    """Formulas that are compared along with the families."""


class FormComparedPart(OnWire):
    """One trend type, and how well it predicts."""

    family: str
    settings: FamilySettings

    label: str
    left_out_error: Number = None
    """Cross-validation error: root mean square residual of rows that were left out."""
    gain: Number = None
    """Share by which its mean squared error is below that of the straight line."""
    gain_se: Number = None
    """Standard error of that share."""
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
    validated: int = 0
    """Number of rows used for cross-validation, evenly along x."""
    is_clear: bool = False
    """Whether the best predicts left-out rows clearly better than the straight line."""
    forms: list[FormCompared]
    why: str
    """Which trend is best, by which measure, and which simpler one does nearly as well."""
    across: tuple[Number, Number] = (None, None)
    """Range of the data on both axes, which the small pictures show."""
    up: tuple[Number, Number] = (None, None)


def compare(
    asked: ComparisonRequest, table: Table, progress: Callable[[float], None]
) -> Comparison:
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
    made = []
    progress(0.0)
    rows = rows_to_validate(line.sample)
    fits = [partial(_form, family, candidate, line.sample, rows) for family, candidate in tried]
    for one in ParallelMap(fits, line.sample.n):
        made.append(one)
        progress(len(made) / len(tried))
    made.sort(key=_rank)
    forms = [form for form, _ in made]
    ranked = _Ranked(rows, [(form, off) for form, off in made if off is not None])
    ranked.tell_gains()
    return Comparison(
        n=line.sample.n,
        validated=rows.n,
        forms=forms,
        is_clear=ranked.is_clear,
        why=ranked.why(),
        across=_ends(line.sample.x, line.x.origin),
        up=_ends(line.sample.y, line.y.origin),
    )


def _ends(values: Array, origin: float) -> tuple[float | None, float | None]:
    if not len(values):
        return None, None
    return float(values.min()) + origin, float(values.max()) + origin


def _rank(made: tuple[FormComparedPart, Array | None]) -> tuple[bool, bool, float]:
    form, _ = made
    error = form.left_out_error
    return form.problem is not None, error is None, error or 0.0


def _form(
    family: Family[Any], candidate: Candidate[Any], sample: Sample, rows: Sample
) -> tuple[FormComparedPart, Array | None]:
    """Fit one form to all rows, and without each part of the rows that it is validated on."""
    out: dict[str, Any] = {
        "family": family.name,
        "settings": {name: getattr(candidate.settings, name) for name in family.declared()},
        "label": candidate.label,
    }
    try:
        fit = fit_trend(sample, family.name, candidate.settings)
    except FitError as error:
        return _COMPARED.validate_python(out | {"problem": str(error)}), None
    x, y = _picture(fit, sample)
    off = cross_validation_residuals(
        rows, lambda kept: fit_trend(kept, family.name, candidate.settings)
    )
    form = _COMPARED.validate_python(
        out
        | {
            "left_out_error": None if off is None else root_mean_square(rows, off),
            "aicc": fit.aicc,
            "r_squared": fit.r_squared,
            "residual_sd": fit.residual_sd,
            "parameters": fit.parameters,
            "x": x,
            "y": y,
        }
    )
    return form, None if form.left_out_error is None else off


_COMPARED: TypeAdapter[FormComparedPart] = TypeAdapter(FormCompared)


def _picture(fit: TrendFit, sample: Sample) -> tuple[list[float], list[Number]]:
    at = np.linspace(*fit.x_range, PICTURE_POINTS)
    low, high = float(sample.y.min()), float(sample.y.max())
    share = (fit.predict(at) - low) / ((high - low) or 1.0)
    return np.linspace(0, 1, PICTURE_POINTS).tolist(), share.tolist()


class _Ranked:
    """Forms that could be validated, the best first, and what that shows."""

    def __init__(self, rows: Sample, forms: list[tuple[FormComparedPart, Array]]) -> None:
        self._rows, self._forms = rows, forms
        self._line = next(
            (one for one in forms if FAMILIES[one[0].family].least_squares_line), None
        )
        self._gains = [
            None if self._line is None or form is self._line[0] else gain(rows, off, self._line[1])
            for form, off in forms
        ]

    def tell_gains(self) -> None:
        """Write into each form what it gains over the straight line."""
        for (form, _), found in zip(self._forms, self._gains, strict=True):
            if found is not None:
                form.gain, form.gain_se = found.share, found.se

    @property
    def is_clear(self) -> bool:
        """Whether the best is clearly better than the straight line, as the best of so many."""
        found = self._gains[0] if self._gains else None
        return found is not None and found.is_clear(sum(one is not None for one in self._gains))

    def why(self) -> str:
        """Say which form is best, by what, and which simpler one does as well."""
        if not self._forms:
            return "No trend could be fitted to these rows without some of them."
        best, _ = self._forms[0]
        found = self._gains[0]
        than = ""
        if self._line is not None and found is not None:
            than = f"; straight line {self._line[0].left_out_error or 0:.3g}"
        error = f"RMSE {best.left_out_error or 0:.3g}{than}"
        said = f"The {best.label} predicts left-out rows best ({error})."
        if found is None or self.is_clear:
            return " ".join(filter(None, (said, self._as_well())))
        share = f"{percent(found.share)} smaller" if found.share > 0 else "no smaller"
        return (
            f"No trend is clearly closer than the straight line. {said} Its mean squared error is "
            f"{share}, with a standard error of {percent(found.se)}."
        )

    def _as_well(self) -> str:
        """Name the simplest forms within one standard error of the best."""
        best, off = self._forms[0]
        simpler = [
            (form, other)
            for form, other in self._forms[1:]
            if (form.parameters or 0) < (best.parameters or 0)
        ]
        near = within_one_standard_error(self._rows, off, [other for _, other in simpler])
        close = [form for (form, _), is_near in zip(simpler, near, strict=True) if is_near]
        if not close:
            return ""
        least = min(form.parameters or 0 for form in close)
        labels = [form.label for form in close if form.parameters == least]
        does = "does" if len(labels) == 1 else "do"
        return (
            f"The {joined(labels)} {does} as well within one standard error, "
            f"with fewer coefficients."
        )

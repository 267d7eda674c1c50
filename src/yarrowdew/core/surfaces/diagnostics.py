"""What rows do in a surface: what they leave, whether they bend about it, and which pulls it."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import scipy

from yarrowdew.core.diagnostics import Diagnostics
from yarrowdew.core.errors import FitError
from yarrowdew.core.surfaces.surface import SINGULAR, SurfaceFit, Triples, fit_surface

_TELLING = 0.01
"""The p value below which a surface is said to bend."""
_BENDS_BY = 0.1
"""The share of the scatter that a bent surface has to take away to be worth saying."""


def diagnose_surface(fit: SurfaceFit, of: Triples) -> Diagnostics:
    """Work out what each row does in a fit: as for lines, but for a single slope's change."""
    fitted = fit.predict(of.x, of.y)
    residual = of.z - fitted
    leverage = fit.leverage(of)
    # A row that fixes the surface alone has nothing to be compared with.
    rest = np.where(leverage < 1 - SINGULAR, 1 - leverage, np.inf)
    studentised = residual / (fit.residual_sd * np.sqrt(rest)) if fit.sse > 0 else None
    cook = (
        None
        if studentised is None
        else np.asarray(studentised**2 * leverage / (rest * fit.parameters))
    )
    return Diagnostics(fitted, residual, leverage, studentised, cook, None)


@dataclass(frozen=True, slots=True)
class Bent:
    """How much less scatter a surface of second degree leaves than the plane."""

    share: float
    p_value: float


def bends(plane: SurfaceFit, of: Triples) -> Bent | None:
    """Whether the rows bend about a plane, by the F test of three further terms; None where not."""
    try:
        curved = fit_surface(of, 2)
    except FitError:
        return None
    if plane.sse <= 0 or curved.sse <= 0:
        return None
    f = ((plane.sse - curved.sse) / 3) / (curved.sse / curved.degrees_of_freedom)
    p = float(scipy.special.fdtrc(3, curved.degrees_of_freedom, max(f, 0.0)))
    share = 1 - math.sqrt(
        (curved.sse / curved.degrees_of_freedom) / (plane.sse / plane.degrees_of_freedom)
    )
    return Bent(share, p) if p < _TELLING and share > _BENDS_BY else None


@dataclass(frozen=True, slots=True)
class Pulls:
    """A row without which a slope is another one.

    Attributes
    ----------
    row : int
        Its place among the rows fitted.
    slope : int
        Which of the slopes it moves most: 0 for that along x, 1 for that along y.
    by : float
        How far, in its standard errors.
    """

    row: int
    slope: int
    by: float


def pulls(fit: SurfaceFit, of: Triples) -> Pulls | None:
    """Find the row that moves a slope most, if it moves it by more than its standard error."""
    if fit.sse <= 0:
        return None
    moved = np.nan_to_num(np.abs(fit.shifts(of))[:, :2])
    row, slope = np.unravel_index(int(moved.argmax()), moved.shape)
    by = float(moved[row, slope])
    return Pulls(int(row), int(slope), by) if by > 1 else None

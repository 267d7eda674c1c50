"""Which points of a figure are named, and how."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from pydantic import BaseModel, ConfigDict

from yarrowdew.core.outlying import distance_from_middle
from yarrowdew.core.sample import Array
from yarrowdew.figures.document import FigureDocument
from yarrowdew.figures.report import Fitted
from yarrowdew.figures.shown import Shown
from yarrowdew.tables.kinds import as_text

MOST_NAMES = 2_000


class NamesAnswer(BaseModel):
    """Names on points, the one that matters most first."""

    model_config = ConfigDict(use_attribute_docstrings=True)

    rows: list[int]
    """Numbers of the rows that are named."""
    texts: list[str]


def named(
    document: FigureDocument, shown: Shown, drawn: np.ndarray, fits: Sequence[Fitted]
) -> NamesAnswer | None:
    """Choose the points that are named, and say their names; rows without a name have none."""
    names = document.names
    if names is None:
        return None
    variable = shown.table.variable(names.variable)
    if names.show == "chosen":
        places = drawn[np.isin(shown.rows[drawn], names.rows)]
    elif names.show == "all":
        places = drawn[:MOST_NAMES]
    else:
        far = _from_trend(shown, fits) if names.show == "furthest" else None
        if far is None:
            far = np.full(shown.table.rows, np.nan)
            far[drawn] = distance_from_middle(shown.x.values[drawn], shown.y.values[drawn])
        known = drawn[np.isfinite(far[drawn])]
        places = known[np.argsort(-far[known], kind="stable")[: names.count]]
    texts = as_text(shown.table.frame[variable.name][places.tolist()]).to_list()
    pairs = [
        (row, text)
        for row, text in zip(shown.rows[places].tolist(), texts, strict=True)
        if text is not None
    ]
    return NamesAnswer(rows=[row for row, _ in pairs], texts=[text for _, text in pairs])


def _from_trend(shown: Shown, fits: Sequence[Fitted]) -> Array | None:
    """Return residuals in units of their own line's standard deviation; None without a line."""
    far = np.full(shown.table.rows, np.nan)
    for fitted in fits:
        if fitted.fit is None:
            continue
        rows = fitted.sample.rows
        residuals = np.abs(fitted.sample.y - fitted.fit.predict(fitted.sample.x))
        sd = fitted.fit.residual_sd
        scaled = residuals / sd if sd else residuals
        # Where a row belongs to several lines, the first counts.
        far[rows] = np.where(np.isnan(far[rows]), scaled, far[rows])
    return far if np.isfinite(far).any() else None

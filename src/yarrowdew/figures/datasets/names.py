"""Names on rows of a dataset that are seen from near."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from yarrowdew.core.aggregates.view_rows import Gathered
from yarrowdew.core.mahalanobis import distance_from_middle
from yarrowdew.core.sample import Array
from yarrowdew.figures.datasets.cache import SMALL_BYTES, cached_per_dataset
from yarrowdew.figures.document.marks import Names
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.pipeline.fitting import Fitted
from yarrowdew.figures.pipeline.naming import MOST_NAMES, NamesAnswer, with_chosen
from yarrowdew.tables.datasets import Dataset
from yarrowdew.tables.kinds import as_text


def names_near(
    names: Names,
    dataset: Dataset,
    rows: Gathered,
    axes: tuple[AxisValues, AxisValues],
    lines: Sequence[Fitted],
) -> NamesAnswer:
    """Choose which of the rows in view are named, and read their names alone.

    Parameters
    ----------
    names : Names
    dataset : Dataset
    rows : Gathered
        In view.
    axes : tuple of AxisValues
        Across and up.
    lines : sequence of Fitted
        Of the first trend.
    """
    variable = dataset.head.called(names.variable)
    x, y = rows.columns["x"], rows.columns["y"]
    chosen = np.flatnonzero(np.isin(rows.places, names.rows))
    if names.show == "all":
        chosen = np.arange(min(len(x), MOST_NAMES))
    elif names.show != "chosen":
        far = _off_lines(rows, axes, lines) if names.show == "furthest" else None
        if names.show == "largest":
            far = y
        far = distance_from_middle(x, y) if far is None else far
        chosen = with_chosen(chosen, np.flatnonzero(np.isfinite(far)), far, names.count)
    places = tuple(rows.places[chosen].tolist())
    texts = cached_per_dataset(
        dataset,
        ("names", variable.name, places),
        lambda: as_text(dataset.rows_at(places, [variable.name]).frame[variable.name]).to_list(),
        lambda found: SMALL_BYTES + 64 * len(found),
    )
    pairs = [(place, text) for place, text in zip(places, texts, strict=True) if text is not None]
    return NamesAnswer(rows=[row for row, _ in pairs], texts=[text for _, text in pairs])


def _off_lines(
    rows: Gathered, axes: tuple[AxisValues, AxisValues], lines: Sequence[Fitted]
) -> Array | None:
    """Distances from their own line in units of its scatter; None where there is none."""
    far = np.full(len(rows.places), np.nan)
    groups = rows.columns.get("group")
    x, y = (rows.columns[name] - axis.origin for name, axis in zip("xy", axes, strict=True))
    for line in lines:
        if line.fit is None:
            continue
        own = np.full(len(far), fill_value=True)
        if line.group is not None:
            if groups is None:
                continue
            own = groups == line.group
        with np.errstate(all="ignore"):
            left = np.abs(y[own] - line.fit.predict(x[own]))
            sd = line.fit.residual_sd
            far[own] = left / sd if sd else left
    return far if np.isfinite(far).any() else None

"""Cautions about rows: values that are missing at one end, heavy tails, and hidden marks."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

import numpy as np

from yarrowdew.core.cautions import (
    MANY_ON_ONE_PLACE,
    heavy_tails,
    may_hide,
    share_hidden,
    uneven_missing,
)
from yarrowdew.core.register import documented
from yarrowdew.core.sample import Array
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.text.words import (
    TELLING,
    in_sentence,
    number,
    percent,
)
from yarrowdew.figures.wire.reports import Caution


@documented(
    "cautions",
    "… is missing mostly where …",
    "a binomial test, p < 0.01",
    "1 %",
)
def missing_caution(x: AxisValues, y: AxisValues) -> list[Caution]:
    """Find rows that are missing in one variable mostly at one end of the other."""
    out = []
    for held, of in ((x, y), (y, x)):
        found = uneven_missing(held.values, of.values)
        if found is None:
            continue
        low, high = found
        where = "low" if low > high else "high"
        out.append(
            Caution(
                title=f"{of.variable.label} is missing mostly where {in_sentence(held.variable)} "
                f"is {where}",
                text=f"It is missing in {percent(low)} of the rows of the lower half and in "
                f"{percent(high)} of the upper half: the remaining rows may be biased.",
            )
        )
    return out


@documented(
    "cautions",
    "Many points overlap",
    "20 % of marks exactly on another",
    "whenever it is so",
)
def crowding_caution(x: Array, y: Array) -> list[Caution]:
    """Find many marks on one place."""
    if not may_hide(x, y, MANY_ON_ONE_PLACE):
        return []
    share = share_hidden(x, y)
    if share < MANY_ON_ONE_PLACE:
        return []
    return [
        Caution(
            title="Many points overlap",
            text=f"{percent(share)} of points lie exactly on top of another, so you see fewer than "
            "there are. With more transparent points, places with many are darker.",
            remedy="thin_marks",
        )
    ]


@documented(
    "cautions",
    "The interval of r may be too short",
    "excess kurtosis of x or y above 2, p < 0.001 (Anscombe and Glynn 1983), and r clear; Fisher’s interval then covers 72 to 92 %",
    "below 0.6 %",
)
def tails_caution(
    p_value: float | None, values: Mapping[str, Array], *, group: str | None = None
) -> list[Caution]:
    """Find variables whose tails make Fisher's interval of r too short.

    It is right for any margins where nothing goes together, and is then not cautioned.

    Parameters
    ----------
    p_value : float or None
        Of the correlation.
    values : mapping of str to ndarray
        Of both variables, by what they are called in a sentence.
    group : str, optional
    """
    if p_value is None or p_value >= TELLING:
        return []
    tails = {
        name: kurtosis
        for name, held in values.items()
        if (kurtosis := heavy_tails(held)) is not None
    }
    if not tails:
        return []
    return [
        Caution(
            title="The interval of r may be too short",
            text=f"It supposes that both variables are close to normal, and {' and '.join(tails)} "
            f"{'has' if len(tails) == 1 else 'have'} heavy tails (excess kurtosis "
            f"{' and '.join(number(one, 1) for one in tails.values())}). In simulations of such "
            "tails 95 % intervals covered 72 to 92 %. Take logarithms, or Spearman’s ρ.",
            group=group,
        )
    ]


def tailed_variables(clear: Iterable[tuple[str, str]], values: Mapping[str, Array]) -> list[str]:
    """Name the variables of some pairs whose tails make Fisher's intervals of r too short.

    Parameters
    ----------
    clear : iterable of pairs of str
        The pairs that clearly go together: of others the interval is right for any margins.
    values : mapping of str to ndarray
        Of every variable; NaN where missing.
    """
    names = dict.fromkeys(name for pair in clear for name in pair)
    known = {name: values[name][np.isfinite(values[name])] for name in names}
    return [name for name, held in known.items() if heavy_tails(held) is not None]

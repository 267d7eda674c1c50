"""A distribution of a dataset: the same descriptions as of values, without a mark for each row."""

from __future__ import annotations

from yarrowdew.core.distributions.chunked import (
    ChunkedSpreads,
    DistributionRequest,
    PartsSpread,
    describe_chunked,
)
from yarrowdew.figures.datasets.answer_parts import axis_of, colour_of, not_shown
from yarrowdew.figures.datasets.cache import SMALL_BYTES, cached_per_dataset
from yarrowdew.figures.datasets.groups import groups_in
from yarrowdew.figures.datasets.marks import no_marks
from yarrowdew.figures.datasets.request import DatasetRequest
from yarrowdew.figures.document.distribution import Distribution
from yarrowdew.figures.kinds.base import KindAnswer
from yarrowdew.figures.kinds.distribution.descriptions import (
    GroupValues,
    Shared,
    few_different,
    spreads_of,
)
from yarrowdew.figures.kinds.distribution.table import (
    MOST_GROUPS,
    in_lanes,
    part_of,
    width_problems,
)
from yarrowdew.figures.kinds.distribution.words import spread_cautions
from yarrowdew.figures.pipeline.answer_models import AnswerBase, AxisAnswer, RowsNotDrawn
from yarrowdew.figures.pipeline.answer_models import Counts as RowCounts
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.figures.text.words import count_of, in_sentence

_BYTES = 24_576
"""Of what is kept of a group."""


def answer(asked: DatasetRequest) -> KindAnswer:
    """Describe every group, compare their means, and say what that says."""
    shown = part_of(asked.document)
    view, dataset = asked.view, asked.view.dataset
    axis = view.axis(shown.variable, "the variable of a distribution")
    groups = None
    if shown.by is not None:
        most = "of which so many at most stand side by side"
        groups = groups_in(shown.by, view, asked.categories, MOST_GROUPS, most)
    wanted = DistributionRequest(
        axis.variable.name,
        None if groups is None else groups.variable.name,
        view.near(axis.variable.name),
        shown.level,
        shown.bin_width,
        shown.bin_start,
        shown.bandwidth,
    )
    found = cached_per_dataset(
        dataset,
        wanted,
        lambda: describe_chunked(view.total, wanted),
        lambda made: SMALL_BYTES + _BYTES * len(made.groups),
    )
    held = _group_values(shown, found, groups)
    colours = _colours(asked, groups)
    shared = Shared(found.step, found.start, found.bandwidth)
    part = spreads_of(shown, axis, held, groups, colours=colours, shared=shared)
    far = sum(one.far for one in found.groups.values())
    if far and shown.box:
        part.sentences.append(
            f"{count_of(far, 'row')} {'lies' if far == 1 else 'lie'} beyond the whiskers."
        )
    drawn = sum(one.spread.n for one in found.groups.values())
    labels = None if groups is None else view.labels(groups.variable.name).counts
    ends = _axis(axis, found)
    common = AnswerBase(
        table=dataset.name,
        x=ends,
        y=ends,
        colour=None if colours is None else colour_of(colours, labels or {}),
        counts=RowCounts(
            rows=dataset.rows,
            filtered=dataset.rows - drawn - found.missing - found.without_group,
            drawn=drawn,
            set_aside=0,
            not_drawn=_not_drawn(axis, groups, found),
        ),
        cautions=spread_cautions(axis.variable, held, groups),
        problems=[
            *width_problems(shown, part),
            *not_shown(asked.document),
            *_left_out(asked),
        ],
    )
    return KindAnswer(common, part, no_marks("group"))


def _group_values(
    shown: Distribution, found: ChunkedSpreads, groups: Groups | None
) -> list[GroupValues]:
    """Every group that has values, in the order in which they are shown."""
    if groups is None:
        return [_group(None, None, one) for one in found.groups.values()]
    held = [
        _group(label, code, found.groups[look.value])
        for code, (label, look) in enumerate(zip(groups.labels, groups.looks, strict=True))
        if look.value in found.groups
    ]
    return in_lanes(shown, held)


def _group(label: str | None, code: int | None, one: PartsSpread) -> GroupValues:
    n = one.spread.n
    # Of so few different values most occur more than once.
    alike = 1 - one.distinct / n if few_different(one.distinct, n) else 0.0
    return GroupValues(label, code, one.spread, one.bars, one.curve, [], lambda: alike, None)


def _colours(asked: DatasetRequest, groups: Groups | None) -> Groups | None:
    """The groups, where they are coloured."""
    colour = asked.document.colour
    same = groups is not None and colour is not None and colour.variable == groups.variable.name
    return groups if same else None


def _left_out(asked: DatasetRequest) -> list[str]:
    shown, colour = part_of(asked.document), asked.document.colour
    out = []
    if colour is not None and colour.variable != shown.by:
        out.append(
            f"Points would be coloured by {colour.variable}; the rows of a dataset are not drawn "
            "one by one here."
        )
    if shown.by is not None:
        out.append("Ranks need all rows together: only means are compared.")
    return out


def _axis(axis: AxisValues, found: ChunkedSpreads) -> AxisAnswer:
    spreads = [one.spread for one in found.groups.values()]
    low = min((one.low for one in spreads), default=1.0)
    return axis_of(axis, (low, max((one.high for one in spreads), default=0.0)))


def _not_drawn(
    axis: AxisValues, groups: Groups | None, found: ChunkedSpreads
) -> list[RowsNotDrawn]:
    out = []
    if found.missing:
        out.append(RowsNotDrawn.lacking(in_sentence(axis.variable), found.missing))
    if groups is not None and found.without_group:
        out.append(RowsNotDrawn.lacking(in_sentence(groups.variable), found.without_group))
    return out

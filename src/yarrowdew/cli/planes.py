"""What `fit` does where a third variable is named: z against x and y."""

from __future__ import annotations

from typing import Any

import typer

from yarrowdew.cli.options import print_json
from yarrowdew.core.errors import FitError
from yarrowdew.figures.datasets.view import DatasetView
from yarrowdew.figures.document.space import Plane, PlaneReadOff
from yarrowdew.figures.kinds.space.planes import FAMILY, PlaneReport, planes_of, report_of
from yarrowdew.figures.kinds.space.words import Axes3, FittedPlane
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.figures.text.words import GAP, MINUS, p_text
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.table import Table

DEGREES = ("1", "2")


def fit_plane(
    source: Table | DatasetView,
    names: tuple[str, str, str],
    *,
    by: str | None,
    degree: str | None,
    level: float,
    at: list[str],
    as_json: bool,
) -> None:
    """Fit a plane of z against x and y in a table or a dataset, and print what it says.

    Raises
    ------
    TableError, FitError
        If a variable has no place on an axis, or there is no plane.
    """
    if (degree or "1") not in DEGREES:
        raise TableError(
            f"A surface has degree 1 or 2, not '{degree}'.", "Leave --degree out for a plane."
        )
    table = source if isinstance(source, Table) else source.dataset.head
    across, depth, up = (
        AxisValues.of(source, table.called(name).name, place)
        if isinstance(source, Table)
        else source.axis(name, place)
        for name, place in zip(
            names, ("the x variable", "the y variable", "the z variable"), strict=True
        )
    )
    axes = Axes3(across, depth, up)
    plane = Plane(
        degree=2 if degree == "2" else 1,
        level=level,
        by=None if by is None else table.called(by).name,
        read_off=[_place(axes, text) for text in at],
    )
    reports = [
        report_of(axes, plane, one, letters=("x", "y", "z"), style="plain")
        for one in _planes(source, axes, plane)
    ]
    if all(report.problem for report in reports):
        raise FitError(reports[0].problem or f"'{by}' has no value in any row.")
    if as_json:
        print_json({"fits": [_plain(report) for report in reports]})
        return
    for report in reports:
        typer.echo(_text(report, axes))


def _planes(source: Table | DatasetView, axes: Axes3, plane: Plane) -> list[FittedPlane]:
    if isinstance(source, Table):
        groups = None if plane.by is None else Groups.of(source, plane.by)
        return planes_of(axes, plane, groups, None)
    from yarrowdew.figures.kinds.space.dataset import planes_of_dataset  # noqa: PLC0415 (few are)

    return planes_of_dataset(source, axes, plane, source.dataset.head)


def _place(axes: Axes3, text: str) -> PlaneReadOff:
    parts = text.split(",")
    if len(parts) != 2:
        raise TableError(
            f"'{text}' is not a place on two axes.",
            "Write x and y with a comma between: --at 80,3.",
        )
    across, depth = (
        axis.asked(part.strip()) + axis.origin
        for axis, part in zip((axes.across, axes.depth), parts, strict=True)
    )
    return PlaneReadOff(across=across, depth=depth)


def _plain(report: PlaneReport) -> dict[str, Any]:
    """The report with the keys that every fit has."""
    held = report.model_dump(mode="json", exclude={"surface", "group_code", "family_label"})
    held["readings"] = [
        {
            "x": r.across,
            "y": r.depth,
            "z": r.up,
            "mean_low": r.mean_low,
            "mean_high": r.mean_high,
            "new_low": r.new_low,
            "new_high": r.new_high,
            "carried_on": r.carried_on,
        }
        for r in report.readings
    ]
    return {"family": FAMILY, **held, "r": None, "solutions": []}


def _text(report: PlaneReport, axes: Axes3) -> str:
    x, y, z = (axis.variable.label for axis in (axes.across, axes.depth, axes.up))
    title = f"{z} against {x.lower()} and {y.lower()}"
    lines = [title if report.group is None else f"{title}, {report.group}"]
    if report.problem:
        return "\n".join([*lines, f"  {report.problem}", ""])
    lines.append(f"  {report.equation}")
    if report.equation_note:
        lines.append(f"  ({report.equation_note})")
    parts = [f"n = {report.n:,}"]
    if report.r_squared is not None:
        parts.append(f"R² = {report.r_squared:.4g}")
    if report.f is not None and report.p_value is not None:
        parts.append(
            f"F({report.df_fit:g}, {report.degrees_of_freedom:,.0f}) = {report.f:.4g}, "
            f"{p_text(report.p_value)}"
        )
    if report.residual_sd is not None:
        parts.append(f"residual SD = {report.residual_sd:.4g}")
    lines.append("  " + ", ".join(parts))
    lines += [
        f"  {c.name} = {c.value:.6g} ({100 * report.level:g} % interval {c.low:.6g} to {c.high:.6g})"
        for c in report.coefficients
    ]
    for r in report.readings:
        carried = ", outside the data" if r.carried_on else ""
        lines.append(
            f"  at x = {_shown(r.across)}, y = {_shown(r.depth)}: z = {_shown(r.up)} "
            f"(mean {_shown(r.mean_low)} to {_shown(r.mean_high)}, a new row "
            f"{_shown(r.new_low)} to {_shown(r.new_high)}{carried})"
        )
    lines.append(f"  {report.sentence.replace(GAP, ' ').replace(MINUS, '-')}")
    return "\n".join(lines) + "\n"


def _shown(value: float | str | None) -> str:
    if value is None:
        return "open"
    return value if isinstance(value, str) else f"{value:.6g}"

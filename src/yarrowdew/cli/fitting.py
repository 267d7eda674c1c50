"""The command that fits a trend; what can be set about a family is an option of it."""

from __future__ import annotations

import inspect
from collections.abc import Callable, Collection, Iterator, Sequence
from dataclasses import dataclass, fields, replace
from typing import Annotated, Any, get_args

import numpy as np
import typer

from yarrowdew.cli.options import (
    EngineOption,
    FileArgument,
    JsonOption,
    SheetOption,
    print_json,
)
from yarrowdew.cli.planes import fit_plane
from yarrowdew.core.errors import FitError
from yarrowdew.core.intervals import check_level
from yarrowdew.core.sample import Array
from yarrowdew.core.trends import FAMILIES, family_of
from yarrowdew.core.trends.protocol import BandKind, Errors, present_errors
from yarrowdew.core.weights import WeightsAre
from yarrowdew.figures.cautions.trend import plain_cautions, trend_cautions
from yarrowdew.figures.datasets.view import DatasetView, view_of_dataset
from yarrowdew.figures.kinds.space.planes import FAMILY as PLANE
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.pipeline.differences import DifferenceAnswer, differences_of
from yarrowdew.figures.pipeline.fitting import (
    FitRequest,
    Fitted,
    ReadOffs,
    cluster_codes,
    fit_groups,
    made_parallel,
    weights_of,
)
from yarrowdew.figures.pipeline.groups import Groups
from yarrowdew.figures.pipeline.readings import Reading, reading_of
from yarrowdew.figures.pipeline.slopes import adjusted_means, slopes_between
from yarrowdew.figures.text.words import GAP, MINUS, p_text
from yarrowdew.figures.wire.base import OnWire
from yarrowdew.figures.wire.reports import Caution, FitReport, Remedy, SlopesAnswer
from yarrowdew.tables.dataset_paths import is_dataset
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading import ReadOptions, read_file
from yarrowdew.tables.table import Kind, Table, axis_values

BANDS: dict[str, BandKind] = {"pointwise": "confidence", "whole-line": "whole line"}
"""What each kind of band is called on the command line."""


WEIGHTS_ARE: dict[str, WeightsAre] = {
    "precisions": "weights",
    "counts": "counts",
    "standard-errors": "standard_errors",
}
"""What weights are called on the command line."""


def fit(
    *,
    file: FileArgument,
    x: Annotated[str, typer.Option(help="x variable.", show_default=False)],
    y: Annotated[str, typer.Option(help="y variable.", show_default=False)],
    z: Annotated[
        str | None,
        typer.Option(help=f"z variable, fitted against x and y by a {PLANE}."),
    ] = None,
    family: Annotated[
        str | None,
        typer.Option(help=f"Trend type: {', '.join(FAMILIES)}; {PLANE} where there is a z."),
    ] = None,
    by: Annotated[
        str | None, typer.Option(help="Fit a line to each category of this variable.")
    ] = None,
    common_slope: Annotated[
        bool, typer.Option("--common-slope", help="Give the lines of --by one slope.")
    ] = False,
    weights: Annotated[str | None, typer.Option(help="Variable that holds the weights.")] = None,
    weights_are: Annotated[
        str, typer.Option(help=f"What the weights are: {', '.join(WEIGHTS_ARE)}.")
    ] = next(iter(WEIGHTS_ARE)),
    x_error: Annotated[
        str | None, typer.Option(help="Variable of standard errors of x, for errors-in-variables.")
    ] = None,
    y_error: Annotated[
        str | None, typer.Option(help="Variable of standard errors of y, for errors-in-variables.")
    ] = None,
    level: Annotated[float, typer.Option(help="Confidence level of every interval.")] = 0.95,
    errors: Annotated[
        str,
        typer.Option(
            help="Standard errors: equal (constant variance), hc3 (unequal variance), cluster (rows "
            "that belong together), bootstrap, or given (those of y that the weights hold)."
        ),
    ] = "equal",
    cluster: Annotated[
        str | None, typer.Option(help="Variable whose equal values mark rows that belong together.")
    ] = None,
    bootstrap: Annotated[
        int | None,
        typer.Option(help="Number of bootstrap resamples; asks for bootstrap intervals."),
    ] = None,
    seed: Annotated[int, typer.Option(help="Random seed of the bootstrap.", min=0)] = 1,
    band: Annotated[
        str, typer.Option(help=f"Confidence band that --at reads: {', '.join(BANDS)}.")
    ] = next(iter(BANDS)),
    start: Annotated[
        list[str] | None,
        typer.Option(help="Starting value of a parameter of a formula: b1=500; may be repeated."),
    ] = None,
    at: Annotated[
        list[str] | None, typer.Option(help="Read off y at this x; may be repeated.")
    ] = None,
    solve: Annotated[
        list[str] | None,
        typer.Option(help="Find the x at which the trend reaches this y; may be repeated."),
    ] = None,
    sheet: SheetOption = None,
    engine: EngineOption = None,
    as_json: JsonOption = False,
    **settings: Any,
) -> None:
    """Fit a trend line to two variables of a file."""
    check_level(level)
    errors = _standard_errors(errors, bootstrap)
    _check_choice(f"There is no band '{band}'.", band, BANDS)
    _check_choice(f"Weights cannot be {weights_are}.", weights_are, WEIGHTS_ARE)
    if is_dataset(file):
        _check_of_dataset(
            cluster=cluster, weights=weights, x_error=x_error, y_error=y_error, sheet=sheet
        )
        source: Table | DatasetView = view_of_dataset(file, engine)
    else:
        source = read_file(file, ReadOptions(sheet=sheet)).table
    given = {name: value for name, value in settings.items() if value is not None}
    if z is not None or family == PLANE:
        unused = [name for name, value in (("weights", weights), ("solve", solve)) if value]
        _check_plane(family, z, [*unused, *(name for name in given if name != "degree")])
        fit_plane(
            source,
            (x, y, z or ""),
            by=by,
            degree=settings.get("degree"),
            level=level,
            at=at or [],
            as_json=as_json,
        )
        return
    chosen = family_of(family or next(iter(FAMILIES)))
    across, up = _axis(source, x, "the x variable"), _axis(source, y, "the y variable")
    request = FitRequest(
        family=chosen,
        settings=_starting(chosen.settings_of(given), start),
        level=level,
        read_off=lambda _: ReadOffs(
            at=[(across.asked(text), None) for text in at or ()],
            levels=[(up.asked(text), None) for text in solve or ()],
        ),
        style="plain",
        errors=errors,
        seed=seed,
        resamples=bootstrap,
        band=BANDS[band],
    )
    if isinstance(source, Table):
        lines = fit_groups(
            request,
            across,
            up,
            groups=None if by is None else Groups.of(source, source.called(by).name),
            weights=weights_of(
                None if weights is None else source.called(weights).name,
                WEIGHTS_ARE[weights_are],
                source,
                errors,
            ),
            errors=_errors(source, x_error, y_error),
            clusters=_clusters(source, cluster, errors),
        )
    else:
        lines = source.fit(
            request, across, up, None if by is None else source.dataset.head.called(by).name
        )
    own = lines
    if common_slope:
        if by is None:
            raise FitError("A common slope is one of groups.", "Name their variable with --by.")
        lines = made_parallel(own, is_plain=weights is None and errors == "equal")
    readings = [reading_of(line) for line in lines]
    reports = [one.report for one in readings]
    if all(report.problem for report in reports):
        raise FitError(reports[0].problem or f"'{by}' has no value in any row.")
    found = _Found(
        reports,
        slopes=[] if by is None else _slopes(own, lines, by, level),
        differences=differences_of(0, reports, across.variable, up.variable),
        cautions=[] if common_slope else _cautions(source, readings, request, across),
    )
    if as_json:
        print_json(found.as_json())
        return
    for report in reports:
        typer.echo(_fit_text(report, across, up))
    for sentence in found.sentences():
        typer.echo(sentence.replace(GAP, " ").replace(MINUS, "-"))


def _slopes(own: list[Fitted], shown: list[Fitted], by: str, level: float) -> list[SlopesAnswer]:
    """Compare slopes as each group has its own, and say adjusted means of lines made parallel."""
    found = slopes_between(0, [(line.group or "", line.fit) for line in own], by, level)
    if found and shown is not own:
        found[0].adjusted = adjusted_means(shown, level)
    return found


def _check_choice(wrong: str, choice: str, choices: Collection[str]) -> None:
    if choice not in choices:
        raise FitError(wrong, f"Choose one of: {', '.join(choices)}.")


def _standard_errors(errors: str, bootstrap: int | None) -> Errors:
    """Tell how standard errors are found, where --bootstrap may say so, too."""
    errors = present_errors(errors)
    if bootstrap is not None and errors not in ("equal", "bootstrap"):
        raise FitError(
            f"--bootstrap and --errors {errors} are two ways to find one interval.",
            "Leave one of them out.",
        )
    choices = get_args(Errors)
    _check_choice(f"There are no intervals of the kind '{errors}'.", errors, choices)
    return "bootstrap" if bootstrap is not None else errors


def _axis(source: Table | DatasetView, name: str, place: str) -> AxisValues:
    if isinstance(source, Table):
        return AxisValues.of(source, source.called(name).name, place)
    return source.axis(name, place)


def _cautions(
    source: Table | DatasetView,
    readings: Sequence[Reading],
    request: FitRequest,
    across: AxisValues,
) -> list[Caution]:
    if not isinstance(source, Table):
        return plain_cautions(readings)
    return trend_cautions(
        readings,
        np.arange(source.rows),
        request.family,
        request.settings,
        dated=across.variable.kind is Kind.DATE,
    )


@dataclass(frozen=True, slots=True)
class _Found:
    """What the fits of a command say."""

    reports: list[FitReport]
    slopes: list[SlopesAnswer]
    differences: list[DifferenceAnswer]
    cautions: list[Caution]

    def as_json(self) -> dict[str, Any]:
        """Everything, as `--json` prints it."""
        named: dict[str, Sequence[OnWire]] = {
            "fits": self.reports,
            "slopes": self.slopes,
            "differences": self.differences,
            "cautions": self.cautions,
        }
        return {name: [one.model_dump(mode="json") for one in each] for name, each in named.items()}

    def sentences(self) -> Iterator[str]:
        """What is said beside the fits themselves."""
        for found in self.slopes:
            if found.adjusted:
                yield found.adjusted
            yield found.sentence
            yield from (pair.sentence for pair in found.pairs)
        yield from (found.sentence for found in self.differences)
        for caution in self.cautions:
            yield f"Caution: {caution.title}. {caution.text}{_remedy(caution)}"


_REMEDIES: dict[Remedy, str] = {
    "fit_each": "Fit each group with --by.",
    "compare": "Try another --family.",
    "allow_unequal": "Add --errors hc3.",
    "resample": "Add --bootstrap 400.",
    "cluster": "Add --errors cluster --cluster VARIABLE.",
    "thin_marks": "",
}


def _remedy(caution: Caution) -> str:
    """What helps, as an option."""
    helps = "" if caution.remedy is None else _REMEDIES[caution.remedy]
    return f" {helps}" if helps else ""


def _check_of_dataset(**given: str | None) -> None:
    """Refuse what needs the rows of a dataset together."""
    for name, value in given.items():
        if value is not None:
            raise FitError(
                f"--{name.replace('_', '-')} is not available for a dataset, which is read in chunks.",
                "Leave it out, or write a part of the rows as one file.",
            )


def _starting(settings: Any, start: list[str] | None) -> Any:
    """Say where the search for parameters begins, where a family searches."""
    if not start:
        return settings
    if "start" not in {one.name for one in fields(settings)}:
        raise FitError("This form finds its line without a start.", "Leave --start out.")
    return replace(settings, start=", ".join(start))


def _check_plane(family: str | None, z: str | None, left: list[str]) -> None:
    """Say what does not go with a plane."""
    if z is None:
        raise TableError("A plane needs a third variable.", "Name it with --z.")
    if family not in (None, PLANE):
        raise TableError(
            f"Three variables are fitted by a {PLANE}, not by '{family}'.", "Leave --family out."
        )
    if left:
        raise TableError(f"A {PLANE} knows no --{left[0].replace('_', '-')}.", "Leave it out.")


def _errors(table: Table, x: str | None, y: str | None) -> tuple[Array, Array] | None:
    """Standard errors of both variables."""
    if x is None and y is None:
        return None
    if x is None or y is None:
        raise TableError("Errors of one variable alone do not fit a line.", "Name those of both.")
    return _numbers(table, x), _numbers(table, y)


def _clusters(table: Table, name: str | None, errors: Errors) -> np.ndarray | None:
    """What each row belongs to."""
    if (name is None) is (errors == "cluster"):
        raise TableError(
            "Standard errors by cluster need the variable that says which rows belong together."
            if name is None
            else "A variable of clusters is for standard errors by cluster.",
            "Use --errors cluster together with --cluster.",
        )
    return None if name is None else cluster_codes(table, table.called(name).name)


def _numbers(table: Table, name: str) -> Array:
    weighing = table.axis_variable(table.called(name).name, "a variable of weights")
    return axis_values(table.frame[weighing.name])


def with_settings(command: Callable[..., None]) -> Callable[..., None]:
    """Give a command an option for everything that can be set about some family."""
    offered: dict[str, tuple[str, list[str]]] = {}
    for family in FAMILIES.values():
        for name, (said, _, _) in family.declared().items():
            takes = f" One of: {', '.join(map(str, said.choices))}." if said.choices else ""
            offered.setdefault(name, (f"{said.says}{takes}", []))[1].append(family.name)
    signature = inspect.signature(command, eval_str=True)
    own = [p for p in signature.parameters.values() if p.kind is not p.VAR_KEYWORD]
    more = [
        inspect.Parameter(
            name,
            inspect.Parameter.KEYWORD_ONLY,
            default=None,
            annotation=Annotated[
                str | None, typer.Option(help=f"{says} For: {', '.join(families)}.")
            ],
        )
        for name, (says, families) in offered.items()
    ]
    # Typer reads both: what is declared decides, not what is written here.
    command.__signature__ = signature.replace(parameters=[*own, *more])  # type: ignore[attr-defined]
    command.__annotations__ = {p.name: p.annotation for p in (*own, *more)} | {"return": None}
    return command


fit = with_settings(fit)


def _r_squared(report: FitReport) -> list[str]:
    """Write R², on the scale of the fit first."""
    of_y = "" if report.r_squared_log is None else " of y"
    both = {" of ln y": report.r_squared_log, of_y: report.r_squared}
    return [f"R²{of} = {value:.4g}" for of, value in both.items() if value is not None]


def _fit_text(report: FitReport, x: AxisValues, y: AxisValues) -> str:
    title = f"{y.variable.label} against {x.variable.label.lower()}"
    lines = [f"{title}, {report.group}" if report.group is not None else title]
    if report.problem:
        return "\n".join([*lines, f"  {report.problem}", ""])
    if report.equation is not None:
        lines.append(f"  {report.equation}")
    if report.equation_note:
        lines.append(f"  ({report.equation_note})")
    parts = [f"n = {report.n:,}", *_r_squared(report)]
    parts += [f"{one.label} = {one.value:.4g}" for one in report.measures]
    if report.r is not None:
        parts.append(f"r = {report.r:.4g}")
    if report.p_value is not None:
        parts.append(p_text(report.p_value))
    if report.residual_sd is not None:
        parts.append(f"residual SD = {report.residual_sd:.4g}")
    lines.append("  " + ", ".join(parts))
    percent = f"{100 * report.level:g} %"
    for c in report.coefficients:
        interval = (
            "no interval"
            if c.low is None
            else f"{percent} interval {_shown(c.low)} to {_shown(c.high)}"
        )
        more = "" if c.se is None else f", standard error {c.se:.4g}"
        more += "" if c.p_value is None else f", {p_text(c.p_value)}"
        lines.append(f"  {c.name} = {c.value:.6g} ({interval}{more})")
    for r in report.readings:
        carried = ", outside the data" if r.carried_on else ""
        lines.append(
            f"  at x = {_shown(r.x)}: y = {_shown(r.y)}"
            + (
                f" (mean {_shown(r.mean_low)} to {_shown(r.mean_high)}"
                if r.mean_low is not None
                else ""
            )
            + (
                f", a new row {_shown(r.new_low)} to {_shown(r.new_high)}"
                if r.new_low is not None
                else ""
            )
            + (f"{carried})" if r.mean_low is not None else carried)
        )
    for s in report.solutions:
        carried = ", outside the data" if s.carried_on else ""
        where = (
            "is never reached"
            if s.x is None
            else f"at x = {_shown(s.x)} ({_shown(s.low)} to {_shown(s.high)}{carried})"
        )
        lines.append(f"  y = {_shown(s.y)}: {where}. {s.note}".rstrip())
    dropped = [
        f"{count:,} {reason.replace('_', ' ')}" for reason, count in report.dropped.items() if count
    ]
    if dropped:
        lines.append(f"  Rows left out: {', '.join(dropped)}")
    lines.append(f"  {report.sentence.replace(GAP, ' ').replace(MINUS, '-')}")
    if report.dropped.get("not_drawn"):
        # What a sample is worth is said last among what the fit rests on.
        lines.append(f"  {report.assumptions[-1]}")
    return "\n".join(lines) + "\n"


def _shown(value: float | str | None) -> str:
    if value is None:
        return "open"
    return value if isinstance(value, str) else f"{value:.6g}"

"""What a trend family says of itself: everything that others need to know about it."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Mapping
from dataclasses import Field, dataclass, field, fields, replace
from typing import Any, Generic, Literal, TypeVar, get_args, get_origin, get_type_hints

from yarrowdew.core.aggregates.pair_sums import Logged
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Sample
from yarrowdew.core.trends.base import TrendFit, Units

Needs = Literal["positive x", "positive y", "error bars"]
Control = Literal["slider", "number", "choice", "text"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Setting:
    """How one setting of a family is offered, and which values it takes.

    Attributes
    ----------
    label : str
        Beside its control.
    says : str
        What it is, as a sentence.
    low, high : float or None
        Ends of what is taken; open where None.
    above : float or None
        What it has to exceed, in the place of `low`.
    slider : tuple of float, or None
        Ends between which it is set by dragging; a field to type into where None.
    scale : {"linear", "log", "share"}
        Of the slider; a share is written in percent.
    choices : mapping
        What each of a few values is called.
    free : str
        What stands where there is no value: "fitted". Empty where there always is one.
    starts : float or None
        Its value when one is first given.
    suffix : str
        What follows its value: "rows".
    unit : {"", "x", "y"}
        On which axis it lies, where it is counted in units of the data.
    counted_by : str
        The setting that says whether it is counted in rows or in units of x.
    below : str
        The setting that it must be below.
    begins : mapping of str to mapping
        Of words: what is offered to begin from, and what that sets.
    is_words : bool
        Whether it is typed in words, and not a number.
    """

    label: str
    says: str
    low: float | None = None
    high: float | None = None
    above: float | None = None
    slider: tuple[float, float] | None = None
    scale: Literal["linear", "log", "share"] = "linear"
    choices: Mapping[Any, str] = field(default_factory=dict)
    free: str = ""
    starts: float | None = None
    suffix: str = ""
    unit: Literal["", "x", "y"] = ""
    counted_by: str = ""
    below: str = ""
    begins: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    is_words: bool = False

    @property
    def control(self) -> Control:
        """By what it is set."""
        if self.is_words:
            return "text"
        return "choice" if self.choices else "slider" if self.slider else "number"

    def refuses(self, value: object) -> str:
        """Say which values it takes, if this is none of them."""
        if self.choices:
            named = " or ".join(map(str, self.choices))
            return "" if value in self.choices else f"Choose {named}."
        if self.is_words:
            too_long = not isinstance(value, str) or len(value) > LONGEST_WORDS
            return f"Write up to {LONGEST_WORDS:,} characters." if too_long else ""
        if not isinstance(value, int | float) or not math.isfinite(value):
            return "Give a number."
        if self.above is not None and not value > self.above:
            return f"Give one above {self.above:g}."
        if (self.low is not None and value < self.low) or (
            self.high is not None and value > self.high
        ):
            low, high = self.low, self.high
            return (
                f"Give one of {low:g} or more." if high is None else f"Choose {low:g} to {high:g}."
            )
        return ""


LONGEST_WORDS = 500
_SETTING = re.compile(r"\{(\w+)( %)?\}")


def setting(default: Any, label: str, says: str, **more: Any) -> Any:
    """Make a field of a family's settings."""
    words = isinstance(default, str) and not more.get("choices")
    said = Setting(label=label, says=says, is_words=words, **more)
    return field(default=default, metadata={"setting": said})


@dataclass(frozen=True, slots=True, kw_only=True)
class NoSettings:
    """Of a family about which nothing is set."""


Settings = TypeVar("Settings")


@dataclass(frozen=True, slots=True)
class Candidate(Generic[Settings]):
    """A form that *compare forms* tries: what it is called, and its settings."""

    label: str
    settings: Settings


@dataclass(frozen=True, slots=True, kw_only=True)
class FromSums(Generic[Settings]):
    """How a family is fitted to rows that come in parts and are added up.

    Attributes
    ----------
    fit : callable
        From merged sums and settings to a fit; raises FitError as the family's own does. Of
        logarithms of y its sums of squares are still to be taken, on the scale of y.
    logged : {"", "x", "y", "both"}
        What is taken in logarithms before it is added up.
    degree : callable, or None
        From settings to the degree of a polynomial; None where `PairSums` are enough.
    intercept : callable
        From settings to y at x = 0, where it is given.
    offered : callable
        Whether sums are enough with these settings.
    """

    fit: Callable[[Any, Settings], TrendFit]
    logged: Logged = ""
    degree: Callable[[Settings], int] | None = None
    intercept: Callable[[Settings], float | None] = lambda _: None
    offered: Callable[[Settings], bool] = lambda _: True


def _unchanged(fit: TrendFit, _x: int, _y: int) -> TrendFit:
    return fit


@dataclass(frozen=True, slots=True)
class Entry:
    """What stands behind a family, for docs/statistics.md: sources by author and year.

    Attributes
    ----------
    method : str
        How it is fitted.
    intervals : str
        What its intervals rest on.
    exactness : str
        When they are exact, or how far they are approximate.
    """

    method: str = ""
    intervals: str = ""
    exactness: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Family(Generic[Settings]):
    """A trend family: all that is known of it, in one place.

    Attributes
    ----------
    name : str
        As the command line and the figure document name it.
    label : str
        As it reads in a sentence.
    note : str
        What it is good for, in a few words.
    settings : type
        A frozen dataclass whose fields are made by `setting`.
    fit : callable
        From a sample and settings to a fitted trend; raises FitError where none can be made.
    units : callable
        From the name of a coefficient to the powers of y and of x that it is counted in.
    seen_from : callable
        From a fit and the powers of two by which x and y were divided to one whose sentences speak
        in units of the data.
    has_band : bool
        Whether a band is drawn about it unless it is asked not to be.
    one_slope : bool
        Whether it is a line, with an intercept and one slope.
    least_squares_line : bool
        Whether its slopes are compared between groups, and its rows searched for a bend.
    r_squared_about : {"mean", "zero", "nothing"}
        What R² is measured about; nothing where a trend is not of means.
    is_smooth : bool
        Whether it has no formula, and R² is told as a share of variation.
    is_usual : bool
        Whether it is among the few that are offered first.
    takes_logs_of_x : bool
        Whether x itself is taken in logarithms, which hold whatever its size is.
    needs : tuple of str
        What has to be above zero, or has to be known of every row.
    candidates : tuple of Candidate
        What of it *compare forms* tries.
    coefficient_labels : mapping of str to str
        What its coefficients are called beside their letters.
    takes_units : bool
        Whether very large or small values are fitted in other units, and brought back.
    said_as : str
        How it is said where its label says too little: "{formula}", "{quantile %} quantile line".
    together : mapping of str to tuple of mapping
        Settings of several trends that are put on at once, by what they are called.
    from_sums : FromSums or None
        How it is fitted to rows that are never together; None where it needs the rows.
    meanings : callable
        From settings to what coefficients are called, where that depends on them.
    searched_p : callable
        P value of what was searched for (a break, a period) against a form without it; None where
        nothing was.
    closer : callable
        From settings of a smooth to two that are compared to find out whether it cuts off bends: as
        it is, and one that follows the rows more closely. None where it adapts by itself, or is no
        smooth.
    was : tuple of str
        Names it had before, which are still read.
    entry : Entry
        Its row in docs/statistics.md.
    """

    name: str
    label: str
    fit: Callable[[Sample, Settings], TrendFit]
    settings: type[Settings]
    note: str = ""
    units: Callable[[str], Units] = lambda _: (0, 0)
    seen_from: Callable[[TrendFit, int, int], TrendFit] = _unchanged
    has_band: bool = True
    one_slope: bool = False
    least_squares_line: bool = False
    r_squared_about: Literal["mean", "zero", "nothing"] = "mean"
    is_smooth: bool = False
    is_usual: bool = False
    takes_logs_of_x: bool = False
    needs: tuple[Needs, ...] = ()
    candidates: tuple[Candidate[Settings], ...] = ()
    coefficient_labels: Mapping[str, str] = field(default_factory=dict)
    takes_units: bool = True
    said_as: str = ""
    together: Mapping[str, tuple[Mapping[str, Any], ...]] = field(default_factory=dict)
    from_sums: FromSums[Settings] | None = None
    meanings: Callable[[Settings], Mapping[str, str]] = lambda _: {}
    searched_p: Callable[[Sample, Settings], float | None] = lambda _sample, _settings: None
    closer: Callable[[Settings], tuple[Settings, Settings] | None] = lambda _settings: None
    was: tuple[str, ...] = ()
    entry: Entry = Entry()

    @property
    def with_article(self) -> str:
        """Its label behind "A" or "An", as a sentence begins."""
        vowel = self.label[0] in "aeioS"  # "an S-curve" is said as "an ess-curve"
        return f"{'An' if vowel else 'A'} {self.label}"

    def spoken(self, settings: Settings) -> str:
        """What it is called with these settings."""

        def value(found: re.Match[str]) -> str:
            held = getattr(settings, found[1])
            return f"{100 * held:.3g}\u00a0%" if found[2] else str(held)

        return _SETTING.sub(value, self.said_as) or self.label

    def coefficient_label(self, name: str, settings: Settings | None = None) -> str:
        """What a coefficient is called; numbers stand lowered."""
        lowered = f"{name[0]}_{{{name[1:]}}}" if name[1:].isdigit() else name
        own = {} if settings is None else self.meanings(settings)
        return {**self.coefficient_labels, **own}.get(name, lowered)

    def declared(self) -> dict[str, tuple[Setting, Field[Any], Any]]:
        """What may be set: by name its declaration, its field and its type."""
        # Every settings class is a dataclass, which the type of a class cannot say.
        hints = get_type_hints(self.settings)
        made = fields(self.settings)  # type: ignore[arg-type]
        return {
            f.name: (f.metadata["setting"], f, hints[f.name])
            for f in made
            if "setting" in f.metadata
        }

    def settings_of(self, values: Mapping[str, Any]) -> Settings:
        """Make settings from values by name.

        Raises
        ------
        FitError
            If the family has no such setting, or a value is none that it takes.
        """
        declared = self.declared()
        taken: dict[str, Any] = {}
        for name, typed in values.items():
            if name not in declared:
                has = ", ".join(declared) or "nothing"
                raise FitError(
                    f"{self.with_article} has no '{name.replace('_', ' ')}' to be set.",
                    f"What can be set about it: {has.replace('_', ' ')}.",
                )
            said, _, hint = declared[name]
            value = _like(hint, typed)
            refusal = "" if value is None and said.free else said.refuses(value)
            if not refusal and hint is int and not isinstance(value, int):
                refusal = "Give a whole number."
            if refusal:
                raise FitError(f"{said.label} of {value} is not offered.", refusal)
            taken[name] = value
        return self.settings(**taken)

    def in_units(self, settings: Settings, x: int, y: int) -> Settings:
        """Settings for values that were divided by 2 to the powers `x` and `y`."""
        changed: dict[str, float] = {}
        for name, (said, _, _) in self.declared().items():
            value = getattr(settings, name)
            by_x = said.unit == "x" or (
                said.counted_by and getattr(settings, said.counted_by) == "x"
            )
            exponent = x if by_x else y if said.unit == "y" else 0
            if exponent and value is not None:
                changed[name] = math.ldexp(value, -exponent)
        # Every settings class is a dataclass, which the type of a value cannot say.
        return replace(settings, **changed) if changed else settings  # type: ignore[type-var]


def _like(hint: Any, value: Any) -> Any:
    """A value that was typed, as its setting holds it: "2" for a choice of numbers is 2."""
    if (
        not isinstance(value, str)
        or hint is str
        or (get_origin(hint) is Literal and value in get_args(hint))
    ):
        return value
    try:
        number = float(value)
    except ValueError:
        return value
    return int(number) if number.is_integer() else number

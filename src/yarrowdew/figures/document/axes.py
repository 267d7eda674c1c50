"""Axes, and lines at values on them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from yarrowdew.figures.document.base import (
    DocumentPart,
    Looks,
    Public,
    Value,
    Words,
)
from yarrowdew.figures.document.categories import HexColour


class Axis(DocumentPart):
    """One axis."""

    title: Public[Words | None] = None
    """Label and unit of its variable where null."""
    low: Public[Value | None] = None
    """Where it starts; hugging the data where null. Dates in days since 1970-01-01."""
    high: Public[Value | None] = None
    scale: Public[Literal["linear", "log", "sqrt"]] = "linear"
    base: Public[Literal[2, 10, "e"]] = 10
    """Of a logarithmic axis."""
    reversed: Public[bool] = False
    step: Public[Annotated[float, Field(gt=0, allow_inf_nan=False)] | None] = None
    """Tick step, in units of the axis; chosen automatically where null."""
    positions: Public[list[Value]] = Field(default_factory=list, max_length=200)
    """Own places of ticks."""
    ticks: Public[Literal["out", "in", "across", "none"]] = "out"
    small_ticks: Public[int] = Field(default=0, ge=0, le=9)
    """How many between two large ones."""
    digits: Public[Annotated[int, Field(ge=0, le=12)] | None] = None
    """Decimals of tick labels; as many as the step needs where null."""
    prefix: Public[Annotated[str, Field(max_length=20)]] = ""
    suffix: Public[Annotated[str, Field(max_length=20)]] = ""
    labels: Public[Literal["auto", "level", "slanted", "upright"]] = "auto"
    grid: Public[Literal["none", "large", "all"]] = "none"
    crosses: Public[Value | None] = None
    """Value at which the other axis crosses this one; at the edge where null."""
    width: Public[float] = Field(default=1, ge=0, le=8)
    colour: Public[HexColour] = "#1d2b2a"

    @model_validator(mode="after")
    def _runs_somewhere(self) -> Axis:
        if self.low is not None and self.high is not None and self.low >= self.high:
            raise ValueError("an axis must end above where it starts")
        if self.scale != "linear" and self.low is not None:
            least = 0.0 if self.scale == "sqrt" else 5e-324
            if self.low < least:
                raise ValueError("this axis cannot start there: its scale begins above")
        return self


class Axes(DocumentPart):
    """Both axes."""

    x: Public[Axis] = Field(default_factory=Axis)
    y: Public[Axis] = Field(default_factory=Axis)
    frame: Public[Literal["range", "full", "box"]] = "range"
    """Lines as long as the data, as the plot, or round it."""
    equal: Public[bool] = False
    """Whether a unit is as long on both."""


class Reference(DocumentPart):
    """A line at a value, or a shaded range."""

    axis: Public[Literal["x", "y", "both"]] = "y"
    """The axis on which its value lies; both for the line y = x."""
    at: Public[Literal["value", "mean", "median", "range", "identity"]] = "value"
    value: Looks[Value | None] = None
    """Where it is; the lower end of a range."""
    high: Looks[Value | None] = None
    """The upper end of a range."""
    label: Looks[Words | None] = None
    dashed: Looks[bool] = True

    @model_validator(mode="after")
    def _lies_somewhere(self) -> Reference:
        if self.at in ("value", "range") and self.value is None:
            raise ValueError("a reference line needs its value")
        if self.at == "range" and (
            self.high is None or self.value is None or self.high <= self.value
        ):
            raise ValueError("a shaded range must end above where it starts")
        return self

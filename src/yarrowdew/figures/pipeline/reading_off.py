"""Numbers read off a fit and its equation, as a reader sees them."""

from __future__ import annotations

from dataclasses import dataclass

from yarrowdew.core.arithmetic import between
from yarrowdew.core.equation import round_place
from yarrowdew.core.prediction import read_at, solve_for
from yarrowdew.core.trends import TrendFit
from yarrowdew.core.trends.protocol import BandKind
from yarrowdew.figures.pipeline.axis_values import AxisValues
from yarrowdew.figures.pipeline.fitting import Fitted
from yarrowdew.figures.text.words import in_sentence
from yarrowdew.figures.wire.reports import ReadingReport, SolutionReport

_LANDS_AT = 33


def equation_of(fitted: Fitted, fit: TrendFit) -> str | None:
    """Write the equation, about another origin where no number of digits lands on the line."""
    asked, x, y = fitted.asked, fitted.x, fitted.y
    form = fit.form
    if form is None:
        return None
    low, high = fit.x_range
    at = between(low, high, _LANDS_AT)
    span = fitted.y_span
    if not form.lands(at, fit.predict(at), span):
        # So far from zero no number of digits lands on the line: x is counted from the data.
        origin = round_place(low / 2 + high / 2, high / 2 - low / 2)
        form = fit.form_about(origin) or form
    digits = asked.digits or form.digits_needed(fit.x_range, span)
    if asked.letters == "x":
        return form.text(digits, asked.style)
    return form.text(digits, asked.style, in_sentence(x.variable), in_sentence(y.variable))


@dataclass(frozen=True, slots=True)
class Reader:
    """Reads numbers off a fit, and writes them as a reader sees them."""

    fit: TrendFit
    x: AxisValues
    y: AxisValues
    level: float
    within: tuple[float, float]
    band: BandKind = "confidence"

    def at(self, at: float, name: str | None) -> ReadingReport:
        """Read y off at an x."""
        r = read_at(self.fit, at, self.level, self.band)
        y = self.y
        return ReadingReport(
            x=self.x.written(r.x),
            y=y.written(r.y),
            mean_low=y.written(r.mean_low),
            mean_high=y.written(r.mean_high),
            new_low=y.written(r.new_low),
            new_high=y.written(r.new_high),
            carried_on=r.carried_on,
            name=name,
            x_place=r.x + self.x.origin,
            y_place=r.y + y.origin,
        )

    def level_of(self, level_of_y: float, name: str | None) -> list[SolutionReport]:
        """Find every x at which the trend reaches a level of y."""
        x, y = self.x, self.y

        def place(value: float | None) -> float | None:
            return None if value is None else value + x.origin

        return [
            SolutionReport(
                y=y.written(s.y),
                x=x.written(s.crossing.x),
                low=x.written(s.crossing.low),
                high=x.written(s.crossing.high),
                carried_on=s.carried_on,
                note=s.crossing.note,
                name=name,
                x_place=place(s.crossing.x),
                y_place=s.y + y.origin,
                low_place=place(s.crossing.low),
                high_place=place(s.crossing.high),
            )
            for s in solve_for(self.fit, level_of_y, self.level, self.within)
        ]

"""How often intervals cover, and tests reject where nothing is there: by simulation.

`make calibrate` runs it and writes the table of docs/statistics.md between its two marks.
"""

from __future__ import annotations

import math
import sys
from collections.abc import Callable, Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path

import numpy as np

from yarrowdew.core.association import kendall, pearson, spearman
from yarrowdew.core.cautions import bend, cut_off, fan, heavy_tails
from yarrowdew.core.dependence import alike_neighbours
from yarrowdew.core.distributions.comparison import (
    Moments,
    mean_difference,
    rank_analysis,
    shift,
    variance_analysis,
)
from yarrowdew.core.distributions.spread import spread
from yarrowdew.core.errors import FitError
from yarrowdew.core.influence import influential_row
from yarrowdew.core.sample import Array, paired
from yarrowdew.core.slope_comparison import LineOfGroup, compare_slopes
from yarrowdew.core.trends import FAMILIES, TrendFit, fit_trend
from yarrowdew.core.trends.intervals.bands import band_of
from yarrowdew.core.trends.protocol import BandKind, Errors
from yarrowdew.core.validation import cross_validation_residuals, gain
from yarrowdew.core.weights import Weights, weighed

PAGE = Path(__file__).parents[1] / "docs" / "statistics.md"
BEGIN, END = "<!-- calibration: begin -->", "<!-- calibration: end -->"
RUNS = 2_000
SLOW = 400
LEVEL = 0.95

Held = list[bool | None]
"""Whether each interval covered, or each test rejected; None where there was none."""


@dataclass(frozen=True, slots=True)
class Design:
    """What is simulated, and what is counted.

    Attributes
    ----------
    what : str
        Design, with its number of rows.
    counted : tuple of str
        What each number of a run is.
    nominal : float
        Share that is due.
    run : callable
        One run, from a generator of random numbers.
    runs : int
    """

    what: str
    counted: tuple[str, ...]
    nominal: float
    run: Callable[[np.random.Generator], Held]
    runs: int = RUNS


def holds(low: float | None, high: float | None, true: float) -> bool | None:
    if low is None and high is None:
        return None
    return (low is None or low <= true) and (high is None or true <= high)


def of_fit(fit: TrendFit, coefficients: dict[str, float], at: dict[float, float]) -> Held:
    found = {c.name: c for c in fit.coefficients(LEVEL)}
    out = [holds(found[name].low, found[name].high, true) for name, true in coefficients.items()]
    band = fit.band(np.array(list(at)), LEVEL, "confidence") if at else None
    if band is not None:
        out += [
            holds(*ends, true) for *ends, true in zip(band.low, band.high, at.values(), strict=True)
        ]
    return out


def line(draw: np.random.Generator, n: int, *, errors: Errors = "equal", fan: bool = False) -> Held:
    x = draw.uniform(0, 10, n)
    scatter = (0.2 + x / 5) if fan else np.ones(n)
    fit = fit_trend(paired(x, x + scatter * draw.normal(size=n)), "straight", errors=errors)
    return of_fit(fit, {"b": 1.0}, {9.0: 9.0})


def given_errors(draw: np.random.Generator, n: int) -> Held:
    x, se = draw.uniform(0, 10, n), draw.uniform(0.3, 2, n)
    weights = Weights.of(se, "standard_errors", as_given=True)
    sample = weighed(x, x + se * draw.normal(size=n), weights)
    return of_fit(fit_trend(sample, "straight", errors="given"), {"b": 1.0}, {9.0: 9.0})


def other_bands(draw: np.random.Generator, n: int) -> Held:
    """A new row, the whole line at once, and the x at which the line reaches a level."""
    x = draw.uniform(0, 10, n)
    fit = fit_trend(paired(x, x + draw.normal(size=n)), "straight")
    new, whole = (band_of(fit, PLACES, LEVEL, kind) for kind in NEW_AND_WHOLE)
    assert new is not None
    assert whole is not None
    row = PLACES[90] + draw.normal()
    (crossing,) = fit.crossings(5.0, LEVEL)
    return [
        bool(new.low[90] <= row <= new.high[90]),
        bool(((whole.low <= PLACES) & (whole.high >= PLACES)).all()),
        holds(crossing.low, crossing.high, 5.0),
    ]


def on_logarithms(draw: np.random.Generator, n: int) -> Held:
    x = draw.uniform(1, 10, n)
    off = np.exp(draw.normal(0, 0.4, n))
    growth = of_fit(fit_trend(paired(x, np.exp(0.3 * x) * off), "exponential"), {"b": 0.3}, {})
    return [*growth, *of_fit(fit_trend(paired(x, x**1.5 * off), "power"), {"b": 1.5}, {})]


def s_curve(draw: np.random.Generator, n: int) -> Held:
    x = np.linspace(0, 10, n)
    y = 5 + 90 / (1 + np.exp(-1.2 * (x - 4.5))) + draw.normal(0, 3, n)
    fit = fit_trend(paired(x, y), "s-curve")
    found = of_fit(fit, {"lower": 5.0, "upper": 95.0, "middle": 4.5, "steepness": 1.2}, {})
    (crossing,) = fit.crossings(50.0, LEVEL)
    return [*found, holds(crossing.low, crossing.high, 4.5)]


def wave(draw: np.random.Generator, n: int) -> Held:
    x = np.sort(draw.uniform(0, 30, n))
    fit = fit_trend(paired(x, 2 * np.sin(2 * np.pi * x / 7) + draw.normal(size=n)), "sine-wave")
    return of_fit(fit, {"T": 7.0}, {})


def both_errors(draw: np.random.Generator, n: int) -> Held:
    true, sx, sy = draw.uniform(0, 10, n), draw.uniform(0.2, 0.6, n), draw.uniform(0.2, 0.6, n)
    x, y = true + sx * draw.normal(size=n), 2 * true + sy * draw.normal(size=n)
    return of_fit(fit_trend(paired(x, y, errors=(sx, sy)), "errors-in-variables"), {"b": 2.0}, {})


def major_axis(draw: np.random.Generator, n: int) -> Held:
    true = draw.normal(size=n)
    x, y = true + draw.normal(0, 0.4, n), 2 * true + draw.normal(0, 0.8, n)
    return of_fit(fit_trend(paired(x, y), "reduced-major-axis"), {"b": 2.0}, {})


def cautions_of_clean_rows(draw: np.random.Generator, n: int) -> Held:
    x = draw.uniform(0, 10, n)
    sample = paired(x, x + draw.normal(size=n))
    fit = fit_trend(sample, "straight")
    return [
        influential_row(fit, sample, lambda rows: fit_trend(rows, "straight"), LEVEL) is not None,
        bend(fit, sample) is not None,
        fan(fit, sample) is not None,
        cut_off(sample, FAMILIES["local"], None) is not None,
        heavy_tails(sample.y - fit.predict(sample.x)) is not None,
        alike_neighbours(fit, sample, np.arange(n, dtype=np.float64)) is not None,
    ]


def broken(draw: np.random.Generator, n: int, change: float, sd: float) -> Held:
    x = np.sort(draw.uniform(0, 10, n))
    y = x + change * np.maximum(0, x - 5) + draw.normal(0, sd, n)
    fit = fit_trend(paired(x, y), "segmented")
    wanted = {"b1": 1.0, "b2": 1.0 + change, "break1": 5.0}
    return of_fit(fit, wanted, {2.0: 2.0, 5.0: 5.0})


def smooth(draw: np.random.Generator, family: str) -> Held:
    x = np.sort(draw.uniform(0, 1, 60))
    fit = fit_trend(paired(x, np.sin(2 * np.pi * x) + draw.normal(0, 0.4, 60)), family)
    places = np.linspace(0.05, 0.95, 19)
    each = of_fit(fit, {}, dict(zip(places, np.sin(2 * np.pi * places), strict=True)))
    return [bool(draw.choice(np.array(each, dtype=bool))), each[4], each[9]]


def theil_sen(draw: np.random.Generator, n: int) -> Held:
    x = draw.normal(size=n)
    return of_fit(fit_trend(paired(x, x + draw.standard_t(2, n)), "theil-sen"), {"b": 1.0}, {})


def quantile(draw: np.random.Generator, n: int, *, fan: bool) -> Held:
    x = draw.uniform(0, 10, n)
    scatter = (0.2 + x / 5) if fan else np.ones(n)
    fit = fit_trend(paired(x, x + scatter * draw.normal(size=n)), "quantile")
    return of_fit(fit, {"b": 1.0}, {5.0: 5.0})


def correlations(draw: np.random.Generator, n: int, rho: float) -> Held:
    x = draw.normal(size=n)
    y = rho * x + np.sqrt(1 - rho**2) * draw.normal(size=n)
    true = (rho, 6 / np.pi * np.arcsin(rho / 2), 2 / np.pi * np.arcsin(rho))
    found = [of(paired(x, y), LEVEL) for of in (pearson, spearman, kendall)]
    return [holds(one.low, one.high, value) for one, value in zip(found, true, strict=True)]


def ranks_of_noise(draw: np.random.Generator, n: int) -> Held:
    x, y = draw.normal(size=n), draw.normal(size=n)
    return [(of(paired(x, y)).p_value or 1.0) < 1 - LEVEL for of in (pearson, spearman, kendall)]


def two_groups(draw: np.random.Generator, sizes: tuple[int, int], sds: tuple[float, float]) -> Held:
    a, b = (draw.normal(i, sd, n) for i, (n, sd) in enumerate(zip(sizes, sds, strict=True)))
    means, moved = mean_difference(Moments.of(a), Moments.of(b)), shift(a, b)
    return [
        None if one is None or one.low is None else holds(one.low, one.high, 1.0)
        for one in (means, moved)
    ]


def no_groups(draw: np.random.Generator, sizes: tuple[int, ...]) -> Held:
    groups = [draw.normal(size=n) for n in sizes]
    found = variance_analysis([Moments.of(one) for one in groups]), rank_analysis(groups)
    two = shift(groups[0], groups[1])
    return [
        *(None if one is None else one.p_value < 1 - LEVEL for one in found),
        None if two is None else two.p_value < 1 - LEVEL,
    ]


def lines_of_groups(
    draw: np.random.Generator, groups: tuple[tuple[int, float], ...]
) -> Iterator[LineOfGroup]:
    for place, (n, sd) in enumerate(groups):
        x = draw.uniform(0, 10, n)
        found = LineOfGroup.of(
            fit_trend(paired(x, 3 * place + x + draw.normal(0, sd, n)), "straight")
        )
        if found is not None:
            yield found


def slopes(draw: np.random.Generator, groups: tuple[tuple[int, float], ...]) -> Held:
    found = compare_slopes(list(lines_of_groups(draw, groups)), LEVEL)
    if found is None:
        return [None] * 4
    return [
        found.p_value >= 1 - LEVEL,
        holds(found.low, found.high, 1.0),
        all(holds(one.slopes.low, one.slopes.high, 0.0) for one in found.pairs),
        all(
            holds(one.heights.low, one.heights.high, 3.0 * (one.second - one.first))
            for one in found.pairs
        ),
    ]


def searched(draw: np.random.Generator, family: str, n: int) -> Held:
    x = np.sort(draw.uniform(0, 10, n))
    trend = x if family == "segmented" else np.zeros(n)
    of = FAMILIES[family]
    p = of.searched_p(paired(x, trend + draw.normal(size=n)), of.settings())
    return [None if p is None else p < 1 - LEVEL]


def middle(
    draw: np.random.Generator, n: int, of: Callable[..., Array], mean: float, median: float
) -> Held:
    found = spread(of(draw, n), LEVEL)
    return [
        holds(found.mean.low, found.mean.high, mean),
        holds(found.median.low, found.median.high, median),
    ]


def gain_of_a_curve(draw: np.random.Generator, n: int, bend: float, true: float) -> Held:
    """Whether 1.96 standard errors about the gain of a parabola over a line hold the expected gain."""
    x = np.sort(draw.uniform(0, 10, n))
    rows = paired(x, x + bend * (x - 5) ** 2 + draw.normal(size=n))
    curve, straight = FAMILIES["polynomial"], FAMILIES["straight"]
    residuals = [
        cross_validation_residuals(rows, partial(of.fit, settings=of.settings()))
        for of in (curve, straight)
    ]
    assert residuals[0] is not None
    assert residuals[1] is not None
    found = gain(rows, residuals[0], residuals[1])
    assert found is not None
    half = 1.96 * found.se
    return [holds(found.share - half, found.share + half, true)]


def outcomes(draw: np.random.Generator, n: int, estimate: str) -> Held:
    """A logistic regression: its slope, x at one half, the band, and the test of no slope."""
    x = draw.uniform(0, 10, n)
    settings = FAMILIES["logistic"].settings_of({"estimate": estimate})
    y = (draw.random(n) < 1 / (1 + np.exp(-0.5 * (x - 5)))).astype(float)
    fit = fit_trend(paired(x, y), "logistic", settings)
    (half,) = fit.crossings(0.5, LEVEL)
    level = (draw.random(n) < 0.5).astype(float)
    p = fit_trend(paired(x, level), "logistic", settings).p_value
    reached = half.x is not None and (half.low is None or half.low <= 5)
    return [
        *of_fit(fit, {"b": 0.5}, {8.0: 1 / (1 + math.exp(-1.5))}),
        reached and (half.high is None or half.high >= 5),
        p is not None and p >= 1 - LEVEL,
    ]


def counted(draw: np.random.Generator, n: int, scatter: str, excess: bool) -> Held:
    """A log-linear regression of counts with Poisson's variance, or with three times that."""
    x = draw.uniform(0, 10, n)
    mean = np.exp(0.3 + 0.15 * x)
    y = draw.negative_binomial(mean / 2, 1 / 3) if excess else draw.poisson(mean)
    settings = FAMILIES["log-linear"].settings_of({"variance": scatter})
    fit = fit_trend(paired(x, y.astype(float)), "log-linear", settings)
    return of_fit(fit, {"b": 0.15}, {8.0: math.exp(1.5)})


def two_methods(draw: np.random.Generator, n: int, family: str) -> Held:
    """A line for two methods whose errors have the same spread."""
    true = draw.uniform(10, 60, n)
    x, y = true + draw.normal(0, 2, n), 1 + 1.1 * true + draw.normal(0, 2, n)
    return of_fit(fit_trend(paired(x, y), family), {"b": 1.1, "a": 1.0}, {})


def with_outliers(draw: np.random.Generator, n: int, share: float) -> Held:
    """An MM line, with a share of rows far above the others."""
    x = draw.uniform(0, 10, n)
    y = x + draw.normal(size=n)
    y[: round(share * n)] += 30
    return of_fit(fit_trend(paired(x, y), "mm"), {"b": 1.0}, {9.0: 9.0})


def by_cluster(draw: np.random.Generator, count: int) -> Held:
    """A line through rows of subjects that differ in height, with standard errors by cluster."""
    codes = np.repeat(np.arange(count), draw.integers(2, 9, count))
    x = draw.normal(0, 1, count)[codes] + draw.normal(0, 0.5, len(codes))
    y = x + draw.normal(0, 1, count)[codes] + draw.normal(0, 0.5, len(codes))
    sample = replace(paired(x, y), clusters=codes)
    fit = fit_trend(sample, "straight", errors="cluster")
    return of_fit(fit, {"b": 1.0}, {1.0: 1.0}) + of_fit(
        fit_trend(sample, "straight"), {"b": 1.0}, {}
    )


def lognormal(draw: np.random.Generator, n: int) -> Array:
    return np.exp(draw.normal(size=n))


def normal(draw: np.random.Generator, n: int) -> Array:
    return draw.normal(size=n)


LINE = ("slope", "band at 9 of 10")
PLACES = np.linspace(0, 10, 101)
NEW_AND_WHOLE: tuple[BandKind, ...] = ("prediction", "whole line")
CAUTIONS = ("influence", "curved", "scatter not constant", "bends cut off", "heavy tails", "alike")
OUTCOMES = ("slope", "band at 8 of 10", "x at one half", "no slope: test holds")
PIECES = ("first slope", "second slope", "break", "band within a piece", "band at the break")
SMOOTH = ("band, anywhere", "band at 0.25", "band at 0.5")
RANKS = ("Pearson", "Spearman", "Kendall")
SLOPES = ("test holds", "common slope", "all differences of slopes", "all differences of height")

DESIGNS = (
    *(
        Design(f"line, {n} rows", LINE, LEVEL, partial(line, n=n)) for n in (5, 10, 30)
    ),
    *(
        Design(f"line under a fan, {n} rows, {errors} errors", LINE, LEVEL, partial(line, n=n, errors=errors, fan=True))
        for n, errors in ((30, "equal"), (30, "hc3"), (50, "hc3"))
    ),
    *(
        Design(f"line, {n} rows, bootstrap", LINE, LEVEL, partial(line, n=n, errors="bootstrap"), SLOW)
        for n in (6, 10, 20)
    ),
    *(Design(f"line, {n} rows, given standard errors", LINE, LEVEL, partial(given_errors, n=n)) for n in (3, 10)),
    *(
        Design(f"line, {n} rows", ("new row", "simultaneous band", "x at a level"), LEVEL, partial(other_bands, n=n))
        for n in (6, 20)
    ),
    *(Design(f"lognormal scatter, {n} rows", ("exponential", "power law"), LEVEL, partial(on_logarithms, n=n)) for n in (6, 20)),
    *(
        Design(f"logistic S-curve, {n} rows", ("lower", "upper", "middle", "steepness", "x at half"), LEVEL, partial(s_curve, n=n), SLOW)
        for n in (10, 30)
    ),
    Design("sine wave, 60 rows", ("period",), LEVEL, partial(wave, n=60), SLOW),
    *(Design(f"errors in x and y, {n} rows", ("slope",), LEVEL, partial(both_errors, n=n)) for n in (10, 40)),
    *(Design(f"reduced major axis, {n} rows", ("slope",), LEVEL, partial(major_axis, n=n)) for n in (6, 20)),
    *(
        Design(f"segmented line, {n} rows, change {change:g}, sd {sd:g}", PIECES, LEVEL, partial(broken, n=n, change=change, sd=sd), SLOW)
        for n, change, sd in ((30, 1.0, 0.5), (30, 1.0, 1.0), (60, 2.0, 0.5))
    ),
    *(
        Design(f"{family} smooth of a sine, 60 rows", SMOOTH, LEVEL, partial(smooth, family=family), SLOW)
        for family in ("local", "spline")
    ),
    *(Design(f"Theil–Sen line, {n} rows, scatter t₂", ("slope",), LEVEL, partial(theil_sen, n=n)) for n in (4, 5, 8, 30)),
    *(
        Design(f"median line, {n} rows{', fan' if fan else ''}", ("slope", "band"), LEVEL, partial(quantile, n=n, fan=fan), SLOW)
        for n, fan in ((20, False), (50, False), (100, True))
    ),
    *(
        Design(f"correlation {rho:g}, {n} rows", RANKS, LEVEL, partial(correlations, n=n, rho=rho))
        for n, rho in ((5, 0.5), (10, 0.9), (30, 0.5))
    ),
    *(
        Design(f"two groups of {a} and {b}, sd {s:g} and {t:g}", ("Welch", "Hodges–Lehmann"), LEVEL, partial(two_groups, sizes=(a, b), sds=(s, t)))
        for a, b, s, t in ((3, 3, 1, 1), (4, 4, 1, 1), (10, 10, 1, 1), (5, 20, 3, 1), (30, 30, 1, 1))
    ),
    *(
        Design(f"slopes of groups {', '.join(f'{n} (sd {sd:g})' for n, sd in groups)}", SLOPES, LEVEL, partial(slopes, groups=groups))
        for groups in (((10, 3.0), (40, 1.0)), ((5, 1.0), (5, 1.0)), ((10, 3.0), (20, 1.0), (40, 2.0)))
    ),
    *(Design(f"{name}, {n} rows", ("mean", "median"), LEVEL, partial(middle, n=n, of=of, mean=m, median=md))
      for name, of, m, md in (("normal", normal, 0.0, 0.0), ("lognormal", lognormal, float(np.exp(0.5)), 1.0)) for n in (8, 20)),
    *(Design(f"noise, {n} rows: rejected", RANKS, 1 - LEVEL, partial(ranks_of_noise, n=n)) for n in (3, 5, 10, 30)),
    *(
        Design(f"equal groups of {', '.join(map(str, sizes))}: rejected", ("Welch's F", "Kruskal–Wallis", "Mann–Whitney of two"), 1 - LEVEL, partial(no_groups, sizes=sizes))
        for sizes in ((3, 3), (4, 4, 4), (10, 20, 30))
    ),
    *(Design(f"clean line, {n} rows: cautioned", CAUTIONS, 0.0, partial(cautions_of_clean_rows, n=n), SLOW) for n in (12, 60)),
    *(
        Design(f"nothing to find, {n} rows: rejected", (what,), 1 - LEVEL, partial(searched, family=family, n=n), SLOW)
        for family, what in (("segmented", "break"), ("sine-wave", "sine-wave")) for n in (15, 40)
    ),
    *(
        Design(f"two groups of {a} and {b}, sd {s:g} and {t:g}", ("Welch", "Hodges–Lehmann"), LEVEL, partial(two_groups, sizes=(a, b), sds=(s, t)))
        for a, b, s, t in ((10, 10, 5, 1), (20, 60, 3, 1))
    ),
    *(
        Design(f"gain of a parabola, {n} rows, {'curved' if bend else 'straight'}", ("gain ± 1.96 SE",), LEVEL, partial(gain_of_a_curve, n=n, bend=bend, true=true))
        # The expected gain is the mean of 2,000 runs.
        for n, bend, true in ((20, 0.0, -0.089), (60, 0.0, -0.021), (20, 0.08, 0.198), (60, 0.08, 0.240))
    ),
    *(
        Design(f"logistic regression, {n} rows, {'Firth' if estimate == 'firth' else 'likelihood'}", OUTCOMES, LEVEL, partial(outcomes, n=n, estimate=estimate), SLOW if estimate == "firth" else RUNS)
        for n, estimate in ((20, "likelihood"), (20, "firth"), (60, "likelihood"), (60, "firth"))
    ),
    *(
        Design(f"counts, {n} rows, {'three times the' if excess else ''} variance of Poisson, fitted as {scatter}".replace("  ", " "), ("slope", "band at 8 of 10"), LEVEL, partial(counted, n=n, scatter=scatter, excess=excess))
        for n, scatter, excess in ((20, "poisson", False), (20, "proportional", False), (20, "poisson", True), (20, "proportional", True), (60, "proportional", True), (60, "negative binomial", True))
    ),
    *(
        Design(f"{FAMILIES[family].label}, {n} rows", ("slope", "intercept"), LEVEL, partial(two_methods, n=n, family=family))
        for family in ("deming", "passing-bablok") for n in (10, 40)
    ),
    *(
        Design(f"robust line (MM), {n} rows, {100 * share:.0f} % outliers", LINE, LEVEL, partial(with_outliers, n=n, share=share))
        for n in (10, 20, 60) for share in (0.0, 0.1)
    ),
    *(
        Design(f"line, {count} subjects of 2 to 8 rows", ("slope by cluster", "band at 1 by cluster", "slope as if rows were independent"), LEVEL, partial(by_cluster, count=count))
        for count in (6, 12, 40)
    ),
)  # fmt: skip


def measured(place: int) -> list[tuple[float | None, int]]:
    """Share that held of each number of a design, and of how many runs."""
    design = DESIGNS[place]
    draw = np.random.default_rng(20310418 + place)
    counts = np.zeros((len(design.counted), 2))
    for _ in range(design.runs):
        try:
            for i, held in enumerate(design.run(draw)):
                if held is not None:
                    counts[i] += (held, 1)
        except FitError:
            continue
    return [(None if not n else float(k / n), int(n)) for k, n in counts]


def table() -> str:
    rows = [
        "| design | number | due, % | found, % | runs |",
        "| --- | --- | --- | --- | --- |",
    ]
    with ProcessPoolExecutor() as pool:
        for design, found in zip(DESIGNS, pool.map(measured, range(len(DESIGNS))), strict=True):
            for what, (share, runs) in zip(design.counted, found, strict=True):
                due = design.nominal
                shown = "none" if share is None else f"{100 * share:.1f}"
                far = share is not None and abs(share - due) > 0.02
                bold = f"**{shown}**" if far else shown
                rows.append(f"| {design.what} | {what} | {100 * due:.0f} | {bold} | {runs:,} |")
    return "\n".join(rows)


def main() -> int:
    """Write the table into the page."""
    found = table()
    text = PAGE.read_text(encoding="utf-8")
    before, rest = text.split(BEGIN)
    _, after = rest.split(END)
    PAGE.write_text(f"{before}{BEGIN}\n{found}\n{END}{after}", encoding="utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main())

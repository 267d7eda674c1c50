"""Whatever the rows, a sentence says what numbers worked out here say: Hypothesis looks for another.

The numbers are made by normal equations in fractions and by NumPy and SciPy, from the rows alone.
"""

from __future__ import annotations

import math
import re
from fractions import Fraction
from itertools import combinations
from typing import Any

import numpy as np
import polars as pl
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy import optimize, stats

from tests.scope import examples
from yarrowdew.figures.answer import Answer, answer
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.tables.table import Kind, Table, Variable

FEW = settings(max_examples=examples(40, 600), deadline=None)
NUMBER = r"[−-]?[\d.]+(?:e[−-]?\d+)?"


def table(words: dict[str, list[str]] | None = None, **columns: list[float | None]) -> Table:
    words = words or {}
    variables = [Variable(name, Kind.NUMBER, name) for name in columns]
    variables += [Variable(name, Kind.CATEGORY, name) for name in words]
    frame = pl.DataFrame(columns, schema_overrides=dict.fromkeys(columns, pl.Float64))
    frame = frame.with_columns(
        pl.Series(name, held, dtype=pl.Enum(sorted(set(held)))) for name, held in words.items()
    )
    return Table("rows", tuple(variables), frame)


def ask(of: Table, **parts: Any) -> Answer:
    return answer(
        FigureDocument.model_validate({"table": "t", "x": "x", "y": ["y"]} | parts), of
    ).answer


def read(text: str) -> float:
    return float(text.replace("−", "-"))


def rounds_to(value: float, printed: str) -> bool:
    """Whether a value, rounded to as many decimals as are printed, is what is printed."""
    decimals = len(printed.partition(".")[2])
    return abs(value - read(printed)) <= 0.5000001 * 10.0**-decimals + 1e-9 * abs(value)


@st.composite
def rows(
    draw: st.DrawFn, least: int = 4, low: int = -30, high: int = 30
) -> tuple[list[float], list[float]]:
    n = draw(st.integers(least, 24))
    x = draw(st.lists(st.integers(0, 12), min_size=n, max_size=n))
    y = draw(st.lists(st.integers(low, high), min_size=n, max_size=n))
    slope = draw(st.sampled_from([0, 0, 1, -2, 5]))
    assume(len(set(x)) > 2)
    return [float(v) for v in x], [float(v + slope * w) for v, w in zip(y, x, strict=True)]


def line_of(x: list[float], y: list[float]) -> tuple[float, float, float, float]:
    """Slope, its standard error, R² and p of a straight line, by fractions."""
    xs, ys = [Fraction(v) for v in x], [Fraction(v) for v in y]
    n, mx, my = len(xs), sum(xs) / len(xs), sum(ys) / len(ys)
    sxx = sum((v - mx) ** 2 for v in xs)
    sxy = sum((v - mx) * (w - my) for v, w in zip(xs, ys, strict=True))
    syy = sum((w - my) ** 2 for w in ys)
    slope = sxy / sxx
    sse = syy - slope * sxy
    se = math.sqrt(sse / (n - 2) / sxx)
    t = float(slope) / se if se else math.inf
    return (
        float(slope),
        se,
        float(1 - sse / syy) if syy else math.nan,
        2 * stats.t.sf(abs(t), n - 2),
    )


STRAIGHT = re.compile(
    rf"^(No clear trend: p|P)er (?P<step>step of ({NUMBER}) in x), y is (?:about the same|(?P<value>{NUMBER}) "
    rf"(?P<way>higher|lower)) on average \(95 % interval (?P<low>{NUMBER}) to (?P<high>{NUMBER})\)\."
    rf"(?: R² = (?P<share>{NUMBER})\.)?$"
)


@FEW
@given(rows())
def test_a_straight_line(data: tuple[list[float], list[float]]) -> None:
    x, y = data
    slope, se, share, p = line_of(x, y)
    said = ask(table(x=x, y=y), trends=[{}]).trends[0].report.sentence.replace("\u00a0", " ")
    if len(set(y)) == 1:
        assert said == "y is the same in every row, so there is no variation to describe."
        return
    # A line through every row, and one on the border of clear, are told elsewhere.
    assume(se > 1e-9 and abs(p - 0.05) > 1e-6)
    found = STRAIGHT.match(said)
    assert found, said
    step = read(found[3])
    half = stats.t.ppf(0.975, len(x) - 2) * se
    if found["value"] is None:
        assert p > 0.5
        assert abs(slope) < half / 2
    else:
        assert rounds_to(abs(slope) * step, found["value"]), said
        assert found["way"] == ("higher" if slope > 0 else "lower")
    ends = sorted(((slope - half) * step, (slope + half) * step))
    if ends[0] >= 0 or ends[1] <= 0:
        ends = sorted(map(abs, ends))
        assert read(found["low"]) > 0, "an end that is not zero is not written as zero"
    assert rounds_to(ends[0], found["low"])
    assert rounds_to(ends[1], found["high"])
    assert said.startswith("No clear trend") == (p >= 0.05)
    assert (found["share"] is not None) == (p < 0.05 and len(x) >= 8)
    assert found["share"] is None or rounds_to(share, found["share"])


@FEW
@given(rows(least=8))
def test_a_quadratic_claims_a_share_where_its_f_test_is_clear(
    data: tuple[list[float], list[float]],
) -> None:
    x, y = data
    assume(len(set(x)) > 3 and len(set(y)) > 1)
    design = np.vander(np.array(x) - np.mean(x), 3)
    _, sse, rank, _ = np.linalg.lstsq(design, np.array(y), rcond=None)
    sst = float(((np.array(y) - np.mean(y)) ** 2).sum())
    assume(rank == 3 and sse.size and sse[0] > 1e-9 * sst)
    f = ((sst - sse[0]) / 2) / (sse[0] / (len(x) - 3))
    p = float(stats.f.sf(f, 2, len(x) - 3))
    assume(abs(p - 0.05) > 1e-6)
    said = ask(table(x=x, y=y), trends=[{"family": "polynomial"}]).trends[0].report.sentence
    if p >= 0.05:
        assert said.startswith("No clear trend along this curve (F test, p ")
        return
    found = re.fullmatch(rf"R² = ({NUMBER}) along this curve\.", said)
    assert found, said
    assert rounds_to(1 - sse[0] / sst, found[1])


@FEW
@given(rows(least=6, low=1, high=40))
def test_growth_by_a_share_is_that_of_the_line_on_logarithms(
    data: tuple[list[float], list[float]],
) -> None:
    x, y = data
    assume(min(y) > 0 and len(set(y)) > 1)
    slope, se, share, p = line_of(x, [math.log(v) for v in y])
    assume(se > 1e-9 and abs(p - 0.05) > 1e-6)
    said = ask(table(x=x, y=y), trends=[{"family": "exponential"}]).trends[0].report.sentence
    said = said.replace("\u00a0", " ")
    # R² is on the scale of the fit, and says so.
    told = re.search(rf"R² = ({NUMBER}) \(of ln y\)", said)
    assert (told is not None) == (p < 0.05 and len(x) >= 8), said
    assert told is None or rounds_to(share, told[1]), said
    assert said.startswith("No clear trend") == (p >= 0.05), said
    found = re.search(
        rf"step of ({NUMBER}) in x, y is (?:about the same|({NUMBER}) % (higher|lower))", said
    )
    assert found, said
    if found[2] is None:
        assert p > 0.5
        return
    change = 100 * math.expm1(slope * read(found[1]))
    assert rounds_to(abs(change), found[2]), said
    assert (found[3] == "higher") == (change >= 0)


@FEW
@given(rows(least=8), st.sampled_from([0.1, 0.5, 0.8]))
def test_rows_below_a_quantile_line_are_counted(
    data: tuple[list[float], list[float]], share: float
) -> None:
    x, y = data
    assume(len(set(y)) > 1)
    trend = {"family": "quantile", "settings": {"quantile": share}}
    found = ask(table(x=x, y=y), trends=[trend]).trends[0].report
    assume(found.problem is None)
    values = {c.name: c.value for c in found.coefficients}
    off = np.array(y) - (values["a"] + values["b"] * np.array(x))
    below, on = int((off < -1e-7).sum()), int((np.abs(off) <= 1e-7).sum())
    counts = re.search(
        r" (\d+) of (\d+) rows (?:are|is) below the line(?:, (\d+) on it)?\.",
        found.sentence.replace("\u00a0", " "),
    )
    assert counts, found.sentence
    assert (int(counts[1]), int(counts[2]), int(counts[3] or 0)) == (below, len(x), on)
    # A quantile line has at most its share below and at most the rest above (Koenker and Bassett).
    assert below <= share * len(x) + 1e-9 <= below + on + 1e-9


GROUPED = st.lists(
    st.tuples(st.integers(0, 10), st.integers(-9, 9), st.sampled_from("abc")),
    min_size=14,
    max_size=40,
)


@FEW
@given(GROUPED, st.tuples(*[st.sampled_from([-4, 0, 4])] * 3))
def test_groups_said_to_slope_another_way_do(
    found: list[tuple[int, int, str]], slopes: tuple[int, ...]
) -> None:
    of = dict(zip("abc", slopes, strict=True))
    x, g = [float(v) for v, _, _ in found], [name for _, _, name in found]
    y = [float(w + of[name] * v) for v, w, name in found]
    fits = {}
    for name in sorted(set(g)):
        own = [(a, b) for a, b, c in zip(x, y, g, strict=True) if c == name]
        assume(len({a for a, _ in own}) > 2)
        fits[name] = (len(own), line_of([a for a, _ in own], [b for _, b in own]))
    assume(len(fits) > 1 and len(set(x)) > 2)
    whole = line_of(x, y)
    said = ask(table({"g": g}, x=x, y=y), colour={"variable": "g"}, trends=[{"by": "g"}]).cautions
    titles = [c.title for c in said if "slope" in c.title.lower()]
    strict = 1 - 0.05 / len(fits)

    def way(n: int, line: tuple[float, float, float, float], level: float) -> int:
        half = stats.t.ppf((1 + level) / 2, n - 2) * line[1]
        # What lies on the border is left to rounding.
        assume(abs(abs(line[0]) - half) > 1e-7 * (abs(line[0]) + half))
        return 0 if abs(line[0]) <= half else int(math.copysign(1, line[0]))

    ways = {name: way(n, line, strict) for name, (n, line) in fits.items()}
    all_rows = way(len(x), whole, 0.95)
    against = (
        [name for name, one in ways.items() if one == -all_rows]
        if all_rows
        else ([name for name, one in ways.items() if one] if {1, -1} <= set(ways.values()) else [])
    )
    assert bool(titles) == bool(against), (titles, ways, all_rows)


@FEW
@given(rows(least=10), st.data())
def test_rows_that_lack_a_value_are_counted(
    data: tuple[list[float], list[float]], draw: st.DataObject
) -> None:
    x, y = data
    lack_x = draw.draw(st.sets(st.integers(0, len(x) - 1), max_size=4))
    lack_y = draw.draw(st.sets(st.integers(0, len(x) - 1), max_size=4))
    of = table(
        x=[None if i in lack_x else v for i, v in enumerate(x)],
        y=[None if i in lack_y else v for i, v in enumerate(y)],
    )
    counts = ask(of).counts
    said = {one.reason.split(" ", 1)[1]: one for one in counts.not_drawn}
    due = {"y": lack_y - lack_x, "x": lack_x - lack_y, "y and x": lack_x & lack_y}
    assert {name: set(one.rows) for name, one in said.items()} == {
        name: places for name, places in due.items() if places
    }
    assert all(
        one.reason.startswith("lacks" if one.count == 1 else "lack ") for one in counts.not_drawn
    )
    assert counts.drawn == len(x) - len(lack_x | lack_y)


def welch(groups: list[np.ndarray]) -> tuple[float, float, float]:
    """F, its lower degrees of freedom, and p (Welch 1951)."""
    k = len(groups)
    w = np.array([len(g) / g.var(ddof=1) for g in groups])
    means = np.array([g.mean() for g in groups])
    share = w / w.sum()
    off = sum((1 - s) ** 2 / (len(g) - 1) for s, g in zip(share, groups, strict=True))
    f = float((w * (means - share @ means) ** 2).sum()) / (k - 1)
    f /= 1 + 2 * (k - 2) / (k**2 - 1) * off
    df = (k**2 - 1) / (3 * off)
    return f, df, float(stats.f.sf(f, k - 1, df))


@FEW
@given(
    st.lists(st.lists(st.integers(-12, 12), min_size=3, max_size=14), min_size=2, max_size=4),
    st.lists(st.sampled_from([0, 0, 5, 12]), min_size=4, max_size=4),
)
def test_means_and_ranks_said_to_differ_do(found: list[list[int]], shifts: list[int]) -> None:
    groups = [np.array(g) + float(s) for g, s in zip(found, shifts, strict=False)]
    assume(all(len(set(g)) > 1 for g in groups))
    f, df, p = welch(groups)
    h = stats.kruskal(*groups)
    pairs = [
        float(stats.ttest_ind(a, b, equal_var=False).pvalue) for a, b in combinations(groups, 2)
    ]
    order = np.argsort(pairs)
    holm, running = np.empty(len(pairs)), 0.0
    for place, at in enumerate(order):
        running = max(running, min(1.0, (len(pairs) - place) * pairs[at]))
        holm[at] = running
    assume(all(abs(one - 0.05) > 1e-6 for one in (p, *holm)))
    names = [name for name, g in zip("abcd", groups, strict=False) for _ in g]
    of = table({"g": names}, x=[float(v) for g in groups for v in g])
    document = {
        "table": "t",
        "kind": "distribution",
        "x": "x",
        "y": ["x"],
        "distribution": {"variable": "x", "by": "g"},
    }
    shown = answer(FigureDocument.model_validate(document), of).answer.distribution
    assert shown is not None
    said = [one.replace("\u00a0", " ") for one in shown.sentences]
    means = re.fullmatch(
        rf"Means of x (differ|do not clearly differ) between categories of g "
        rf"\(Welch's F\({len(groups) - 1}, ({NUMBER})\) = ({NUMBER}), p (?:= ({NUMBER})|< 0\.0001)\)\.",
        said[0],
    )
    assert means, said
    assert (means[1] == "differ") == (p < 0.05)
    assert rounds_to(df, means[2])
    assert rounds_to(f, means[3])
    assert rounds_to(p, means[4]) if means[4] else p < 0.0001
    ranks = re.search(
        rf"Kruskal–Wallis H\(\d\) = ({NUMBER}), (exact )?p (?:= ({NUMBER})|<)", said[1]
    )
    assert ranks, said
    assert rounds_to(float(h.statistic), ranks[1])
    if not ranks[2] and abs(h.pvalue - 0.05) > 1e-6:
        assert said[1].startswith("A rank test agrees") == ((h.pvalue < 0.05) == (p < 0.05))
    if len(groups) > 2:
        clear = int((holm < 0.05).sum())
        assert said[2].startswith(f"{clear or 'None'} of {len(pairs)} pairs of groups "), said


CHANGE = rf"(?:about the same|(?P<value>{NUMBER})(?P<percent> %)? (?P<way>higher|lower))"


def says_change(said: str, before: str, change: float, p: float) -> None:
    """Hold what is said of a change behind some words against the change that there is."""
    found = re.search(re.escape(before) + CHANGE, said)
    assert found, said
    if found["value"] is None:
        assert p > 0.5, said
        return
    assert rounds_to(abs(change), found["value"]), said
    assert found["way"] == ("higher" if change >= 0 else "lower"), said


def said_of(data: Table, **trend: Any) -> str:
    return ask(data, trends=[trend]).trends[0].report.sentence.replace("\u00a0", " ")


@FEW
@given(rows(least=6))
def test_a_logarithmic_curve_differs_so_much_with_each_doubling(
    data: tuple[list[float], list[float]],
) -> None:
    x, y = [v + 1 for v in data[0]], data[1]
    assume(len(set(y)) > 1)
    slope, se, _, p = line_of([math.log(v) for v in x], y)
    assume(se > 1e-9 and abs(p - 0.05) > 1e-6)
    said = said_of(table(x=x, y=y), family="logarithmic")
    assert said.startswith("No clear trend") == (p >= 0.05), said
    says_change(said, "ach time x doubles, y is ", slope * math.log(2), p)


@FEW
@given(rows(least=6, low=1, high=40))
def test_a_power_law_differs_by_a_share_with_a_tenth_more(
    data: tuple[list[float], list[float]],
) -> None:
    x, y = [v + 1 for v in data[0]], data[1]
    assume(min(y) > 0 and len(set(y)) > 1)
    slope, se, _, p = line_of([math.log(v) for v in x], [math.log(v) for v in y])
    assume(se > 1e-9 and abs(p - 0.05) > 1e-6)
    said = said_of(table(x=x, y=y), family="power")
    assert said.startswith("No clear trend") == (p >= 0.05), said
    says_change(said, "er 10 % more x, y is ", 100 * math.expm1(slope * math.log(1.1)), p)


def squares(design: list[np.ndarray], y: list[float]) -> tuple[np.ndarray, float]:
    """Coefficients and the sum of squares that they leave."""
    made = np.column_stack(design)
    found, *_ = np.linalg.lstsq(made, np.array(y), rcond=None)
    return found, float(((made @ found - y) ** 2).sum())


@FEW
@given(rows(least=10), st.integers(3, 9), st.sampled_from([0, 4, -9]))
def test_the_pieces_of_a_segmented_line_are_those_of_least_squares(
    data: tuple[list[float], list[float]], at: int, turn: int
) -> None:
    x, y = data
    assume(len(set(x)) > 5)
    y = [w + turn * max(0.0, v - at) for v, w in zip(x, y, strict=True)]
    assume(len(set(y)) > 2)
    report = ask(table(x=x, y=y), trends=[{"family": "segmented"}]).trends[0].report
    assume(report.problem is None)
    said = report.sentence.replace("\u00a0", " ")
    numbers = {c.name: c.value for c in report.coefficients}
    xs = np.array(x)
    (_, before, bend), _ = squares([np.ones_like(xs), xs, np.maximum(0, xs - numbers["break1"])], y)
    step = read(re.search(rf"step of ({NUMBER}) in x", said)[1])  # type: ignore[index]
    pieces = re.findall(rf"({NUMBER}) (higher|lower)", said)
    assume(len(pieces) == 2)
    for slope, (value, way) in zip((before, before + bend), pieces, strict=True):
        assert rounds_to(abs(slope) * step, value), said
        assert way == ("higher" if slope >= 0 else "lower"), said
    p = re.search(r"by simulation, p (=|<) ([\d.]+)\)", said)
    assert p, said
    assert ("No clear break" in said) == (p[1] == "=" and read(p[2]) >= 0.05), said


@FEW
@given(rows(least=12), st.sampled_from([4.0, 6.0, 7.5]), st.sampled_from([0, 20, 60]))
def test_a_wave_swings_as_least_squares_of_its_period_do(
    data: tuple[list[float], list[float]], period: float, height: int
) -> None:
    x, y = data
    y = [w + height * math.sin(2 * math.pi * v / period) for v, w in zip(x, y, strict=True)]
    assume(len(set(x)) > 6 and len(set(y)) > 3)
    report = ask(table(x=x, y=y), trends=[{"family": "sine-wave"}]).trends[0].report
    assume(report.problem is None)
    said = report.sentence.replace("\u00a0", " ")
    numbers = {c.name: c.value for c in report.coefficients}
    angle = 2 * math.pi * np.array(x) / numbers["T"]
    (level, *both), left = squares([np.ones_like(angle), np.cos(angle), np.sin(angle)], y)
    if said.startswith("No clear wave"):
        assert "fits as well" in said
        return
    # No period nearby leaves less.
    for other in (0.99, 1.01):
        turned = angle * other
        assert squares([np.ones_like(turned), np.cos(turned), np.sin(turned)], y)[1] >= left - 1e-6
    found = re.match(rf"y swings by ({NUMBER}) above and below ({NUMBER}), with a period", said)
    assert found, said
    assert rounds_to(math.hypot(*both), found[1]), said
    assert rounds_to(float(level), found[2]), said


@FEW
@given(st.floats(-20, 20), st.floats(5, 60), st.floats(3, 9), st.floats(0.5, 2), st.integers(0, 99))
def test_an_s_curve_runs_between_levels_that_no_near_curve_betters(
    lower: float, tall: float, middle: float, steepness: float, seed: int
) -> None:
    draw = np.random.default_rng(seed)
    x = np.linspace(0, 12, 25)
    y = lower + tall / (1 + np.exp(-steepness * (x - middle))) + draw.normal(0, tall / 50, 25)
    data = table(x=x.tolist(), y=y.tolist())
    report = ask(data, trends=[{"family": "s-curve"}]).trends[0].report
    assume(report.problem is None)
    said = report.sentence.replace("\u00a0", " ")
    numbers = {c.name: c.value for c in report.coefficients}

    def left(values: np.ndarray) -> np.ndarray:
        low, high, centre, steep = values
        return np.asarray(low + (high - low) / (1 + np.exp(-steep * (x - centre))) - y)

    start = [numbers[name] for name in ("lower", "upper", "middle", "steepness")]
    best = optimize.least_squares(left, start, xtol=1e-14, ftol=1e-14, gtol=1e-14)
    found = re.match(
        rf"y runs from ({NUMBER}) to ({NUMBER})\. It is halfway at x = ({NUMBER}) ", said
    )
    assert found, said
    for value, printed in zip(best.x, found.groups(), strict=False):
        assert rounds_to(float(value), printed), said


@FEW
@given(rows(least=8), st.lists(st.integers(0, 9), min_size=24, max_size=24))
def test_a_plane_says_its_slopes(data: tuple[list[float], list[float]], depth: list[int]) -> None:
    x, z = data
    w = [float(v) for v in depth[: len(x)]]
    assume(len(set(w)) > 2 and len(set(z)) > 2)
    xs, ws = np.array(x), np.array(w)
    design = np.column_stack([np.ones_like(xs), xs, ws])
    assume(np.linalg.matrix_rank(design) == 3)
    found, left = squares([np.ones_like(xs), xs, ws], z)
    df = len(x) - 3
    assume(left > 1e-6)
    errors = np.sqrt(np.diag(np.linalg.inv(design.T @ design)) * left / df)
    p = 2 * stats.t.sf(np.abs(found / errors), df)
    assume((np.abs(p - 0.05) > 1e-6).all())
    of = table(x=x, w=w, y=z)
    parts = {"kind": "3-D scatterplot", "space": {"variable": "w", "plane": {}}}
    said = ask(of, **parts).space.planes[0].sentence.replace("\u00a0", " ")
    for name, other, slope, chance in (("x", "w", found[1], p[1]), ("w", "x", found[2], p[2])):
        words = rf"(No clear trend: p|P)er step of ({NUMBER}) in {name}, at equal {other}, y is "
        start = re.search(words, said)
        assert start, said
        assert start[1].startswith("No") == (chance >= 0.05), said
        says_change(said[start.start() :], start[0], slope * read(start[2]), chance)


def best_of(loss: Any) -> tuple[np.ndarray, float]:
    """The least of a convex loss of two numbers, and where it is."""
    found = optimize.minimize(loss, [0.0, 0.0], method="BFGS", options={"gtol": 1e-9})
    return found.x, float(found.fun)


@FEW
@given(
    st.lists(st.tuples(st.integers(0, 9), st.booleans()), min_size=8, max_size=30),
)
def test_odds_are_those_of_the_likeliest_curve(data: list[tuple[int, bool]]) -> None:
    x, y = (np.array([float(row[k]) for row in data]) for k in (0, 1))
    assume(0 < y.sum() < len(y))
    ones, zeros = x[y == 1], x[y == 0]
    # Rows that lie apart have no likeliest curve, which is told elsewhere.
    assume(ones.min() < zeros.max() and zeros.min() < ones.max())

    def loss(c: np.ndarray) -> float:
        eta = c[0] + c[1] * (x - x.mean())
        return float(np.sum(np.logaddexp(0, eta) - y * eta))

    (_, slope), least = best_of(loss)
    share = y.mean()
    level = -len(y) * (share * math.log(share) + (1 - share) * math.log(1 - share))
    p = float(stats.chi2.sf(2 * (level - least), 1))
    assume(abs(p - 0.05) > 1e-4)
    report = ask(table(x=list(x), y=list(y)), trends=[{"family": "logistic"}]).trends[0].report
    said = report.sentence.replace("\u00a0", " ")
    assert said.startswith("No clear trend") == (p >= 0.05), said
    found = re.search(
        rf"step of ({NUMBER}) in x, the odds of y are ({NUMBER}) times as high "
        rf"\(95 % interval ({NUMBER}) to ({NUMBER})\)",
        said,
    )
    if found is None:
        assert "too steeply to be put in numbers" in said, said
        return
    ratio = math.exp(slope * read(found[1]))
    decimals = len(found[2].partition(".")[2])
    assert abs(ratio - read(found[2])) <= 0.5001 * 10.0**-decimals + 1e-3 * ratio, said
    assert read(found[3]) <= read(found[2]) <= read(found[4])
    # The interval and the test tell the same.
    assert (read(found[3]) > 1 or read(found[4]) < 1) <= (p < 0.05), said


@FEW
@given(st.lists(st.tuples(st.integers(0, 9), st.integers(0, 12)), min_size=8, max_size=30))
def test_counts_differ_by_the_share_of_the_likeliest_curve(data: list[tuple[int, int]]) -> None:
    x, y = (np.array([float(row[k]) for row in data]) for k in (0, 1))
    assume(y.sum() > 3 and len(set(x[y > 0])) > 1 and len(set(x)) > 2)

    def loss(c: np.ndarray) -> float:
        eta = c[0] + c[1] * (x - x.mean())
        return float(np.sum(np.exp(np.minimum(eta, 50)) - y * eta))

    (_, slope), least = best_of(loss)
    mean = y.mean()
    level = len(y) * mean - y.sum() * math.log(mean)
    trend = {"family": "log-linear", "settings": {"variance": "poisson"}}
    report = ask(table(x=list(x), y=list(y)), trends=[trend]).trends[0].report
    p = float(stats.chi2.sf(2 * (level - least), 1))
    assume(report.problem is None and abs(p - 0.05) > 1e-4 and abs(slope) < 3)
    said = report.sentence.replace("\u00a0", " ")
    assert said.startswith("No clear trend") == (p >= 0.05), said
    found = re.search(
        rf"step of ({NUMBER}) in x, y is (?:about the same|({NUMBER}) % (higher|lower))", said
    )
    assert found, said
    if found[2] is None:
        assert p > 0.3
        return
    change = 100 * math.expm1(slope * read(found[1]))
    decimals = len(found[2].partition(".")[2])
    assert abs(abs(change) - read(found[2])) <= 0.5001 * 10.0**-decimals + 1e-3 * abs(change), said
    assert (found[3] == "higher") == (change >= 0) or read(found[2]) == 0

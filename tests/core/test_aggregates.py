"""Summaries of parts, against all rows at once, exact arithmetic and certified sets."""

from __future__ import annotations

import math
import random
from collections.abc import Callable, Sequence
from fractions import Fraction
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core import reference as ref
from yarrowdew.core.aggregates import (
    CellCounts,
    ExactSums,
    Grid,
    NumberSums,
    PairSums,
    Pivot,
    Quantiles,
    RowSample,
    merged,
)
from yarrowdew.core.aggregates.aggregation import Aggregation, Labels, Rows
from yarrowdew.core.aggregates.cell_counts import Tally
from yarrowdew.core.aggregates.quantiles import RELATIVE_ERROR
from yarrowdew.core.aggregates.view_rows import (
    CellsAggregation,
    CellsOfPairsAggregation,
    Side,
    counts_in,
)
from yarrowdew.core.errors import FitError
from yarrowdew.core.sample import Array, Sample, paired
from yarrowdew.core.trends import FAMILIES, fit_trend
from yarrowdew.core.trends.chunked import ChunkedFit, ChunkedRequest, fit_chunked

finite = st.floats(-1e12, 1e12, allow_subnormal=False)
wide = st.floats(allow_nan=False, allow_infinity=False, min_value=-1e300, max_value=1e300)


def pieces(n: int, ends: Sequence[int]) -> list[slice]:
    """Cut so many rows at these places."""
    cuts = sorted({0, n, *(end % (n + 1) for end in ends)})
    return [slice(a, b) for a, b in pairwise(cuts)] or [slice(0, 0)]


def total_of(
    columns: dict[str, Array],
    cut: list[slice],
    labels: dict[str, Sequence[str | None]] | None = None,
) -> Callable[[Aggregation[Any]], Any]:
    """Ask all pieces of some rows, last one first."""

    def rows(piece: slice) -> Rows:
        held = {}
        for name, values in (labels or {}).items():
            own = list(values)[piece]
            names = sorted({v for v in own if v is not None})
            codes = np.array([names.index(v) if v is not None else -1 for v in own], dtype=np.intp)
            held[name] = Labels(codes, names)
        n = len(next(iter(columns.values())))
        return Rows({k: v[piece] for k, v in columns.items()}, held, np.arange(n)[piece])

    return lambda ask: merged(ask.of(rows(piece)) for piece in reversed(cut))


def fitted(
    family: str,
    x: Array,
    y: Array,
    cut: list[slice],
    near: tuple[float, float] | None = None,
    **said: Any,
) -> ChunkedFit:
    of = FAMILIES[family]
    asked = ChunkedRequest("x", "y", None, near or (float(x[0]), float(y[0])))
    return fit_chunked(total_of({"x": x, "y": y}, cut), asked, of, of.settings(**said))[None]


class TestSums:
    @given(st.lists(wide, max_size=30), st.randoms(use_true_random=False))
    def test_are_exact_in_any_order(self, numbers: list[float], order: Any) -> None:
        shuffled = [*numbers]
        order.shuffle(shuffled)
        one = merged([ExactSums.zero(1), *(ExactSums.of([v]) for v in shuffled)])
        assert one.exact() == [sum(map(Fraction, numbers), Fraction())]

    @given(st.lists(st.lists(wide, max_size=8), min_size=1, max_size=6))
    def test_do_not_depend_on_how_they_are_merged(self, groups: list[list[float]]) -> None:
        made = [merged([ExactSums.zero(1), *(ExactSums.of([v]) for v in g)]) for g in groups]
        backwards = made[-1]
        for other in reversed(made[:-1]):
            backwards = other.merge(backwards)
        assert backwards.exact() == merged(made).exact()

    def test_beyond_what_numbers_hold_are_refused_when_asked_for(self) -> None:
        with pytest.raises(FitError, match="sum over all rows"):
            ExactSums.of([1e308]).merge(ExactSums.of([1e308])).exact()


class TestOneVariable:
    @given(
        st.lists(
            finite | st.sampled_from([math.nan, math.inf, -math.inf]), min_size=1, max_size=60
        ),
        st.lists(st.integers(0, 100), max_size=5),
    )
    def test_is_the_same_however_it_is_cut(self, held: list[float], ends: list[int]) -> None:
        values = np.array(held)
        known = values[np.isfinite(values)]
        found = merged(NumberSums.of(values[p], 3.0) for p in pieces(len(values), ends))
        assert (found.n, found.missing, found.infinite) == (
            len(known),
            np.isnan(values).sum(),
            np.isinf(values).sum(),
        )
        if len(known):
            assert (found.low, found.high) == (known.min(), known.max())
            exact = sum(map(Fraction, known.tolist())) / len(known)
            assert found.mean == pytest.approx(float(exact), rel=1e-9, abs=1e-9)

    @given(
        st.lists(finite, min_size=1, max_size=80),
        st.lists(st.integers(0, 100), max_size=5),
        st.floats(0, 1),
        finite,
    )
    def test_a_quantile_lies_where_it_is_said_to(
        self, held: list[float], ends: list[int], share: float, pivot: float
    ) -> None:
        values = np.array(held)
        found = merged(Quantiles.of(values[p], pivot) for p in pieces(len(values), ends))
        true = np.sort(values)[max(math.ceil(share * len(values)), 1) - 1]
        cell = found.at(share)
        assert cell is not None
        room = 4 * np.spacing(max(abs(true), abs(pivot)))
        assert cell[0] - room <= true <= cell[1] + room
        assert cell[1] - cell[0] <= 2.01 * RELATIVE_ERROR * abs(true - pivot) + 1e-300 + 2 * room

    def test_beyond_what_can_be_added_has_ends_and_a_mean_and_no_spread(self) -> None:
        with np.errstate(over="ignore"):
            found = NumberSums.of(np.array([1e300, 2e300, 3e300]), 0.0)
        assert (found.low, found.high, found.n) == (1e300, 3e300, 3)
        assert found.mean == pytest.approx(2e300)
        assert found.sd is None

    def test_without_values_says_nothing(self) -> None:
        nothing = np.array([math.nan, math.nan])
        assert Quantiles.of(nothing, 0.0).at(0.5) is None
        assert NumberSums.of(nothing, 0.0).mean is None
        assert NumberSums.of(nothing, 0.0).sd is None


class TestCounts:
    @given(
        st.lists(st.tuples(finite, finite), max_size=60),
        st.lists(st.integers(0, 100), max_size=5),
    )
    def test_every_row_is_counted_once(
        self, held: list[tuple[float, float]], ends: list[int]
    ) -> None:
        x = np.array([a for a, _ in held])
        y = np.array([b for _, b in held])
        across, up = Grid(-1e11, 1e11, 7), Grid(-5e11, 2e11, 5)
        found = merged(CellCounts.of(across, x[p], up, y[p]) for p in pieces(len(x), ends))
        inside = (np.abs(x) <= 1e11) & (y >= -5e11) & (y <= 2e11)
        assert found.cells.sum() == inside.sum()
        assert found.n == len(x)
        assert found.outside == (~inside).sum()

    def test_an_edge_belongs_to_the_cell_that_begins_there_and_the_last_to_the_last(self) -> None:
        found = CellCounts.of(Grid(0, 3, 3), np.array([0.0, 1, 2, 3, 3.1, -0.1, math.nan]))
        assert found.cells.tolist() == [1, 1, 2]
        assert (found.n, found.outside) == (6, 2)


class TestSamples:
    @given(
        st.integers(0, 400),
        st.lists(st.integers(0, 400), max_size=6),
        st.integers(1, 50),
    )
    def test_are_the_same_rows_however_they_are_cut(
        self, n: int, ends: list[int], most: int
    ) -> None:
        rows = np.arange(n)
        columns = {"x": rows * 2.0}
        whole = RowSample.of(rows, columns, most)
        parts = [RowSample.of(rows[p], {"x": columns["x"][p]}, most) for p in pieces(n, ends)]
        found = merged(reversed(parts))
        assert found.rows.tolist() == whole.rows.tolist()
        assert found.columns["x"].tolist() == (found.rows * 2.0).tolist()
        assert (len(found.rows), found.seen) == (min(n, most), n)

    def test_no_stretch_of_rows_is_preferred(self) -> None:
        n, most = 100_000, 10_000
        kept = RowSample.of(np.arange(n), {}, most).rows
        tenths = np.bincount(kept // (n // 10), minlength=10)
        # A binomial count of mean 1,000: six standard deviations.
        assert np.abs(tenths - 1_000).max() < 6 * math.sqrt(900)


LINES = ["straight", "origin", "reduced-major-axis", "logarithmic", "exponential", "power"]


class TestFits:
    @settings(max_examples=60, deadline=None)
    @given(
        st.sampled_from([*LINES, "polynomial"]),
        st.integers(20, 300),
        st.integers(0, 2**31),
        st.lists(st.integers(0, 300), max_size=8),
        st.tuples(st.sampled_from([0.0, 50.0, 1e6]), st.sampled_from([1e-3, 1.0, 1e4])),
    )
    def test_are_those_of_all_rows_at_once(
        self, family: str, n: int, seed: int, ends: list[int], where: tuple[float, float]
    ) -> None:
        rng = np.random.default_rng(seed)
        away, size = where
        x = away + size * rng.uniform(0.5, 9, n)
        y = np.exp(0.3 + 0.2 * (x - away) / size + rng.normal(0, 0.3, n))
        whole = fit_trend(paired(x, y), family)
        made = fitted(family, x, y, pieces(n, ends)).fit
        assert made is not None
        assert made.n == whole.n
        assert made.x_range == whole.x_range
        assert made.residual_sd == pytest.approx(whole.residual_sd, rel=1e-12)
        assert made.r_squared == pytest.approx(whole.r_squared, rel=1e-11, abs=1e-12)
        at = np.linspace(x.min(), x.max(), 9)
        assert made.predict(at) == pytest.approx(whole.predict(at), rel=1e-12, abs=1e-12)
        for own, other in zip(made.coefficients(0.95), whole.coefficients(0.95), strict=True):
            # A constant far from the data is known no better than where the data are.
            near = 1e-12 if away == 0 else 1e-9
            assert own.value == pytest.approx(other.value, rel=near)
            if other.se is not None:
                assert own.se == pytest.approx(other.se, rel=1e-9)

    def test_a_pivot_that_is_far_off_costs_no_digits(self) -> None:
        rng = np.random.default_rng(4)
        x = 1e9 + rng.normal(0, 1, 5_000)
        y = 2 * x + rng.normal(0, 1e-4, 5_000)
        whole = fit_trend(paired(x, y), "straight")
        made = fitted("straight", x, y, pieces(5_000, [700, 2_100, 4_000]), near=(0.0, 0.0)).fit
        assert made is not None
        assert made.residual_sd == pytest.approx(whole.residual_sd, rel=1e-9)
        assert made.coefficients(0.95)[1].value == pytest.approx(
            whole.coefficients(0.95)[1].value, rel=1e-13
        )

    def test_norris_in_pieces(self) -> None:
        y, x = ref.NORRIS.T
        made = fitted("straight", x, y, pieces(36, [5, 6, 20, 31])).fit
        assert made is not None
        a, b = made.coefficients(0.95)
        certified = ref.NORRIS_CERTIFIED
        found = (a.value, a.se, b.value, b.se, made.residual_sd, made.r_squared)
        assert found == pytest.approx([certified[k] for k in certified], rel=1e-10)

    def test_a_line_through_the_origin_in_pieces(self) -> None:
        made = fitted("origin", ref.NOINT1_X, ref.NOINT1_Y, pieces(11, [2, 7])).fit
        assert made is not None
        certified = ref.NOINT1_CERTIFIED
        b = made.coefficients(0.95)[1]
        found = (b.value, b.se, made.residual_sd, made.r_squared)
        assert found == pytest.approx([certified[k] for k in certified], rel=1e-10)

    def test_wampler_in_pieces(self) -> None:
        y = ref.WAMPLER_EXACT_Y + ref.WAMPLER_SCATTER
        made = fitted("polynomial", ref.WAMPLER_X, y, pieces(21, [4, 11, 13]), degree=5).fit
        assert made is not None
        assert [c.value for c in made.coefficients(0.95)] == pytest.approx([1] * 6, rel=1e-10)
        assert [c.se for c in made.coefficients(0.95)] == pytest.approx(ref.WAMPLER3_SE, rel=1e-10)
        assert made.residual_sd == pytest.approx(ref.WAMPLER3_RESIDUAL_SD, rel=1e-10)

    def test_a_perfect_polynomial_in_pieces_is_called_one(self) -> None:
        made = fitted(
            "polynomial", ref.WAMPLER_X, ref.WAMPLER_EXACT_Y, pieces(21, [9]), degree=5
        ).fit
        assert made is not None
        assert made.residual_sd == 0
        assert [c.value for c in made.coefficients(0.95)] == pytest.approx([1] * 6, rel=1e-10)

    def test_every_group_has_its_own_line(self) -> None:
        x = np.arange(12.0)
        names = ["A", "B", None] * 4
        slopes = {"A": 2.0, "B": -3.0, None: 0.0}
        y = np.array([slopes[g] * v + (v % 2) for g, v in zip(names, x, strict=True)])
        total = total_of({"x": x, "y": y}, pieces(12, [4, 5]), {"g": names})
        found = fit_chunked(total, ChunkedRequest("x", "y", "g", (0.0, 0.0)), FAMILIES["straight"])
        assert sorted(found, key=str) == ["A", "B"]
        for group in ("A", "B"):
            own = np.array([g == group for g in names])
            whole = fit_trend(paired(x[own], y[own]), "straight")
            fit = found[group].fit
            assert fit is not None
            assert fit.coefficients(0.95)[1].value == pytest.approx(
                whole.coefficients(0.95)[1].value, rel=1e-12
            )

    def test_a_family_without_sums_is_fitted_to_a_sample_and_says_so(
        self, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        monkeypatch.setattr("yarrowdew.core.trends.chunked.SAMPLED_ROWS", 200)
        x = np.linspace(0, 10, 1_000)
        found = fitted("local", x, np.sin(x), pieces(1_000, [100, 350]))
        assert found.sampled == 200
        assert found.sums.n == 1_000
        assert found.fit is not None
        assert found.fit.n == 200

    @pytest.mark.parametrize(
        ("family", "x", "y", "said"),
        [
            ("straight", [1.0, 1, 1], [1.0, 2, 3], "Every row has the same x"),
            ("straight", [1.0, math.nan], [1.0, 2], "at least three rows"),
            ("polynomial", [1.0, 1, 1, 1], [1.0, 2, 3, 4], "at least three different values"),
            ("power", [1.0, 2, 3, -4], [1.0, 2, 3, 4], "1 row has x at or below 0"),
            ("reduced-major-axis", [1.0, 2, 3, 4], [5.0, 5, 5, 5], "no direction"),
            ("origin", [0.0, 0, 0], [1.0, 2, 3], "Every row has x = 0"),
            ("straight", [1e300, 2e300, 5e300, 7e300], [1.0, 2, 3, 5], "too large"),
        ],
    )
    def test_what_cannot_be_fitted_says_why(
        self, family: str, x: list[float], y: list[float], said: str
    ) -> None:
        found = fitted(family, np.array(x), np.array(y), pieces(len(x), [1]), near=(1.0, 1.0))
        assert found.fit is None
        assert said in found.problem


def test_sums_of_no_rows_are_nothing() -> None:
    nothing = PairSums.of(np.empty(0), np.empty(0), Pivot(0.0, 0.0))
    some = PairSums.of(np.array([1.0, 2, 4]), np.array([2.0, 3, 9]), Pivot(0.0, 0.0))
    assert nothing.merge(some) == some
    assert nothing.correlation() is None
    whole = Sample(np.array([1.0, 2, 4]), np.array([2.0, 3, 9]), None, np.arange(3))
    assert some.correlation() == pytest.approx(np.corrcoef(whole.x, whole.y)[0, 1], rel=1e-13)


@given(
    st.lists(
        st.tuples(st.integers(-3, 12), st.integers(-3, 12) | st.just(None), st.integers(0, 2)),
        max_size=40,
    ),
    st.lists(st.integers(0, 100), max_size=6),
    st.integers(0, 30),
    st.randoms(),
)
def test_what_waits_to_be_counted_is_counted_once(
    rows: list[tuple[int, int | None, int]],
    ends: list[int],
    most: int,
    order: random.Random,
) -> None:
    x = np.array([row[0] for row in rows], dtype=float)
    y = np.array([math.nan if row[1] is None else row[1] for row in rows], dtype=float)
    group = np.array([row[2] for row in rows], dtype=np.int64)
    grids = Grid(0.0, 10.0, 5), Grid(0.0, 9.0, 3)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("yarrowdew.core.aggregates.cell_counts._MOST_LISTED", most)
        parts = [
            Tally.of_each(grids[0], x[some], grids[1], y[some], groups=group[some], count=3)
            for some in pieces(len(rows), ends)
        ]
        order.shuffle(parts)
        found = [merged(one).counts() for one in zip(*parts, strict=True)]
    for own, counts in enumerate(found):
        mine = group == own
        edges = np.array([0, 2, 4, 6, 8, 10]), np.array([0, 3, 6, 9])
        known = np.histogram2d(x[mine & ~np.isnan(y)], y[mine & ~np.isnan(y)], edges)[0].T
        assert counts.cells.tolist() == known.tolist()
        assert counts.n == np.count_nonzero(mine & ~np.isnan(y))
        assert counts.outside == counts.n - known.sum()


class TestSeveralAtOnce:
    @given(
        st.lists(
            st.tuples(finite, finite | st.just(math.nan), st.sampled_from(["a", "b", None])),
            min_size=2,
            max_size=60,
        ),
        st.lists(st.integers(0, 100), max_size=4),
    )
    def test_cells_of_pairs_are_those_of_each_pair(
        self, rows: list[tuple[float, float, str | None]], ends: list[int]
    ) -> None:
        columns = {name: np.array([row[place] for row in rows]) for place, name in enumerate("xy")}
        columns["z"] = columns["x"][::-1].copy()
        total = total_of(columns, pieces(len(rows), ends), {"g": [group for *_, group in rows]})
        sides = tuple(
            Side(name, Grid(float(np.nanmin(v)), float(np.nanmax(v)) + 1, 7))
            for name, v in columns.items()
            if not np.isnan(v).all()
        )
        pairs = tuple((a, b) for a in range(len(sides)) for b in range(a))
        for by in (None, "g"):
            found = total(CellsOfPairsAggregation(sides, pairs, by)).parts
            for (a, b), together in zip(pairs, found, strict=True):
                alone = counts_in(total(CellsAggregation(sides[a], sides[b], by)))
                there = {name: one for name, one in alone.items() if one.cells.any()}
                assert set(together.groups) == set(there)
                for name, one in together.groups.items():
                    assert one.cells.tolist() == there[name].cells.tolist()
                    assert one.n == there[name].cells.sum()

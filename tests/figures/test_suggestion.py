"""The first figure of thirty tables of different make, each said beforehand by who made it."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, timedelta

import numpy as np
import polars as pl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarrowdew.demo.tables import demo_tables
from yarrowdew.figures.analyses.suggestion import (
    pairs_by_interest,
    repeated_columns,
    suggest_figure,
    worth_a_look,
)
from yarrowdew.tables.errors import TableError
from yarrowdew.tables.reading import read_bytes
from yarrowdew.tables.table import Kind, Table

NIGHTS, STATIONS, TRIAL, CISTERN = demo_tables()
R = np.random.default_rng(71)
N = 60
U = R.uniform(10, 90, N)
V = R.normal(0, 1, N)


def text(**columns: object) -> str:
    """Write a table as a person would hand it over."""
    return pl.DataFrame(columns).write_csv()


def read(content: str, name: str = "made.csv") -> Table:
    return read_bytes(content.encode(), name).table


def days(count: int) -> list[str]:
    return [(date(2025, 3, 1) + timedelta(k)).isoformat() for k in range(count)]


def like(x: np.ndarray, noise: float = 5.0) -> np.ndarray:
    return np.round(3 * x + noise * R.normal(0, 1, len(x)), 2)


count = np.arange(1, N + 1)
codes = R.integers(1, 4, N)
shuffled = R.permutation(np.arange(4_000, 4_000 + N))

TABLES: dict[str, tuple[Callable[[], str], tuple[str, str]]] = {
    "two numbers": (lambda: text(width=U, weight=like(U)), ("width", "weight")),
    "the response first": (lambda: text(weight=like(U), width=U), ("width", "weight")),
    "a row counter first": (
        lambda: text(row=count, width=U, weight=like(U)),
        ("width", "weight"),
    ),
    "a counter without a name that says so": (
        lambda: text(entry=count, width=U, weight=like(U)),
        ("width", "weight"),
    ),
    "a counter that starts at 4,000": (
        lambda: text(ref=count + 4_000, width=U, weight=like(U)),
        ("width", "weight"),
    ),
    "identifiers in no order": (
        lambda: text(site_id=shuffled, width=U, weight=like(U)),
        ("width", "weight"),
    ),
    "identifiers written as one word": (
        lambda: text(siteId=shuffled, width=U, weight=like(U)),
        ("width", "weight"),
    ),
    "identifiers last": (
        lambda: text(width=U, weight=like(U), number=shuffled),
        ("width", "weight"),
    ),
    "a code of groups against a cost": (
        lambda: text(mesh_code=codes, area=U, cost=like(U)),
        ("area", "cost"),
    ),
    "a code between": (lambda: text(area=U, kind=codes, cost=like(U)), ("area", "cost")),
    "a date and a number": (lambda: text(day=days(N), level=U), ("day", "level")),
    "a date last": (lambda: text(other=U, level=V, taken=days(N)), ("taken", "level")),
    "a date and eight trees": (
        lambda: text(
            day=days(N), **{f"tree {k}": 20 + k + 0.2 * count + R.normal(0, k, N) for k in range(8)}
        ),
        ("day", "tree 0"),
    ),
    "a date that is the same all through": (
        lambda: text(read_on=["2025-03-01"] * N, again=days(N), level=U),
        ("again", "level"),
    ),
    "a year across": (
        lambda: text(year=1966 + count, catch=V, fleet=count * 3.1 + V),
        ("year", "fleet"),
    ),
    "time in tens of seconds": (
        lambda: text(volume=np.exp(-count / 20) + 0.02 * V, time=count * 10),
        ("time", "volume"),
    ),
    "seconds one by one": (
        lambda: text(**{"time (s)": count - 1, "voltage (V)": like(count.astype(float))}),
        ("time", "voltage"),
    ),
    "even steps of a name that says nothing": (
        lambda: text(q=0.25 * count, s=like(0.25 * count)),
        ("q", "s"),
    ),
    "a dose that repeats": (
        lambda: text(
            dose=np.repeat([0, 1, 2, 4, 8, 16], 10), shed=like(np.repeat([0.0, 1, 2, 4, 8, 16], 10))
        ),
        ("dose", "shed"),
    ),
    "the pair that goes together most": (
        lambda: text(a=U, b=V + 100, c=np.round(U + 30 * V, 2), d=R.normal(0, 1, N), e=like(U, 2)),
        ("a", "e"),
    ),
    "one that bends": (
        lambda: text(a=V, b=U, c=np.round(np.exp(U / 20), 3) + 0.01 * V),
        ("b", "c"),
    ),
    "the same length twice": (
        lambda: text(mm=U, inch=U / 25.4, weight=like(U, 20)),
        ("mm", "weight"),
    ),
    "a variable that never changes": (
        lambda: text(depth_code=[7] * N, width=U, weight=like(U)),
        ("width", "weight"),
    ),
    "one that is mostly missing": (
        lambda: text(
            lab=[float(v) if k < 9 else None for k, v in enumerate(U)], width=U, weight=like(U, 60)
        ),
        ("width", "weight"),
    ),
    "standard errors beside means": (
        lambda: text(density=U, density_se=U / 10 + 0.01 * V, germinated=like(U, 40)),
        ("density", "germinated"),
    ),
    "words between": (
        lambda: text(
            name=[f"rowan {k}" for k in range(N)], girth=U, mesh=["a", "b"] * 30, crown=like(U)
        ),
        ("girth", "crown"),
    ),
    "no header": (
        lambda: "\n".join(f"{a:.2f},{b:.2f}" for a, b in zip(U, like(U), strict=True)),
        ("column 1", "column 2"),
    ),
    "three rows": (lambda: text(a=[1.5, 2, 4], b=["x", "y", "z"], c=[3.5, 5, 1.5]), ("a", "c")),
    "nothing but codes": (lambda: text(first=codes, second=codes[::-1]), ("first", "second")),
    "commas for decimals": (
        lambda: "\n".join(
            [
                "breite;gewicht",
                *(f"{a:.1f};{b:.1f}".replace(".", ",") for a, b in zip(U, like(U), strict=True)),
            ]
        ),
        ("breite", "gewicht"),
    ),
}


@pytest.mark.parametrize("make", TABLES)
def test_the_first_figure_is_the_one_that_is_meant(make: str) -> None:
    content, wanted = TABLES[make]
    document = suggest_figure(read(content()), "id")
    assert (document.x, *document.y, document.table) == (*wanted, "id")


def test_the_demo_begins_with_its_nights() -> None:
    document = suggest_figure(NIGHTS, "id")
    assert (document.x, document.y) == ("night", ["yield"])
    assert pairs_by_interest(CISTERN) == [("day", "level")]
    # The dose rises in steps that are not even; it is known by its name.
    assert pairs_by_interest(TRIAL)[0][0] == "dose"


def test_others_that_are_worth_a_look_have_a_picture() -> None:
    first, *others = worth_a_look(NIGHTS)
    assert (first.x, first.y, first.x_label, first.y_label) == ("night", "yield", "Night", "Yield")
    assert len(others) == 6
    assert len({(one.x, one.y) for one in [first, *others]}) == 7
    assert all(len(one.across) == len(one.up) > 50 for one in others)
    assert all(0 <= v <= 1 for one in others for v in [*one.across, *one.up])


def test_no_number_variable() -> None:
    with pytest.raises(TableError, match="made has no variable of numbers"):
        suggest_figure(read("a,b\nx,u\ny,v\n"), "id")
    assert pairs_by_interest(read("a,b\nx,1\ny,2\n")) == []


@given(
    st.lists(
        st.tuples(*[st.none() | st.floats(allow_nan=False, allow_infinity=False)] * 3), max_size=8
    )
)
def test_any_three_columns_of_numbers_have_a_figure_and_no_pair_twice(rows: list[tuple]) -> None:
    frame = pl.DataFrame(rows, schema=dict.fromkeys("abc", pl.Float64), orient="row")
    variables = tuple(v for v in NIGHTS.variables if v.kind is Kind.NUMBER)[:3]
    table = Table(
        "made", variables, frame.rename(dict(zip("abc", [v.name for v in variables], strict=True)))
    )
    found = [frozenset(pair) for pair in pairs_by_interest(table)]
    assert len(found) == len(set(found))
    assert suggest_figure(table, "id").x
    worth_a_look(table)


@pytest.mark.parametrize(
    ("columns", "found"),
    [
        (["wk1", "wk2", "wk3", "wk4"], ("wk", 4)),
        (["artist", "wk1", "wk2", "wk3", "wk4", "wk5"], ("wk", 5)),
        (["Day 0", "Day 1", "Day 4", "Day 8"], ("Day", 4)),
        # Too few, not in order, or numbers without a name in common.
        (["wk1", "wk2", "wk3"], None),
        (["wk4", "wk3", "wk2", "wk1"], None),
        (["2001", "2002", "2003", "2004"], None),
        (["wk1", "day2", "wk3", "day4", "wk5"], None),
    ],
)
def test_columns_numbered_alike_are_offered_to_be_stacked(
    columns: list[str], found: tuple[str, int] | None
) -> None:
    rows = {name: [1.0, 2.0, 4.0] if name != "artist" else ["a", "b", "c"] for name in columns}
    repeated = repeated_columns(read(text(**rows)))
    assert (repeated and (repeated.name, len(repeated.variables))) == found

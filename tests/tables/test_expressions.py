from __future__ import annotations

import datetime as dt
import math

import polars as pl
import pytest

from yarrowdew.tables.expressions import ExpressionError, derive, sources_of
from yarrowdew.tables.table import Kind, Table, Variable

TABLE = Table(
    "dew",
    (
        Variable("x", Kind.NUMBER, "x"),
        Variable("air temperature", Kind.NUMBER, "Air temperature"),
        Variable("day", Kind.DATE, "Day"),
        Variable("mesh", Kind.CATEGORY, "Mesh"),
    ),
    pl.DataFrame(
        {
            "x": [1.0, 2.0, None, 8.0],
            "air temperature": [10.0, 0.0, 5.0, -4.0],
            "day": [dt.date(2031, 1, 31), dt.date(2031, 2, 1), None, dt.date(2032, 12, 31)],
            "mesh": pl.Series(
                ["single", "double", "single", None], dtype=pl.Enum(["single", "double"])
            ),
        }
    ),
)


def values(expression: str) -> list:
    return derive(TABLE, expression).values.to_list()


@pytest.mark.parametrize(
    ("expression", "expected"),
    [
        ("2 * x + 1", [3, 5, None, 17]),
        ("{air temperature} - x", [9, -2, None, -12]),
        # Precedence as in Python.
        ("-x ** 2", [-1, -4, None, -64]),
        ("2 ** 3 ** 2", [512] * 4),
        ("2 ** -1", [0.5] * 4),
        ("(1 + x) * 2", [4, 6, None, 18]),
        ("7 // 2 + 7 % 2 - 1 / 4", [3.75] * 4),
        ("-7 // 2", [-4] * 4),
        ("1.5e1 + .5", [15.5] * 4),
        # What does not exist is missing.
        ("1 / {air temperature}", [0.1, None, 0.2, -0.25]),
        ("ln({air temperature})", [math.log(10), None, math.log(5), None]),
        ("log10(x)", [0, math.log10(2), None, math.log10(8)]),
        ("sqrt(abs({air temperature}))", [math.sqrt(10), 0, math.sqrt(5), 2]),
        ("exp(0 * x)", [1, 1, None, 1]),
        ("round(x / 3, 1)", [0.3, 0.7, None, 2.7]),
        ("rank(x)", [1, 2, None, 3]),
        ("centre(x)", [1 - 11 / 3, 2 - 11 / 3, None, 8 - 11 / 3]),
        ("lag(x)", [None, 1, 2, None]),
        ("lag({air temperature}, -1)", [0, 5, -4, None]),
        ("difference({air temperature})", [None, -10, 5, -9]),
        ("cumulative({air temperature})", [10, 10, 15, 11]),
        ("year(day)", [2031, 2031, None, 2032]),
        ("month(day) + day_of_year(day) / 1000", [1.031, 2.032, None, 12.366]),
        ("days_since(day, '2031-01-01')", [30, 31, None, 730]),
        ("days_since(day)", [0, 1, None, 700]),
        ("day - day + 3", [3, 3, None, 3]),
    ],
)
def test_numbers(expression: str, expected: list) -> None:
    derived = derive(TABLE, expression)
    assert derived.kind is Kind.NUMBER
    for found, wanted in zip(derived.values.to_list(), expected, strict=True):
        assert found == (None if wanted is None else pytest.approx(wanted, rel=1e-12))


def test_standardised_values_have_mean_zero_and_sd_one() -> None:
    column = derive(TABLE, "standardise(x)").values
    assert column.mean() == pytest.approx(0, abs=1e-12)
    assert column.std() == pytest.approx(1)


@pytest.mark.parametrize(
    ("expression", "expected"),
    [
        ("x > 1", ["no", "yes", None, "yes"]),
        ("x > 1 and not mesh == 'double'", ["no", "no", None, None]),
        ("mesh != 'single' or {air temperature} >= 5", ["yes", "yes", "yes", None]),
        ("day < '2031-02-01'", ["yes", "no", None, "no"]),
        ("if_else(x >= 2, 'wet', 'dry')", ["dry", "wet", None, "wet"]),
        ("classes_of_width({air temperature}, 2)", ["from 3", "below 3", "from 3", "below 3"]),
        ("classes_of_count(x, 2)", ["below 2", "from 2", None, "from 2"]),
        ("classes_at(x, 2, 5)", ["below 2", "2 to 5", None, "from 5"]),
        ("mesh", ["single", "double", "single", None]),
    ],
)
def test_categories(expression: str, expected: list) -> None:
    derived = derive(TABLE, expression)
    assert derived.kind is Kind.CATEGORY
    assert derived.values.to_list() == expected


def test_classes_keep_their_order() -> None:
    derived = derive(TABLE, "classes_at(x, 2, 10)")
    assert derived.values.dtype == pl.Enum(["below 2", "2 to 10", "from 10"])


def test_dates_stay_dates_and_sources_are_named() -> None:
    derived = derive(TABLE, "if_else(x > 0, day, day)")
    assert derived.kind is Kind.DATE
    assert derived.sources == ("x", "day")


@pytest.mark.parametrize(
    ("expression", "message", "position"),
    [
        ("", "A value is expected instead of the end", 0),
        ("x +", "A value is expected instead of the end", 3),
        ("x + * 2", r"A value is expected instead of '\*'", 4),
        ("(x + 1", r"'\)' is expected instead of the end", 6),
        ("x 2", "'2' is not expected here", 2),
        ("rain * 2", "no variable 'rain'", 0),
        ("2 * {rain fall}", "no variable 'rain fall'", 4),
        ("sine(x)", "no function 'sine'", 0),
        ("1 + mesh", r"'\+' needs numbers, and this is text", 4),
        ("ln(mesh)", "'ln' needs a number here", 3),
        ("ln(x, 2, 3)", "'ln' takes 1 value, not 3", 0),
        ("x > 'a'", "A number cannot be compared with text", 2),
        ("x and 1", "'and' joins conditions, and this is a number", 0),
        ("if_else(x, 1, 2)", "starts with a condition", 8),
        ("if_else(x > 1, 1, 'a')", "must be of one kind", 18),
        ("day < 'soon'", "'soon' is not a date", 6),
        ("lag(x, 1.5)", "needs a whole number", 7),
        ("classes_of_width(x, 1)", "2 to 24 classes", 20),
        ("classes_at(x, 5, 2)", "numbers in increasing order", 14),
        ("x ? 2", r"'\?' has no meaning", 2),
        ("x.__class__", r"'\.' has no meaning", 1),
        ("__import__('os')", "no function '__import__'", 0),
        ("[x]", r"'\[' has no meaning", 0),
        ("(" * 80 + "x" + ")" * 80, "nested too deeply", 51),
        ("-" * 80 + "x", "nested too deeply", 51),
    ],
)
def test_errors_point_at_the_place(expression: str, message: str, position: int) -> None:
    with pytest.raises(ExpressionError, match=message) as caught:
        values(expression)
    assert caught.value.position == position


def test_a_very_long_expression_is_refused() -> None:
    with pytest.raises(ExpressionError, match="longer than 2,000"):
        values("x" + " + x" * 1000)


def test_sources_are_named_without_working_anything_out(monkeypatch: pytest.MonkeyPatch) -> None:
    def worked_out(*_: object) -> None:
        raise AssertionError("nothing is worked out to name sources")

    monkeypatch.setattr("yarrowdew.tables.expressions.worked_out", worked_out)
    monkeypatch.setattr("polars.DataFrame.select", worked_out)
    named = sources_of(TABLE, "classes_of_width({air temperature} / x, 2)")
    assert named == ("air temperature", "x")
    with pytest.raises(ExpressionError, match="There is no variable 'gone'"):
        sources_of(TABLE, "x + gone")

from __future__ import annotations

import pytest

from yarrowdew.tables.naming import distinct_names, label_of, split_header


@pytest.mark.parametrize(
    ("header", "name", "unit"),
    [
        ("humidity (%)", "humidity", "%"),
        ("yield [mL/m²]", "yield", "mL/m²"),
        ("yield, mL/m^2", "yield", "mL/m^2"),
        ("wind / m/s", "wind", "m/s"),
        ("dose/g", "dose", "g"),
        ("air temperature, °C", "air temperature", "°C"),
        ("speed (km/h)", "speed", "km/h"),
        # What only looks like a unit stays in the name.
        ("input/output", "input/output", ""),
        ("Argill, upper", "Argill, upper", ""),
        ("run (2)", "run (2)", ""),
        ("share (of all who answered)", "share (of all who answered)", ""),
        ("  spaced   out ", "spaced out", ""),
        ("", "", ""),
    ],
)
def test_units_in_headers(header: str, name: str, unit: str) -> None:
    assert split_header(header) == (name, unit)


def test_every_name_is_its_own() -> None:
    assert distinct_names(["a", "", "a", "a 2", ""]) == ["a", "column 2", "a 3", "a 2", "column 5"]


@pytest.mark.parametrize(
    ("name", "label"), [("yield", "Yield"), ("pH", "pH"), ("x", "x"), ("mean_yield", "Mean yield")]
)
def test_labels_start_with_a_capital_where_a_word_does(name: str, label: str) -> None:
    assert label_of(name) == label

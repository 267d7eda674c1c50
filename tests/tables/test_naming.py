from __future__ import annotations

import pytest

from yarrowdew.tables.naming import distinct_names, label_of, split_header, trailing_unit
from yarrowdew.tables.reading import read_bytes


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


@pytest.mark.parametrize(
    ("name", "found"),
    [
        ("length_mm", ("length", "mm")),
        ("wing_length_um", ("wing_length", "µm")),
        ("mass_g", ("mass", "g")),
        ("temp_c", ("temp", "°C")),
        ("body_mass_g", ("body_mass", "g")),
        ("humidity_pct", ("humidity", "%")),
        ("time_s", ("time", "s")),
        # A letter is a unit only of what is measured in it.
        ("plan_c", None),
        ("tree_m", None),
        ("mm", None),
        ("type_id", None),
    ],
)
def test_units_at_the_end_of_a_name(name: str, found: tuple[str, str] | None) -> None:
    assert trailing_unit(name) == found


def test_a_name_with_a_unit_at_its_end_stays_as_the_file_has_it() -> None:
    table = read_bytes(b"length_mm,kind_mm\n1.5,a\n2,b\n4,a\n", "made.csv").table
    length, kind = table.variables
    assert (length.name, length.label, length.unit) == ("length_mm", "Length", "mm")
    assert (kind.name, kind.label, kind.unit) == ("kind_mm", "Kind mm", "")


def test_every_name_is_its_own() -> None:
    assert distinct_names(["a", "", "a", "a 2", ""]) == ["a", "column 2", "a 3", "a 2", "column 5"]


@pytest.mark.parametrize(
    ("name", "label"), [("yield", "Yield"), ("pH", "pH"), ("x", "x"), ("mean_yield", "Mean yield")]
)
def test_labels_start_with_a_capital_where_a_word_does(name: str, label: str) -> None:
    assert label_of(name) == label

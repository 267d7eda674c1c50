from __future__ import annotations

import numpy as np
import pytest

from yarrowdew.core.equation import EquationForm, decimals_for, number_text
from yarrowdew.core.sample import paired
from yarrowdew.core.trends.families.straight import fit_line


def form_of(a: float, b: float) -> EquationForm:
    x = np.array([0.0, 1.0, 2.0])
    return fit_line(paired(x, a + b * x)).form


def printed(text: str, x: float) -> float:
    """Evaluate a plain equation as a reader would."""
    right = text.split("=")[1].replace(" x", f" * {x!r}").replace("+ ", "+").replace("- ", "-")
    return float(eval(right, {"__builtins__": {}}))  # noqa: S307 (our own text)


@pytest.mark.parametrize(
    ("a", "b", "style", "expected"),
    [
        (-354.0, 7.13, "typographic", "y = −354 + 7.13 x"),
        (-354.0, 7.13, "plain", "y = -354 + 7.13 x"),
        (689.0, -4.08, "typographic", "y = 689 − 4.08 x"),
        (2.0e7, 1.5e-6, "typographic", "y = 2.00 × 10^{7} + 1.50 × 10^{−6} x"),
        (2.0e7, -1.5e-6, "plain", "y = 2.00e7 - 1.50e-6 x"),
        (0.0, 3.0, "plain", "y = 0 + 3.00 x"),
    ],
)
def test_how_a_line_is_printed(a: float, b: float, style: str, expected: str) -> None:
    form = EquationForm((a, b), form_of(1, 1).evaluate, form_of(1, 1).pattern)
    assert form.text(3, style) == expected


def test_names_of_variables_can_stand_for_x_and_y() -> None:
    assert form_of(1, 2).text(3, x="humidity", y="yield") == "yield = 1.00 + 2.00 humidity"


def test_a_line_through_the_origin_has_no_constant() -> None:
    model = fit_line(paired([1, 2, 3], [2, 4, 6]), intercept=0.0)
    assert model.form.text(3) == "y = 2.00 x"


@pytest.mark.parametrize("offset", [0, 20_000, 1e6])
def test_the_equation_as_printed_lands_on_the_line(offset: float) -> None:
    """Far from zero a rounded slope would miss by far; digits are added until it does not."""
    rng = np.random.default_rng(3)
    x = offset + np.linspace(0, 400, 50)
    y = 118 + 0.0613 * (x - offset) + rng.normal(0, 2, x.size)
    model = fit_line(paired(x, y))
    digits = model.form.digits_needed(model.x_range, float(np.ptp(y)))
    text = model.form.text(digits, "plain")
    for at in np.linspace(*model.x_range, 11):
        assert printed(text, float(at)) == pytest.approx(
            float(model.predict(np.array([at]))[0]), abs=0.001 * float(np.ptp(y))
        )
    if digits > 3:
        fewer = model.form.text(digits - 1, "plain")
        misses = [
            abs(printed(fewer, float(at)) - float(model.predict(np.array([at]))[0]))
            for at in np.linspace(*model.x_range, 257)
        ]
        assert max(misses) > 0.001 * float(np.ptp(y))


@pytest.mark.parametrize(
    ("value", "digits", "expected"),
    [(0.0, 3, "0"), (1234.5, 3, "1230"), (0.00012345, 3, "0.000123"), (-0.5, 2, "−0.50")],
)
def test_numbers_in_print(value: float, digits: int, expected: str) -> None:
    assert number_text(value, digits) == expected


@pytest.mark.parametrize(
    ("half_width", "decimals"), [(0.75, 1), (1.3, 1), (0.12, 2), (5, 0), (120, 0), (0, 2)]
)
def test_decimals_follow_the_uncertainty(half_width: float, decimals: int) -> None:
    assert decimals_for(half_width) == decimals

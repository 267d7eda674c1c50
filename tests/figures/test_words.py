from __future__ import annotations

import pytest

from yarrowdew.core.trends import family_of
from yarrowdew.core.trends.base import Coefficient
from yarrowdew.figures.text.sentences import ToSay, trend_sentence
from yarrowdew.figures.text.words import GAP, in_sentence, number, p_text, percent, rest_of, stem_of
from yarrowdew.tables.table import Kind, Variable

HUMIDITY = Variable("humidity", Kind.NUMBER, "Humidity", "%")
YIELD = Variable("yield", Kind.NUMBER, "Yield", "mL/m²")
DAY = Variable("day", Kind.DATE, "Day")
PLAIN = Variable("pH", Kind.NUMBER, "pH")


def said(slope: tuple[float, float, float], **change: object) -> str:
    value, low, high = slope
    options: dict = {"x": HUMIDITY, "y": YIELD, "x_span": 40.0, "level": 0.95} | change
    r_squared = options.pop("r_squared", 0.7)
    slope = {"b": Coefficient("b", value, 0.1, low, high)}
    return trend_sentence(ToSay(family_of("straight"), slope, r_squared, **options)).replace(
        GAP, " "
    )


def test_a_rising_line() -> None:
    assert said((7.13, 6.38, 7.88)) == (
        "Per 1 % more humidity, yield is 7.1 mL/m² higher on average (95 % interval 6.4 to 7.9). "
        "R² = 0.70."
    )


def test_a_falling_line_speaks_of_less() -> None:
    assert said((-4.08, -5.02, -3.14), level=0.975) == (
        "Per 1 % more humidity, yield is 4.1 mL/m² lower on average (97.5 % interval 3.1 to 5.0). "
        "R² = 0.70."
    )


def test_a_slope_that_may_be_none_is_not_called_a_trend() -> None:
    text = said((0.3, -0.4, 1.0), r_squared=0.01)
    assert text.startswith("No clear trend: per 1 % more humidity, yield is 0.3 mL/m² higher")
    assert "interval −0.4 to 1.0" in text


def test_an_interval_that_ends_at_zero_is_judged_by_its_test() -> None:
    assert said((0.1, 0.0, 0.18), p_value=1e-6).startswith("Per 1 %")
    assert said((0.1, 0.0, 0.18), p_value=0.3).startswith("No clear trend")
    # What rounding leaves of zero is zero.
    assert said((0.1, 1e-12, 0.18), p_value=0.3).startswith("No clear trend")
    assert "interval 0.00 to 0.18" in said((0.1, 1e-12, 0.18), p_value=0.3)


def test_a_median_slope_of_zero_through_ties_does_not_deny_its_test() -> None:
    text = said((0.0, 0.0, 0.0), p_value=0.002)
    assert text.startswith("Yield goes with humidity (Kendall’s test, p = 0.0020)")
    assert said((0.0, 0.0, 0.0), p_value=0.4).startswith("No clear trend")


def test_the_step_fits_the_data() -> None:
    assert said((50, 45, 55), x_span=0.3).startswith("Per 0.01 % more humidity, yield is 0.50")
    assert said((0.01, 0.009, 0.011), x_span=50_000).startswith("Per 10000 % more")
    assert said((2, 1, 3), x=PLAIN, x_span=4).startswith("Per step of 1 in pH")


def test_dates_go_by_days() -> None:
    assert said((0.061, 0.055, 0.067), x=DAY, x_span=430).startswith("Per day, yield is 0.061")


def test_nothing_to_describe() -> None:
    assert "the same in every row" in said((0, 0, 0), r_squared=None)


@pytest.mark.parametrize(
    ("p", "text"),
    [
        (0.0, "p < 0.0001"),
        (1e-9, "p < 0.0001"),
        (0.00123, "p = 0.0012"),
        (0.2, "p = 0.20"),
        (0.045, "p = 0.045"),
        (0.04998, "p = 0.04998"),
    ],
)
def test_p_is_never_zero(p: float, text: str) -> None:
    assert p_text(p) == text


@pytest.mark.parametrize(
    ("share", "text"),
    [(0.7, "70 %"), (0.9996, "99.9 %"), (0.0004, "0.1 %"), (1, "100 %"), (0, "0 %")],
)
def test_a_share_is_not_rounded_onto_its_end(share: float, text: str) -> None:
    assert percent(share).replace(GAP, " ") == text


def test_numbers_have_true_minus_signs_and_no_minus_zero() -> None:
    assert number(-1.26, 1) == "−1.3"
    assert number(-0.01, 1) == "0.0"
    assert number(3e9, 0) == "3.00 × 10⁹"


@pytest.mark.parametrize(
    ("label", "words"),
    [("Yield", "yield"), ("Dew-point gap", "dew-point gap"), ("pH", "pH"), ("SE low", "SE low")],
)
def test_labels_inside_a_sentence(label: str, words: str) -> None:
    assert in_sentence(Variable("v", Kind.NUMBER, label)) == words


@pytest.mark.parametrize(
    ("labels", "stem", "rest"),
    [
        (["Mortality vole", "Mortality shrew"], "Mortality", ["vole", "shrew"]),
        (["Air temperature", "Soil temperature"], "Temperature", ["Air", "Soil"]),
        (["Yield north slope", "Yield north foot"], "Yield north", ["slope", "foot"]),
        # Nothing of its own would be left, nothing is shared, or what is shared says only how.
        (["Yield", "Yield north"], "", ["Yield", "Yield north"]),
        (["Yield", "Wind"], "", ["Yield", "Wind"]),
        (["Mean yield", "Mean wind"], "", ["Mean yield", "Mean wind"]),
        (["Yield"], "", ["Yield"]),
    ],
)
def test_what_labels_share_and_what_is_their_own(
    labels: list[str], stem: str, rest: list[str]
) -> None:
    assert (stem_of(labels), rest_of(labels)) == (stem, rest)

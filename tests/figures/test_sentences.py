"""What each form of trend means, in words."""

from __future__ import annotations

import math

import numpy as np
import pytest

from tests.families import settings_of
from yarrowdew.core.equation import EquationForm, Slot
from yarrowdew.core.sample import paired
from yarrowdew.core.trends import family_of, fit_trend
from yarrowdew.core.trends.base import Coefficient
from yarrowdew.core.trends.families.quantile import QuantileSettings
from yarrowdew.figures.text.sentences import ToSay, trend_sentence
from yarrowdew.figures.text.words import ends, joined, percent
from yarrowdew.tables.table import Kind, Variable

DOSE = Variable("dose", Kind.NUMBER, "Dose", "g/m²")
SHED = Variable("shed", Kind.NUMBER, "Droplets shed", "%")
DAY = Variable("day", Kind.DATE, "Day")


def said(
    family: str,
    *coefficients: Coefficient,
    r_squared: float | None = 0.8,
    x: Variable = DOSE,
    **known: object,
) -> str:
    by_name = {c.name: c for c in coefficients}
    text = trend_sentence(ToSay(family_of(family), by_name, r_squared, x, SHED, 9.0, 0.95, **known))
    return text.replace("\u00a0", " ")


def c(name: str, value: float, low: float | None, high: float | None) -> Coefficient:
    return Coefficient(name, value, None, low, high)


def test_an_exponential_grows_by_a_share() -> None:
    text = said("exponential", c("a", 1, 1, 1), c("b", math.log(1.2), math.log(1.1), math.log(1.3)))
    assert text == (
        "Per 1 g/m² more dose, droplets shed is 20 % higher (95 % interval 10 to 30). R² = 0.80."
    )


def test_one_that_falls_loses_a_share() -> None:
    text = said("exponential", c("a", 1, 1, 1), c("b", math.log(0.5), math.log(0.4), math.log(0.6)))
    assert "is 50 % lower (95 % interval 40 to 60)" in text


def test_a_power_law_goes_share_by_share() -> None:
    text = said("power", c("a", 1, 1, 1), c("b", 2.0, 1.0, 3.0))
    assert text.startswith(
        "Per 10 % more dose, droplets shed is 21 % higher (95 % interval 10 to 33)"
    )


def test_a_logarithm_is_told_by_its_doublings() -> None:
    step = math.log(2)
    text = said("logarithmic", c("a", 1, 1, 1), c("b", 10 / step, 8 / step, 12 / step))
    assert text.startswith("Each time dose doubles, droplets shed is 10.0 % higher on average")
    assert "(95 % interval 8.0 to 12.0)" in text


def test_an_s_curve_passes_from_level_to_level() -> None:
    ends = c("lower", 2, 1, 3), c("upper", 98, 97, 99)
    text = said("s-curve", *ends, c("middle", 4.62, 4.5, 4.74), c("steepness", 1, 1, 1))
    assert "runs from 2.0 to 98.0 %" in text
    assert "halfway at dose = 4.62 g/m² (95 % interval 4.50 to 4.74)" in text
    dated = said("s-curve", *ends, c("middle", 4, 3, 5), c("steepness", 1, 1, 1), x=DAY)
    assert "halfway" not in dated
    assert dated.endswith("R² = 0.80.")


@pytest.mark.parametrize(
    ("family", "curve"),
    [
        ("polynomial", "this curve"),
        ("local", "a smooth curve in dose"),
        ("spline", "a smooth curve in dose"),
    ],
)
def test_a_curve_has_its_share(family: str, curve: str) -> None:
    assert said(family) == f"R² = 0.80 along {curve}."


def test_nothing_to_describe() -> None:
    assert "the same in every row" in said("spline", r_squared=None)


def test_a_line_worse_than_the_mean_claims_nothing() -> None:
    text = said("theil-sen", c("a", 1, None, None), c("b", 2, 1, 3), r_squared=-0.4)
    assert "R²" not in text
    assert text.startswith("Per 1 g/m² more dose, droplets shed is 2.0 % higher on average")


def test_a_line_through_the_origin_claims_no_share() -> None:
    text = said("origin", c("b", 14, 5, 23))
    assert "R²" not in text


@pytest.mark.parametrize("family", ["exponential", "power", "logarithmic"])
def test_curves_that_may_be_flat_are_no_clear_trend(family: str) -> None:
    text = said(family, c("a", 1, 1, 1), c("b", 0.01, -0.2, 0.22))
    assert text.startswith("No clear trend: ")
    assert "R²" not in text
    assert "interval −" in text


def test_a_curve_whose_test_is_not_clear_claims_no_share() -> None:
    text = said("polynomial", p_value=0.9)
    assert text == "No clear trend along this curve (F test, p = 0.90)."


def test_few_rows_claim_no_share() -> None:
    assert "R²" not in said("exponential", c("a", 1, 1, 1), c("b", 1, 0.5, 1.5), n=7)
    assert "R²" in said("exponential", c("a", 1, 1, 1), c("b", 1, 0.5, 1.5), n=8)


def test_a_wave_and_a_break_out_of_noise_are_called_that() -> None:
    wave = [c(name, 1, 0.5, 1.5) for name in ("m", "A", "x0", "T")]
    text = said("sine-wave", *wave, searched_p=0.62)
    assert text.startswith("No clear wave: ")
    assert "p = 0.62" in text
    assert "swings by" in said("sine-wave", *wave, searched_p=0.001)
    pieces = [c("a", 1, 1, 1), c("b1", 2, 1, 3), c("break1", 5, 4, 6), c("b2", 1, 0.5, 1.5)]
    text = said("segmented", *pieces, searched_p=0.31)
    assert "No clear break: a straight line fits as well" in text
    assert "95 % interval 1.0 to 3.0" in text
    assert "The break is clear" in said("segmented", *pieces, searched_p=0.001)


def test_a_line_through_every_row_speaks_of_no_rounding() -> None:
    near = 1 + 2e-16
    pieces = [
        c("a", 0, 0, 0),
        c("b1", 5e-17, -1e-16, 2e-16),
        c("break1", 9, 9, 9),
        c("b2", 1, near, 1),
    ]
    text = said("segmented", *pieces, searched_p=1e-9)
    assert "is the same per 1 g/m² more dose; beyond it, 1.00 % higher" in text
    assert "10⁻" not in text


def test_rows_below_a_quantile_line_are_counted() -> None:
    text = said("quantile", c("b", 1, 0.5, 1.5), settings=QuantileSettings(), n=7, below=(2, 2))
    assert text.endswith("2 of 7 rows are below the line, 2 on it.")


def test_an_end_of_an_interval_never_rounds_onto_zero() -> None:
    assert ends(0.004, 0.21, 2) == "0.004 to 0.210"
    assert ends(-0.0004, 0.2, 2) == "−0.0004 to 0.2000"
    assert ends(0.0, 0.2, 2) == "0.00 to 0.20"
    assert ends(4.91e-5, 0.21, 2) == "0.00005 to 0.21000"
    assert ends(2e-7, 9e-7, 2) == "2.00 × 10⁻⁷ to 9.00 × 10⁻⁷"


def test_words_that_join_and_shares_that_never_round_onto_an_end() -> None:
    assert joined(["a", "b", "c"]) == "a, b and c"
    assert [percent(v).replace("\u00a0", " ") for v in (0.0004, 0.5, 0.9999)] == [
        "0.1 %",
        "50 %",
        "99.9 %",
    ]


class TestEquations:
    @pytest.mark.parametrize(
        ("family", "options", "start"),
        [
            ("polynomial", {"degree": 3}, "y = "),
            ("logarithmic", {}, "y = "),
            ("exponential", {}, "y = "),
            ("power", {}, "y = "),
            ("s-curve", {}, "y = "),
        ],
    )
    def test_as_printed_each_lands_on_its_line(
        self, family: str, options: dict[str, object], start: str
    ) -> None:
        draw = np.random.default_rng(5)
        x = np.linspace(0.5, 9, 60)
        y = 5 + 90 / (1 + np.exp(-1.2 * (x - 4.7))) + draw.normal(0, 1, 60)
        fit = fit_trend(paired(x, y), family, settings_of(family, **options))
        assert fit.form is not None
        digits = fit.form.digits_needed(fit.x_range, float(np.ptp(y)))
        text = fit.form.text(digits, "plain")
        assert text.startswith(start)
        right = text.removeprefix(start).replace("^", "**").replace(" (x", " * (x")
        for name in ("exp", "ln"):
            right = right.replace(f" {name}", f" * {name}") if "/" not in right else right
        right = right.replace(" x", " * x").replace("(x)", "x").replace("ln * x", "ln(x)")
        right = right.replace("(-", "(-1 * ").replace("+ * ", "+ ")
        names = {"x": x, "exp": np.exp, "ln": np.log}
        printed = eval(right, {"__builtins__": {}}, names)  # noqa: S307 (our own text)
        assert np.abs(printed - fit.predict(x)).max() <= 0.001 * np.ptp(y) * 1.0001

    def test_raised_numbers_are_written_for_readers_and_for_programs(self) -> None:
        form = EquationForm(
            (2.0, -0.5),
            lambda v, x: v[0] * x ** v[1],
            (Slot(0), " {x}^{{", Slot(1, raised=True), "}}"),
        )
        assert form.text(3) == "y = 2.00 x^{−0.5}"
        assert form.text(3, "plain") == "y = 2.00 x^(-0.5)"

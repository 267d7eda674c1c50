"""Curves that are typed: understood, differentiated, fitted, printed."""

from __future__ import annotations

import math
import re

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.nonlinear_sets import SETS
from tests.families import settings_of
from tests.scope import examples
from yarrowdew.core.errors import FitError
from yarrowdew.core.expressions.calculus import derivative, names_of, value_of
from yarrowdew.core.expressions.parsing import parsed
from yarrowdew.core.expressions.printing import printed
from yarrowdew.core.expressions.units import units_of
from yarrowdew.core.sample import Array, paired
from yarrowdew.core.trends import FAMILIES, TrendFit, fit_trend
from yarrowdew.core.trends.forms import FORMS
from yarrowdew.core.trends.solvers.identifiability import check_minimum, relative_offset
from yarrowdew.core.trends.solvers.starting import linear_among

AT = np.linspace(0.3, 4, 40)


def fitted(formula: str, x: object, y: object, known: str = "") -> TrendFit:
    sample = paired(np.asarray(x, float), np.asarray(y, float))
    return fit_trend(sample, "formula", settings_of("formula", formula=formula, known=known))


def values(fit: TrendFit) -> dict[str, float]:
    return {c.name: c.value for c in fit.coefficients(0.95)}


@pytest.mark.parametrize("name", SETS)
def test_certified_curves_are_found_from_its_own_starts(name: str) -> None:
    certified = SETS[name]
    fit = fitted(certified.formula, certified.x, certified.y)
    found = {c.name: (c.value, c.se) for c in fit.coefficients(0.95)}
    due, ours = (
        sorted(certified.alike, key=lambda term: of[term[-1]][0])
        for of in (certified.coefficients, found)
    )
    named = {b: a for terms in zip(due, ours, strict=True) for a, b in zip(*terms, strict=True)}
    found = {named.get(b, b): value for b, value in found.items()}
    # What a double of this size can say of residuals: of Lanczos1 three digits.
    sd = certified.residual_sd
    limit = 0.0 if sd is None else 2 * np.finfo(float).eps * float(np.abs(certified.y).max()) / sd
    if sd is not None:
        assert fit.residual_sd == pytest.approx(sd, rel=1e-9 + limit, abs=0)
    for parameter, (value, se) in certified.coefficients.items():
        assert found[parameter][0] == pytest.approx(value, rel=1e-6, abs=0)
        if se is not None:
            assert found[parameter][1] == pytest.approx(se, rel=1e-6 + limit, abs=0)


def test_a_function_is_known_by_its_other_name() -> None:
    assert value_of(parsed("4 * arctan(x)"), {"x": np.ones(1)})[0] == pytest.approx(math.pi)


def test_what_is_no_minimum_is_not_called_one() -> None:
    columns = np.column_stack([np.ones(20), np.linspace(-1, 1, 20) * 1e6])
    rough = np.random.default_rng(1).normal(size=20)
    least = rough - columns @ np.linalg.lstsq(columns, rough, rcond=None)[0]
    assert relative_offset(columns, least) < 1e-9
    check_minimum(relative_offset(columns, least), "This formula")
    off = least + 0.01 * columns[:, 1] / 1e6
    with pytest.raises(FitError, match="it still got better when the search ended"):
        check_minimum(relative_offset(columns, off), "This formula")


LEAVES = st.sampled_from(["x", "a", "b", "2", "0.5", "pi"])


def grown(smaller: st.SearchStrategy[str]) -> st.SearchStrategy[str]:
    return st.one_of(
        st.tuples(smaller, st.sampled_from("+-*/"), smaller).map(
            lambda t: f"({t[0]}) {t[1]} ({t[2]})"
        ),
        smaller.map(lambda t: f"-({t})"),
        smaller.map(lambda t: f"({t})^2"),
        st.tuples(st.sampled_from(["exp", "sin", "cos", "atan", "tanh"]), smaller).map(
            lambda t: f"{t[0]}(({t[1]}) / 5)"
        ),
        smaller.map(lambda t: f"ln(2 + ({t})^2)"),
        smaller.map(lambda t: f"sqrt(1 + ({t})^2)"),
        st.tuples(smaller, smaller).map(lambda t: f"(1 + ({t[0]})^2)^(({t[1]}) / 9)"),
        st.tuples(smaller, smaller).map(lambda t: f"if_else(x < 2, {t[0]}, {t[1]})"),
    )


TREES = st.recursive(LEAVES, grown, max_leaves=7)


@settings(max_examples=examples(75, 300), deadline=None)
@given(TREES, st.sampled_from(["a", "b"]))
def test_a_derivative_is_the_limit_of_differences(text: str, name: str) -> None:
    tree = parsed(text)
    at: dict[str, object] = {"x": np.array([0.7, 1.9, 3.1]), "a": 0.83, "b": -1.21, "pi": math.pi}

    def moved(by: float) -> Array:
        return np.asarray(value_of(tree, {**at, name: at[name] + by}))  # type: ignore[operator]

    with np.errstate(all="ignore"):
        found = np.broadcast_to(value_of(derivative(tree, name), at), 3)
        # Central differences of two widths, of which the leading error is taken out.
        h = 1e-3
        rough = [(moved(w) - moved(-w)) / (2 * w) for w in (h, h / 2)]
        limit = np.broadcast_to((4 * rough[1] - rough[0]) / 3, 3)
    sound = np.isfinite(limit) & (np.abs(limit) < 1e4) & (np.abs(moved(0.0) * np.ones(3)) < 1e4)
    # A division that comes near to zero is steep between the places compared.
    sound &= np.abs(rough[0] - rough[1]) < 1e-3 * (1 + np.abs(limit))
    np.testing.assert_allclose(found[sound], limit[sound], rtol=1e-5, atol=1e-6)


@settings(max_examples=examples(75, 300), deadline=None)
@given(TREES, st.floats(-5, 5).filter(lambda v: abs(v) > 1e-3))
def test_what_is_printed_says_what_was_fitted(text: str, a: float) -> None:
    tree = parsed(text)
    names = {name.text for name in names_of(tree)} - {"x", "pi"}
    given_values = {name: value for name, value in {"a": a, "b": -1.21}.items() if name in names}
    form = printed(tree, "x", given_values)
    plain = form.text(15, "plain").removeprefix("y = ")
    # Read again as a person reads it: what stands side by side is multiplied.
    typed = re.sub(r"(?<=[\w.)])\s+(?=[\w(.])", " * ", plain).replace("π", "pi")
    typed = re.sub(r"(if_else|exp|sin|cos|atan|tanh|ln|sqrt) \* \(", r"\1(", typed)
    at = {"x": AT, "pi": math.pi}
    with np.errstate(all="ignore"):
        expected = value_of(tree, {**at, **given_values}) + 0 * AT
        again = value_of(parsed(typed.replace("≤", "<=")), at) + 0 * AT
    np.testing.assert_allclose(again, expected, rtol=1e-6, atol=1e-9)
    with np.errstate(all="ignore"):
        np.testing.assert_allclose(form.evaluate(form.values, AT), expected, rtol=1e-12)


@pytest.mark.parametrize("form", FORMS, ids=lambda form: form.label)
def test_a_form_to_begin_from_finds_again_what_it_made(form: object) -> None:
    truth = {
        "top": 40.0, "half": 2.5, "level": 3.0, "height": 12.0, "rate": 0.9, "start": -0.7,
        "base": 1.5, "centre": 2.1, "width": 0.6, "turn": 1.4, "bottom": 4.0, "slope": 2.2,
    }  # fmt: skip
    x = np.linspace(0.05, 8, 90)
    y = value_of(parsed(form.formula), {**truth, "x": x})  # type: ignore[attr-defined]
    fit = fitted(form.formula, x, y, form.known)  # type: ignore[attr-defined]
    for name, value in values(fit).items():
        assert value == pytest.approx(truth[name], rel=1e-6), name
    means = FAMILIES["formula"].meanings(settings_of("formula", formula=form.formula))  # type: ignore[attr-defined]
    assert set(means) == set(values(fit))


@pytest.mark.parametrize(
    ("formula", "said"),
    [
        ("a * exp(-b * x", "')' is expected instead of the end (at character 15)."),
        ("a + b * rank(x)", "'rank' has no place in a curve (at character 9)."),
        ("a + b * y1", "The formula does not contain x."),
        ("2 * x + 3", "The formula has no parameter to be fitted."),
        ("a + x > 3", "In a curve, a condition may be used only inside if_else(…)"),
        ("a // x", "'//' has no place in a curve (at character 3)."),
        ("a + 'b' * x", "A curve is made of numbers, and this is text (at character 5)."),
        ("exp(a, x)", "'exp' takes 1 value, not 2 (at character 1)."),
        ("a+b+c+d+e+f+g+h+i+j*x", "The formula has 10 parameters; at most 9 are fitted."),
        ("a + b * x +", "A value is expected instead of the end (at character 12)."),
        ("", "A value is expected instead of the end (at character 1)."),
        ("__import__('os') * x + a", "'__import__' has no place in a curve (at character 1)."),
        ("a + b * sqrt(-1 - x)", "The formula has no value at these rows"),
    ],
)
def test_what_is_wrong_with_a_formula_is_said(formula: str, said: str) -> None:
    with pytest.raises(FitError, match=re.escape(said)):
        fitted(formula, AT, AT + np.sin(AT))


def test_what_stands_before_an_equals_sign_is_left_out() -> None:
    y = 2 - 3 * np.sqrt(AT)
    assert values(fitted("y = a + b * sqrt(x)", AT, y)) == pytest.approx({"a": 2, "b": -3})
    with pytest.raises(FitError, match=re.escape("(at character 15)")):
        fitted("y = a + b * x )", AT, y)


class TestWhatIsKnown:
    def test_values_that_are_given_are_kept_and_have_no_interval(self) -> None:
        y = 5 + 3 * np.exp(-0.8 * AT)
        coefficients = fitted("a * exp(-b * x) + c", AT, y, "c = 5, b > 0").coefficients(0.95)
        assert [(c.name, c.was_given) for c in coefficients] == [
            ("a", False),
            ("b", False),
            ("c", True),
        ]
        assert [c.value for c in coefficients] == pytest.approx([3, 0.8, 5])

    def test_an_end_that_is_reached_is_said_and_kept(self) -> None:
        fit = fitted("a + b * x", AT, 4 - 2 * AT, "b >= 0")
        by_name = {c.name: c for c in fit.coefficients(0.95)}
        assert by_name["b"].value == 0
        assert by_name["b"].was_given
        assert by_name["a"].value == pytest.approx(float(np.mean(4 - 2 * AT)))
        assert "held there: b = 0" in fit.assumptions[0].text

    def test_ends_of_both_sides_are_kept_to(self) -> None:
        y = np.sin(3 * AT)
        for known, low, high in (("1.5 < w < 2.5", 1.5, 2.5), ("2 < w and w < 4", 2, 4)):
            w = values(fitted("a * sin(w * x)", AT, y, known))["w"]
            assert low <= w <= high
        assert w == pytest.approx(3)

    @pytest.mark.parametrize(
        ("known", "said"),
        [
            ("b", "“b” is not a bound or fixed value of a parameter."),
            ("q > 0", "“q > 0” names 'q', which is no parameter of the formula."),
            ("b > 3, b < 2", "Nothing lies between the ends of 'b' (3 and 2)."),
            ("1 < b = 2", "“1 < b = 2” gives a value and an end."),
            ("a = 1, b = 2", "Every parameter of the formula is given."),
        ],
    )
    def test_what_makes_no_sense_is_said(self, known: str, said: str) -> None:
        with pytest.raises(FitError, match=re.escape(said)):
            fitted("a + b * x", AT, AT, known)


@pytest.mark.parametrize(
    ("formula", "which"),
    [
        ("a * b * x", "a and b can change together"),
        ("a + b + c * x", "a and b can change together"),
        ("a + b * x + 0 * exp(-c * x)", "c can be anything"),
    ],
)
def test_parameters_that_rows_do_not_determine_are_named(formula: str, which: str) -> None:
    rough = np.random.default_rng(3).normal(size=len(AT))
    with pytest.raises(FitError, match=re.escape(which)):
        fitted(formula, AT, 2 * AT + rough)


def test_how_parameters_go_together_is_that_of_the_linear_model() -> None:
    rough = np.random.default_rng(4).normal(size=len(AT))
    [(one, other, r)] = fitted("a + b * x", AT, 2 * AT + rough).correlations
    # Of intercept and slope of a line: −mean / root mean square.
    assert (one, other) == ("a", "b")
    assert r == pytest.approx(-AT.mean() / np.sqrt(np.mean(AT**2)))


def test_a_line_that_is_typed_is_the_line() -> None:
    rough = np.random.default_rng(5).normal(size=len(AT))
    sample = paired(AT, 2 * AT + rough)
    line = fit_trend(sample, "straight")
    own = fitted("a + b * x", AT, 2 * AT + rough)
    for kind in ("confidence", "prediction"):
        expected, found = (fit.band(AT, 0.9, kind) for fit in (line, own))  # type: ignore[arg-type]
        np.testing.assert_allclose(found, expected, rtol=1e-9)
    np.testing.assert_allclose(own.leverage(sample), line.leverage(sample), rtol=1e-9)


def test_parameters_that_enter_linearly_are_found() -> None:
    for text, expected in (
        ("a + b * exp(-c * x)", ("a", "b")),
        ("a * b * x", ("a",)),
        ("(a + b * x) / (1 + c * x)", ("a", "b")),
        ("a * x^b", ("a",)),
        ("exp(a * x) + b", ("b",)),
    ):
        tree = parsed(text)
        names = dict.fromkeys(n.text for n in names_of(tree) if n.text != "x")
        assert linear_among({n: derivative(tree, n) for n in names}) == expected


def test_units_of_parameters_are_told_from_where_they_stand() -> None:
    def units(text: str, *parameters: str) -> dict[str, tuple[float, float]]:
        return units_of(parsed(text), "x", parameters)

    assert units("a * exp(-b * x) + c", "a", "b", "c") == {"a": (1, 0), "b": (0, -1), "c": (1, 0)}
    assert units("top / (1 + (x / half)^h)", "top", "half", "h")["half"] == (0, 1)
    assert units("(p + q * x) / (1 + r * x^2)", "p", "q", "r") == {
        "p": (1, 0),
        "q": (1, -1),
        "r": (0, -2),
    }
    # A power that is fitted has no units, whatever x is counted in.
    assert units("a * x^b", "a", "b") == {}


@pytest.mark.parametrize(("x_scale", "y_scale"), [(1e-6, 1e3), (1e5, 1e-8), (1.0, 1e9)])
def test_other_units_of_the_data_lead_to_the_same_curve(x_scale: float, y_scale: float) -> None:
    x = np.linspace(0, 9, 60)
    y = 3 + 20 * np.exp(-(((x - 4) / 0.7) ** 2) / 2)
    formula, known = FORMS[3].formula, FORMS[3].known
    found = values(fitted(formula, x * x_scale, y * y_scale, known))
    assert found["centre"] / x_scale == pytest.approx(4, rel=1e-6)
    assert found["height"] / y_scale == pytest.approx(20, rel=1e-6)

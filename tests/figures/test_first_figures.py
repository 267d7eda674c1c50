"""Eighty made-up tables, each with the figure that an analyst would draw of it first.

Said as `y ~ x`, with what colours it, which axes are logarithmic, whether it is a line or a map; or
as the distribution of a number, for each category.
"""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, timedelta

import numpy as np
import polars as pl
import pytest

from yarrowdew.figures.analyses.suggestion import FirstFigure, first_figure
from yarrowdew.tables.reading import read_bytes

R = np.random.default_rng(83)
N = 60
U = R.uniform(10, 90, N)
V = R.normal(0, 1, N)
count = np.arange(1, N + 1)
three = np.array(["moor", "fen", "wood"])[np.arange(N) % 3]
two = np.array(["wet", "dry"])[np.arange(N) % 2]
shift = {"moor": 0.0, "fen": 60.0, "wood": 120.0}
apart = np.array([shift[name] for name in three])


def days(many: int, step: int = 1) -> list[str]:
    return [(date(2025, 3, 1) + timedelta(step * k)).isoformat() for k in range(many)]


def like(x: np.ndarray, noise: float = 8.0) -> np.ndarray:
    return np.round(3 * x + noise * R.normal(0, 1, len(x)), 2)


def amounts(decades: float, many: int = N) -> np.ndarray:
    return np.round(10 ** R.uniform(0, decades, many), 3)


def walk(many: int) -> np.ndarray:
    return np.round(100 + np.cumsum(R.normal(0, 1, many)), 2)


def per(subjects: int, times: int) -> tuple[np.ndarray, np.ndarray]:
    return np.repeat(np.arange(1, subjects + 1), times), np.tile(np.arange(times), subjects)


SUBJECT, WEEK = per(12, 5)
PLANT, DAY = per(8, 9)
POP, WELLS = amounts(5), amounts(4)
WIDE = amounts(4.5)
LON, LAT = R.uniform(-4, -2, N).round(3), R.uniform(55, 58, N).round(3)
DOSE = np.tile([0.01, 0.1, 1, 10, 100, 1000], 10)

Made = Callable[[], dict[str, object]]
TABLES: dict[str, tuple[Made, str]] = {
    # Row numbers and identifiers are never on an axis.
    "rownames": (lambda: {"rownames": count, "girth": U, "crown": like(U)}, "crown ~ girth"),
    "row": (lambda: {"row": count, "girth": U, "crown": like(U)}, "crown ~ girth"),
    "obs": (lambda: {"obs": count, "girth": U, "crown": like(U)}, "crown ~ girth"),
    "an unnamed column": (lambda: {"": count, "girth": U, "crown": like(U)}, "crown ~ girth"),
    "id at the end": (lambda: {"girth": U, "crown": like(U), "id": count + 90}, "crown ~ girth"),
    "a sample id": (lambda: {"sample_id": R.permutation(count), "girth": U, "crown": like(U)}, "crown ~ girth"),
    "a plot in many rows": (lambda: {"plot": np.arange(N) % 12, "girth": U, "crown": like(U)}, "crown ~ girth"),
    "a tree number": (lambda: {"tree no": R.permutation(count), "girth": U, "crown": like(U)}, "crown ~ girth"),
    "a rank": (lambda: {"rank": R.permutation(count), "girth": U, "crown": like(U)}, "crown ~ girth"),
    "only a counter beside a number": (lambda: {"no": count, "level": U}, "distribution of level"),
    "only a subject beside a number": (lambda: {"subject": SUBJECT, "score": U}, "distribution of score"),
    # One number is shown as its distribution.
    "one number": (lambda: {"level": U}, "distribution of level"),
    "one number and a category": (lambda: {"level": U + apart, "soil": three}, "distribution of level for each soil"),
    "one number and two categories": (lambda: {"cover": two, "soil": three, "level": U + apart}, "distribution of level for each soil"),
    "one number and words": (lambda: {"site": [f"rowan {k}" for k in range(N)], "level": U}, "distribution of level"),
    "one number, a category, an id": (lambda: {"id": count, "soil": three, "level": U}, "distribution of level for each soil"),
    "one number and many categories": (lambda: {"level": U, "ward": [f"w{k % 15}" for k in range(N)]}, "distribution of level"),
    "counts in a category": (lambda: {"soil": three, "snails": R.poisson(40, N)}, "distribution of snails for each soil"),
    # Time goes across.
    "a date": (lambda: {"taken": days(N), "level": walk(N)}, "level ~ taken"),
    "a date and its year": (lambda: {"day": days(N, 30), "year": 2025 + count // 12, "level": walk(N)}, "level ~ day"),
    "a date, its month and more": (lambda: {"month": count % 12 + 1, "date": days(N), "rain": U}, "rain ~ date"),
    "years": (lambda: {"year": 1960 + count, "catch": walk(N)}, "catch ~ year"),
    "time after the response": (lambda: {"volume": walk(N), "time": count * 10}, "volume ~ time"),
    "weeks of subjects": (lambda: {"subject": SUBJECT, "week": WEEK, "weight": 50 + 3 * WEEK + R.normal(0, 1, 60)}, "weight ~ week"),
    "days of plants": (lambda: {"plant": PLANT, "day": DAY, "height": 2 * DAY + R.normal(0, 1, 72)}, "height ~ day"),
    "hours with few values": (lambda: {"hours": np.repeat([0, 2, 4, 8], 15), "uptake": like(np.repeat([0.0, 2, 4, 8], 15))}, "uptake ~ hours"),
    "time in a name": (lambda: {"time_s": count * 0.5, "charge": like(count.astype(float))}, "charge ~ time_s"),
    "time out of order": (lambda: {"minutes": R.permutation(count * 5), "signal": U}, "signal ~ minutes"),
    "a long series": (lambda: {"day": days(500), "flow": walk(500)}, "flow ~ day as a line"),
    "a long series of times": (lambda: {"time": np.arange(900) / 10, "signal": walk(900)}, "signal ~ time as a line"),
    "a long series of many a day": (lambda: {"day": np.repeat(days(125), 4), "flow": walk(500)}, "flow ~ day"),
    "a short series": (lambda: {"day": days(90), "flow": walk(90)}, "flow ~ day"),
    "cycles": (lambda: {"cycle": count, "fluorescence": 1 / (1 + np.exp(30 - count))}, "fluorescence ~ cycle"),
    # The response goes up.
    "the yield first": (lambda: {"yield": like(U), "rain": U}, "yield ~ rain"),
    "the price first": (lambda: {"price": like(U), "area": U}, "price ~ area"),
    "the weight last": (lambda: {"length": U, "weight": like(U)}, "weight ~ length"),
    "a dose last": (lambda: {"response": like(np.tile([1.0, 2, 4, 8, 16, 32], 10)), "dose": np.tile([1, 2, 4, 8, 16, 32], 10)}, "response ~ dose"),
    "what varies within what repeats": (lambda: {"froth": like(np.repeat([5.5, 10.2, 20.4, 30.8], 15)), "stirred": np.repeat([5.5, 10.2, 20.4, 30.8], 15)}, "froth ~ stirred"),
    "consumption": (lambda: {"consumption": like(-U) + 400, "engine": U}, "consumption ~ engine"),
    "growth": (lambda: {"growth": like(U), "light": U}, "growth ~ light"),
    "income": (lambda: {"income": like(U), "schooling": U}, "income ~ schooling"),
    "velocity": (lambda: {"velocity": like(U), "substrate": U}, "velocity ~ substrate"),
    "two that say nothing": (lambda: {"pelt": U, "tusk": like(U)}, "tusk ~ pelt"),
    # Amounts over many decades are on logarithmic axes.
    "people and wells": (lambda: {"people": POP, "wells": np.round(POP**0.8 * 10 ** (0.2 * V), 2)}, "wells ~ people, log x and y"),
    "body and brain": (lambda: {"body": WIDE, "brain": np.round(WIDE**0.7 * 10 ** (0.2 * V), 3)}, "brain ~ body, log x and y"),
    "one wide amount": (lambda: {"area": WIDE, "depth": np.round(2 + np.log10(WIDE) + 0.2 * V, 2)}, "depth ~ area, log x"),
    "two decades": (lambda: {"area": np.round(10 ** (U / 45), 3), "cover": like(U)}, "cover ~ area"),
    "zeros among wide amounts": (lambda: {"area": np.where(count % 9, WIDE, 0), "depth": np.round(np.log10(WIDE) + 0.1 * V, 2)}, "depth ~ area"),
    "negatives": (lambda: {"gain": WIDE - 500, "depth": np.round(np.log10(WIDE) + 0.1 * V, 2)}, "depth ~ gain"),
    # Coordinates are a map.
    "places": (lambda: {"lat": LAT, "lon": LON}, "lat ~ lon as a map"),
    "places in words": (lambda: {"longitude": LON, "latitude": LAT, "site": [f"s{k}" for k in range(N)]}, "latitude ~ longitude as a map"),
    "places with a value": (lambda: {"lat": LAT, "long": LON, "rain": U}, "lat ~ long as a map, coloured by rain"),
    "places with a category": (lambda: {"Latitude": LAT, "Longitude": LON, "soil": three}, "Latitude ~ Longitude as a map, coloured by soil"),
    "places beside a pair": (lambda: {"lat": LAT, "lon": LON, "girth": U, "crown": like(U)}, "crown ~ girth"),
    "eastings": (lambda: {"easting": U * 1000, "northing": like(U) * 1000}, "northing ~ easting as a map"),
    # The same thing twice comes last.
    "millimetres and inches": (lambda: {"mm": U, "inch": U / 25.4, "weight": like(U, 20)}, "weight ~ mm"),
    "a price and its maximum": (lambda: {"price min": U, "price max": U + 2 + 0.5 * V, "stock": like(-U, 25)}, "price max ~ stock or price min ~ stock"),
    "a part and its whole": (lambda: {"leaf mass": U, "leaf mass dry": 0.2 * U + 0.2 * V, "light": like(U, 25)}, "leaf mass ~ light or leaf mass dry ~ light"),
    "a mean and its error": (lambda: {"mean": U, "se": U / 10 + 0.01 * V, "shade": like(U, 25)}, "shade ~ mean"),
    "Fahrenheit too": (lambda: {"celsius": U, "fahrenheit": 32 + 1.8 * U, "snow": like(-U, 25)}, "snow ~ celsius"),
    # A category whose groups differ is a colour.
    "groups apart": (lambda: {"girth": U, "crown": like(U) + 5 * apart, "soil": three}, "crown ~ girth, coloured by soil"),
    "groups alike": (lambda: {"girth": U, "crown": like(U), "soil": R.permutation(three)}, "crown ~ girth"),
    "the one of two that differs": (lambda: {"cover": R.permutation(two), "soil": three, "girth": U, "crown": like(U) + 5 * apart}, "crown ~ girth, coloured by soil"),
    "too many groups": (lambda: {"girth": U, "crown": like(U), "ward": [f"w{k % 20}" for k in range(N)]}, "crown ~ girth"),
    "groups apart in time": (lambda: {"week": WEEK, "weight": 50 + 3 * WEEK + 0.2 * apart + V, "diet": three}, "weight ~ week, coloured by diet"),
    "groups apart across": (lambda: {"bill": U + apart, "wing": like(U) + 3 * apart, "kin": three}, "wing ~ bill, coloured by kin"),
    "groups of single rows": (lambda: {"girth": U, "crown": like(U), "name": [f"n{k}" for k in range(N)]}, "crown ~ girth"),
    # Codes are not amounts.
    "a code first": (lambda: {"mesh_code": count % 3, "area": U, "cost": like(U)}, "cost ~ area"),
    "a yes or no": (lambda: {"caught": count % 2, "area": U, "cost": like(U)}, "cost ~ area"),
    "a star rating": (lambda: {"stars": R.integers(1, 6, N), "distance": U, "fare": like(U)}, "fare ~ distance"),
    "a number of doors": (lambda: {"doors": R.integers(2, 6, N), "engine": U, "consumption": like(-U) + 400}, "consumption ~ engine"),
    # Units in names.
    "trailing units": (lambda: {"length_mm": U, "mass_g": like(U)}, "mass_g ~ length_mm"),
    "units in brackets": (lambda: {"length (mm)": U, "mass (g)": like(U)}, "mass ~ length"),
    # The strongest of many.
    "the strongest pair": (lambda: {"a": U, "b": 100 + V, "c": np.round(U + 30 * V, 2), "d": R.normal(0, 1, N), "e": like(U, 3)}, "e ~ a"),
    "a fall": (lambda: {"shade": U, "moss": like(-U) + 400, "wind": R.normal(5, 1, N)}, "moss ~ shade"),
    "a bend": (lambda: {"a": V, "b": U, "c": np.round(np.exp(U / 20), 3) + 0.01 * V}, "c ~ b"),
    "mostly missing": (lambda: {"lab": [float(v) if k < 9 else None for k, v in enumerate(U)], "girth": U, "crown": like(U)}, "crown ~ girth"),
    "never changes": (lambda: {"altitude": [7] * N, "girth": U, "crown": like(U)}, "crown ~ girth"),
    "even steps": (lambda: {"q": 0.25 * count, "s": like(0.25 * count)}, "s ~ q"),
    "a depth that grows": (lambda: {"warmth": 20 - 0.2 * count + 0.1 * V, "depth": count * 0.7}, "warmth ~ depth"),
    "doses over decades": (lambda: {"dose": DOSE, "shed": np.round(100 / (1 + 3 / DOSE) + 3 * V, 1)}, "shed ~ dose, log x"),
}  # fmt: skip

NEVER = (
    "rownames",
    "row",
    "obs",
    "id",
    "no",
    "subject",
    "plant",
    "plot",
    "rank",
    "sample_id",
    "tree no",
)


def made(name: str) -> FirstFigure:
    columns, _ = TABLES[name]
    content = pl.DataFrame(columns()).write_csv()
    return first_figure(read_bytes(content.encode(), "made.csv").table, "id")


def said(figure: FirstFigure) -> str:
    document = figure.document
    if document.kind == "distribution":
        part = document.distribution
        return f"distribution of {part.variable}" + (f" for each {part.by}" if part.by else "")
    text = f"{document.y[0]} ~ {document.x}"
    logs = [side for side in ("x", "y") if getattr(document.axes, side).scale == "log"]
    text += f", log {' and '.join(logs)}" if logs else ""
    text += " as a line" if document.connect else ""
    text += " as a map" if document.axes.equal else ""
    return text + (f", coloured by {document.colour.variable}" if document.colour else "")


def test_most_are_what_an_analyst_would_draw_and_none_is_absurd() -> None:
    assert len(TABLES) >= 80
    missed = {
        name: said(made(name))
        for name, (_, wanted) in TABLES.items()
        if said(made(name)) not in wanted.split(" or ")
    }
    assert len(missed) <= 8, missed
    for name in TABLES:
        document = made(name).document
        shown = (document.x, *document.y)
        assert document.kind == "distribution" or len(set(shown)) == 2, name
        assert not set(shown) & set(NEVER), name


@pytest.mark.parametrize("name", TABLES)
def test_each_says_why(name: str) -> None:
    figure = made(name)
    assert figure.why.endswith(".")
    assert "nan" not in figure.why


def test_of_the_first_rows_of_a_dataset_no_line_is_made_and_rho_says_of_which_rows_it_is() -> None:
    columns, _ = TABLES["a long series"]
    table = read_bytes(pl.DataFrame(columns()).write_csv().encode(), "made.csv").table
    figure = first_figure(table, "id", is_whole=False)
    assert figure.document.connect is None
    assert "line" not in figure.why
    assert "ρ" not in figure.why or "in the first rows" in figure.why

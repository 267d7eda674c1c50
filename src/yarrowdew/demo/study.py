"""The demo study: its tables, and the figures that show them."""

from __future__ import annotations

from collections.abc import Sequence

from yarrowdew.demo.tables import VALLEYS, demo_tables
from yarrowdew.figures.document.distribution import Distribution
from yarrowdew.figures.document.marks import Colour, ErrorBar, ErrorBars, Jitter, Names, Size
from yarrowdew.figures.document.matrix import Matrix
from yarrowdew.figures.document.plate import AtLevel, Cell, OfCategory, PlateDocument
from yarrowdew.figures.document.space import Plane, Space, Turn
from yarrowdew.figures.document.trends import Band, Carry, ReadOff, trend_of
from yarrowdew.figures.document.words import Page
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.tables.table import Table

NAME = "Dew survey"


def demo_study() -> list[tuple[Table, list[FigureDocument]]]:
    """Make each table with its figures; the documents still lack the table's id."""
    nights, stations, trial, cistern = demo_tables()
    return [
        (
            nights,
            [
                FigureDocument(
                    table="",
                    x="humidity",
                    y=["yield"],
                    colour=Colour(variable="valley"),
                    trends=[trend_of(by="valley", bands=[Band(level=0.95)])],
                ),
                FigureDocument(
                    table="",
                    x="cloud",
                    y=["yield"],
                    colour=Colour(variable="mesh"),
                    jitter=Jitter(x=0.35),
                ),
                FigureDocument.model_validate(
                    {
                        "table": "",
                        "kind": "scatterplot matrix",
                        "x": "humidity",
                        "y": ["yield"],
                        "colour": Colour(variable="mesh"),
                        "matrix": Matrix(
                            variables=["yield", "humidity", "dew-point gap", "wind", "cloud"],
                            below="trend",
                            above="r",
                            diagonal="both",
                            trend=trend_of(bands=[Band()]),
                        ),
                    }
                ),
                FigureDocument.model_validate(
                    {
                        "table": "",
                        "kind": "3-D scatterplot",
                        "x": "humidity",
                        "y": ["yield"],
                        "colour": Colour(variable="valley"),
                        # So that the valley whose yield falls with humidity stands apart.
                        "space": Space(
                            variable="wind",
                            turn=Turn(around=-24, above=14),
                            plane=Plane(by="valley", fill=0.1),
                        ),
                    }
                ),
                FigureDocument.model_validate(
                    {
                        "table": "",
                        "kind": "distribution",
                        "x": "humidity",
                        "y": ["yield"],
                        "colour": Colour(variable="mesh"),
                        "distribution": Distribution(
                            variable="yield", by="mesh", density=True, lying=True
                        ),
                    }
                ),
            ],
        ),
        (
            stations,
            [
                FigureDocument(
                    table="",
                    x="altitude",
                    y=["mean yield"],
                    colour=Colour(variable="valley"),
                    size=Size(variable="households served"),
                    names=Names(variable="station", show="outermost", count=12),
                )
            ],
        ),
        (
            trial,
            [
                FigureDocument(
                    table="",
                    x="dose",
                    y=["droplets shed"],
                    colour=Colour(variable="coating"),
                    error_bars=ErrorBars(y=ErrorBar(kind="two", below="SE low", above="SE high")),
                    trends=[
                        trend_of(
                            family="s-curve",
                            by="coating",
                            read_off=[ReadOff(level=50, name="half run-off")],
                        )
                    ],
                )
            ],
        ),
        (
            cistern,
            [
                FigureDocument(
                    table="",
                    x="day",
                    y=["level"],
                    trends=[
                        trend_of(
                            bands=[Band(), Band(kind="prediction")],
                            on_figure=["equation"],
                            carry=Carry(after=60),
                        ),
                        trend_of(
                            family="moving-average",
                            settings={"window": 21},
                            bands=[],
                            colour="#af830b",
                        ),
                    ],
                )
            ],
        ),
    ]


def demo_plates(figures: Sequence[str]) -> list[PlateDocument]:
    """Make the plates, given the ids of the figures in their order.

    The first shows the bands of the cistern's line at three levels, the second each valley by itself.
    """
    yield_against_humidity, level_by_day = figures[0], figures[7]
    return [
        PlateDocument(
            cells=[
                Cell(figure=level_by_day, varied=AtLevel(thing="level", level=level))
                for level in (0.9, 0.95, 0.99)
            ],
            columns=3,
            shared="both",
            page=Page(width=900, height=480, venue="own"),
        ),
        PlateDocument(
            cells=[
                Cell(
                    figure=yield_against_humidity,
                    varied=OfCategory(thing="category", variable="valley", value=valley),
                )
                for valley in VALLEYS
            ],
            columns=2,
            shared="both",
            page=Page(width=860, height=700, venue="own"),
        ),
    ]

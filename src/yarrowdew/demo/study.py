"""The demo study: its tables, and the figures that show them."""

from __future__ import annotations

from yarrowdew.demo.tables import demo_tables
from yarrowdew.figures.document import FigureDocument
from yarrowdew.figures.parts import (
    Band,
    Carry,
    Colour,
    ErrorBar,
    ErrorBars,
    Form,
    Jitter,
    Matrix,
    Names,
    ReadOff,
    Size,
    Trend,
)
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
                    trends=[Trend(by="valley", bands=[Band(level=0.95)])],
                ),
                FigureDocument(
                    table="",
                    x="cloud",
                    y=["yield"],
                    colour=Colour(variable="mesh"),
                    jitter=Jitter(x=0.35),
                ),
                FigureDocument(
                    table="",
                    kind="scatterplot matrix",
                    x="humidity",
                    y=["yield"],
                    colour=Colour(variable="mesh"),
                    matrix=Matrix(
                        variables=["yield", "humidity", "dew-point gap", "wind", "cloud"],
                        below="trend",
                        above="r",
                        diagonal="both",
                        trend=Trend(bands=[Band()]),
                    ),
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
                        Trend(
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
                        Trend(
                            bands=[Band(), Band(kind="prediction")],
                            on_figure=["equation"],
                            carry=Carry(after=60),
                        ),
                        Trend(
                            family="moving-average",
                            form=Form(window=21),
                            bands=[],
                            colour="#af830b",
                        ),
                    ],
                )
            ],
        ),
    ]

"""What a fit and its intervals rest on, each sentence with what it is about.

A fit whose intervals are found in another way replaces what it no longer supposes by what it is
about, and not by how it is worded.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import Enum, auto


class About(Enum):
    """What an assumption is about."""

    CURVE = auto()
    """What is fitted, and how it may be read."""
    SCATTER = auto()
    """How rows scatter about it."""
    ROWS = auto()
    """How rows were taken, and what of them is known."""
    INTERVALS = auto()
    """How intervals and bands are found."""


@dataclass(frozen=True, slots=True)
class Assumption:
    """One sentence, and what it is about."""

    about: About
    text: str


def of_curve(text: str) -> Assumption:
    """Say what is fitted, or how it may be read."""
    return Assumption(About.CURVE, text)


def of_scatter(text: str) -> Assumption:
    """Say how rows scatter about what is fitted."""
    return Assumption(About.SCATTER, text)


def of_rows(text: str) -> Assumption:
    """Say how rows were taken."""
    return Assumption(About.ROWS, text)


def of_intervals(text: str) -> Assumption:
    """Say how intervals and bands are found."""
    return Assumption(About.INTERVALS, text)


def without(assumptions: Iterable[Assumption], *about: About) -> tuple[Assumption, ...]:
    """Keep those that are about something else."""
    return tuple(each for each in assumptions if each.about not in about)


EVEN_SCATTER = of_scatter("The scatter about it is the same everywhere and close to normal.")
INDEPENDENT_ROWS = of_rows("Rows are independent of one another, and x is known without error.")

"""What a plate may vary of a figure."""

from __future__ import annotations

import pytest
from pydantic import ValidationError

from yarrowdew.figures.document.plate import PlateDocument, SeenFrom
from yarrowdew.figures.document.redaction import Agreed, built


def plate(varied: dict) -> PlateDocument:
    return PlateDocument.model_validate({"cells": [{"figure": "f", "varied": varied}]})


def test_a_box_is_seen_from_elsewhere() -> None:
    made = plate({"thing": "turn", "around": 120, "above": -30})
    varied = made.cells[0].varied
    assert isinstance(varied, SeenFrom)
    assert (varied.around, varied.above) == (120, -30)
    # From where it is seen names nothing that could be private.
    gone = built(made.cells[0], Agreed(frozenset()), figure="0")
    assert gone.varied == varied


@pytest.mark.parametrize(
    "varied",
    [
        {"thing": "turn", "around": 400, "above": 0},
        {"thing": "turn", "around": 0, "above": 91},
        {"thing": "turn", "around": 0, "above": 0, "closeness": 2},
        {"thing": "tilt", "around": 0, "above": 0},
    ],
)
def test_what_cannot_be_seen_is_refused(varied: dict) -> None:
    with pytest.raises(ValidationError):
        plate(varied)


@pytest.mark.parametrize(
    ("thing", "rest"),
    [
        ("level", {"level": 0.9}),
        ("category", {"variable": "valley", "value": "Corrie"}),
        ("form", {"family": "local"}),
        ("x", {"variable": "wind"}),
        ("y", {"variable": "wind"}),
    ],
)
def test_every_other_thing_is_told_apart_by_its_name(thing: str, rest: dict) -> None:
    made = plate({"thing": thing, **rest})
    again = PlateDocument.model_validate_json(made.model_dump_json())
    assert again == made
    assert again.cells[0].varied.thing == thing

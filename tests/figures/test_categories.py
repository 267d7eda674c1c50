from __future__ import annotations

import pytest
from pydantic import ValidationError

from yarrowdew.figures.document.categories import CategoryLook, in_order, with_new


def look(value: str, turn: int, **rest: str) -> CategoryLook:
    return CategoryLook.model_validate({"value": value, "turn": turn} | rest)


def test_new_categories_get_the_next_colours() -> None:
    known = (look("Dunlin", 3), look("Argill", 0))
    grown = with_new(known, ["Argill", "Corrie", "Dunlin", "Bracken"])
    assert grown == (*known, look("Corrie", 4), look("Bracken", 5))
    assert with_new((), ["a", "b"]) == (look("a", 0), look("b", 1))
    assert with_new(known, ["Argill"]) == known


def test_values_stand_in_the_studys_order() -> None:
    known = [look("large", 2), look("small", 0, label="Small ones"), look("gone", 1)]
    looks, codes = in_order(known, ["small", "middle", "large"])
    assert [one.shown for one in looks] == ["large", "Small ones", "middle"]
    assert codes == [1, 2, 0]
    # One that is not known yet takes a colour that no other has.
    assert looks[2].colour_index == 3


def test_a_colour_is_six_hexadecimal_digits() -> None:
    assert look("a", 0, colour="#10aa2f").colour == "#10aa2f"
    for wrong in ("red", "#fff", "#10AA2F", "url(x)"):
        with pytest.raises(ValidationError):
            look("a", 0, colour=wrong)

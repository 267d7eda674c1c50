"""Documents of earlier versions are read as those of this one."""

from __future__ import annotations

import pytest
from pydantic import ValidationError

import yarrowdew as yd
from yarrowdew.core.trends import FAMILIES
from yarrowdew.figures.document.base import GoesOut
from yarrowdew.figures.document.plate import PlateDocument
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.figures.schema.vocabulary import _parts

FORM = {
    "degree": 3,
    "intercept": 1.5,
    "scatter": "additive",
    "lower": 1.0,
    "upper": 9.0,
    "span": 0.25,
    "bend": 2,
    "passes": 4,
    "penalty": 0.01,
    "window": 5.0,
    "window_unit": "x",
    "alignment": "trailing",
}
"""What every trend of version 1 held, whatever its family was."""


def document(**change: object) -> FigureDocument:
    return FigureDocument.model_validate({"table": "t", "x": "a", "y": ["b"]} | change)


@pytest.mark.parametrize("family", FAMILIES)
@pytest.mark.parametrize("version", [{"version": 1}, {}])
def test_a_trend_keeps_what_was_set_about_its_own_family(family: str, version: dict) -> None:
    made = document(trends=[{"family": family, "form": FORM, "width": 3}], **version)
    (trend,) = made.trends
    own = FAMILIES[family].declared()
    # What is set about families of later versions begins as it does.
    kept = {name: FORM.get(name, field.default) for name, (_, field, _) in own.items()}
    assert trend.settings.model_dump() == kept
    assert (trend.width, made.version) == (3, 3)
    # What was read is written as this version has it, and read again as the same.
    assert "form" not in made.model_dump()["trends"][0]
    assert FigureDocument.model_validate_json(made.model_dump_json()) == made


def test_a_trend_that_named_no_family_was_a_straight_line() -> None:
    (trend,) = document(version=1, trends=[{"form": FORM}]).trends
    assert (trend.family, trend.settings.model_dump()) == ("straight", {"intercept": 1.5})


def test_matrices_and_plates_are_brought_up_to_date() -> None:
    trend = {"family": "polynomial", "form": FORM}
    kind = {"kind": "scatterplot matrix", "version": 1}
    made = document(matrix={"variables": ["a", "b"], "trend": trend}, **kind)
    assert made.matrix.trend.settings.model_dump() == {"degree": 3}
    varied = {"thing": "form", "family": "local", "form": FORM}
    plate = PlateDocument.model_validate({"cells": [{"figure": "f", "varied": varied}]})
    assert plate.cells[0].varied.settings.model_dump() == {"span": 0.25, "bend": 2, "passes": 4}


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        ({"version": 4}, "version"),
        ({"version": "new"}, "version"),
        ({"trends": [{"family": "wavy"}]}, "There is no trend family 'wavy'"),
        ({"trends": [{"family": 7}]}, "family"),
        ({"trends": [{"settings": {"degree": 3}}]}, "settings.degree"),
        ({"trends": [{"family": "polynomial", "settings": {"degree": 11}}]}, "less than or equal"),
        ({"trends": [{"family": "polynomial", "form": 7, "settings": {}}]}, "form"),
        ({"trends": 3}, "trends"),
        ({"matrix": 3}, "matrix"),
    ],
)
def test_what_is_of_no_version_is_refused(wrong: dict, said: str) -> None:
    with pytest.raises(ValidationError, match=said):
        document(**wrong)


def test_a_field_that_says_nothing_stays_and_those_are_few() -> None:
    private = {
        f"{part.__name__}.{name}"
        for part in _parts(FigureDocument, PlateDocument)
        for name, field in part.model_fields.items()
        if not any(isinstance(mark, GoesOut) for mark in field.metadata)
    }
    # Ids, what the ledger calls a figure, the filter (which has done its work), and fields that
    # every family or kind has in a form of its own.
    assert private == {
        "Cell.figure",
        "FigureDocument.name",
        "FigureDocument.rows",
        "FigureDocument.table",
        "FigureDocument.version",
        "PlateDocument.name",
        "PlateDocument.version",
        "TrendPart.family",
        "TrendPart.settings",
    }


class TestNamesOfVersion2:
    """Families and sources of standard errors are called as statistics calls them."""

    WERE = {
        "resistant": "theil-sen",
        "balanced": "reduced-major-axis",
        "both-errors": "errors-in-variables",
        "broken": "segmented",
        "wave": "sine-wave",
    }

    @pytest.mark.parametrize("version", [{"version": 2}, {}])
    @pytest.mark.parametrize(("old", "new"), WERE.items())
    def test_of_trends_and_matrices(self, old: str, new: str, version: dict) -> None:
        own = {"breaks": 2} if old == "broken" else {}
        made = document(
            trends=[{"family": old, "settings": own, "errors": "unequal"}],
            kind="scatterplot matrix",
            matrix={"variables": ["a", "b"], "trend": {"family": old, "errors": "resampled"}},
            **version,
        )
        assert [(t.family, t.errors) for t in made.trends] == [(new, "hc3")]
        assert made.matrix is not None
        assert (made.matrix.trend.family, made.matrix.trend.errors) == (new, "bootstrap")
        assert made.trends[0].settings.model_dump().items() >= own.items()

    def test_of_what_a_plate_varies(self) -> None:
        varied = {"thing": "form", "family": "broken", "settings": {"breaks": 2}}
        plate = PlateDocument.model_validate({"cells": [{"figure": "f", "varied": varied}]})
        (cell,) = plate.cells
        assert cell.varied.family == "segmented"
        assert cell.varied.settings.breaks == 2

    def test_of_calls(self) -> None:
        x, y = [1.0, 2, 3, 4, 5, 6], [1.0, 3, 2, 5, 4, 7]
        for old, new in (("resistant", "theil-sen"), ("balanced", "reduced-major-axis")):
            found, due = (yd.fit(x, y, family=name) for name in (old, new))
            assert found.coefficients(0.95) == due.coefficients(0.95)
        old, new = (yd.fit(x, y, errors=name) for name in ("unequal", "hc3"))
        assert old.coefficients(0.95) == new.coefficients(0.95)

    def test_no_name_means_two_families(self) -> None:
        every = [name for family in FAMILIES.values() for name in (family.name, *family.was)]
        assert len(every) == len(set(every))

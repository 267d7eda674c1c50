"""A toy family and a toy kind, as another package would bring them: one module, nothing else."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

import numpy as np

from yarrowdew.core.sample import Array, Sample
from yarrowdew.core.trends import Coefficient, Family, setting
from yarrowdew.core.trends.base import BaseFit, needs_rows, spread_of


@dataclass(frozen=True, slots=True, kw_only=True)
class ToySettings:
    """What is set about a toy."""

    lift: float = setting(0, "Lift", "Added to the level.", low=-10, high=10, slider=(-10, 10))


@dataclass(frozen=True, slots=True, kw_only=True)
class ToyFit(BaseFit):
    level: float

    def predict(self, x: Array) -> Array:
        return np.full_like(x, self.level)

    def coefficients(self, level: float) -> tuple[Coefficient, ...]:
        return (Coefficient.given("level", self.level),)


def fit(sample: Sample, settings: ToySettings) -> ToyFit:
    needs_rows(sample, 2, "A toy")
    level = float(sample.y.mean()) + settings.lift
    return ToyFit(
        family="toy",
        n=sample.n,
        x_range=(float(sample.x.min()), float(sample.x.max())),
        sse=float(((sample.y - level) ** 2).sum()),
        sst=spread_of(sample),
        degrees_of_freedom=sample.n - 1,
        parameters=1,
        level=level,
    )


FAMILY = Family(
    name="toy", label="toy line", note="plays", settings=ToySettings, fit=fit, has_band=False
)


def kind() -> object:
    """Make the toy kind; documents are not there yet when families are registered."""
    from yarrowdew.figures.document.base import DocumentPart, DrawnAs, Public
    from yarrowdew.figures.kinds.base import FigureKind, KindAnswer
    from yarrowdew.figures.pipeline.answer_models import AnswerBase, axis_answer, counts_of
    from yarrowdew.figures.pipeline.marks import marks_of
    from yarrowdew.figures.pipeline.points import points_of
    from yarrowdew.figures.wire.base import OnWire
    from yarrowdew.tables.field_roles import VariableName

    class Tally(DocumentPart):
        """What a tally counts."""

        counted: Public[Annotated[VariableName, DrawnAs("counted")]]
        secret: str = ""
        """Never goes out: nobody said that it may."""

    class TallyAnswer(OnWire):
        total: float

    def answer(view: object, most: int | None, _cautioned: bool) -> KindAnswer:
        points = points_of(view)
        drawn = points.drawn
        total = float(view.table.frame[view.document.tally.counted].sum())
        common = AnswerBase(
            table=view.table.name,
            x=axis_answer(points.x, drawn.x),
            y=axis_answer(points.y, drawn.y),
            colour=None,
            size=None,
            names=None,
            markers=None,
            counts=counts_of(view, drawn, points.set_aside, []),
            trends=[],
            slopes=[],
            association=None,
            cautions=[],
            problems=[],
        )
        return KindAnswer(common, TallyAnswer(total=total), marks_of(points, drawn.thinned(most)))

    return FigureKind(
        name="tally",
        label="tally",
        shows=frozenset({"kind", "x", "y", "title"}),
        answer=answer,
        needed=lambda document: [document.x],
        placed=lambda document, table: table.frame[document.x].is_not_null().to_numpy(),
        entries=lambda _document, _table: frozenset(),
        part_name="tally",
        part=Tally,
        part_holds="what it counts",
        answered=TallyAnswer,
    )


def __getattr__(name: str) -> object:
    if name == "KIND":
        return kind()
    raise AttributeError(name)

"""How y scatters about a curve that grows by shares: what is set about such families."""

from __future__ import annotations

from dataclasses import dataclass

from yarrowdew.core.trends.base import Scatter
from yarrowdew.core.trends.family import setting


@dataclass(frozen=True, slots=True, kw_only=True)
class ScatterSettings:
    """Settings of a curve that can be fitted on ln y, or on y itself."""

    scatter: Scatter = setting(
        "multiplicative",
        "Scatter of y",
        "Fitted on ln y (multiplicative), or on y itself (additive).",
        choices={"multiplicative": "in proportion to y", "additive": "the same everywhere"},
    )

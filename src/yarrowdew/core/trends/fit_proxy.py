"""A fit whose intervals are found in another way; everything else it says as it was."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from yarrowdew.core.trends.protocol import TrendFit


@dataclass(frozen=True)
class FitProxy:
    """What is not said here is said by the fit inside.

    Attributes
    ----------
    inner : TrendFit
    """

    inner: TrendFit

    if not TYPE_CHECKING:

        def __getattr__(self, name: str) -> Any:
            if name == "inner":
                raise AttributeError(name)
            return getattr(self.inner, name)

    @property
    def p_value(self) -> float | None:
        """None: the test of the fit inside rests on what is not assumed here."""
        return None

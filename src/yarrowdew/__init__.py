"""Yarrowdew: scatterplots, and trend lines that hold up in front of others.

In a script: `import yarrowdew as yd`, then `yd.figure(data, x="humidity", y="yield")`.
"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from yarrowdew.drawing.making import FigureOptions
    from yarrowdew.script.figures import Figure, figure
    from yarrowdew.script.moving import fetch
    from yarrowdew.script.numbers import band, fit, pairs
    from yarrowdew.script.plates import Plate, plate

    __version__: str

__all__ = ["Figure", "FigureOptions", "Plate", "band", "fetch", "figure", "fit", "pairs", "plate"]

_HOMES = {
    "FigureOptions": "yarrowdew.drawing.making",
    "Figure": "yarrowdew.script.figures",
    "Plate": "yarrowdew.script.plates",
    "band": "yarrowdew.script.numbers",
    "fetch": "yarrowdew.script.moving",
    "figure": "yarrowdew.script.figures",
    "fit": "yarrowdew.script.numbers",
    "pairs": "yarrowdew.script.numbers",
    "plate": "yarrowdew.script.plates",
}
"""Where each name is found: nothing is loaded before it is asked for."""
_RENAMED = {"Asked": "FigureOptions"}
"""Names that scripts of before may use."""


def __getattr__(name: str) -> Any:
    """Look a name up when it is asked for: few runs need all of them."""
    if name == "__version__":
        from importlib.metadata import version  # noqa: PLC0415

        return version("yarrowdew")
    name = _RENAMED.get(name, name)
    if name not in _HOMES:
        raise AttributeError(f"yarrowdew has no {name!r}")
    from importlib import import_module  # noqa: PLC0415

    return getattr(import_module(_HOMES[name]), name)

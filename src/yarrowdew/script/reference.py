"""The page that describes the Python package, made from what its docstrings say."""

from __future__ import annotations

import inspect
from typing import Any

import yarrowdew
from yarrowdew.drawing.making import FigureOptions
from yarrowdew.script.data import table_of
from yarrowdew.script.figures import Figure, figure
from yarrowdew.script.moving import fetch
from yarrowdew.script.numbers import band, fit, pairs
from yarrowdew.script.plates import Plate, plate

_SHOWN: dict[str, tuple[Any, tuple[str, ...]]] = {
    "figure": (figure, ()),
    "FigureOptions": (FigureOptions, ()),
    "Figure": (Figure, ("save", "image", "readings", "data", "with_", "open")),
    "plate": (plate, ()),
    "Plate": (Plate, ()),
    "fit": (fit, ()),
    "band": (band, ()),
    "pairs": (pairs, ()),
    "fetch": (fetch, ()),
}

_HEAD = """# From Python

```python
import yarrowdew as yd

figure = yd.figure(
    "nights.csv", x="humidity", y="yield", colour="valley", trends=["straight"], by="valley"
)
figure.save("nights.svg")  # .png, .jpg, .pdf, .html, .json too
for line in figure.readings.fits:
    print(line.group, line.equation, line.r_squared)
figure.with_(where="wind > 2", title="Windy nights").save("windy.pdf")
```

Nothing heavy is loaded before it is used. Data may be a path, columns by name, or a table of any
library that speaks the Arrow PyCapsule interface. What goes wrong is raised as a sentence that says
what is wrong and what would help. This page is written from the docstrings by
`yarrowdew python-reference`; their examples are run as tests.
"""


def python_reference() -> str:
    """Write the page, as Markdown."""
    lacking = set(yarrowdew.__all__) - set(_SHOWN)
    assert not lacking, lacking  # noqa: S101 (whoever offers something describes it)
    parts = [_HEAD]
    for name, (thing, members) in _SHOWN.items():
        parts.append(_part("##", f"yarrowdew.{name}", thing))
        parts += [_part("###", f"{name}.{one}", _member(thing, one)) for one in members]
    parts.append(_part("##", "Data", table_of, signature=False))
    return "\n".join(parts)


def _member(thing: Any, name: str) -> Any:
    found = inspect.getattr_static(thing, name)
    return getattr(found, "fget", None) or getattr(found, "func", None) or found


def _part(level: str, name: str, thing: Any, *, signature: bool = True) -> str:
    said = inspect.getdoc(thing) or ""
    title = f"{level} {name}\n"
    if not signature or inspect.isclass(thing):
        return f"{title}\n```text\n{said}\n```\n"
    given = str(inspect.signature(thing)).replace("'", "")
    return f"{title}\n```text\n{name}{given}\n\n{said}\n```\n"

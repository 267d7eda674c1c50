"""Loading modules, without a look for rubbish among them."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def loading() -> Iterator[None]:
    """Look for no rubbish while modules are loaded, nor among them later.

    Nothing of what is loaded is rubbish: to look for it, then and at the end, would take a tenth
    of the time of a command each.
    """
    gc.disable()
    try:
        yield
    finally:
        gc.freeze()
        gc.enable()

"""An empty database for a test, copied from one that is made once.

What makes a database is tested where it is made; elsewhere a quarter of a second each would only
make everything later.
"""

from __future__ import annotations

import atexit
import shutil
import tempfile
from functools import cache
from pathlib import Path

from yarrowdew.store import Store
from yarrowdew.store.records import DATABASE_NAME


@cache
def _made() -> Path:
    folder = Path(tempfile.mkdtemp())
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    Store(folder).close()
    return folder / DATABASE_NAME


def fresh(folder: Path) -> Path:
    """Give a folder a database without studies, and return it."""
    folder.mkdir(parents=True, exist_ok=True)
    shutil.copy(_made(), folder / DATABASE_NAME)
    return folder

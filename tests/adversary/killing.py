"""Processes that read in and copy studies, killed at some moment, and what is left of each.

One process starts others by forking before any of its libraries has a thread, so that hundreds can
be killed in a minute.
"""

from __future__ import annotations

import os
import random
import signal
import subprocess
import sys
import time
from collections import Counter
from pathlib import Path

from tests.adversary.tables import table
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.store import Store
from yarrowdew.store.packages import pack_study, unpack_study
from yarrowdew.tables.reading import files
from yarrowdew.tables.reading.readers import READERS

FIGURES, TABLES = 6, 4
LONGEST = 0.4
"""Seconds; reading in and copying a study take about a tenth of it each."""


def kills(folder: Path, count: int) -> Counter[str]:
    """Kill so many processes in the midst of their work, and count what is left of it."""
    done = subprocess.run(  # noqa: S603 (this very module)
        [sys.executable, "-m", __name__, str(folder), str(count)],
        stdout=subprocess.PIPE,
        text=True,
        check=True,
    )
    return Counter(done.stdout.split("\n")[:-1])


def _written(store: Store, seed: int) -> str:
    draw = random.Random(seed)
    study = store.studies.create("Whole")
    for _ in range(TABLES):
        made = table(draw, rows=60)
        kept = store.tables.add(study.id, made)
        x = next(v.name for v in made.variables if v.on_axis)
        for _ in range(FIGURES):
            store.figures.create(study.id, FigureDocument(table=kept.id, x=x, y=[x]))
    return study.id


def _begin(folder: Path) -> None:
    store = Store(folder)
    study = _written(store, 1)
    (folder / "study.zip").write_bytes(pack_study(store, study))


def _work(folder: Path) -> None:
    store = Store(folder)
    content = (folder / "study.zip").read_bytes()
    study = store.studies.all()[-1].id
    while True:
        unpack_study(store, content, "study.zip")
        store.studies.copy(study, "Copy")


def _forked(work: object, folder: Path) -> int:
    child = os.fork()
    if child == 0:
        # Files are read here: a process of its own would have to start each time.
        files.HERE = frozenset(READERS)  # type: ignore[misc]
        work(folder)  # type: ignore[operator]
        os._exit(0)
    return child


def main() -> None:
    """Kill, and print what is left after each kill."""
    folder, count = Path(sys.argv[1]), int(sys.argv[2])
    os.waitpid(_forked(_begin, folder), 0)
    draw = random.Random(7)
    for _ in range(count):
        child = _forked(_work, folder)
        time.sleep(draw.uniform(0.02, LONGEST))
        os.kill(child, signal.SIGKILL)
        os.waitpid(child, 0)
        store = Store(folder)
        held = {
            (len(store.tables.of_study(s.id)), len(store.figures.of_study(s.id)))
            for s in store.studies.all()
        }
        for study in store.studies.all()[:-1]:
            store.studies.delete_for_good(study.id)
        store.close()
        whole = held == {(TABLES, TABLES * FIGURES)}
        sys.stdout.write("whole\n" if whole else f"half: {sorted(held)}\n")


if __name__ == "__main__":
    main()

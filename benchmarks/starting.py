"""How soon a command answers, beside Python importing what it cannot do without."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import urllib.request
from collections.abc import Iterator
from functools import partial
from pathlib import Path

from tests.web.running import running

from benchmarks.measuring import Ratio, compare
from yarrowdew.demo.tables import demo_tables
from yarrowdew.tables.writing import write_table

COMMAND = Path(sys.executable).with_name("yarrowdew")


# As on a machine where Python keeps what it compiles, whatever is set here.
ENVIRONMENT = {k: v for k, v in os.environ.items() if k != "PYTHONDONTWRITEBYTECODE"}


def _run(*arguments: object) -> None:
    subprocess.run([str(a) for a in arguments], check=True, capture_output=True, env=ENVIRONMENT)


def _importing(packages: str) -> None:
    _run(sys.executable, "-c", f"import {packages}")


def all_ratios() -> Iterator[Ratio]:
    """What there is, a fit of 200 rows, and the server until it answers: a page, then what is in it."""
    yield compare(
        "yarrowdew --help (import typer)",
        lambda: _run(COMMAND, "--help"),
        lambda: _importing("typer"),
        at_most=1.5,
    )
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "rows.csv"
        file.write_text("a,b\n" + "".join(f"{i},{i * 3 % 17}\n" for i in range(200)))
        yield compare(
            "yarrowdew fit, 200 rows (import what it needs)",
            lambda: _run(COMMAND, "fit", file, "--x", "a", "--y", "b"),
            lambda: _importing("numpy, polars, scipy.special, scipy.optimize"),
            at_most=1.8,
        )
        nights = Path(folder) / "nights.csv"
        nights.write_bytes(write_table(demo_tables()[0], "csv"))
        asked = "--x humidity --y yield --colour valley --trend straight --by valley -o"
        # The yardstick rests for a third of a second.
        yield compare(
            "yarrowdew draw, the demo figure (import numpy, polars, scipy.special, rest 1/3 s)",
            lambda: _run(COMMAND, "draw", nights, *asked.split(), Path(folder) / "nights.svg"),
            lambda: _importing("numpy, polars, scipy.special, time; time.sleep(1 / 3)"),
            at_most=1.8,
        )
        data = Path(folder) / "data"

        def served(address: str) -> None:
            with running(data) as server:
                urllib.request.urlopen(server.address + address).read()

        for what, address, at_most in (
            ("the page", "/", 1.3),
            ("the list of studies", "/api/studies", 2.2),
        ):
            yield compare(
                f"yarrowdew serve until it answers {what} (import what it needs)",
                partial(served, address),
                lambda: _importing("fastapi, sqlalchemy, polars, numpy, scipy.special"),
                at_most=at_most,
                runs=5,
            )

"""A server with a client that asks for pairs that take very long."""

from __future__ import annotations

import contextlib
import sys
import threading
from pathlib import Path

import httpx2 as httpx
import numpy as np
import polars as pl
import uvicorn

from yarrowdew.api.app import create_app
from yarrowdew.api.settings import Settings
from yarrowdew.store import Store
from yarrowdew.tables.table import Kind, Table, Variable

COLUMNS, ROWS = 300, 1_500


def main() -> None:
    """Serve, and ask; distance correlations of all pairs would take many minutes."""
    folder = Path(sys.argv[1])
    store = Store(folder)
    values = np.random.default_rng(1).normal(size=(COLUMNS, ROWS))
    names = [f"v{i}" for i in range(COLUMNS)]
    table = store.tables.add(
        store.studies.create("Long").id,
        Table(
            "t",
            tuple(Variable(n, Kind.NUMBER, n) for n in names),
            pl.DataFrame(dict(zip(names, values, strict=True))),
        ),
    )
    store.close()
    config = uvicorn.Config(
        create_app(Settings(folder)), port=0, log_level="error", timeout_graceful_shutdown=3
    )
    server = uvicorn.Server(config)

    def ask() -> None:
        while not server.started:
            threading.Event().wait(0.05)
        port = server.servers[0].sockets[0].getsockname()[1]
        sys.stdout.write("busy\n")
        sys.stdout.flush()
        with contextlib.suppress(httpx.HTTPError):
            httpx.post(
                f"http://127.0.0.1:{port}/api/pairs",
                json={"table": table.id, "method": "distance"},
                timeout=600,
            )

    threading.Thread(target=ask, daemon=True).start()
    server.run()


if __name__ == "__main__":
    main()

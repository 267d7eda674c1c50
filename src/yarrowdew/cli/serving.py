"""Commands that start the server."""

from __future__ import annotations

import logging
import socket
import sys
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer
import uvicorn

from yarrowdew.api.opening import Opening
from yarrowdew.api.settings import DEFAULT_UPLOAD_MB, Settings
from yarrowdew.cli.data import DataOption, data_folder
from yarrowdew.cli.options import EngineOption
from yarrowdew.tables.errors import TableError

if TYPE_CHECKING:
    from fastapi import FastAPI

HOST = "127.0.0.1"
ANYWHERE = "0.0.0.0"  # noqa: S104 # other machines get shared pages only: api/security.py
PORT = 8420
_PORTS_TRIED = 50

PortOption = Annotated[
    int | None, typer.Option(help=f"Port; {PORT} or the next free one by default.")
]
UploadOption = Annotated[
    int,
    typer.Option(
        "--max-upload",
        min=1,
        help="Largest file that may be imported, in MB.",
        envvar="YARROWDEW_MAX_UPLOAD",
    ),
]
DatasetsOption = Annotated[
    list[Path] | None,
    typer.Option(
        "--datasets",
        help="Folder whose Parquet files may be opened from the page; may be repeated.",
    ),
]
OthersOption = Annotated[
    bool,
    typer.Option("--open-shared", help="Let other machines open shared pages, and nothing else."),
]


def serve(
    *,
    data: DataOption = None,
    port: PortOption = None,
    max_upload: UploadOption = DEFAULT_UPLOAD_MB,
    open_shared: OthersOption = False,
    datasets: DatasetsOption = None,
    engine: EngineOption = None,
) -> None:
    """Serve the studies on this machine, and print the address."""
    folder = data_folder(data)
    settings = Settings(folder, max_upload, datasets=_opened(datasets), engine=engine)
    _serve(settings, _listen(port, ANYWHERE if open_shared else HOST))


def demo(
    *,
    data: DataOption = None,
    port: PortOption = None,
    max_upload: UploadOption = DEFAULT_UPLOAD_MB,
    open_shared: OthersOption = False,
    datasets: DatasetsOption = None,
    engine: EngineOption = None,
) -> None:
    """Serve as `serve` does, with the demo study among the studies."""
    folder = data_folder(data)
    study = _with_demo_study(folder)
    listening = _listen(port, ANYWHERE if open_shared else HOST)
    settings = Settings(folder, max_upload, datasets=_opened(datasets), engine=engine)
    _serve(settings, listening, f"/studies/{study}")


def development_app() -> FastAPI:
    """Make the application for a server that reloads (`make dev`)."""
    folder = data_folder(None)
    _with_demo_study(folder)
    return _loaded(Settings(folder))


def _with_demo_study(folder: Path) -> str:
    """Add the demo study to a folder, and say its id."""
    from yarrowdew.demo.seeding import add_demo_study  # noqa: PLC0415 (not loaded to serve)
    from yarrowdew.store import Store  # noqa: PLC0415 (likewise)

    store = Store(folder)
    try:
        return add_demo_study(store)
    finally:
        store.close()


def _loaded(settings: Settings) -> FastAPI:
    from yarrowdew.api.app import create_app  # noqa: PLC0415 (pages are answered before)

    return create_app(settings)


def _opened(folders: list[Path] | None) -> tuple[Path, ...]:
    for folder in folders or ():
        if not folder.is_dir():
            raise TableError(f"{folder} is no folder.", "Give one that holds Parquet files.")
    return tuple(folder.resolve() for folder in folders or ())


def _serve(settings: Settings, listening: socket.socket, path: str = "/") -> None:
    logging.basicConfig(format="%(message)s")
    address = f"http://{HOST}:{listening.getsockname()[1]}{path}"
    typer.echo(
        f"Yarrowdew is at {address}\nStudies are kept in {settings.data}\nStop it with Ctrl+C."
    )
    sys.stdout.flush()

    def stop() -> None:
        server.should_exit = True

    opening = Opening(partial(_loaded, settings), stop)
    config = uvicorn.Config(
        opening,
        log_level="warning",
        lifespan="on",
        ws="none",
        # Nobody speaks for another machine here.
        proxy_headers=False,
        # Whoever still waits for an answer when the server is stopped waits so long at most.
        timeout_graceful_shutdown=5,
    )
    server = uvicorn.Server(config)
    server.run(sockets=[listening])
    if opening.error is not None:
        raise opening.error


def _listen(port: int | None, host: str) -> socket.socket:
    """Take the port asked for, or the first free one from the usual one on."""
    for number in [port] if port is not None else range(PORT, PORT + _PORTS_TRIED):
        # Named as TCP, or asyncio does not tell it to send small answers at once, and each of them
        # waits 40 ms for the other side.
        listening = socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
        listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listening.bind((host, number))
            # From here on connections wait, so that the address is good once it is printed.
            listening.listen()
        except OSError:
            listening.close()
            continue
        return listening
    taken = (
        f"Port {port} is" if port is not None else f"Ports {PORT} to {PORT + _PORTS_TRIED - 1} are"
    )
    raise TableError(f"{taken} taken.", "Choose another with --port.")

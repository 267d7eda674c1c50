"""The command line: for scripts, for people without a browser, and to start the server."""

from __future__ import annotations

import sys

import typer

import yarrowdew.cores  # noqa: F401 (before NumPy)
from yarrowdew.cli.app import app
from yarrowdew.core.errors import UserFacingError


def main() -> None:
    """Run the command line; bad input ends with status 2 and one line on standard error."""
    try:
        status = app(sys.argv[1:] or ["--help"], standalone_mode=False)
    except UserFacingError as error:
        status = _complain(str(error))
    except typer.TyperException as error:
        # Typer's own messages name the option only when asked to format themselves.
        formatted = getattr(error, "format_message", error.__str__)
        status = _complain(formatted())
    except (typer.Abort, KeyboardInterrupt):
        status = 130
    except BrokenPipeError:
        # The reader of our output has gone; there is no one left to tell.
        status = 0
    sys.exit(status if isinstance(status, int) else 0)


def _complain(message: str) -> int:
    sys.stderr.write(f"yarrowdew: {' '.join(message.split())}\n")
    return 2


__all__ = ["app", "main"]

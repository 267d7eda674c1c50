"""Numbers only: arrays in, plain result objects out.

Nothing here knows of tables, HTTP, SQL or pixels, and nothing is imported but NumPy and SciPy.
Parts of SciPy are named in full where they are used: SciPy loads one then, and not when a command
starts.
"""

from __future__ import annotations

from importlib import import_module


def load_all() -> None:
    """Load the parts of SciPy that a first fit would wait for."""
    for part in ("special", "linalg", "fft", "optimize"):
        import_module(f"scipy.{part}")

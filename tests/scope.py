"""How much is tried: what suits every change, or all there is, with LONG_TESTS set."""

from __future__ import annotations

import os

import pytest

LONG = bool(os.environ.get("LONG_TESTS"))


def examples(usually: int, long: int) -> int:
    """How many examples, runs or steps."""
    return long if LONG else usually


only_long = pytest.mark.skipif(not LONG, reason="takes long; `make crucible` has it")

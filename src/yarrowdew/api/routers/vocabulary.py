"""What the front end is told of families, kinds and defaults."""

from __future__ import annotations

from yarrowdew.api.routing import api_router
from yarrowdew.figures.schema.vocabulary import Vocabulary, vocabulary

router = api_router("figures", "/vocabulary")


@router.get("")
def read_vocabulary() -> Vocabulary:
    """Say what families, kinds and settings there are, and what documents begin with."""
    return vocabulary()

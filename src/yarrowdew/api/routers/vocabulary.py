"""What the front end is told of families, kinds and defaults."""

from __future__ import annotations

from fastapi import APIRouter

from yarrowdew.figures.vocabulary import Vocabulary, vocabulary

router = APIRouter(prefix="/vocabulary", tags=["figures"])


@router.get("")
def read_vocabulary() -> Vocabulary:
    """Say what families, kinds and settings there are, and what documents begin with."""
    return vocabulary()

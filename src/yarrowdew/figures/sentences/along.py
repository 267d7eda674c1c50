"""What every other form says: how much of the variation lies along it."""

from __future__ import annotations

from yarrowdew.figures.sentences.base import ToSay


def sentence(say: ToSay) -> str:
    """Say what share of the variation x accounts for, along which curve."""
    curve = "a smooth curve" if say.family.is_smooth else "a curve"
    return f"{say.share[:-1]}, along {curve}."

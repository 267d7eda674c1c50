"""The figure document and its answer: what to draw and what it says."""

from yarrowdew.figures.answer import Answer, Answered, answer
from yarrowdew.figures.document import FigureDocument

__all__ = ["Answer", "Answered", "FigureDocument", "answer"]

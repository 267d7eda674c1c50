"""The figure document and its answer: what to draw and what it says."""

from yarrowdew.figures.answer import Answer, Answered, Readings, answer, readings
from yarrowdew.figures.document import FigureDocument

__all__ = ["Answer", "Answered", "FigureDocument", "Readings", "answer", "readings"]

"""The figure document and its answer: what to draw and what it says."""

from yarrowdew.figures.answer import Answer, Answered, ReadingsAnswer, answer, readings
from yarrowdew.figures.figure import FigureDocument

__all__ = ["Answer", "Answered", "FigureDocument", "ReadingsAnswer", "answer", "readings"]

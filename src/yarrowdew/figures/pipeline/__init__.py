"""From a document and its table to an answer: view, points, fits, readings."""

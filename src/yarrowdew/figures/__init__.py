"""The figure document and its answer: what to draw and what it says."""

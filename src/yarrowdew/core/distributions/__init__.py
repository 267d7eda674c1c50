"""One number by itself or in groups: density, spread, and tests between groups."""

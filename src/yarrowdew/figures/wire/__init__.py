"""Models that answers are made from."""

"""What all kinds of figures share of datasets, whose rows are never together."""

"""Standard errors, bands and p values that families share."""

"""Trend families, one module each; `registry` lists them."""

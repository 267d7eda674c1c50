"""Typed tables: reading files, kinds and units, summaries."""

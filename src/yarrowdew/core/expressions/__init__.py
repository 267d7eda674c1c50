"""Arithmetic as people type it: parsed to a tree, which others check, work out or differentiate."""

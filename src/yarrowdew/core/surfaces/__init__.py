"""Surfaces through rows that have three numbers."""

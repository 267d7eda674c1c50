"""Numerical methods by which families are fitted."""

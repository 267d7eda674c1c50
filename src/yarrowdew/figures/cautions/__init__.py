"""Cautions: readings that warn of what misleads, each with its rows and its remedy."""

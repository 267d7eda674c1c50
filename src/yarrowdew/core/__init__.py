"""Numbers only: arrays in, plain result objects out.

Nothing here knows of tables, HTTP, SQL or pixels, and nothing is imported but NumPy and SciPy.
"""

"""Numbers only: arrays in, plain result objects out.

Nothing here knows of tables, HTTP, SQL or pixels, and nothing is imported but NumPy and SciPy.
`scipy.optimize` is named in full where it is used: SciPy loads it then, and not when a command starts.
"""

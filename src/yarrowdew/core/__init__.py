"""Numbers only: arrays in, plain result objects out.

Nothing here knows of tables, HTTP, SQL or pixels, and nothing is imported but NumPy and SciPy.
Parts of SciPy are named in full where they are used: SciPy loads one then, and not when a command
starts.
"""

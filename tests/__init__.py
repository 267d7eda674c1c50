import yarrowdew.cores  # noqa: F401 (before NumPy)

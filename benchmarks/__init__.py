"""Speed, measured: each figure is a ratio to a yardstick of the same run."""

import yarrowdew.cores  # noqa: F401 (before NumPy)

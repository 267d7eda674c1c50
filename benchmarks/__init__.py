"""Speed, measured: each figure is a ratio to a yardstick of the same run."""

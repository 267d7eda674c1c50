"""What goes out when a figure is shared, and nothing else."""

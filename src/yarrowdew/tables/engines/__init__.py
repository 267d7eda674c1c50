"""What reads the parts of a dataset: threads here, or a Dask cluster."""

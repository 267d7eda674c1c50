"""One module for each resource."""

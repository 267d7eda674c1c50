"""The HTTP interface: thin routers over tables, figures and the store."""

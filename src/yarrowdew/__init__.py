"""Yarrowdew: scatterplots, and trend lines that hold up in front of others."""


def __getattr__(name: str) -> str:
    """Look the version up when it is asked for: few runs of the command line do."""
    if name != "__version__":
        raise AttributeError(name)
    from importlib.metadata import version  # noqa: PLC0415

    return version("yarrowdew")

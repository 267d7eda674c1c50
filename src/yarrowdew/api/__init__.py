"""The HTTP interface: thin routers over tables, figures and the store."""

from yarrowdew.api.app import create_app
from yarrowdew.api.settings import Settings

__all__ = ["Settings", "create_app"]

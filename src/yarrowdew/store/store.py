"""All studies of one data folder: one repository for each sort of record, over one database."""

from __future__ import annotations

from contextlib import AbstractContextManager
from pathlib import Path

from yarrowdew.store.datasets import DatasetRepository
from yarrowdew.store.documents import FigureRepository, PlateRepository
from yarrowdew.store.records import Database
from yarrowdew.store.shares import ShareRepository
from yarrowdew.store.studies import StudyRepository
from yarrowdew.store.tables import TableRepository


class Store:
    """All studies in one data folder.

    Every write is one transaction; `unit` makes one of several.

    Parameters
    ----------
    folder : Path
        Made where it does not exist.

    Attributes
    ----------
    studies, tables, datasets, figures, plates, shares : Repository
    """

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.database = Database(folder)
        self.studies = StudyRepository(self.database)
        self.tables = TableRepository(self.database)
        self.datasets = DatasetRepository(self.database)
        self.figures = FigureRepository(self.database)
        self.plates = PlateRepository(self.database)
        self.shares = ShareRepository(self.database)

    def unit(self) -> AbstractContextManager[None]:
        """Make one transaction of all changes inside: all of them happen, or none."""
        return self.database.unit()

    def together(self) -> AbstractContextManager[None]:
        """Read everything inside as of one moment; writing inside raises RuntimeError."""
        return self.database.together()

    def close(self) -> None:
        """Close the database file."""
        self.database.close()

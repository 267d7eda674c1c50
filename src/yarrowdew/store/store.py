"""The store: one repository for each thing that is kept, over one unit of work."""

from __future__ import annotations

from yarrowdew.store.datasets import LinkRepository
from yarrowdew.store.documents import DocumentRepository
from yarrowdew.store.shares import ShareRepository
from yarrowdew.store.studies import StudyRepository
from yarrowdew.store.tables import TableRepository


class Store(StudyRepository, TableRepository, LinkRepository, DocumentRepository, ShareRepository):
    """All studies in one data folder. Every write is one transaction; `unit` makes one of
    several.
    """

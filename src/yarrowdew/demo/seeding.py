"""Putting the demo study among the studies of a store."""

from __future__ import annotations

from yarrowdew.demo.study import NAME, demo_plates, demo_study
from yarrowdew.store import Store


def add_demo_study(store: Store) -> str:
    """Add the demo study and return its id; the one that is there already, where it is."""
    for study in store.studies.all():
        if study.name == NAME:
            return study.id
    with store.unit():
        study = store.studies.create(NAME)
        for table, figures in demo_study():
            store.tables.add(study.id, table, figures)
        for plate in demo_plates([figure.id for figure in store.figures.of_study(study.id)]):
            store.plates.create(study.id, plate)
    return study.id

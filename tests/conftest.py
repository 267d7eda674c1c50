from __future__ import annotations

import pytest
from hypothesis import settings

from tests.scope import examples
from yarrowdew.demo.study import demo_study
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.tables.table import Table

# What is true does not depend on how busy a machine is.
settings.register_profile("patient", deadline=None, max_examples=examples(40, 200))
settings.load_profile("patient")


@pytest.fixture(scope="session")
def demo_figures() -> list[tuple[FigureDocument, Table]]:
    """Every figure of the demo study, with its table."""
    return [
        (document.model_copy(update={"table": table.name}), table)
        for table, documents in demo_study()
        for document in documents
    ]

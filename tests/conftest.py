from __future__ import annotations

import pytest
from hypothesis import settings

from tests.scope import examples
from yarrowdew.api.app import create_app
from yarrowdew.api.settings import Settings
from yarrowdew.demo.study import demo_study
from yarrowdew.figures.figure import FigureDocument
from yarrowdew.tables.table import Table

# What is true does not depend on how busy a machine is.
settings.register_profile("patient", deadline=None, max_examples=examples(25, 200))
settings.load_profile("patient")


@pytest.fixture(scope="session")
def schema(tmp_path_factory: pytest.TempPathFactory) -> dict:
    """What the server says of its addresses; made once, for it takes seconds."""
    return create_app(Settings(tmp_path_factory.mktemp("schema"))).openapi()


@pytest.fixture(scope="session")
def demo_figures() -> list[tuple[FigureDocument, Table]]:
    """Every figure of the demo study, with its table."""
    return [
        (document.model_copy(update={"table": table.name}), table)
        for table, documents in demo_study()
        for document in documents
    ]

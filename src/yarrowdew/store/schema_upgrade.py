"""Bringing a database up to date."""

from __future__ import annotations

import logging
import sqlite3
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from sqlalchemy import Connection, Engine, inspect

from yarrowdew.core.errors import UserFacingError
from yarrowdew.store.database import MIGRATIONS, newest_revision

log = logging.getLogger(__name__)


def migration_config(connection: Connection | None = None) -> Config:
    """Make Alembic's configuration, bound to a connection where there is one."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.attributes["connection"] = connection
    return config


def migrate(engine: Engine, path: Path, current: str | None) -> None:
    """Bring the database at `path`, which is at the revision `current`, up to date."""
    scripts = ScriptDirectory.from_config(migration_config())
    if current is not None and current not in {s.revision for s in scripts.walk_revisions()}:
        raise UserFacingError(
            f"The studies in {path.parent} were written by a newer version of Yarrowdew.",
            "Update this installation, or choose another data folder with --data.",
        )
    with engine.connect() as connection:
        filled = bool(inspect(connection).get_table_names())
    if filled:
        copy = path.with_name(f"{path.stem}-before-{newest_revision()}{path.suffix}")
        with sqlite3.connect(path) as source, sqlite3.connect(copy) as target:
            source.backup(target)
        log.info("The studies are brought up to date; a copy as they were is %s.", copy)
    with engine.execution_options(writes=True).begin() as connection:
        command.upgrade(migration_config(connection), "head")

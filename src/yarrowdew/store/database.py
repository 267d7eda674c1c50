"""Opening the database: pragmas, transactions, migrations."""

from __future__ import annotations

import logging
import sqlite3
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import URL, Connection, Engine, create_engine, event, inspect

from yarrowdew.core.errors import SaidError

log = logging.getLogger(__name__)

MIGRATIONS = Path(__file__).parent / "migrations"


def open_database(path: Path) -> Engine:
    """Open the database at `path`, making it or bringing it up to date first.

    Before an older file is changed, a copy of it is set aside beside it.
    """
    path.parent.mkdir(parents=True, exist_ok=True)
    # Not as an address: a folder may be called with a question mark or a hash.
    engine = create_engine(URL.create("sqlite", database=str(path)))

    @event.listens_for(engine, "connect")
    def _on_connect(connection: Any, _record: object) -> None:
        # Transactions are begun below, by us: the driver would begin them too late.
        connection.isolation_level = None
        # Columns are large: bigger pages, which a new file gets, halve the time to store them.
        for pragma in (
            "page_size=32768",
            # So that what is deleted can be given back to the disk, bit by bit.
            "auto_vacuum=INCREMENTAL",
            "journal_mode=WAL",
            "wal_autocheckpoint=4000",
            "foreign_keys=ON",
            "busy_timeout=10000",
        ):
            connection.execute(f"PRAGMA {pragma}")

    @event.listens_for(engine, "begin")
    def _on_begin(connection: Connection) -> None:
        # A write takes its lock at once, so that it cannot fail half-way for want of it.
        writes = connection.get_execution_options().get("writes", False)
        connection.exec_driver_sql("BEGIN IMMEDIATE" if writes else "BEGIN")

    _migrate(engine, path)
    return engine


def migration_config(connection: Connection | None = None) -> Config:
    """Make Alembic's configuration, bound to a connection where there is one."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.attributes["connection"] = connection
    return config


def _migrate(engine: Engine, path: Path) -> None:
    scripts = ScriptDirectory.from_config(migration_config())
    head = scripts.get_current_head()
    with engine.connect() as connection:
        current = MigrationContext.configure(connection).get_current_revision()
        filled = bool(inspect(connection).get_table_names())
    if current == head:
        return
    if current is not None and current not in {s.revision for s in scripts.walk_revisions()}:
        raise SaidError(
            f"The studies in {path.parent} were written by a newer version of Yarrowdew.",
            "Bring this one up to date, or choose another data folder with --data.",
        )
    if filled:
        copy = path.with_name(f"{path.stem}-before-{head}{path.suffix}")
        with sqlite3.connect(path) as source, sqlite3.connect(copy) as target:
            source.backup(target)
        log.info("The studies are brought up to date; a copy as they were is %s.", copy)
    with engine.execution_options(writes=True).begin() as connection:
        command.upgrade(migration_config(connection), "head")


_WORTH_IT = 64 * 1024 * 1024
"""Free bytes in a file for which it is written anew."""


def give_back(engine: Engine) -> None:
    """Give space that is no longer used back to the disk."""
    raw = engine.raw_connection()
    try:
        connection = raw.dbapi_connection
        assert connection is not None  # noqa: S101 (it was just opened)

        def told(pragma: str) -> int:
            return int((connection.execute(f"PRAGMA {pragma}").fetchone() or [0])[0])

        if told("auto_vacuum") == _INCREMENTAL:
            # As a script, which is stepped to its end: a page is given back at each step.
            connection.executescript("PRAGMA incremental_vacuum")
        elif told("freelist_count") * told("page_size") > _WORTH_IT:
            # A file of an older version: written anew once, it can shrink from then on.
            connection.execute("VACUUM")
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)").fetchall()
    finally:
        raw.close()


_INCREMENTAL = 2

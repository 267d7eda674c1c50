"""Opening the database: pragmas, transactions, migrations."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from sqlalchemy import URL, Connection, Engine, create_engine, event, inspect

MIGRATIONS = Path(__file__).parent / "migrations"


_WAITS_FOR_THE_DISK = ("synchronous=FULL", "wal_autocheckpoint=4000")
_WAITS_FOR_NOTHING = ("synchronous=NORMAL", "wal_autocheckpoint=16000")


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
            "foreign_keys=ON",
            "busy_timeout=10000",
        ):
            connection.execute(f"PRAGMA {pragma}")

    @event.listens_for(engine, "begin")
    def _on_begin(connection: Connection) -> None:
        # A write takes its lock at once, so that it cannot fail half-way for want of it.
        options = connection.get_execution_options()
        if options.get("writes", False):
            # What can be had again need not be on the disk before the answer goes out; it gets
            # there with the next change that cannot.
            repeatable = options.get("repeatable", False)
            for pragma in _WAITS_FOR_NOTHING if repeatable else _WAITS_FOR_THE_DISK:
                connection.exec_driver_sql(f"PRAGMA {pragma}")
            connection.exec_driver_sql("BEGIN IMMEDIATE")
        else:
            connection.exec_driver_sql("BEGIN")

    _migrate(engine, path)
    return engine


def newest_revision() -> str:
    """The revision that the newest migration leads to: its file begins with it."""
    return max(file.name.partition("_")[0] for file in (MIGRATIONS / "versions").glob("[0-9]*.py"))


def _migrate(engine: Engine, path: Path) -> None:
    with engine.connect() as connection:
        known = inspect(connection).has_table("alembic_version")
        current = (
            connection.exec_driver_sql("SELECT version_num FROM alembic_version").scalar()
            if known
            else None
        )
    if current == newest_revision():
        return
    # What migrates takes long to load, and is seldom needed.
    from yarrowdew.store.schema_upgrade import migrate  # noqa: PLC0415

    migrate(engine, path, current)


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

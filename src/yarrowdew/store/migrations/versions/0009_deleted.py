"""Deleted figures, plates and tables that can be brought back; files of a dataset by version."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"

_DELETABLE = ("figure", "plate", "data_table")


def upgrade() -> None:
    """Add the columns."""
    for table in _DELETABLE:
        op.add_column(table, sa.Column("deleted", sa.DateTime(), nullable=True))
    op.add_column("table_version", sa.Column("dataset", sa.JSON(), nullable=True))


def downgrade() -> None:
    """Take the columns away; what was deleted goes for good."""
    for table in _DELETABLE:
        op.execute(f"DELETE FROM {table} WHERE deleted IS NOT NULL")  # noqa: S608 (our own names)
        op.execute(f"ALTER TABLE {table} DROP COLUMN deleted")
    op.execute("ALTER TABLE table_version DROP COLUMN dataset")

"""Datasets that stay where they are."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    """Add the column."""
    op.add_column("data_table", sa.Column("dataset", sa.JSON(), nullable=True))


def downgrade() -> None:
    """Take the column away."""
    op.execute("ALTER TABLE data_table DROP COLUMN dataset")

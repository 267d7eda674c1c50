"""Looks saved by name."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    """Add the column."""
    op.add_column("study", sa.Column("looks", sa.JSON(), nullable=False, server_default="[]"))


def downgrade() -> None:
    """Take the column away."""
    op.execute("ALTER TABLE study DROP COLUMN looks")

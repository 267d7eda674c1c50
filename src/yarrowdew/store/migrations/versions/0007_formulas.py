"""Formulas saved by name."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"


def upgrade() -> None:
    """Add the column."""
    op.add_column("study", sa.Column("formulas", sa.JSON(), nullable=False, server_default="[]"))


def downgrade() -> None:
    """Take the column away."""
    op.execute("ALTER TABLE study DROP COLUMN formulas")

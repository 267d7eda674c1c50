"""The expression that a derived variable is made by."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    """Add the column."""
    with op.batch_alter_table("variable") as batch:
        batch.add_column(sa.Column("recipe", sa.String(2000), nullable=True))


def downgrade() -> None:
    """Take the column away."""
    with op.batch_alter_table("variable") as batch:
        batch.drop_column("recipe")

"""What a variable held before it was read as its kind, where something could not be read."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    """Add the column."""
    with op.batch_alter_table("variable") as batch:
        batch.add_column(sa.Column("source", sa.LargeBinary(), nullable=True))


def downgrade() -> None:
    """Take the column away."""
    with op.batch_alter_table("variable") as batch:
        batch.drop_column("source")

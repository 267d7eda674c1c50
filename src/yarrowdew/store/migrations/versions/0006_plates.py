"""Plates, pages that are shared, and studies that can be brought back."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    """Make the two tables, and add the column."""
    op.add_column("study", sa.Column("deleted", sa.DateTime(), nullable=True))
    op.create_table(
        "plate",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("study_id", sa.String(32), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("changed", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["study_id"], ["study.id"], name="fk_plate_study_id", ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_plate"),
    )
    op.create_index("ix_plate_study_id", "plate", ["study_id"])
    op.create_table(
        "share",
        sa.Column("id", sa.String(64), nullable=False),
        sa.Column("study_id", sa.String(32), nullable=False),
        sa.Column("name", sa.String(500), nullable=False),
        sa.Column("created", sa.DateTime(), nullable=False),
        sa.Column("expires", sa.DateTime(), nullable=True),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(
            ["study_id"], ["study.id"], name="fk_share_study_id", ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_share"),
    )
    op.create_index("ix_share_study_id", "share", ["study_id"])


def downgrade() -> None:
    """Take them away."""
    op.drop_table("share")
    op.drop_table("plate")
    op.execute("ALTER TABLE study DROP COLUMN deleted")

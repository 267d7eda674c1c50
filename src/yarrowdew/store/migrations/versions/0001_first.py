"""Studies, tables, variables and figures."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    """Make the four tables."""
    op.create_table(
        "study",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("created", sa.DateTime(), nullable=False),
        sa.Column("changed", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_study"),
    )
    op.create_table(
        "data_table",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("study_id", sa.String(32), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("rows", sa.Integer(), nullable=False),
        sa.Column("summary", sa.JSON(), nullable=False),
        sa.Column("created", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["study_id"], ["study.id"], name="fk_data_table_study_id", ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_data_table"),
    )
    op.create_index("ix_data_table_study_id", "data_table", ["study_id"])
    op.create_table(
        "variable",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("table_id", sa.String(32), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(200), nullable=False),
        sa.Column("label", sa.String(200), nullable=False),
        sa.Column("unit", sa.String(100), nullable=False),
        sa.Column("kind", sa.String(16), nullable=False),
        sa.Column("values", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(
            ["table_id"], ["data_table.id"], name="fk_variable_table_id", ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_variable"),
        sa.UniqueConstraint("table_id", "name", name="uq_variable_table_id"),
    )
    op.create_index("ix_variable_table_id", "variable", ["table_id"])
    op.create_table(
        "figure",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("study_id", sa.String(32), nullable=False),
        sa.Column("position", sa.Integer(), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("changed", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["study_id"], ["study.id"], name="fk_figure_study_id", ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_figure"),
    )
    op.create_index("ix_figure_study_id", "figure", ["study_id"])


def downgrade() -> None:
    """Take the four tables away."""
    for name in ("figure", "variable", "data_table", "study"):
        op.drop_table(name)

"""Tables in versions, so that every change of them can be undone; categories and filters."""

import json
import uuid

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    """Make the first version of each table from its variables."""
    for name, empty in (("categories", "{}"), ("filters", "[]")):
        op.add_column("study", sa.Column(name, sa.JSON(), nullable=False, server_default=empty))
    op.create_table(
        "table_version",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("table_id", sa.String(32), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("rows", sa.Integer(), nullable=False),
        sa.Column("row_ids", sa.LargeBinary(), nullable=True),
        sa.Column("variables", sa.JSON(), nullable=False),
        sa.Column("summary", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(
            ["table_id"], ["data_table.id"], name="fk_table_version_table_id", ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_table_version"),
        sa.UniqueConstraint("table_id", "number", name="uq_table_version_table_id"),
    )
    op.create_index("ix_table_version_table_id", "table_version", ["table_id"])
    op.create_table(
        "column_values",
        sa.Column("id", sa.String(32), nullable=False),
        sa.Column("table_id", sa.String(32), nullable=False),
        sa.Column("size", sa.Integer(), nullable=False),
        sa.Column("values", sa.LargeBinary(), nullable=False),
        sa.Column("source", sa.LargeBinary(), nullable=True),
        sa.ForeignKeyConstraint(
            ["table_id"], ["data_table.id"], name="fk_column_values_table_id", ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_column_values"),
    )
    op.create_index("ix_column_values_table_id", "column_values", ["table_id"])
    connection = op.get_bind()
    connection.execute(
        sa.text(
            'INSERT INTO column_values (id, table_id, size, "values", source) '
            'SELECT id, table_id, length("values"), "values", source FROM variable'
        )
    )
    tables = connection.execute(sa.text("SELECT id, rows, summary FROM data_table")).all()
    for table_id, rows, summary in tables:
        variables = connection.execute(
            sa.text(
                "SELECT name, label, unit, kind, recipe, id FROM variable "
                "WHERE table_id = :id ORDER BY position"
            ),
            {"id": table_id},
        ).all()
        keys = ("name", "label", "unit", "kind", "recipe", "column")
        connection.execute(
            sa.text(
                "INSERT INTO table_version (id, table_id, number, rows, variables, summary) "
                "VALUES (:id, :table_id, 1, :rows, :variables, :summary)"
            ),
            {
                "id": uuid.uuid4().hex,
                "table_id": table_id,
                "rows": rows,
                "variables": json.dumps([dict(zip(keys, v, strict=True)) for v in variables]),
                "summary": summary,
            },
        )
    for name, type_, first in (
        ("version", sa.Integer(), "1"),
        ("next_row", sa.Integer(), "0"),
        ("options", sa.JSON(), "{}"),
    ):
        op.add_column("data_table", sa.Column(name, type_, nullable=False, server_default=first))
    connection.execute(sa.text("UPDATE data_table SET next_row = rows"))
    # Not in a batch: that would make the table anew, and dropping the old one would take
    # everything with it that refers to it.
    for former in ("rows", "summary"):
        op.execute(f"ALTER TABLE data_table DROP COLUMN {former}")
    op.drop_table("variable")


def downgrade() -> None:
    """Refuse: older versions have nowhere to keep what was changed since."""
    raise NotImplementedError("Take the copy that was set aside before.")

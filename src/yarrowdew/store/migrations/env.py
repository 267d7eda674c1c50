"""Alembic's entry point: runs the migrations on the connection that the store gives."""

from alembic import context

from yarrowdew.store.models import Base

context.configure(
    connection=context.config.attributes["connection"],
    target_metadata=Base.metadata,
    render_as_batch=True,
)
context.run_migrations()

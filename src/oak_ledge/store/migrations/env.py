"""Alembic's entry: runs the migrations on the connection it is handed."""

from __future__ import annotations

from alembic import context

from oak_ledge.store import tables  # noqa: F401 - fills the metadata
from oak_ledge.store.kinds import Base

context.configure(
    connection=context.config.attributes["connection"],
    target_metadata=Base.metadata,
    render_as_batch=True,
    transactional_ddl=True,
)
with context.begin_transaction():
    context.run_migrations()

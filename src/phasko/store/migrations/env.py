"""Alembic's entry: runs the migrations on the connection it is handed."""

from __future__ import annotations

from alembic import context

from phasko.store.models import Base

connection = context.config.attributes.get("connection")
if connection is None:
    raise RuntimeError("migrations run through phasko.store.Database, which hands over its connection")
# Each step and its record share one transaction: a step that fails has done nothing.
context.configure(
    connection=connection, target_metadata=Base.metadata, render_as_batch=True, transaction_per_migration=True
)
with context.begin_transaction():
    context.run_migrations()

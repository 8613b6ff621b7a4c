"""Alembic's environment: migrates the connection that `upgrade` hands over."""

from alembic import context

context.configure(connection=context.config.attributes["connection"])
with context.begin_transaction():
    context.run_migrations()

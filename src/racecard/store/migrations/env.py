"""Runs the migrations against the file named in the configuration."""

from alembic import context
from sqlalchemy import create_engine

from racecard.store.tables import Base

engine = create_engine(context.config.get_main_option("sqlalchemy.url") or "")
with engine.connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata, render_as_batch=True)
    with context.begin_transaction():
        context.run_migrations()
engine.dispose()

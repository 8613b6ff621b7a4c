"""The tables as SQLAlchemy sees them; the migrations make them."""

from sqlalchemy import Column, Index, MetaData, String, Table, Text

metadata = MetaData()

event_table = Table(
    "event",
    metadata,
    Column("id", String(36), primary_key=True),
    Column("job", String(80), nullable=False),
    Column("at", String(40), nullable=False),
    Column("kind", String(40), nullable=False),
    Column("body", Text, nullable=False),
    Index("event_of_job", "job", "id"),
)

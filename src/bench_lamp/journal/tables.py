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
    #: Id and sum of the newest events of its job that its bench knew.
    Column("parents", Text, nullable=False),
    #: Sum of the stored bytes.
    Column("sum", String(64), nullable=False),
    Index("event_of_job", "job", "id"),
    Index("event_of_kind", "kind", "job"),
)

#: A job in short, as it was after its event `last`; worked out anew where `form` is another.
digest_table = Table(
    "digest",
    metadata,
    Column("job", String(80), primary_key=True),
    Column("last", String(36), nullable=False),
    Column("form", String(40), nullable=False),
    Column("body", Text, nullable=False),
)

"""The event table, closed to change by triggers."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "event",
        sa.Column("id", sa.String(36), primary_key=True),
        sa.Column("job", sa.String(80), nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column("kind", sa.String(40), nullable=False),
        sa.Column("body", sa.Text, nullable=False),
    )
    op.create_index("event_of_job", "event", ["job", "id"])
    if op.get_bind().dialect.name == "sqlite":
        for word in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER event_no_{word.lower()} BEFORE {word} ON event "
                "BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END"
            )

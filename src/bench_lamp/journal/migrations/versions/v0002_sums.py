"""Each event gets the sum of its stored bytes, and the events that stood before it in its job."""

import sqlalchemy as sa
from alembic import op

from bench_lamp.journal.sums import parents_text, row_sum

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    is_sqlite = op.get_bind().dialect.name == "sqlite"
    if is_sqlite:
        for word in ("update", "delete"):
            op.execute(f"DROP TRIGGER IF EXISTS event_no_{word}")
    for name, size in (("parents", None), ("sum", 64)):
        kind = sa.String(size) if size else sa.Text()
        op.add_column("event", sa.Column(name, kind, nullable=False, server_default=""))
    # Which jobs are closed is asked before the first paint: without going through every body.
    op.create_index("event_of_kind", "event", ["kind", "job"])
    if is_sqlite:
        # A server never had events of the first schema.
        _fill()
        for word in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER event_no_{word.lower()} BEFORE {word} ON event "
                "BEGIN SELECT RAISE(ABORT, 'the journal is append-only'); END"
            )


def _fill() -> None:
    """One bench wrote all there is so far: each event follows the one before it in its job."""
    connection = op.get_bind()
    blobs = ", ".join(f"CAST({name} AS BLOB)" for name in ("id", "job", "at", "kind", "body"))
    rows = connection.execute(sa.text(f"SELECT {blobs} FROM event ORDER BY job, id")).fetchall()
    before: dict[bytes, tuple[str, str]] = {}
    change = sa.text("UPDATE event SET parents = :parents, sum = :sum WHERE CAST(id AS BLOB) = :id")
    for row in rows:
        values = [bytes(v) if v is not None else b"" for v in row]
        job = values[1]
        parents = parents_text([before[job]] if job in before else [])
        found = row_sum([*values, parents.encode()])
        connection.execute(change, {"parents": parents, "sum": found, "id": values[0]})
        before[job] = (values[0].decode("utf-8", "replace"), found)

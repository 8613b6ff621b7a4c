"""What is made from the events, beside them: jobs in short and words to search; and what a shared server adds."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import TSVECTOR

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.create_table(
        "about",
        sa.Column("name", sa.String(40), primary_key=True),
        sa.Column("value", sa.Text, nullable=False),
    )
    if op.get_bind().dialect.name == "sqlite":
        op.create_table(
            "digest",
            sa.Column("job", sa.String(80), primary_key=True),
            sa.Column("last", sa.String(36), nullable=False),
            sa.Column("form", sa.String(40), nullable=False),
            sa.Column("body", sa.Text, nullable=False),
        )
        op.execute(
            "CREATE VIRTUAL TABLE said USING fts5(words, job UNINDEXED, event UNINDEXED, at UNINDEXED, "
            "tokenize = \"unicode61 remove_diacritics 2\", prefix = '2 3')"
        )
    else:
        _on_a_server()


def _on_a_server() -> None:
    """Number the events as they come, close them to change, tell of them, and keep what benches say."""
    op.execute("ALTER TABLE event ADD COLUMN seq BIGINT GENERATED ALWAYS AS IDENTITY")
    op.create_index("event_in_turn", "event", ["seq"], unique=True)
    op.create_table(
        "said",
        sa.Column("event", sa.String(36), primary_key=True),
        sa.Column("words", TSVECTOR, nullable=False),
    )
    op.create_index("said_words", "said", ["words"], postgresql_using="gin")
    op.create_table(
        "claim",
        sa.Column("job", sa.String(80), primary_key=True),
        sa.Column("bench", sa.String(80), nullable=False),
        sa.Column("who", sa.String(80), nullable=False),
        sa.Column("since", sa.DateTime(timezone=True), nullable=False),
        sa.Column("seen", sa.DateTime(timezone=True), nullable=False),
    )
    op.execute(
        "CREATE FUNCTION event_is_closed() RETURNS trigger LANGUAGE plpgsql AS "
        "$$ BEGIN RAISE EXCEPTION 'the journal is append-only'; END $$"
    )
    op.execute(
        "CREATE TRIGGER event_no_change BEFORE UPDATE OR DELETE OR TRUNCATE ON event "
        "FOR EACH STATEMENT EXECUTE FUNCTION event_is_closed()"
    )
    op.execute(
        "CREATE FUNCTION tell_benches() RETURNS trigger LANGUAGE plpgsql AS "
        "$$ BEGIN PERFORM pg_notify('bench_lamp', TG_TABLE_NAME); RETURN NULL; END $$"
    )
    for table, when in (("event", "INSERT"), ("claim", "INSERT OR DELETE OR UPDATE OF bench")):
        op.execute(
            f"CREATE TRIGGER tell_{table} AFTER {when} ON {table} "
            "FOR EACH STATEMENT EXECUTE FUNCTION tell_benches()"
        )

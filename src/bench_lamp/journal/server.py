"""The shop's journal on a PostgreSQL server: events in the turn in which they came, told of at once.

Everything that comes from there is data of others: it is checked like a file before it is taken in.
"""

import uuid
from collections.abc import Iterable, Iterator, Sequence
from contextlib import contextmanager
from typing import Any, NamedTuple

from sqlalchemy import Connection, Engine, create_engine, make_url, text
from sqlalchemy.exc import (
    ArgumentError,
    DBAPIError,
    InterfaceError,
    OperationalError,
    SQLAlchemyError,
)
from sqlalchemy.pool import NullPool

from bench_lamp.journal.events import Event
from bench_lamp.journal.merging import Row
from bench_lamp.journal.reader import WHOLE
from bench_lamp.journal.rows import COLUMNS, MOST_BODY, JournalError, to_event
from bench_lamp.journal.schema import HEAD, upgrade
from bench_lamp.journal.words import SILENT, Hit, hit_of, wanted_words, words_in, words_of_event

#: Oldest server that is worked with: version 15.
OLDEST = 150_000
#: Longest that a server is waited for, in seconds: to connect, and for one answer.
CONNECT_S, ANSWER_S = 5, 20
#: Number of the lock under which events are written, and the schema is: one bench at a time.
TURN = 7_203_651
#: Bytes of the longest word that is searched for.
MOST_WORD = 200
CHANNEL = "bench_lamp"


class Pulled(NamedTuple):
    """Events that came to the server, as they are stored, and the number in turn of the last."""

    rows: tuple[Row, ...]
    seq: int


class JournalServer:
    """A connection to the shop's server, for one thread."""

    def __init__(self, engine: Engine, connection: Connection, identity: str) -> None:
        self._engine, self._connection = engine, connection
        #: Which server it is: made with its tables.
        self.identity = identity

    @classmethod
    def open(cls, address: str) -> "JournalServer":
        """Connect, and make or bring up to date the tables.

        Raises
        ------
        JournalError
            When the address is none, the server does not answer, or it is too old, too new or not to
            be written.
        """
        engine = _engine(address)
        try:
            connection = engine.connect()
            try:
                _refuse_old(connection)
                identity = _make_ready(connection)
            except BaseException:
                connection.close()
                raise
        except SQLAlchemyError as exc:
            engine.dispose()
            raise server_error(exc) from exc
        except BaseException:
            engine.dispose()
            raise
        return cls(engine, connection, identity)

    def push(self, rows: Iterable[Row]) -> None:
        """Put events on the server, in their order; those that are there already stay as they are.

        What cannot be read as an event is passed over: it stays where it is.
        """
        sound = [(row, event) for row in rows if isinstance(event := _read(row), Event)]
        if not sound:
            return
        names = ", ".join(WHOLE)
        marks = ", ".join(f":{name}" for name in WHOLE)
        insert = f"INSERT INTO event ({names}) VALUES ({marks}) ON CONFLICT (id) DO NOTHING"
        words = (
            "INSERT INTO said (event, words) VALUES (:event, array_to_tsvector(CAST(:words AS text[]))) "
            "ON CONFLICT (event) DO NOTHING"
        )
        said = [
            {"event": e.id, "words": tokens}
            for _, e in sound
            if e.body.kind not in SILENT and (tokens := _tokens(e))
        ]
        with self._turn() as connection:
            connection.execute(
                text(insert), [dict(zip(WHOLE, row, strict=True)) for row, _ in sound]
            )
            if said:
                connection.execute(text(words), said)

    def pull(self, after: int, most: int = 500) -> Pulled:
        """Return the events behind a number in turn, and the number of the last of them."""
        query = (
            f"SELECT seq, octet_length(body) + octet_length(parents), {', '.join(WHOLE)} FROM event "
            "WHERE seq > :after ORDER BY seq LIMIT :most"
        )
        # Bodies that are far too long stay on the server: they would be set aside here.
        fits = query.replace(" WHERE ", f" WHERE octet_length(body) <= {2 * MOST_BODY} AND ")
        found = self._rows(fits, after=after, most=most)
        if not found:
            return Pulled((), after)
        return Pulled(tuple(tuple(map(str, row[2:])) for row in found), int(found[-1][0]))

    def find(self, words: str, *, limit: int = 12) -> tuple[Hit, ...]:
        """Return events that hold every word, or begin with it, the newest first."""
        wanted = wanted_words(words)
        if not wanted:
            return ()
        question = " & ".join(f"'{word[:MOST_WORD]}':*" for word in wanted)
        query = (
            f"SELECT {', '.join(f'e.{name}' for name in COLUMNS)} FROM said s JOIN event e ON e.id = s.event "
            "WHERE s.words @@ CAST(:question AS tsquery) ORDER BY e.seq DESC LIMIT :limit"
        )
        found = (to_event(row) for row in self._rows(query, question=question, limit=limit))
        return tuple(hit_of(event) for event in found if isinstance(event, Event))

    def one(self, query: str, **values: Any) -> Any:
        """Run a statement in a transaction of its own; return its first row, None for none."""
        try:
            with self._connection.begin():
                found = self._connection.execute(text(query), values)
                return found.fetchone() if found.returns_rows else None
        except SQLAlchemyError as exc:
            raise server_error(exc) from exc

    def rows(self, query: str, **values: Any) -> Sequence[Any]:
        """Return the rows of a question."""
        return self._rows(query, **values)

    def listen(self) -> int:
        """Have the server tell of what is new; return the socket that it does so on."""
        driver = self._driver()
        try:
            self.one(f"LISTEN {CHANNEL}")
            return int(driver.fileno())
        except OSError as exc:
            raise JournalError("The shop’s server does not answer", hint=str(exc)) from exc

    def told(self) -> frozenset[str]:
        """Return the tables that something is new in, since this was asked last; without waiting."""
        driver = self._driver()
        try:
            was, driver.autocommit = driver.autocommit, True
            told = frozenset(note.payload for note in driver.notifies(timeout=0))
            driver.autocommit = was
        except Exception as exc:
            raise server_error(exc) from exc
        return told

    def close(self) -> None:
        """Let go of the connection."""
        # Without a word to a server that may be gone: nothing is under way.
        self._connection.invalidate()
        self._connection.close()
        self._engine.dispose()

    def _driver(self) -> Any:
        return self._connection.connection.driver_connection

    def _rows(self, query: str, **values: Any) -> Sequence[Any]:
        try:
            with self._connection.begin():
                return self._connection.execute(text(query), values).fetchall()
        except SQLAlchemyError as exc:
            raise server_error(exc) from exc

    @contextmanager
    def _turn(self) -> Iterator[Connection]:
        """Write in turn: the numbers that events get are in the order in which others see them."""
        try:
            with self._connection.begin():
                self._connection.execute(text(f"SELECT pg_advisory_xact_lock({TURN})"))
                yield self._connection
        except SQLAlchemyError as exc:
            raise server_error(exc) from exc


def _engine(address: str) -> Engine:
    try:
        url = make_url(address)
    except ArgumentError as exc:
        raise JournalError(
            "The setting “database” is no address",
            hint="Write it as postgresql+psycopg://name@host/database.",
        ) from exc
    if url.get_backend_name() != "postgresql":
        raise JournalError(
            f"The setting “database” names {url.get_backend_name()}",
            hint="Write it as postgresql+psycopg://name@host/database.",
        )
    limits = f"-c statement_timeout={ANSWER_S * 1000} -c lock_timeout={ANSWER_S * 1000}"
    options: dict[str, Any] = {
        "connect_timeout": CONNECT_S,
        "application_name": "Bench Lamp",
        "options": limits,
        "keepalives_idle": 10,
        "keepalives_interval": 5,
        "keepalives_count": 3,
        "tcp_user_timeout": ANSWER_S * 1000,
    }
    return create_engine(
        url.set(drivername="postgresql+psycopg"), poolclass=NullPool, connect_args=options
    )


def _refuse_old(connection: Connection) -> None:
    number = int(connection.scalar(text("SHOW server_version_num")) or 0)
    if number < OLDEST:
        raise JournalError(
            f"The shop’s server is PostgreSQL {number // 10_000}",
            hint="Bench Lamp works with version 15 or newer.",
        )
    connection.rollback()


def _make_ready(connection: Connection) -> str:
    """Make the tables, or bring them up to date, one bench at a time; return which server it is."""
    with connection.begin():
        connection.execute(text(f"SELECT pg_advisory_xact_lock({TURN})"))
        found = _schema(connection)
        if found > HEAD:
            raise JournalError(
                f"The shop’s journal was brought up to date by a newer Bench Lamp (schema {found})",
                hint="Update this one, too.",
            )
        if found < HEAD:
            upgrade(connection)
        mine = text(
            "INSERT INTO about (name, value) VALUES ('server', :made) ON CONFLICT (name) DO NOTHING"
        )
        connection.execute(mine, {"made": str(uuid.uuid4())})
        return str(connection.scalar(text("SELECT value FROM about WHERE name = 'server'")))


def _schema(connection: Connection) -> str:
    there = connection.scalar(text("SELECT to_regclass('alembic_version')"))
    if there is None:
        if connection.scalar(text("SELECT to_regclass('event')")) is not None:
            raise JournalError(
                "The database has a table “event” that is not Bench Lamp’s",
                hint="Give Bench Lamp a database of its own.",
            )
        return ""
    return str(connection.scalar(text("SELECT version_num FROM alembic_version")) or "")


def _read(row: Row) -> Event | None:
    found = to_event(row[: len(COLUMNS)])
    # A NUL has no place in a text of the server; the body writes it as an escape.
    is_text = isinstance(found, Event) and "\0" not in "".join(row) and len(found.job) <= 80
    return found if is_text and isinstance(found, Event) else None


def _tokens(event: Event) -> list[str]:
    words = words_in(f"{event.job} {words_of_event(event)}")
    return sorted({word[:MOST_WORD] for word in words})


def server_error(exc: Exception) -> JournalError:
    """Say what a failure of the server means; an address, which may hold a password, is not in it."""
    orig = exc.orig if isinstance(exc, DBAPIError) and exc.orig else exc
    lines = str(orig).strip().splitlines()
    # Where it was looked for stands in the setting: what it came to is what is to be known.
    why = lines[0].rpartition(" failed: ")[2][:160] if lines else type(orig).__name__
    has_refused = isinstance(exc, DBAPIError) and not isinstance(
        exc, OperationalError | InterfaceError
    )
    what = "refuses" if has_refused else "does not answer"
    return JournalError(f"The shop’s server {what}: {why}", hint="What is entered is kept here.")

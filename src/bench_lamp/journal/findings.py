"""What reading, checking, sharing and salvaging a journal brings, as plain values."""

from datetime import datetime

from msgspec import Struct

from bench_lamp.journal.events import Event
from bench_lamp.journal.rows import SetAside


class ReadEvents(Struct, frozen=True, kw_only=True):
    """What a reading brought: events in the order of their ids, and what was set aside."""

    events: tuple[Event, ...] = ()
    aside: tuple[SetAside, ...] = ()


class ToRead(Struct, frozen=True, kw_only=True):
    """What is to be read of a journal: some jobs, or all of them but those that are here."""

    #: Read these and nothing else; None for all there is.
    jobs: tuple[str, ...] | None = None
    #: Jobs that are here already.
    but: frozenset[str] = frozenset()
    #: Jobs that are read event by event although they were handed back.
    whole: frozenset[str] = frozenset()


class Missing(Struct, frozen=True, kw_only=True):
    """An event that another one follows, and that is not there."""

    event: str
    job: str
    followed_by: str


class Report(Struct, frozen=True, kw_only=True):
    """What a check of a journal found."""

    #: Rows that were read.
    events: int = 0
    #: What the database says of its pages; empty when they are sound.
    pages: str = ""
    aside: tuple[SetAside, ...] = ()
    missing: tuple[Missing, ...] = ()

    @property
    def is_sound(self) -> bool:
        """Whether nothing is wrong."""
        return not (self.pages or self.aside or self.missing)


class Holder(Struct, frozen=True, kw_only=True):
    """Who has a job open, of the benches that share a journal."""

    job: str
    #: Which bench, as the server knows it, and in words: `AB, north bench`.
    bench: str
    who: str
    since: datetime


class Salvaged(Struct, frozen=True, kw_only=True):
    """What came along into a new journal."""

    #: Events that are in the new journal, and rows that could not be used.
    events: int
    lost: int
    #: Name of the damaged file, beside the new one.
    kept_as: str

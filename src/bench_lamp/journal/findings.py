"""What reading, checking and salvaging a journal brings, as plain values."""

from msgspec import Struct

from bench_lamp.journal.events import Event
from bench_lamp.journal.rows import SetAside


class ReadEvents(Struct, frozen=True, kw_only=True):
    """What a reading brought: events in the order of their ids, and what was set aside."""

    events: tuple[Event, ...] = ()
    aside: tuple[SetAside, ...] = ()


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


class Salvaged(Struct, frozen=True, kw_only=True):
    """What came along into a new journal."""

    #: Events that are in the new journal, and rows that could not be used.
    events: int
    lost: int
    #: Name of the damaged file, beside the new one.
    kept_as: str

"""Jobs that were handed back are known in short; what is opened is read from the disk first."""

from collections.abc import Callable, Iterable, Set
from typing import TYPE_CHECKING

from bench_lamp.journal import Event
from bench_lamp.journal.events import StageId
from bench_lamp.journal.findings import ToRead
from bench_lamp.journal.merging import TakenIn
from bench_lamp.shop.digest import Digest

if TYPE_CHECKING:
    from bench_lamp.desktop.navigation import Navigation as _Base
else:
    # Two bases that are Qt objects would mix up their signals and slots.
    _Base = object


class Fetching(_Base):
    """Has jobs read event by event when they are wanted; mixed into what already is a Qt object."""

    #: The job that opens once it is here, and at which stage.
    _coming: tuple[str, StageId] = ("", "")
    #: Jobs that were asked for beside an open one: they are not asked for twice.
    _asked_for: frozenset[str] = frozenset()

    #: Says that another bench has a job open, and the mend; None where none has.
    elsewhere: Callable[[str], tuple[str, str] | None] = staticmethod(lambda _: None)
    #: Takes the open job over from another bench.
    take_over: Callable[[], None] = staticmethod(lambda: None)

    def open_job(self, job: str, stage: StageId = "") -> None:
        """Put a job on the bench; one that is known in short only is read first."""
        if self.book.holds(job):
            self._coming = ("", "")
            super().open_job(job, stage)
            self.fetch_related()
        else:
            self._coming = (job, stage)
            self.fetch((job,), is_whole=True)

    def add_events(self, events: Iterable[Event]) -> None:
        """Take in events that are on disk already; the job that was waited for opens."""
        super().add_events(events)
        job, stage = self._coming
        if job and self.book.holds(job):
            self.open_job(job, stage)

    def add_short(self, digests: Iterable[Digest]) -> None:
        """Take in jobs that were handed back, in short."""
        self.book.add_short(digests)
        self._case = None

    def fetch(self, jobs: Iterable[str], *, is_whole: bool = False) -> None:
        """Have jobs read anew: event by event where they are here so, or are wanted so."""
        wanted = tuple(jobs)
        held = frozenset(wanted if is_whole else filter(self.book.holds, wanted))
        if wanted:
            self.journal.load(ToRead(jobs=wanted, whole=held))

    def take_shared(self, found: TakenIn) -> None:
        """Show events of other benches, which are on the disk."""
        held = [event for event in found.added if self.book.holds(event.job)]
        self.add_events(held)
        self.fetch(job for job in found.jobs if not self.book.holds(job))
        if held:
            self.changed.emit()

    def fetch_related(self) -> None:
        """Have what the open job looks at read whole: the board's visits, and jobs of its kind."""
        wanted = set(self.book.related(self.job)) - self._asked_for
        self._asked_for |= wanted
        self.fetch(sorted(wanted), is_whole=True)

    def keep_only(self, ids: Set[str], short: Set[str]) -> None:
        """The whole journal was read anew: what is not on the disk is not shown."""
        self.book.keep_only(ids, short)
        self._case, self._asked_for = None, frozenset()
        if self.job and not self.book.holds(self.job):
            self.go_shelf()

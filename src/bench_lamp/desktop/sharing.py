"""The journal shared with other benches, as the window sees it: whether the server answers, who has what open."""

from PySide6.QtCore import QObject, Signal, Slot

from bench_lamp.desktop.session import Session
from bench_lamp.errors import BenchLampError
from bench_lamp.journal.findings import Holder
from bench_lamp.journal.merging import TakenIn
from bench_lamp.views.sharing_words import (
    held_line,
    held_words,
    lost_line,
    refused_words,
    taken_over_words,
)


class Sharing(QObject):
    """Asks the sharing's thread, and keeps what it answers."""

    #: For the sharing's thread: an address, empty for none; the open job, who, and whether it is taken over.
    join_requested = Signal(str)
    open_requested = Signal(str, str, bool)
    #: Where the search may ask: the address while the server answers, else empty.
    answers_at = Signal(str)
    #: Another address or name of this bench was said.
    said = Signal()

    def __init__(self, session: Session, bench: str, name: str) -> None:
        super().__init__(session)
        self._session, self._bench = session, bench
        #: What this bench is called on the others; where the server is, empty for none.
        self.name, self.address = name, ""
        self.is_joined, self._lost = False, ""
        self._holders: dict[str, Holder] = {}
        self._told: tuple[str, str] = ("", "")
        session.changed.connect(self._tell)
        session.elsewhere, session.take_over = self.refusal, self.take_over

    def join(self, address: str) -> None:
        """Work with a server from now on; without an address, with none."""
        self.address, self._lost = address, ""
        self.is_joined, self._holders, self._told = False, {}, ("", "")
        self._show_line()
        self.answers_at.emit("")
        self.join_requested.emit(address)
        self._session.changed.emit()

    def say(self, word: str, rest: str) -> None:
        """Take what was said of sharing: `database …`, `bench …`."""
        if word == "bench":
            self.name = rest[:40]
            self._told = ("", "")
        else:
            self.join(rest)
        self.said.emit()
        self._session.notified.emit(held_words(self.name, self.address), "", False)

    def holder_of(self, job: str) -> Holder | None:
        """Return who else has a job open; None for nobody, and where nobody can be asked."""
        found = self._holders.get(job) if self.is_joined else None
        return found if found is not None and found.bench != self._bench else None

    def refusal(self, job: str) -> tuple[str, str] | None:
        """Say that another bench has the job, and how it is taken over; None where none has."""
        holder = self.holder_of(job)
        return refused_words(holder) if holder is not None else None

    def take_over(self) -> None:
        """Take the open job over from the bench that has it."""
        job = self._session.job
        if self.holder_of(job) is not None:
            self.open_requested.emit(job, self._who, True)

    @property
    def _who(self) -> str:
        return ", ".join(filter(None, (self._session.who, self.name)))

    def _tell(self) -> None:
        """Tell the server which job is open here, when that is another one or somebody else's."""
        if not self.address:
            return
        self._show_line()
        now = (self._session.job, self._who)
        if now != self._told:
            self._told = now
            self.open_requested.emit(*now, False)

    @Slot(str)
    def on_joined(self, _identity: str) -> None:
        """The server answers."""
        self.is_joined, self._lost = True, ""
        self.answers_at.emit(self.address)
        self._show_line()

    @Slot(object, int)
    def on_lost(self, error: BenchLampError, waiting: int) -> None:
        """The server does not answer: what is entered waits here."""
        self.is_joined, self._lost = False, lost_line(error, waiting)
        self.answers_at.emit("")
        self._show_line()

    @Slot(object)
    def on_held(self, holders: tuple[Holder, ...]) -> None:
        """Which bench has what open."""
        job, before = self._session.job, self.holder_of(self._session.job)
        was_mine = job in self._holders and before is None
        if (found := {h.job: h for h in holders}) == self._holders:
            return
        self._holders = found
        now = self.holder_of(job)
        if job and now is not None and was_mine:
            self._session.notified.emit(*taken_over_words(now), True)
        self._session.open_elsewhere = {h.job: h.who for h in holders if h.bench != self._bench}
        self._session.changed.emit()

    @Slot(object)
    def on_taken(self, found: TakenIn) -> None:
        """Other benches' events are on the disk: show them."""
        self._session.take_shared(found)

    def _show_line(self) -> None:
        """Say above everything that the server is away, or that another bench has the open job."""
        holder = self.holder_of(self._session.job)
        line = self._lost or (held_line(holder) if holder is not None else "")
        if self._session.journal.sharing_line != line:
            self._session.journal.sharing_line = line
            self._session.journal.changed.emit()

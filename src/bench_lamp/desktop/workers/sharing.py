"""The shop's server in a thread of its own: events go there in their order, and those of other benches come."""

import logging
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QSocketNotifier, QTimer, Signal, Slot

from bench_lamp.errors import BenchLampError

if TYPE_CHECKING:
    from bench_lamp.journal.server import JournalServer

#: How often the server is looked at, told or not, and how long until it is tried again, in milliseconds.
LOOK_MS, AGAIN_MS = 1000, 3000
#: So many looks between two signs of life.
ALIVE_EVERY = 10

log = logging.getLogger(__name__)


class SharingWorker(QObject):
    """Lives in the sharing's thread; talk to it through signals only."""

    #: The server answers; which one it is.
    joined = Signal(str)
    #: It does not: a `BenchLampError`; how many events wait here.
    lost = Signal(object, int)
    #: Everything that was entered here is there.
    all_sent = Signal()
    #: Which bench has what open: a tuple of `Holder`.
    held = Signal(object)
    #: For the journal's writer: which server, rows and the number in turn of the last.
    came = Signal(str, object, object)
    #: For the journal's writer: the server has the events up to a `Mark`.
    sent = Signal(object)

    def __init__(self, journal: Path, bench: str) -> None:
        super().__init__()
        self._journal, self._bench = journal, bench
        self._address = ""
        self._server: JournalServer | None = None
        self._timer: QTimer | None = None
        self._socket: QSocketNotifier | None = None
        #: The writer has something of ours that it has not answered for.
        self._is_waiting = False
        self._has_more = self._claims_are_new = True
        self._looks = 0
        #: The job that is open here, and who works on it.
        self._open: tuple[str, str] = ("", "")

    @Slot(str)
    def join(self, address: str) -> None:
        """Work with a server from now on; without an address, with none."""
        self.leave()
        self._address = address
        if address:
            self._clock().start(0)

    @Slot()
    def leave(self) -> None:
        """Let go of the server and of what was open here."""
        if self._timer is not None:
            self._timer.stop()
        if self._server is not None:
            try:
                from bench_lamp.journal.claims import let_go

                let_go(self._server, self._bench)
            except BenchLampError:
                log.info("the server was left without a word")
        self._drop()

    @Slot()
    def end(self) -> None:
        """Let go of the server for good, and end the thread."""
        self._address = ""
        self.leave()
        self.thread().quit()

    def _clock(self) -> QTimer:
        if self._timer is None:
            self._timer = QTimer(self)
            self._timer.timeout.connect(self.look)
        return self._timer

    @Slot()
    def look(self) -> None:
        """Send what is new here, and have what is new there; connect first where that is needed."""
        if not self._address:
            return
        try:
            if self._server is None:
                self._connect()
            self._exchange()
        except BenchLampError as exc:
            self._on_lost(exc)
        except Exception as exc:  # whatever the server says, the window goes on
            log.exception("the server was not understood")
            self._on_lost(BenchLampError(f"The shop’s server: {type(exc).__name__}: {exc}"))

    def _connect(self) -> None:
        from bench_lamp.journal.server import JournalServer

        server = JournalServer.open(self._address)
        self._server = server
        self._socket = QSocketNotifier(server.listen(), QSocketNotifier.Type.Read, self)
        self._socket.activated.connect(self.look)
        self._is_waiting, self._has_more, self._claims_are_new = False, True, True
        self._clock().start(LOOK_MS)
        if self._open[0]:
            self._claim(*self._open, takes_over=False)
        self.joined.emit(server.identity)

    def _exchange(self) -> None:
        server = self._server
        if server is None:
            return
        told = server.told()
        self._has_more |= "event" in told
        self._claims_are_new |= "claim" in told
        self._looks += 1
        if self._looks % ALIVE_EVERY == 0:
            self._say_alive(server)
        if not self._is_waiting and not self._send(server):
            self._receive(server)
        if self._claims_are_new:
            from bench_lamp.journal.claims import holders

            self._claims_are_new = False
            self.held.emit(holders(server))

    def _say_alive(self, server: "JournalServer") -> None:
        from bench_lamp.journal.claims import still_here

        still_here(server, self._bench)
        # Whoever fell silent holds nothing any more; and what was not told of is looked for.
        self._claims_are_new = self._has_more = True

    def _send(self, server: "JournalServer") -> bool:
        """Send some events; say whether there were any."""
        from bench_lamp.journal.spool import unsent

        found = unsent(self._journal, server.identity) if self._journal.exists() else None
        if found is None or not found.rows:
            self.all_sent.emit()
            return False
        server.push(found.rows)
        self._is_waiting = True
        self.sent.emit(found.mark)
        return True

    def _receive(self, server: "JournalServer") -> None:
        from bench_lamp.journal.spool import unsent

        if not self._has_more:
            return
        after = unsent(self._journal, server.identity).mark.seq if self._journal.exists() else 0
        found = server.pull(after)
        self._has_more = bool(found.rows)
        if found.rows:
            self._is_waiting = True
            self.came.emit(server.identity, found.rows, found.seq)

    @Slot()
    def on_kept(self) -> None:
        """The writer has what was sent or came: go on."""
        self._is_waiting = False
        self.look()

    @Slot(str, str, bool)
    def open_here(self, job: str, who: str, takes_over: bool) -> None:
        """Say which job is open on this bench; empty for none."""
        self._open = (job, who)
        if self._server is None:
            return
        try:
            self._claim(job, who, takes_over=takes_over)
            self._exchange()
        except BenchLampError as exc:
            self._on_lost(exc)

    def _claim(self, job: str, who: str, *, takes_over: bool) -> None:
        from bench_lamp.journal.claims import claim, let_go

        if self._server is not None:
            let_go(self._server, self._bench, but=job)
            if job:
                claim(self._server, job, self._bench, who, takes_over=takes_over)
            self._claims_are_new = True

    def _on_lost(self, error: BenchLampError) -> None:
        self._drop()
        self._clock().start(AGAIN_MS)
        self.lost.emit(error, self._count())

    def _count(self) -> int:
        from bench_lamp.journal.spool import count_unsent

        return count_unsent(self._journal) if self._journal.exists() else 0

    def _drop(self) -> None:
        if self._socket is not None:
            self._socket.setEnabled(False)
            self._socket.deleteLater()
            self._socket = None
        if self._server is not None:
            server, self._server = self._server, None
            server.close()
        self._is_waiting = False

"""The program: puts library, journal, session, window and store together."""

import sys
import tempfile
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QDeadlineTimer, QMetaObject, Qt, QThread, QTimer

from bench_lamp.board import ProfileLibrary
from bench_lamp.desktop.demo_start import earlier_boards, simulated
from bench_lamp.desktop.garbage import Collector
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.navigation import Clock, utc_now
from bench_lamp.desktop.opening import link_instrument, share, show
from bench_lamp.desktop.session import Session
from bench_lamp.desktop.settings import Settings
from bench_lamp.desktop.surfaces import SURFACES
from bench_lamp.desktop.window import BenchWindow
from bench_lamp.desktop.window_parts import WindowParts
from bench_lamp.desktop.wiring import wire_journal, wire_keeping, wire_search
from bench_lamp.desktop.workers.loader import JournalLoader
from bench_lamp.desktop.workers.reasoning import ReasoningWorker
from bench_lamp.desktop.workers.search import SearchWorker
from bench_lamp.desktop.workers.store import StoreWorker
from bench_lamp.errors import BenchLampError
from bench_lamp.journal import Event
from bench_lamp.journal.findings import ReadEvents, ToRead
from bench_lamp.journal.reader import JournalReader
from bench_lamp.practice.demo_journal import DEMO_JOB, demo_events
from bench_lamp.practice.demo_shop import SHOP as DEMO_SHOP

if TYPE_CHECKING:
    from bench_lamp.desktop.loading import LateLoading
    from bench_lamp.desktop.sharing import Sharing
    from bench_lamp.desktop.workers.instrument import InstrumentWorker, Link
    from bench_lamp.desktop.workers.sharing import SharingWorker

FILE_NAME = "journal.sqlite"
#: What has a thread that did not end in time: destroyed while it runs, it would end the program.
_LEFT: list["Bench"] = []
#: Longest that closing waits for the threads, in milliseconds.
CLOSING_MS = 1500
#: How often it is seen whether a confirmed power state still counts, in milliseconds.
AGE_MS = 20_000


class WholeWindow(WindowParts, BenchWindow):
    """The window with all its parts."""


@dataclass(kw_only=True)
class Bench:
    """A running program: the window and what must be stopped with it."""

    window: WholeWindow
    session: Session
    worker: StoreWorker
    thread: QThread
    reasoner: ReasoningWorker
    loader: JournalLoader
    searcher: "SearchWorker | None" = None
    instrument: "InstrumentWorker | None" = None
    journal: Path = field(default_factory=Path)
    #: The journal shared with other benches; made when it is opened.
    sharing: "Sharing | None" = None
    sharer: "SharingWorker | None" = None
    #: Finds the instrument on a job's board; linked when the journal is opened.
    link: "Link | None" = None
    #: The reasoning's thread, and the instrument's.
    others: tuple[QThread, ...] = ()
    late_loading: "LateLoading | None" = None
    #: Looks whether a confirmed power state still counts.
    ageing: QTimer = field(default_factory=QTimer)
    #: Collects garbage where no other thread can meet the window's objects.
    collector: Collector = field(default_factory=Collector)
    settings: Settings | None = None
    temporary: tempfile.TemporaryDirectory[str] | None = None
    _stopped: bool = field(default=False)

    def start_store(self) -> None:
        """Open the journal for writing, in its own thread; the window stands by now."""
        if not self._stopped and not self.thread.isRunning():
            self.collector.start()
            self.thread.start()
            self.session.reasoning.start()
            if self.link is not None:
                self.instrument, thread = link_instrument(self.session, self.link)
                self.others = (*self.others, thread)
            for thread in self.others:
                thread.start(QThread.Priority.LowPriority)
            wire_keeping(self.window.keeping, self.worker, self.session.journal)
            _ = self.window.photographs
            self._start_sharing()
            from bench_lamp.desktop.loading import LateLoading

            self.late_loading = LateLoading(self.window)
            self.ageing.timeout.connect(self.session.age)
            self.ageing.start(AGE_MS)

    def _start_sharing(self) -> None:
        """Share the journal with other benches, where the setting names a server."""
        self.sharing, self.sharer, thread = share(self.session, self.worker, self.journal)
        self.others = (*self.others, thread)
        thread.start(QThread.Priority.LowPriority)
        if self.searcher is not None:
            self.sharing.answers_at.connect(
                self.searcher.ask_at, Qt.ConnectionType.DirectConnection
            )
        if self.settings is not None:
            self.settings.share(self.sharing)
            self.settings.link(self.window.hands)

    def stop(self) -> None:
        """Close the journal and end the thread; safe to call twice."""
        if self._stopped:
            return
        self._stopped = True
        self.ageing.stop()
        self._ask_to_end()
        until = QDeadlineTimer(CLOSING_MS)
        ended = [thread.wait(until) for thread in (self.thread, *self.others)]
        if all(ended):
            self.collector.stop()
            self.reasoner.forget()
        else:
            _LEFT.append(self)
        if self.settings is not None:
            self.settings.keep()
        if self.temporary is not None:
            self.temporary.cleanup()

    def _ask_to_end(self) -> None:
        if self.late_loading is not None:
            self.late_loading.stop()
        self.reasoner.wanted, self.loader.is_stopped = -1, True
        self.session.growing.stop()
        if self.sharer is not None:
            QMetaObject.invokeMethod(self.sharer, "end", Qt.ConnectionType.QueuedConnection)
        if self.thread.isRunning():
            # The thread ends once the journal is let go of; what was acknowledged is on disk by now.
            QMetaObject.invokeMethod(self.worker, "end", Qt.ConnectionType.QueuedConnection)
        for thread in self.others:
            if self.sharer is None or thread is not self.sharer.thread():
                thread.quit()


#: Longest that another thread keeps the interpreter while the window wants it, in seconds.
SWITCH_S = 0.0005


def build(
    folder: Path,
    *,
    cache: Path | None = None,
    demo_at: datetime | None = None,
    winters: bool = True,
    first: tuple[Event, ...] = (),
    clock: Clock = utc_now,
) -> Bench:
    """Build the program as users get it; tests give their own folder and clock.

    Parameters
    ----------
    folder : Path
        Where the journal, the shop's own profiles and the papers are.
    cache : Path, optional
        Where compiled profiles are kept.
    demo_at : datetime, optional
        Fill a new journal with the demo, as if it were this moment.
    winters : bool
        Whether the demo has the boards of two winters before.
    first : tuple of Event
        What a new journal begins with where it is not the demo's.
    clock : callable
        Tells the time.
    """
    _tune()
    library = ProfileLibrary(
        own=folder / "profiles", cache=cache, offers_shipped=demo_at is not None
    )
    if demo_at is not None:
        first = demo_events(library.all(), now=demo_at)
    found, here = _as_read(first) if first else _first_events(folder)
    session = Session(library, found.events, clock=clock)
    earlier = earlier_boards(library, first, demo_at) if demo_at is not None and winters else None
    session.journal.later = ToRead(but=here)
    session.journal.set_aside(found.aside)
    # The demo begins in the middle of a day at the bench: what was confirmed there counts.
    session.book.since = clock() if demo_at is None else None
    if demo_at is not None:
        session.book.be(DEMO_SHOP)
        session.open_job(DEMO_JOB, "rails")
    window = WholeWindow(Look(), session, SURFACES, papers_folder=folder / "papers")
    loader = JournalLoader(folder / FILE_NAME, library.get)
    worker = StoreWorker(folder, first, earlier)
    worker.backs_up = not first
    bench = _wired(window, session, worker, ReasoningWorker(cache), loader)
    bench.searcher, searching = SearchWorker(folder / FILE_NAME), QThread()
    bench.searcher.moveToThread(searching)
    wire_search(session, bench.searcher, worker)
    bench.others, bench.journal = (*bench.others, searching), folder / FILE_NAME
    if demo_at is not None:
        bench.link = simulated
    window.painted.connect(bench.start_store)
    window.closed.connect(bench.stop)
    return bench


def _tune() -> None:
    # A key is never kept waiting for the reasoning's thread.
    sys.setswitchinterval(SWITCH_S)


def _as_read(events: tuple[Event, ...]) -> tuple[ReadEvents, frozenset[str]]:
    return ReadEvents(events=events), frozenset(event.job for event in events)


def _first_events(folder: Path) -> tuple[ReadEvents, frozenset[str]]:
    """Read what the shelf shows first; what cannot be is named once the store has looked at it."""
    try:
        return JournalReader(folder / FILE_NAME).first_events()
    except BenchLampError:
        return ReadEvents(), frozenset()


def _wired(
    window: WholeWindow,
    session: Session,
    worker: StoreWorker,
    reasoner: ReasoningWorker,
    loader: JournalLoader,
) -> Bench:
    thread = QThread()
    worker.moveToThread(thread)
    thread.started.connect(worker.open)
    session.append_requested.connect(worker.append)
    worker.opened.connect(session.on_opened)
    worker.appended.connect(session.on_appended)
    worker.failed.connect(session.on_failed)
    session.journal.kept.connect(session.keep_only)
    worker.ended.connect(thread.quit, Qt.ConnectionType.DirectConnection)
    wire_journal(session.journal, worker, loader)
    client, reasoning, loading = session.reasoning, QThread(), QThread()
    loader.moveToThread(loading)
    reasoner.moveToThread(reasoning)
    client.want = lambda token: setattr(reasoner, "wanted", token)
    client.stop_at = lambda token: setattr(reasoner, "stopped_at", token)
    client.requested.connect(reasoner.reason)
    reasoner.reasoned.connect(client.on_reasoned)
    reasoner.recalled.connect(client.on_recalled)
    reasoner.failed.connect(client.on_failed)
    reasoner.progressed.connect(client.on_progressed)
    return Bench(
        window=window,
        session=session,
        worker=worker,
        thread=thread,
        reasoner=reasoner,
        loader=loader,
        others=(reasoning, loading),
    )


def run(
    arguments: Sequence[str],
    *,
    folder: Path | None,
    cache: Path,
    state: Path,
    profile: Path | None = None,
) -> int:
    """Show the window until it is closed; without a folder, on a copy of the demo.

    The log goes into the folder `state`. A profile that is named is put among the shop's own,
    and a new job on it is begun.
    """

    def made() -> Bench:
        if folder is None:
            temporary = tempfile.TemporaryDirectory(prefix="bench-lamp-demo-")
            bench = build(Path(temporary.name), cache=cache, demo_at=utc_now())
            bench.temporary = temporary
            return bench
        bench = build(folder, cache=cache)
        bench.settings = Settings(folder / "settings.ini", bench.session, bench.window.look)
        return bench

    return show(arguments, made, state=state, profile=profile)

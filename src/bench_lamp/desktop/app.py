"""The program: puts library, journal, session, window and store together."""

import gc
import sys
import tempfile
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QMetaObject, QSettings, Qt, QThread, QTimer
from PySide6.QtWidgets import QApplication

from bench_lamp.board import Profile, ProfileLibrary
from bench_lamp.case.house_rules import RULES
from bench_lamp.checks import load_meters
from bench_lamp.desktop.look import Look, load_fonts
from bench_lamp.desktop.navigation import Clock, utc_now
from bench_lamp.desktop.session import Session
from bench_lamp.desktop.surfaces import SURFACES
from bench_lamp.desktop.window import BenchWindow
from bench_lamp.desktop.workers.reasoning import ReasoningWorker
from bench_lamp.desktop.workers.store import StoreWorker
from bench_lamp.errors import BenchLampError
from bench_lamp.journal import Event
from bench_lamp.journal.reader import JournalReader
from bench_lamp.practice.demo_journal import DEMO_JOB, demo_events

if TYPE_CHECKING:
    from bench_lamp.desktop.loading import LateLoading
    from bench_lamp.desktop.workers.instrument import InstrumentWorker, Link
    from bench_lamp.instrument.protocol import Instrument

FILE_NAME = "journal.sqlite"
ICON = Path(__file__).parents[1] / "resources" / "icons" / "bench-lamp.svg"


@dataclass(kw_only=True)
class Bench:
    """A running program: the window and what must be stopped with it."""

    window: BenchWindow
    session: Session
    worker: StoreWorker
    thread: QThread
    reasoner: ReasoningWorker
    instrument: "InstrumentWorker | None" = None
    #: Finds the instrument on a job's board; linked when the journal is opened.
    link: "Link | None" = None
    #: The reasoning's thread, and the instrument's.
    others: tuple[QThread, ...] = ()
    late_loading: "LateLoading | None" = None
    #: Looks whether a confirmed power state still counts.
    ageing: QTimer = field(default_factory=QTimer)
    settings: QSettings | None = None
    temporary: tempfile.TemporaryDirectory[str] | None = None
    _stopped: bool = field(default=False)

    def start_store(self) -> None:
        """Open the journal for writing, in its own thread; the window stands by now."""
        gc.enable()
        if not self._stopped and not self.thread.isRunning():
            self.thread.start()
            self.session.reasoning.start()
            if self.link is not None:
                _link(self, self.link)
            for thread in self.others:
                thread.start(QThread.Priority.LowPriority)
            from bench_lamp.desktop.loading import LateLoading

            self.late_loading = LateLoading(self.window)
            self.ageing.timeout.connect(self.session.age)
            self.ageing.start(AGE_MS)

    def stop(self) -> None:
        """Close the journal and end the thread; safe to call twice."""
        if self._stopped:
            return
        self._stopped = True
        self.ageing.stop()
        if self.late_loading is not None:
            self.late_loading.stop()
        if self.thread.isRunning():
            QMetaObject.invokeMethod(
                self.worker, "close", Qt.ConnectionType.BlockingQueuedConnection
            )
        self.reasoner.wanted = -1
        for thread in (self.thread, *self.others):
            thread.quit()
            thread.wait()
        if self.settings is not None:
            self.settings.setValue("theme", self.window.look.theme)
            self.settings.setValue("scale", self.window.look.scale)
            self.settings.setValue("meter", self.session.meter.id)
            self.settings.sync()
        if self.temporary is not None:
            self.temporary.cleanup()


#: How often it is seen whether a confirmed power state still counts, in milliseconds.
AGE_MS = 20_000
#: Longest that another thread keeps the interpreter while the window wants it, in seconds.
SWITCH_S = 0.0005
#: New objects between two collections of the youngest.
GC_EVERY = 20_000


def build(
    folder: Path,
    *,
    cache: Path | None = None,
    demo_at: datetime | None = None,
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
    clock : callable
        Tells the time.
    """
    _tune()
    library = ProfileLibrary(own=folder / "profiles", cache=cache)
    first: tuple[Event, ...] = ()
    known: tuple[Event, ...] = ()
    rest: JournalReader | None = None
    broken = ""
    if demo_at is not None:
        known = first = demo_events(library.all(), now=demo_at)
    else:
        rest = JournalReader(folder / FILE_NAME)
        try:
            known = rest.open_events()
        except BenchLampError as exc:
            broken, rest = f"{exc}. {exc.hint}", None
    session = Session(library, known, clock=clock)
    session.read_only = broken
    # The demo begins in the middle of a day at the bench: what was confirmed there counts.
    session.book.since = clock() if demo_at is None else None
    if demo_at is not None:
        session.open_job(DEMO_JOB, "rails")
    look = Look()
    window = BenchWindow(look, session, SURFACES, papers_folder=folder / "papers")
    bench = _wired(window, session, StoreWorker(folder, first), ReasoningWorker(cache))
    if demo_at is not None:
        bench.link = _simulated
    if rest is not None:
        bench.window.painted.connect(lambda: _read_rest(session, rest))
    if not broken:
        window.painted.connect(bench.start_store)
    window.closed.connect(bench.stop)
    return bench


def _tune() -> None:
    # A key is never kept waiting for the reasoning's thread.
    sys.setswitchinterval(SWITCH_S)
    # A job's states are made and dropped by the thousand: collect less often, in larger lots.
    gc.set_threshold(GC_EVERY, 20, 20)


def _read_rest(session: Session, reader: JournalReader) -> None:
    session.add_events(reader.closed_events())
    session.changed.emit()


def _simulated(profile: Profile, job: str) -> "Instrument":
    """Return the demo's simulated set on a job's board; made in the instrument's thread."""
    from bench_lamp.practice.demo_bench import demo_board

    return demo_board(profile, job)


def _link(bench: Bench, link: "Link") -> None:
    """Link an instrument: F8 asks it."""
    from bench_lamp.desktop.workers.instrument import InstrumentWorker

    session, worker, thread = bench.session, InstrumentWorker(link), QThread()
    worker.moveToThread(thread)
    session.measure_requested.connect(worker.measure)
    worker.shown.connect(session.on_shown)
    worker.failed.connect(session.on_unmeasured)
    session.is_linked = True
    bench.instrument, bench.others = worker, (*bench.others, thread)
    session.changed.emit()


def _wired(
    window: BenchWindow, session: Session, worker: StoreWorker, reasoner: ReasoningWorker
) -> Bench:
    thread = QThread()
    worker.moveToThread(thread)
    thread.started.connect(worker.open)
    session.append_requested.connect(worker.append)
    worker.opened.connect(session.on_opened)
    worker.refused.connect(session.on_refused)
    worker.appended.connect(session.on_appended)
    worker.failed.connect(session.on_failed)
    client, reasoning = session.reasoning, QThread()
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
        others=(reasoning,),
    )


def _give_icon(application: QApplication) -> None:
    """Set the icon once the window is painted: its classes take a moment to load."""
    from PySide6.QtGui import QIcon

    application.setWindowIcon(QIcon(str(ICON)))


def run(arguments: Sequence[str], *, folder: Path | None, cache: Path) -> int:
    """Show the window until it is closed; without a folder, on a copy of the demo."""
    application = QApplication([sys.argv[0], *arguments])
    application.setApplicationName("Bench Lamp")
    application.setDesktopFileName("bench-lamp")
    load_fonts()
    if folder is None:
        temporary = tempfile.TemporaryDirectory(prefix="bench-lamp-demo-")
        bench = build(Path(temporary.name), cache=cache, demo_at=utc_now())
        bench.temporary = temporary
    else:
        bench = build(folder, cache=cache)
        _remember(bench, folder)
    bench.window.painted.connect(lambda: _give_icon(application))
    bench.window.show()
    if "--quit-after-paint" in arguments:
        bench.window.painted.connect(lambda: QTimer.singleShot(0, bench.window.close))
    if "--stop-at-paint" in arguments:
        # For measuring: the window is painted, and nothing else has begun.
        bench.window.painted.disconnect(bench.start_store)
        bench.window.painted.connect(lambda: (print("painted", flush=True), application.quit()))
    code = application.exec()
    bench.stop()
    return code


def _remember(bench: Bench, folder: Path) -> None:
    """Take theme, text size and meter from the last time."""
    settings = QSettings(str(folder / "settings.ini"), QSettings.Format.IniFormat)
    bench.settings = settings
    rules = {
        r.key: str(settings.value(f"rules/{r.key}"))
        for r in RULES
        if settings.value(f"rules/{r.key}")
    }
    bench.session.set_rules(rules)
    bench.session.ruled.connect(lambda: _keep_rules(bench))
    theme, scale, meter = (settings.value(name) for name in ("theme", "scale", "meter"))
    if theme == "daylight":
        bench.window.look.set_theme("daylight")
    if isinstance(scale, str) and scale.replace(".", "", 1).isdecimal():
        bench.window.look.set_scale(float(scale))
    if meter in load_meters():
        bench.session.use_meter(str(meter))


def _keep_rules(bench: Bench) -> None:
    """Write the house rules at once."""
    if bench.settings is not None:
        for key, option in bench.session.rules.items():
            bench.settings.setValue(f"rules/{key}", option)
        bench.settings.sync()

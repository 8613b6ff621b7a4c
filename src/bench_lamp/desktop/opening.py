"""Opening the window, and what happens once it stands: faults are caught, a profile opened, the journal shared."""

import logging
import os
import platform
import sys
import uuid
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QThread, QTimer
from PySide6.QtWidgets import QApplication

from bench_lamp.desktop.look import load_fonts
from bench_lamp.desktop.session import Session

if TYPE_CHECKING:
    from bench_lamp.desktop.sharing import Sharing
    from bench_lamp.desktop.workers.instrument import InstrumentWorker, Link
    from bench_lamp.desktop.workers.sharing import SharingWorker
    from bench_lamp.desktop.workers.store import StoreWorker

ICON = Path(__file__).parents[1] / "resources" / "icons" / "org.bench_lamp.BenchLamp.svg"


def catch_faults(session: Session, folder: Path) -> None:
    """Take what nobody catches into a log in this folder, and into the window."""
    from bench_lamp.desktop.faults import Faults, keep_log

    Faults(keep_log(folder), session.journal.say).install()


def open_profile(session: Session, path: Path) -> None:
    """Look into a bundle that was opened; or take a profile, and begin a job on it."""
    session.bring_in(path)


def give_icon(application: QApplication, path: Path) -> None:
    """Set the icon once the window is painted: its classes take a moment to load."""
    from PySide6.QtGui import QIcon

    application.setWindowIcon(QIcon(str(path)))


def share(
    session: Session, writer: "StoreWorker", journal: Path
) -> "tuple[Sharing, SharingWorker, QThread]":
    """Make what shares the journal with other benches, in a thread that is not started yet."""
    from bench_lamp.desktop.sharing import Sharing
    from bench_lamp.desktop.wiring import wire_sharing
    from bench_lamp.desktop.workers.sharing import SharingWorker

    # The same bench after each start, and another one in each folder.
    bench = uuid.uuid5(uuid.NAMESPACE_URL, f"{platform.node()} {journal.absolute()}").hex
    sharing, worker, thread = (
        Sharing(session, bench, platform.node()),
        SharingWorker(journal, bench),
        QThread(),
    )
    worker.moveToThread(thread)
    wire_sharing(sharing, worker, writer, session)
    return sharing, worker, thread


def link_instrument(session: Session, link: "Link") -> "tuple[InstrumentWorker, QThread]":
    """Link an instrument: F8 asks it; in a thread that is not started yet."""
    from bench_lamp.desktop.workers.instrument import InstrumentWorker

    worker, thread = InstrumentWorker(link), QThread()
    worker.moveToThread(thread)
    session.measure_requested.connect(worker.measure)
    worker.shown.connect(session.on_shown)
    worker.failed.connect(session.on_unmeasured)
    session.is_linked = True
    session.changed.emit()
    return worker, thread


def show(
    arguments: Sequence[str], made: Callable[[], Any], *, state: Path, profile: Path | None = None
) -> int:
    """Show a window until it is closed, and end the process."""
    application = QApplication([sys.argv[0], *arguments])
    application.setApplicationName("Bench Lamp")
    application.setDesktopFileName("org.bench_lamp.BenchLamp")
    load_fonts()
    bench = made()
    bench.window.painted.connect(lambda: give_icon(application, ICON))
    bench.window.painted.connect(lambda: catch_faults(bench.session, state))
    if profile is not None:
        bench.window.painted.connect(lambda: open_profile(bench.session, profile))
    bench.window.show()
    if "--quit-after-paint" in arguments:
        bench.window.painted.connect(lambda: QTimer.singleShot(0, bench.window.close))
    if "--stop-at-paint" in arguments:
        # For measuring: the window is painted, and nothing else has begun.
        bench.window.painted.disconnect(bench.start_store)
        bench.window.painted.connect(lambda: (print("painted", flush=True), application.quit()))
    code = application.exec()
    bench.stop()
    # A thread that waits for a disk or an instrument must not hold the program; all is on disk.
    logging.shutdown()
    os._exit(code)

"""What happens once the window stands: faults are caught, a named profile is opened, the journal is shared."""

import platform
import uuid
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QThread
from PySide6.QtWidgets import QApplication

from bench_lamp.desktop.session import Session

if TYPE_CHECKING:
    from bench_lamp.desktop.sharing import Sharing
    from bench_lamp.desktop.workers.instrument import InstrumentWorker, Link
    from bench_lamp.desktop.workers.sharing import SharingWorker
    from bench_lamp.desktop.workers.store import StoreWorker


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

"""What happens once the window stands: faults are caught, and a profile that was named is opened."""

from pathlib import Path

from PySide6.QtWidgets import QApplication

from bench_lamp.desktop.session import Session


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

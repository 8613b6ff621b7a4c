"""What the window asks the system for: a file to bring in, and the demo beside."""

import sys
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QProcess
from PySide6.QtWidgets import QFileDialog, QWidget

if TYPE_CHECKING:
    from PySide6.QtPrintSupport import QPrinter

#: What can be brought in.
KINDS = "Profiles, jobs, backups (*.board.yaml *.benchboard *.benchjob *.benchbackup *.sqlite)"


def ask_for_profile(parent: QWidget) -> Path | None:
    """Ask for a profile or a bundle."""
    chosen, _ = QFileDialog.getOpenFileName(parent, "Bring in", str(Path.home()), KINDS)
    return Path(chosen) if chosen else None


def open_demo() -> None:
    """Start the demo in a window of its own, on a copy that is gone with it."""
    QProcess.startDetached(sys.executable, ["-m", "bench_lamp", "--demo"])


def open_practice(drill: str, progress: Path) -> None:
    """Start the practice bench in a window of its own, on a journal that is gone with it."""
    words = ["-m", "bench_lamp", "--practice", drill, "--data", str(progress)]
    QProcess.startDetached(sys.executable, words)


def ask_for_picture(parent: QWidget) -> Path | None:
    """Ask for a picture of a board."""
    kinds = "Pictures (*.png *.jpg *.jpeg *.webp)"
    chosen, _ = QFileDialog.getOpenFileName(parent, "Add a picture", str(Path.home()), kinds)
    return Path(chosen) if chosen else None


def ask_for_printer(parent: QWidget) -> "QPrinter | None":
    """Ask which printer, and how; None for none."""
    from PySide6.QtPrintSupport import QPrintDialog, QPrinter

    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    dialog = QPrintDialog(printer, parent)
    return printer if dialog.exec() == QPrintDialog.DialogCode.Accepted else None


def ask_for_folder(parent: QWidget) -> Path | None:
    """Ask for a folder that is watched."""
    chosen = QFileDialog.getExistingDirectory(parent, "Watch a folder", str(Path.home()))
    return Path(chosen) if chosen else None

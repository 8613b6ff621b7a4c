"""The program as a process: an application, one window until it is closed, and an end that waits for nobody."""

import logging
import os
import sys
import tempfile
from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication

from bench_lamp.desktop.app import ICON, Bench, build
from bench_lamp.desktop.look import load_fonts
from bench_lamp.desktop.navigation import utc_now
from bench_lamp.desktop.opening import catch_faults, give_icon, open_profile
from bench_lamp.desktop.settings import Settings


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


def show(
    arguments: Sequence[str], made: Callable[[], Bench], *, state: Path, profile: Path | None = None
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

"""What the scripts of the screenshots share: the running program, its rest, and a job that is open."""

from typing import Any, Protocol

from bench_lamp.desktop.session import Session
from bench_lamp.journal.events import Power, PowerConfirmed
from bench_lamp.journal.state import OHMS_V


class Running(Protocol):
    """The running program, as far as the views need it."""

    session: Session
    #: The window; what a view presses and types is named in its script.
    window: Any

    def start_store(self) -> None:
        """Open the journal."""
        ...

    def stop(self) -> None:
        """Stop what runs."""
        ...


def settle(bench: Running) -> None:
    """Let every queued append, fold and layout happen."""
    from PySide6.QtCore import QEventLoop, QTimer

    quiet = 0
    for _ in range(100):
        loop = QEventLoop()
        QTimer.singleShot(60, loop.quit)
        loop.exec()
        is_busy = bench.session.is_waiting or bench.session.reasoning.is_busy
        is_busy = is_busy or not bench.session.journal.is_loaded
        # The history comes a moment after the odds, and is laid out after that.
        quiet = 0 if is_busy else quiet + 1
        if quiet > 2:
            return


def open_job(bench: Running, job: str, stage: str, power: Power = "live") -> None:
    """Open a job and confirm the state of its board."""
    bench.session.open_job(job, stage)
    below = OHMS_V if power == "discharged" else None
    bench.session.say((PowerConfirmed(power=power, below=below),))
    settle(bench)

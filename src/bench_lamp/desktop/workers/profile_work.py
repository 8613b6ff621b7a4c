"""Work on profiles in a thread of its own: changing, proving, packing and unpacking them."""

import logging
from collections.abc import Callable

from PySide6.QtCore import QObject, Signal, Slot

from bench_lamp.errors import BenchLampError

log = logging.getLogger(__name__)

#: What is done in the thread; what it returns goes back to who asked.
Work = Callable[[], object]


class ProfileWorker(QObject):
    """Lives in its thread, does one piece of work after the other; each is answered once."""

    #: Token of the request, and what came of it.
    done = Signal(int, object)
    #: Token, and what was wrong: a `BenchLampError`.
    failed = Signal(int, object)

    @Slot(int, object)
    def run(self, token: int, work: Work) -> None:
        """Do a piece of work."""
        try:
            self.done.emit(token, work())
        except BenchLampError as exc:
            self.failed.emit(token, exc)
        except Exception as exc:  # whatever a file holds, its asker gets an answer
            log.exception("work on a profile failed")
            hint = "It is the program's fault; nothing was changed."
            self.failed.emit(token, BenchLampError(f"{type(exc).__name__}: {exc}", hint=hint))

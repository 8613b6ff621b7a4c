"""What nobody caught: a line in the window, an entry in a log, and the window goes on."""

import logging
import sys
import threading
import traceback
from collections.abc import Callable
from logging.handlers import RotatingFileHandler
from pathlib import Path
from types import TracebackType

#: Bytes of one log file, and how many older ones are kept.
LOG_BYTES, KEPT = 500_000, 3
LOG_NAME = "bench-lamp.log"

log = logging.getLogger("bench_lamp")


def keep_log(folder: Path) -> str:
    """Write the log into a folder, with rotation; return where, or why there is none."""
    place = folder / LOG_NAME
    try:
        folder.mkdir(parents=True, exist_ok=True)
        if place.exists() and not place.is_file():
            return f"no log: {place} is not a file"
        handler = RotatingFileHandler(place, maxBytes=LOG_BYTES, backupCount=KEPT, encoding="utf-8")
    except OSError as exc:
        return f"no log: {exc.strerror}"
    handler.setFormatter(logging.Formatter("%(asctime)s %(threadName)s %(levelname)s %(message)s"))
    log.addHandler(handler)
    log.addHandler(logging.StreamHandler())
    log.propagate = False
    return str(place)


class Faults:
    """Catches what nobody caught, from every thread, and says it once."""

    def __init__(self, where: str, say: Callable[[str], None]) -> None:
        self._where, self._say = where, say
        self._said: set[str] = set()

    def install(self) -> None:
        """Take every exception that reaches the top of a thread."""
        sys.excepthook = self.take
        threading.excepthook = lambda args: self.take(
            args.exc_type, args.exc_value or args.exc_type(), args.exc_traceback
        )

    def take(
        self, kind: type[BaseException], error: BaseException, trace: TracebackType | None
    ) -> None:
        """Log an exception, and say it the first time."""
        if issubclass(kind, KeyboardInterrupt):
            sys.__excepthook__(kind, error, trace)
            return
        log.error("not caught\n%s", "".join(traceback.format_exception(kind, error, trace)))
        words = f"{kind.__name__}: {error}"[:160]
        if words not in self._said:
            self._said.add(words)
            self._say(
                f"Fault of the program ({words}). What was logged is on the disk; the log is in "
                f"{self._where}."
            )

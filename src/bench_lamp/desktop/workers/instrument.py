"""The linked instrument in its own thread: one measurement at a time, never in the window's."""

import logging
from collections.abc import Callable

from PySide6.QtCore import QObject, Signal, Slot

from bench_lamp.board import Profile
from bench_lamp.errors import BenchLampError
from bench_lamp.instrument.protocol import (
    Instrument,
    LogicRequest,
    LogicShown,
    Request,
    Shown,
    TrimRequest,
    TrimShown,
)

log = logging.getLogger(__name__)

#: Finds the instrument that is on a job's board.
Link = Callable[[Profile, str], Instrument]


def _asked(
    instrument: Instrument, request: Request | LogicRequest | TrimRequest
) -> Shown | LogicShown | TrimShown:
    if isinstance(request, LogicRequest):
        return instrument.tell(request)
    if isinstance(request, TrimRequest):
        return instrument.read_trim(request)
    return instrument.read(request)


class InstrumentWorker(QObject):
    """Lives in the instrument's thread; talk to it through signals only."""

    #: Name of the instrument, the request, and what was shown.
    shown = Signal(str, object, object)
    #: A `BenchLampError`.
    failed = Signal(object)

    def __init__(self, link: Link) -> None:
        super().__init__()
        self._link = link
        self._linked: dict[str, Instrument] = {}

    @Slot(object)
    def measure(self, asked: tuple[Profile, str, Request | LogicRequest | TrimRequest]) -> None:
        """Measure once; exactly one of the two signals follows."""
        profile, job, request = asked
        try:
            if job not in self._linked:
                self._linked[job] = self._link(profile, job)
            instrument = self._linked[job]
            found = _asked(instrument, request)
        except BenchLampError as exc:
            self.failed.emit(exc)
        except Exception as exc:  # whatever an instrument does, its asker gets an answer
            log.exception("the instrument failed")
            words = f"The instrument failed: {type(exc).__name__}: {exc}"
            self.failed.emit(BenchLampError(words, hint="Type the reading."))
        else:
            self.shown.emit(instrument.name, request, found)

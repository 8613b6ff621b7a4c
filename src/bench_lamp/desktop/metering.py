"""One linked meter as the window sees it: its thread, what it is, what it shows, and what is wrong with it."""

from collections.abc import Callable

from msgspec.structs import replace
from PySide6.QtCore import QMetaObject, QObject, Qt, QThread, Signal, Slot

from bench_lamp.desktop.workers.meter import MeterWorker
from bench_lamp.errors import BenchLampError
from bench_lamp.instrument.corrected import less_leads
from bench_lamp.instrument.device import Address, Device
from bench_lamp.instrument.guard import Drawn
from bench_lamp.instrument.linked import Linked
from bench_lamp.instrument.sample import Sample
from bench_lamp.instrument.settle import Noticed, are_alike

#: Longest that closing waits for a meter's thread, in milliseconds: an answer may be on its way.
CLOSING_MS = 2500


class MeterLink(QObject):
    """Owns a meter's worker and thread; `stop` lets go of both."""

    #: The live value, or whether it is there, is another one.
    changed = Signal()
    #: This link, and what happened at its probe.
    noticed = Signal(object, object)
    #: For the worker.
    link_requested = Signal(object)
    mode_wanted = Signal(str)
    taken = Signal()
    allowed = Signal()

    trip_requested = Signal(float)
    set_requested = Signal(float, float)
    switch_requested = Signal(bool)
    wave_requested = Signal(int, float)
    screen_requested = Signal()
    range_wanted = Signal(float)
    #: A supply was switched on, and idles now: this link.
    idles = Signal(object)
    #: A scope's screen, as a picture's bytes.
    pictured = Signal(bytes)
    send_requested = Signal(str)
    teach_requested = Signal(str)
    #: What came of trying something: words, and the mend; and the pattern that was taught.
    told = Signal(str, str)
    taught = Signal(object, str)

    def __init__(self, linked: Linked, open_it: Callable[[Address], Device] | None = None) -> None:
        super().__init__()
        #: Where it is, and what the shop knows of it.
        self.linked = linked
        self.name, self.trouble = "", ""
        self.live: Sample | None = None
        #: Of a supply: whether its output is on from here, and what was drawn since.
        self.is_on, self.drawn = False, Drawn()
        #: What it was set to from here, in volts and amperes; and what was drawn against the model.
        self.set_to, self.against = (0.0, 0.0), ""
        #: Whether the last two values are alike: one alone may be of two lines that ran together.
        self.is_alike = False
        self._worker, self._thread = MeterWorker(open_it), QThread()
        self._worker.moveToThread(self._thread)
        self.link_requested.connect(self._worker.link)
        self.mode_wanted.connect(self._worker.want)
        self.taken.connect(self._worker.forget)
        self.allowed.connect(self._worker.allow)
        self._worker.shown.connect(self._on_shown)
        self._worker.found.connect(self._on_found)
        self._worker.lost.connect(self._on_lost)
        self._worker.noticed.connect(self._on_noticed)
        self._worker.told.connect(self.told)
        self._worker.output.connect(self._on_output)
        self.trip_requested.connect(self._worker.trip_at)
        self.set_requested.connect(self._worker.set_output)
        self.switch_requested.connect(self._worker.switch)
        self._worker.taught.connect(self._on_taught)
        self.range_wanted.connect(self._worker.hold_range)
        self.screen_requested.connect(self._worker.screen)
        self._worker.pictured.connect(self.pictured)
        self.wave_requested.connect(self._worker.wave)
        self.send_requested.connect(self._worker.send)
        self.teach_requested.connect(self._worker.teach)
        self._thread.start()
        self.link_requested.emit(linked.address)
        self.trip_requested.emit(linked.trip_amps)

    @property
    def is_there(self) -> bool:
        """Whether it answers."""
        return bool(self.name) and not self.trouble

    def stop(self) -> bool:
        """Let go of the meter; whether its thread ended."""
        self.blockSignals(True)
        QMetaObject.invokeMethod(self._worker, "end", Qt.ConnectionType.QueuedConnection)
        return self._thread.wait(CLOSING_MS)

    @Slot(object)
    def _on_shown(self, sample: Sample) -> None:
        self.is_alike = self.live is not None and are_alike(self.live, sample)
        self.trouble, self.live = "", less_leads(sample, self.linked.leads_ohms)
        self.changed.emit()

    @Slot(bool, object)
    def _on_output(self, is_on: bool, drawn: Drawn) -> None:
        if drawn.idle < 0:
            self.against = ""
        is_new = is_on and drawn.idle >= 0 > self.drawn.idle
        self.is_on, self.drawn = is_on, drawn
        if is_new:
            self.idles.emit(self)
        self.changed.emit()

    def set_output(self, volts: float, amps: float) -> None:
        """Have a supply set to so many volts, and so many amperes at the most."""
        self.set_to = (volts, amps)
        self.set_requested.emit(volts, amps)

    @Slot(str)
    def _on_found(self, name: str) -> None:
        self.name, self.trouble = name, ""
        self.changed.emit()

    @Slot(object)
    def _on_lost(self, error: BenchLampError) -> None:
        words = f"{error}. {error.hint}".strip()
        if words != self.trouble:
            self.trouble, self.live = words, None
            self.changed.emit()

    @Slot(object)
    def _on_noticed(self, noticed: Noticed) -> None:
        own = replace(noticed, sample=less_leads(noticed.sample, self.linked.leads_ohms))
        self.noticed.emit(self, own)

    @Slot(str)
    def _on_taught(self, pattern: str) -> None:
        self.taught.emit(self, pattern)

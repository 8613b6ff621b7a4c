"""A linked meter in a thread of its own: read as it streams, lost and found again, never in the window's."""

import logging
import time
from collections.abc import Callable

from PySide6.QtCore import QObject, QTimer, Signal, Slot

from bench_lamp.errors import BenchLampError
from bench_lamp.instrument.device import Address, Device
from bench_lamp.instrument.display import sample_of
from bench_lamp.instrument.guard import CurrentGuard
from bench_lamp.instrument.sample import DIAL, DeviceError, Sample
from bench_lamp.instrument.scpi import ScpiDevice
from bench_lamp.instrument.serial_line import SerialLine
from bench_lamp.instrument.settle import Happening, Settler
from bench_lamp.instrument.taught import LEAST as LEAST_TAUGHT
from bench_lamp.instrument.taught import teach
from bench_lamp.instrument.waveform import analysed, wave_words

#: A meter that is asked is asked so often; one that is gone is looked for again after this, in milliseconds.
ASK_MS, AGAIN_MS = 100, 1500

log = logging.getLogger(__name__)


class MeterWorker(QObject):
    """Lives in the meter's thread; talk to it through signals only."""

    #: Every value: a `Sample`.
    shown = Signal(object)
    #: Something happened at the probe: a `Noticed`.
    noticed = Signal(object)
    #: The meter answers: what it says that it is.
    found = Signal(str)
    #: It does not: a `BenchLampError`; it is looked for again.
    lost = Signal(object)
    #: What came of trying something: words, and the mend.
    told = Signal(str, str)
    #: A supply's output: whether it is on, and what was drawn since: a `Drawn`.
    output = Signal(bool, object)
    #: A scope's screen, as a picture's bytes.
    pictured = Signal(bytes)
    #: Its lines are taught: the pattern as text.
    taught = Signal(str)

    def __init__(self, open_it: Callable[[Address], Device] | None = None) -> None:
        super().__init__()
        self._open_it = open_it
        self._address: Address | None = None
        self._device: Device | None = None
        self._settler = Settler()
        self._mode = "dc V"
        self._shown_mode = ""
        self._timer: QTimer | None = None
        #: Of a supply: what watches its current, and whether its output was switched on from here.
        self._guard, self._is_on = CurrentGuard(), False
        #: Whether its current is watched for a card.
        self._is_settling = False
        #: Lines, and what the display showed meanwhile.
        self._pairs: list[tuple[str, str]] = []

    @Slot(object)
    def link(self, address: Address | None) -> None:
        """Link a meter; None lets go of the one that is linked."""
        self._drop()
        self._address = address
        if address is None:
            self._clock().stop()
        else:
            self._clock().start(0)

    @Slot(str)
    def want(self, mode: str) -> None:
        """Read in a mode from now on, where the meter is told its mode."""
        if mode and mode != self._mode:
            self._mode = mode
            self._settler.forget()

    @Slot()
    def forget(self) -> None:
        """The value that shows was taken by hand: it is not taken once more."""
        self._settler.forget()

    @Slot()
    def allow(self) -> None:
        """Take what stands still now as new: it is due."""
        self._settler.allow()

    @Slot(float)
    def trip_at(self, amps: float) -> None:
        """Switch a supply's output off when more than this flows; 0 for never."""
        self._guard.limit = amps

    @Slot(float, float)
    def set_output(self, volts: float, amps: float) -> None:
        """Set a supply's volts and current limit."""
        self._with_supply(
            lambda supply: supply.set_output(volts, amps), f"Set: {volts:g} V, {amps:g} A"
        )

    @Slot(bool)
    def switch(self, is_on: bool) -> None:
        """Switch a supply's output."""
        word = "on" if is_on else "off"
        if self._with_supply(lambda supply: supply.switch(on=is_on), f"The output is {word}"):
            self._is_on = is_on
            if is_on:
                self._guard.switched_on(time.monotonic())
            self.output.emit(is_on, self._guard.drawn)

    def _with_supply(self, work: Callable[[ScpiDevice], None], said: str) -> bool:
        """Do something with a supply, and say what came of it; whether it was done."""
        device = self._device
        try:
            if not isinstance(device, ScpiDevice) or device.family.supply is None:
                raise DeviceError(
                    "It has no output", hint="Link it with standard-supply behind it."
                )
            work(device)
        except BenchLampError as exc:
            self.told.emit(str(exc), exc.hint)
            return False
        self.told.emit(said, "")
        return True

    def _watch_output(self, supply: ScpiDevice) -> None:
        """Read both of a supply's values; switch it off where the limit has tripped."""
        volts, amps = supply.read("dc V"), supply.read("A")
        self.shown.emit(amps if self._mode == "A" else volts)
        if supply.family.id.endswith("supply"):
            # What a load takes is no supply's current.
            self._settle_current(amps)
        if self._guard.take(amps.value, amps.at) and self._is_on:
            supply.switch(on=False)
            self._is_on = False
            limit = f"{self._guard.limit:g} A"
            self.told.emit(
                f"Tripped: {amps.value:.3g} A, the limit is {limit}. The output is off",
                "Find what draws it before it is switched on again.",
            )
        self.output.emit(self._is_on, self._guard.drawn)

    def _settle_current(self, amps: Sample) -> None:
        """Notice the current that stands still, where the card asks for it and the output is on."""
        if self._mode != "A" or not self._is_on:
            self._is_settling = False
            return
        if not self._is_settling:
            # No probe is lifted of a supply: what it gives is new at each card.
            self._is_settling = True
            self._settler = Settler()
        for noticed in self._settler.take(amps):
            if noticed.what is Happening.SETTLED:
                self.noticed.emit(noticed)

    @Slot(str)
    def send(self, command: str) -> None:
        """Send a command as it is, and say what is answered."""
        try:
            if not isinstance(self._device, ScpiDevice):
                raise DeviceError("It takes no commands", hint="Link it as scpi.")
            if command.rstrip().endswith("?"):
                self.told.emit(f"{command} answers “{self._device.ask(command)[:200]}”", "")
            else:
                self._device.tell(command)
                self.told.emit(f"{command} was sent", "It asks for no answer.")
        except BenchLampError as exc:
            self.told.emit(str(exc), exc.hint)

    @Slot(float)
    def hold_range(self, full_scale: float) -> None:
        """Hold the range that shows up to this, of what is read now; 0 lets it choose again."""
        device = self._device
        try:
            if not isinstance(device, ScpiDevice):
                raise DeviceError("Its range is set by hand", hint="Turn its own dial or key.")
            device.hold_range(self._mode, full_scale)
        except BenchLampError as exc:
            self.told.emit(str(exc), exc.hint)
            return
        self._settler.forget()
        words = f"held up to {full_scale:g}" if full_scale else "chosen by itself"
        self.told.emit(f"Its range is {words}", f"Of {DIAL.get(self._mode, self._mode)}.")

    @Slot(int, float)
    def wave(self, channel: int, mains_hertz: float) -> None:
        """Take a scope's waveform of a rail, and say what it is."""
        try:
            if not isinstance(self._device, ScpiDevice):
                raise DeviceError("It has no waveform", hint="Link a scope: … standard-scope")
            samples, step = self._device.wave(channel)
            self.told.emit(wave_words(analysed(samples, step, mains_hertz)), "")
        except BenchLampError as exc:
            self.told.emit(str(exc), exc.hint)

    @Slot()
    def screen(self) -> None:
        """Take a scope's screen as a picture."""
        try:
            if not isinstance(self._device, ScpiDevice):
                raise DeviceError("It has no screen to take", hint="Link a scope: … standard-scope")
            self.pictured.emit(self._device.screen())
        except BenchLampError as exc:
            self.told.emit(str(exc), exc.hint)

    @Slot(str)
    def teach(self, shown: str) -> None:
        """Take the line that comes now for what its display shows; three of them teach its pattern."""
        try:
            if not isinstance(self._device, SerialLine):
                raise DeviceError("It sends no lines to be taught", hint="Link it as serial.")
            line = self._device.newest_line()
            sample_of(shown, 0.0)
            self._pairs.append((line, shown))
            if len(self._pairs) < LEAST_TAUGHT:
                left = LEAST_TAUGHT - len(self._pairs)
                self.told.emit(f"“{line}” is {shown}", f"{left} more, of other values.")
                return
            pairs, self._pairs = self._pairs, []
            self.taught.emit(teach(pairs).to_text())
        except BenchLampError as exc:
            self.told.emit(str(exc), exc.hint)

    @Slot()
    def end(self) -> None:
        """Let go of the meter for good, and end the thread."""
        self.link(None)
        self.thread().quit()

    def _clock(self) -> QTimer:
        if self._timer is None:
            self._timer = QTimer(self)
            self._timer.timeout.connect(self._step)
        return self._timer

    @Slot()
    def _step(self) -> None:
        if self._address is None:
            return
        try:
            if self._device is None:
                self._open(self._address)
            self._read()
        except BenchLampError as exc:
            self._on_failed(exc)
        except Exception as exc:  # whatever an instrument does, the window goes on
            log.exception("the meter failed")
            self._on_failed(BenchLampError(f"The meter failed: {type(exc).__name__}: {exc}"))

    def _open(self, address: Address) -> None:
        from bench_lamp.instrument.device import open_device
        from bench_lamp.instrument.kinds import KINDS

        self._device = self._open_it(address) if self._open_it else open_device(address, KINDS)
        self._settler = Settler()
        name = self._device.identify().name
        self._clock().start(ASK_MS if address.kind == "scpi" else 0)
        self.found.emit(name)

    def _read(self) -> None:
        device = self._device
        if device is None:
            return
        if isinstance(device, ScpiDevice) and device.family.supply is not None:
            self._watch_output(device)
            return
        mode = self._mode if self._mode in device.modes else next(iter(sorted(device.modes)))
        sample = device.read(mode)
        if sample.mode != self._shown_mode:
            self._shown_mode = sample.mode
            self._settler.forget()
        self.shown.emit(sample)
        for noticed in self._settler.take(sample):
            self.noticed.emit(noticed)

    def _on_failed(self, error: BenchLampError) -> None:
        if isinstance(error, DeviceError) and not error.is_lost and self._device is not None:
            # It is there and said nothing usable: no reading, and asked again.
            self.lost.emit(error)
            self._clock().start(ASK_MS)
            return
        self._drop()
        self._clock().start(AGAIN_MS)
        self.lost.emit(error)

    def _drop(self) -> None:
        if self._device is not None:
            device, self._device = self._device, None
            device.close()

"""Instruments that speak SCPI: over the network, a serial line or USB, by PyVISA and its Python backend.

Source: SCPI-99 (commands, 9.9E37 for over-range) and IEEE 488.2 (`*IDN?`, definite-length blocks).
"""

import math
import re
import time
from typing import Any

from bench_lamp.instrument.device import ANSWER_S, Address
from bench_lamp.instrument.families import Asking, Family, family_of
from bench_lamp.instrument.sample import DeviceError, Flag, Identity, Sample

#: One number as the standard writes it, and nothing else.
_NUMBER = re.compile(r"[+-]?(\d{1,15}(\.\d{0,15})?|\.\d{1,15})([eE][+-]?\d{1,3})?")
#: Bytes of the longest answer in text, and of a screen or waveform.
MOST_TEXT, MOST_BLOCK = 4096, 20_000_000
#: Samples of the longest waveform.
MOST_WAVE = 200_000


class ScpiDevice:
    """One instrument; implements `Device`, and `Output` where its family can."""

    def __init__(self, resource: Any, family: Family, channel: int = 1) -> None:
        self._resource, self._channel = resource, channel
        #: Full scales that are held, by mode.
        self._held: dict[str, float] = {}
        self.family = family
        self.modes = frozenset(family.modes)

    def identify(self) -> Identity:
        """Return maker and type, serial number and firmware, as `*IDN?` says them."""
        parts = [p.strip()[:60] for p in self.ask("*IDN?").split(",")]
        if not parts[0]:
            raise DeviceError("It does not say what it is", hint="Is it another device’s port?")
        return Identity(
            name=" ".join(parts[:2]), serial="".join(parts[2:3]), firmware="".join(parts[3:4])
        )

    def read(self, mode: str) -> Sample:
        """Measure once."""
        asking, held = self._asking(mode), self._held.get(mode)
        if held:
            return self._sample(mode, self.ask(asking.range.format(scale=held)))
        return self._sample(mode, self.ask(asking.ask.format(channel=self._channel)))

    def hold_range(self, mode: str, full_scale: float) -> None:
        """Hold the range that shows up to this, in the mode's unit; 0 lets it choose.

        It is said with each question: what only configures the instrument is undone by the next `MEASure`.
        """
        if not self._asking(mode).range:
            raise DeviceError(f"Its range of {mode} cannot be held", hint="Set it by hand.")
        before = self._held.get(mode, 0.0)
        self._held[mode] = full_scale
        try:
            self._refuse_error_after(mode)
        except DeviceError:
            self._held[mode] = before
            raise

    def _refuse_error_after(self, mode: str) -> None:
        """Measure once, and see that it took the question; what it refused before is nobody's."""
        self.tell("*CLS")
        self.read(mode)
        self._refuse_error()

    def set_output(self, volts: float, amps: float) -> None:
        """Set volts and current limit, and see that it took them; the output stays as it was."""
        words = self._supply()
        self.tell(words.volts.format(value=volts))
        self.tell(words.amps.format(value=amps))
        self._refuse_error()

    def switch(self, *, on: bool) -> None:
        """Switch the output, and see that it is so."""
        words = self._supply()
        self.tell(words.on if on else words.off)
        if self.ask(words.is_on).strip().upper() not in ({"1", "ON"} if on else {"0", "OFF"}):
            raise DeviceError(
                f"Its output is not {'on' if on else 'off'}", hint="Look at the supply itself."
            )

    def sense(self) -> tuple[float, float]:
        """Return volts and amperes as it measures them."""
        return self.read("dc V").value, self.read("A").value

    def screen(self) -> bytes:
        """Return the screen as a picture's bytes."""
        if not self.family.screen:
            raise DeviceError("It cannot send its screen", hint="Take a photograph.")
        data = self._block(self.family.screen)
        if not data.startswith((b"\x89PNG", b"BM", b"\xff\xd8")):
            raise DeviceError("What it sent is no picture", hint="Take a photograph.")
        return data

    def wave(self, channel: int) -> tuple[tuple[float, ...], float]:
        """Return a channel's samples in volts, and the seconds between two."""
        words = self.family.wave
        if words is None:
            raise DeviceError("It cannot send a waveform", hint="Take its peak to peak.")
        texts = self.ask(words.samples.format(channel=channel), most=40 * MOST_WAVE).split(",")
        step = self._number(self.ask(words.step))
        if len(texts) > MOST_WAVE or step <= 0:
            raise DeviceError("Its waveform makes no sense", hint="Take its peak to peak.")
        return tuple(self._number(text) for text in texts), step

    def ask(self, command: str, *, most: int = MOST_TEXT) -> str:
        """Send a command and return its answer.

        After a failure the line is closed, and opened anew by whoever wants more: an answer that comes late
        is nobody's.
        """
        try:
            answer = str(self._resource.query(command))
        except Exception as exc:
            raise self._gone(_error(exc)) from exc
        if len(answer) > most or not answer.isprintable():
            raise self._gone(
                DeviceError("Its answer is no text", hint="Is it another device’s port?")
            )
        return answer

    def tell(self, command: str) -> None:
        """Send a command without an answer."""
        try:
            self._resource.write(command)
        except Exception as exc:
            raise self._gone(_error(exc)) from exc

    def close(self) -> None:
        """Let go of it."""
        try:
            self._resource.close()
        except Exception:  # noqa: BLE001 — what is gone need not be closed
            return

    def _gone(self, error: DeviceError) -> DeviceError:
        self.close()
        error.is_lost = True
        return error

    def _asking(self, mode: str) -> Asking:
        asking = self.family.modes.get(mode)
        if asking is None:
            raise DeviceError(
                f"It cannot measure {mode}", hint=f"It can {', '.join(sorted(self.modes))}."
            )
        return asking

    def _supply(self) -> Any:
        if self.family.supply is None:
            raise DeviceError("It has no output to set", hint="Link a supply for that.")
        return self.family.supply

    def _sample(self, mode: str, answer: str) -> Sample:
        value = self._number(answer)
        if abs(value) >= self.family.over:
            over = math.copysign(math.inf, value)
            return Sample(at=time.monotonic(), mode=mode, value=over, flags=frozenset({Flag.OVER}))
        return Sample(at=time.monotonic(), mode=mode, value=value, resolution=last_digit(answer))

    def _number(self, text: str) -> float:
        if not _NUMBER.fullmatch(text.strip()):
            raise DeviceError(f"“{text.strip()[:30]}” is no reading", hint="It is not logged.")
        return float(text)

    def _refuse_error(self) -> None:
        said = self.ask("SYST:ERR?")
        if not said.lstrip("+").startswith("0"):
            raise DeviceError(f"It refuses: {said[:80]}", hint="Look at its limits.")

    def _block(self, command: str) -> bytes:
        try:
            data = bytes(self._resource.query_binary_values(command, datatype="B", container=bytes))
        except Exception as exc:
            raise self._gone(_error(exc)) from exc
        if len(data) > MOST_BLOCK:
            raise DeviceError("What it sent is too large", hint="Take a photograph.")
        return data


def last_digit(text: str) -> float:
    """Return the value of a written number's last digit.

    >>> last_digit("5.0812"), last_digit("+1.2000E+01"), last_digit("12")
    (0.0001, 0.001, 1.0)
    """
    mantissa, _, power = text.strip().upper().partition("E")
    places = len(mantissa.partition(".")[2])
    return float(f"1e{int(power or 0) - places}")


def open_scpi(address: Address) -> ScpiDevice:
    """Open an instrument at a VISA address, as `TCPIP::192.0.2.7::5025::SOCKET` or `ASRL/dev/ttyUSB0::INSTR`.

    Raises
    ------
    DeviceError
        When nothing is there, or it does not answer in time.
    """
    import pyvisa

    family = family_of(address.family)
    try:
        manager = pyvisa.ResourceManager("@py")
        resource: Any = manager.open_resource(address.place, open_timeout=round(ANSWER_S * 1000))
        resource.timeout = round(ANSWER_S * 1000)
        resource.read_termination, resource.write_termination = "\n", "\n"
    except Exception as exc:
        raise _error(exc) from exc
    return ScpiDevice(resource, family)


def _error(exc: Exception) -> DeviceError:
    """Say what a failure of the line means."""
    words = str(exc).splitlines()[0][:120] if str(exc) else type(exc).__name__
    if "TMO" in words or "imeout" in words:
        return DeviceError("The instrument does not answer", hint="Is it on, and set to remote?")
    return DeviceError.lost(f"The instrument is not to be reached: {words}")

"""A hand-held meter on a serial line that streams text: each whole line is a reading, or nothing is."""

import time
from typing import Any

from bench_lamp.instrument.device import ANSWER_S, Address
from bench_lamp.instrument.display import MOST_LINE, sample_of
from bench_lamp.instrument.sample import DeviceError, Identity, Sample
from bench_lamp.instrument.taught import TaughtLines

#: Bits a second where the place does not say (`/dev/ttyUSB0@2400`).
BAUD = 9600
#: Lines without a reading after which it is another device.
MOST_UNKNOWN = 20


class SerialLine:
    """One meter; implements `Device`. Its dial is a switch: it shows the mode that it stands at."""

    def __init__(self, port: Any, pattern: TaughtLines | None) -> None:
        self._port, self._pattern = port, pattern
        meanings = pattern.meanings.values() if pattern else ()
        self.modes = frozenset(m.mode for m in meanings) or frozenset(
            {"dc V", "ac V", "ohm", "diode", "A", "Hz", "F"}
        )
        self._rest = b""
        # A line that was under way is no whole one.
        self._is_begun = False

    def identify(self) -> Identity:
        """Return what its place is: a stream does not say what it comes from."""
        return Identity(name=f"meter on {self._port.name}")

    def read(self, mode: str) -> Sample:
        """Return the next line's value, whatever mode the dial stands at; others are passed over."""
        for _ in range(MOST_UNKNOWN):
            line = self.line()
            try:
                at = time.monotonic()
                return self._pattern.read(line, at) if self._pattern else sample_of(line, at)
            except DeviceError:
                continue
        raise DeviceError(
            f"{MOST_UNKNOWN} lines without a reading", hint="Teach its lines, or mend the speed."
        )

    def line(self) -> str:
        """Return the next whole line as it came."""
        until = time.monotonic() + ANSWER_S
        while b"\n" not in self._rest:
            try:
                more = self._port.read(max(1, self._port.in_waiting))
            except Exception as exc:
                raise DeviceError.lost(f"The meter’s line is gone: {exc}") from exc
            self._rest += more
            if len(self._rest) > 20 * MOST_LINE and b"\n" not in self._rest:
                self._rest = b""
                raise DeviceError("What comes has no lines", hint="Is it another device’s port?")
            if not more and time.monotonic() > until:
                raise DeviceError("The meter sends nothing", hint="Switch its sending on.")
        raw, _, self._rest = self._rest.partition(b"\n")
        if not self._is_begun:
            self._is_begun = True
            return self.line()
        return raw[: MOST_LINE + 1].decode("utf-8", "replace").strip("\r\0 ")

    def newest_line(self) -> str:
        """Return the next line that comes from now on, as it came."""
        self._rest, self._is_begun = b"", False
        self._port.reset_input_buffer()
        return self.line()

    def close(self) -> None:
        """Let go of the line."""
        try:
            self._port.close()
        except Exception:  # noqa: BLE001 — what is gone need not be closed
            return


def open_serial(address: Address) -> SerialLine:
    """Open a serial line, as `/dev/ttyUSB0` or `/dev/ttyUSB0@2400`; its family is the taught pattern.

    Raises
    ------
    DeviceError
        When there is no such line, or it may not be opened.
    """
    import serial

    place, _, speed = address.place.partition("@")
    try:
        port = serial.Serial(place, int(speed or BAUD), timeout=0.1, exclusive=True)
    except (serial.SerialException, ValueError, OSError) as exc:
        raise DeviceError.lost(
            f"{place[:60]} cannot be opened: {str(exc)[:80]}", hint="Plug it in; is it in use?"
        ) from exc
    return SerialLine(port, TaughtLines.from_text(address.family) if address.family else None)

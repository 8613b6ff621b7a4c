"""A bench instrument that answers SCPI on a socket of this machine: a meter, counter, scope, supply or load."""

import itertools
import math
import random
import socketserver
import struct
import threading
import zlib
from collections.abc import Callable
from dataclasses import dataclass, field

from bench_lamp.bench.standins.faults import LineFault

#: What each kind says that it is.
NAMES = {
    "meter": "Quillet,BM-6 stand-in,0001,1.0",
    "counter": "Quillet,FC-2 stand-in,0002,1.0",
    "scope": "Quillet,OS-4 stand-in,0003,1.0",
    "supply": "Quillet,PS-3 stand-in,0004,1.0",
    "load": "Quillet,EL-1 stand-in,0005,1.0",
}
#: Largest full scale that its meter takes, and from what share of one on it shows an over-range.
MOST_SCALE, OVER_SCALE = 1e9, 1.2
OVER, NO_ERROR = "+9.90000000E+37", '+0,"No error"'


@dataclass
class Connected:
    """What the instruments are connected to; a test, or the practice bench, sets it."""

    #: Values by mode: `dc V`, `ac V`, `ohm`, `diode`, `F`, `Hz`, `A`; infinite for an over-range.
    values: dict[str, float] = field(default_factory=lambda: {"dc V": 5.08, "ohm": math.inf})
    #: Scatter of a reading, as a share.
    noise: float = 1e-5
    #: What the supply feeds, in ohms.
    load_ohms: float = 10.0
    #: Samples of the scope's channel, in volts, and the seconds between two.
    wave: tuple[float, ...] = ()
    step: float = 1e-4
    #: What goes wrong with the next answers.
    fault: LineFault = field(default_factory=LineFault)


class StandIn:
    """One instrument with its server; `place` is its VISA address."""

    def __init__(self, kind: str, bench: Connected | None = None, port: int = 0) -> None:
        self.kind, self.bench = kind, bench or Connected()
        self.volts, self.amps, self.is_on = 0.0, 0.1, False
        self._errors: list[str] = []
        self._chance = random.Random(1)
        outer = self

        class Handler(socketserver.StreamRequestHandler):
            def handle(self) -> None:
                while line := self.rfile.readline(4096):
                    answer = outer.answer(line.decode("ascii", "replace").strip())
                    if answer is not None and not outer.bench.fault.spoil(self.wfile.write, answer):
                        return

        class Server(socketserver.ThreadingTCPServer):
            allow_reuse_address = True
            daemon_threads = True

        self._server = Server(("127.0.0.1", port), Handler)
        self._thread = threading.Thread(
            target=self._server.serve_forever, args=(0.05,), daemon=True
        )
        self._thread.start()

    @property
    def port(self) -> int:
        """The port that it listens on."""
        return int(self._server.server_address[1])

    @property
    def place(self) -> str:
        """Its VISA address."""
        return f"TCPIP::127.0.0.1::{self.port}::SOCKET"

    def close(self) -> None:
        """Switch it off."""
        self._server.shutdown()
        self._server.server_close()

    def answer(self, command: str) -> bytes | None:
        """Return what it answers to a command; None for nothing."""
        if command == "*IDN?":
            return f"{NAMES[self.kind]}\n".encode()
        if command == "*CLS":
            self._errors.clear()
            return None
        if command == "SYST:ERR?":
            return f"{self._errors.pop(0) if self._errors else NO_ERROR}\n".encode()
        known: Callable[[str], bytes | None] = {
            "meter": self._meter, "counter": self._meter, "scope": self._scope,
            "supply": self._supply, "load": self._supply,
        }[self.kind]  # fmt: skip
        return known(command)

    def _refuse(self, command: str) -> bytes | None:
        self._errors.append(f'-113,"Undefined header; {command[:30]}"')
        return None

    def _figure(self, value: float) -> bytes:
        if math.isinf(value):
            return f"{OVER}\n".encode()
        shown = value * (1 + self._chance.gauss(0.0, self.bench.noise))
        return f"{shown:+.6E}\n".encode()

    def _meter(self, command: str) -> bytes | None:
        modes = {
            "MEAS:VOLT:DC?": "dc V", "MEAS:VOLT:AC?": "ac V", "MEAS:RES?": "ohm", "MEAS:DIOD?": "diode",
            "MEAS:CAP?": "F", "MEAS:FREQ?": "Hz", "MEAS:CURR:DC?": "A",
        }  # fmt: skip
        what, _, scale = command.partition(" ")
        if what not in modes or (self.kind == "counter" and what != "MEAS:FREQ?"):
            return self._refuse(command)
        value = self.bench.values.get(modes[what], math.inf)
        if scale and float(scale) > MOST_SCALE:
            self._errors.append('-222,"Data out of range"')
        is_over = bool(scale) and abs(value) > OVER_SCALE * float(scale)
        return self._figure(math.copysign(math.inf, value) if is_over else value)

    def _supply(self, command: str) -> bytes | None:
        word, _, rest = command.partition(" ")
        out = "OUTP" if self.kind == "supply" else "INP"
        if word in {"VOLT", "CURR"} and rest:
            value = float(rest)
            if not 0 <= value <= 60:
                self._errors.append('-222,"Data out of range"')
            elif word == "VOLT":
                self.volts = value
            else:
                self.amps = value
            return None
        if command in {f"{out} ON", f"{out} OFF"}:
            self.is_on = command.endswith("ON")
            return None
        if command == f"{out}?":
            return b"1\n" if self.is_on else b"0\n"
        amps = min(self.volts / self.bench.load_ohms, self.amps) if self.is_on else 0.0
        if command == "MEAS:VOLT?":
            return self._figure(amps * self.bench.load_ohms)
        return self._figure(amps) if command == "MEAS:CURR?" else self._refuse(command)

    def _scope(self, command: str) -> bytes | None:
        wave = self.bench.wave
        if command == "HCOP:SDUM:DATA?":
            data = _picture()
            size = str(len(data))
            return f"#{len(size)}{size}".encode() + data + b"\n"
        if command == "SENS:SWE:TINT?":
            return f"{self.bench.step:.6E}\n".encode()
        if command.startswith("TRAC? CHAN"):
            return (",".join(f"{v:.5E}" for v in wave) + "\n").encode()
        what = command.partition("(@")[0].strip()
        if not wave or what not in {"MEAS:VOLT:PTP?", "MEAS:VOLT:AVER?", "MEAS:FREQ?"}:
            return self._refuse(command)
        if what == "MEAS:VOLT:PTP?":
            return self._figure(max(wave) - min(wave))
        if what == "MEAS:VOLT:AVER?":
            return self._figure(sum(wave) / len(wave))
        middle = sum(wave) / len(wave)
        rising = sum(a < middle <= b for a, b in itertools.pairwise(wave))
        return self._figure(rising / (self.bench.step * len(wave)))


def _picture() -> bytes:
    """Return a small picture of a screen, as PNG."""
    width, height = 64, 48
    rows = b"".join(
        b"\0" + bytes(40 + 3 * x if (x + y) % 8 else 200 for x in range(width))
        for y in range(height)
    )

    def chunk(name: bytes, data: bytes) -> bytes:
        return (
            struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))
        )

    head = struct.pack(">IIBBBBB", width, height, 8, 0, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", head)
        + chunk(b"IDAT", zlib.compress(rows))
        + chunk(b"IEND", b"")
    )

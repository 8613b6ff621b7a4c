"""What hangs on the boards and can be tested cold: coils, output rows, chips, semiconductors, switches.

And what waking the set up needs to know: which board when, signs of a good start, least loads.
"""

from collections.abc import Mapping
from typing import Literal

from msgspec import field

from bench_lamp.board.written import Amps, FromFile, Limits, Ohms, Seconds, Volts


class Coil(FromFile, frozen=True, kw_only=True):
    """A coil or relay, with the transistor that drives it."""

    id: str
    name: str
    #: Limits on a good one, in ohms; without them 1 Ω is the least.
    ohms: Limits | None = None
    driver: str = ""
    place: str = ""
    #: Drawn, but never fitted: never a suspect, and not asked about.
    fitted: bool = True


class OutputRow(FromFile, frozen=True, kw_only=True):
    """Output transistors in a row, swept with one lead while the other lies on ground."""

    id: str
    name: str
    #: Ground id for the lead that stays.
    black: str
    #: In the order that the lead drags past them.
    parts: tuple[str, ...]
    #: Those that beep on a good board, since that pin is ground anyway.
    beeps: tuple[str, ...] = ()
    #: What drives each: the next to be tested.
    drivers: Mapping[str, str] = field(default_factory=dict)
    place: str = ""


class PinMap(FromFile, frozen=True, kw_only=True):
    """A chip whose pins can be toned to its ground pin."""

    id: str
    name: str
    pins: int
    #: Its own ground pin: where the lead belongs.
    ground: int
    #: Pins that beep on a good board, the ground pin among them.
    low: tuple[int, ...]
    place: str = ""


class Semiconductor(FromFile, frozen=True, kw_only=True):
    """A transistor, dual diode or regulator that can be read in diode mode."""

    id: str
    name: str
    tech: Literal["silicon", "schottky", "germanium", "darlington", "led", "mosfet body"] = (
        "silicon"
    )
    #: Junctions as `B-E: base to emitter`, red first; each is read both ways.
    junctions: tuple[str, ...] = ()
    place: str = ""


class SwitchContact(FromFile, frozen=True, kw_only=True):
    """A switch with its terminals."""

    id: str
    name: str
    common: str
    #: Terminal that must open, and the one that must close, when it is worked.
    opens: str = ""
    closes: str = ""
    place: str = ""


class Gate(FromFile, frozen=True, kw_only=True):
    """One step of waking up: which boards or connectors go on, and the signs of a good start."""

    id: str
    name: str
    #: Connectors and fuses that go on at this gate.
    on: tuple[str, ...] = ()
    #: What is to be seen or heard, and within how long.
    signs: tuple[str, ...] = ()
    #: What to look at before it goes on: keys, shifted pins, screws, edge fingers.
    mind: tuple[str, ...] = ()
    #: Harness pins that are read for stray volts before what goes on here, and the most they may carry.
    stray: tuple[str, ...] = ()
    stray_volts: Volts = 1.0
    #: Points that are read again here, beside those that the connectors feed.
    reads: tuple[str, ...] = ()


class LeastLoad(FromFile, frozen=True, kw_only=True):
    """What a supply needs to regulate."""

    net: str
    amps: Amps
    #: How high it may float without it.
    floats: Limits | None = None


class WakeUp(FromFile, frozen=True, kw_only=True):
    """How the set is woken up; the order of the gates, the last one being the machine."""

    gates: tuple[Gate, ...] = ()
    #: Fuse of the coil supply: out until its own gate.
    coil_fuse: str = ""
    least_loads: tuple[LeastLoad, ...] = ()
    #: What the whole set draws from the mains when it idles, in volt-amperes.
    idle_va: float = 0.0
    #: Bleeder for hands-in, in ohms.
    bleeder: Ohms = 1000.0
    #: Longest that a good start takes, in seconds.
    settles: Seconds = 10.0

    def off_at_gates(self) -> tuple[frozenset[str], ...]:
        """Return what is still off at each gate, by name."""
        later = [self.gates[number:] for number in range(1, len(self.gates) + 1)]
        return tuple(frozenset(name for gate in rest for name in gate.on) for rest in later)

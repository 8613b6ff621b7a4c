"""What answers a measurement: the protocol that every instrument keeps."""

from typing import Protocol

from msgspec import Struct, field

from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.errors import BenchLampError
from bench_lamp.logic.clue import LogicKind


class InstrumentError(BenchLampError):
    """The instrument did not answer, or cannot measure what was asked."""


class Request(Struct, frozen=True, kw_only=True):
    """What is to be measured, and the state that the board is in."""

    kind: TestKind
    #: Net of a voltage or resistance, block of a tone test.
    target: str
    condition: Condition = field(default_factory=Condition)
    #: Red on the return, black on the target.
    swapped: bool = False
    #: Blocks and connectors that were mended since; a simulated board heeds it.
    mended: frozenset[str] = frozenset()
    #: A test load on the target, in ohms; 0 for none.
    load_ohms: float = 0.0
    #: Moments after the leads touch, for ohms on a capacitor that charges; empty for one reading.
    seconds: tuple[float, ...] = ()
    #: The ohms range that is held meanwhile: resistance behind its test volts, and full scale.
    source_ohms: float = 0.0
    full_scale: float = 0.0

    @property
    def needs_power(self) -> bool:
        """Whether it says something only while the board is live."""
        return TestKind(self.kind).needs_power


class LogicRequest(Struct, frozen=True, kw_only=True):
    """A whole self-test, a pin, or a test of one part."""

    kind: LogicKind
    #: Test, lane, part, or pin as `U7:1`.
    target: str
    #: Signal line of a pin.
    line: str = ""
    #: Parts that keep settings.
    parts: tuple[str, ...] = ()
    #: Memory test whose letters a test program shows as well.
    memory: str = ""
    mended: frozenset[str] = frozenset()

    @property
    def needs_power(self) -> bool:
        """Whether it says something only while the board is live."""
        return self.kind in {
            LogicKind.CODE,
            LogicKind.CELLS,
            LogicKind.LANE,
            LogicKind.SETTINGS,
            LogicKind.PROBE,
        }


class TrimRequest(Struct, frozen=True, kw_only=True):
    """What is set: its quantities, with all that was turned since the board came."""

    trim: str
    #: Quantities, channels, stages, states or marks that are to be read.
    whats: tuple[str, ...]
    #: Adjuster and turns, in order.
    turned: tuple[tuple[str, float], ...] = ()
    #: Contacts that were cleaned since; a simulated board heeds it.
    cleaned: frozenset[str] = frozenset()
    #: What the thing stands at meanwhile: the state of a player, `panel` for the panel’s own figure.
    state: str = ""
    is_live: bool = True

    @property
    def needs_power(self) -> bool:
        """Whether it says something only while the board is live."""
        return self.is_live


class TrimShown(Struct, frozen=True, kw_only=True):
    """What was read of it, in the order of the request; each with its last digit."""

    values: tuple[tuple[float, float], ...]


class LogicShown(Struct, frozen=True, kw_only=True):
    """What a board shows of its logic."""

    #: A code, empty for all well; `low` or `floating` of a lane; `wrong` at a pin, else empty;
    #: `same`, `gone`, `pass`, `fail`, `kept`, `lost`.
    code: str = ""
    #: Units that are bad: bits, cells, segments, steps.
    bad: frozenset[str] = frozenset()


class Shown(Struct, frozen=True, kw_only=True):
    """What the instrument shows."""

    #: Volts or ohms, infinite for an overload; 0 or 1 for toned and open.
    value: float
    #: Value of the last digit, in the same unit; 0 for a tone.
    resolution: float = 0.0
    #: What it showed at each moment of a series, in ohms; the value is the last.
    series: tuple[float, ...] = ()


class Instrument(Protocol):
    """Anything that can measure on the board that lies on the bench."""

    #: As it is called on screen.
    name: str

    def read(self, request: Request) -> Shown:
        """Measure once; raise `InstrumentError` when there is no usable answer."""
        ...

    def read_trim(self, request: TrimRequest) -> TrimShown:
        """Read what is set; raise `InstrumentError` where it cannot."""
        ...

    def tell(self, request: LogicRequest) -> LogicShown:
        """Run one test of the logic; raise `InstrumentError` where it cannot."""
        ...

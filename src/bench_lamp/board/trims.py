"""What is set on a board: adjusters and their readings, channels, stages of a grip, senders, switches."""

from collections.abc import Mapping
from enum import StrEnum
from typing import Annotated, Literal

from msgspec import field

from bench_lamp.board.written import FromFile, Limits, Ohms, Seconds, Volts, Written
from bench_lamp.units import UnitError, parse_quantity
from bench_lamp.units.turns import parse_turn


class TrimKind(StrEnum):
    """How a thing is set; the values are those of the profile's files."""

    SINGLE = "single"
    PAIR = "pair"
    CHANNELS = "channels"
    STAGES = "stages"
    TRANSFER = "transfer"
    SENDER = "sender"
    SWITCHES = "switches"


def _finite(text: str, unit: str = "") -> float:
    found = parse_quantity(text, unit)
    if found.is_overload:
        raise UnitError("A board has no overload", hint="Write a figure.")
    return found.value


def _share(text: str) -> float:
    return _finite(text.strip().removesuffix("%")) / (100 if "%" in text else 1)


Turns = Annotated[float, Written(parse_turn, "1/4", "turns")]
Number = Annotated[float, Written(_finite, "-2.4 mA", "a value with its unit")]
Share = Annotated[float, Written(_share, "5 %", "a share")]
Hertz = Annotated[float, Written(lambda text: _finite(text, "Hz"), "21.4 MHz", "hertz")]
#: What a temporary change leaves open until it is made good.
Opens = Literal["", "link", "line", "bridge", "temporary part"]


class Prepare(FromFile, frozen=True, kw_only=True):
    """What is done before anything is set; what it opens must be made good afterwards."""

    text: str
    opens: Opens = ""
    #: Link, line or place that it opens.
    target: str = ""
    #: Asked for afterwards: `close LK2`; else the target is named.
    after: str = ""


class Adjuster(FromFile, frozen=True, kw_only=True):
    """Something that is turned."""

    id: str
    #: What it sets, in a word or two.
    name: str = ""
    place: str = ""
    #: All of its travel, and the longest turn in one go.
    travel: Turns = 0.75
    most: Turns = 0.25
    #: Dead travel when the direction changes.
    backlash: Turns = 5 / 360


class TrimReading(FromFile, frozen=True, kw_only=True):
    """A reading that must come right."""

    id: str
    name: str
    unit: Literal["V", "V~", "A", "Ω", "Hz"] = "V"
    #: What it must be, in its unit: `7 mA..9 mA`.
    band: Limits
    #: Never above this; none where nothing breaks.
    most: Number = float("inf")
    #: Where the leads go.
    red: str = ""
    black: str = ""
    #: The test point that this is, whose readings count on Rails too; empty for none.
    point: str = ""
    #: A current read as the drop over so many ohms, and how exact those are.
    over: Ohms = 0.0
    over_tolerance: Share = 0.05
    #: What the meter is set to, where its mode says more: `counter, 1 s gate`.
    meter: str = ""
    #: How far a reading may be off, in its unit: the standard deviation of one.
    doubt: Number = 0.0


class _Trim(FromFile, frozen=True, kw_only=True):
    """What all things that are set have."""

    id: str
    name: str
    place: str = ""
    board: str = ""
    cautions: tuple[str, ...] = ()
    prepare: tuple[Prepare, ...] = ()
    #: How long after switching on it counts.
    warm_up: Seconds = 0.0
    #: What loads it meanwhile, and what would be too little: said before the first reading.
    load: str = ""
    #: Whether it is set live.
    live: bool = True
    #: Whether paint holds the adjusters: freed before, sealed after.
    sealed: bool = False


class TurnTrim(_Trim, frozen=True, kw_only=True):
    """One adjuster and one reading, or two of each that pull on each other."""

    kind: Literal["single", "pair"]
    adjusters: tuple[Adjuster, ...]
    readings: tuple[TrimReading, ...]
    #: Adjuster to reading to what a turn clockwise does to it.
    slopes: Mapping[str, Mapping[str, Number]] = field(default_factory=dict)
    #: Parts that a sign speaks of: `does not come down: [U4, J7]`.
    signs: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    #: A sense line that this regulator follows, and what is done with it by each school.
    sense: str = ""


class Channel(FromFile, frozen=True, kw_only=True):
    """One channel: what it receives, its crystal's socket and its trimmer."""

    id: str
    hertz: Hertz
    socket: str = ""
    trimmer: str = ""


class ChannelsTrim(_Trim, frozen=True, kw_only=True):
    """Channels of a receiver, each with a trimmer, read by a counter at the injection."""

    kind: Literal["channels"]
    #: First intermediate frequency, on which side the injection is, and how often it is multiplied.
    if_: Hertz
    injection: Literal["low", "high"] = "low"
    multiplier: int = 1
    #: How far a channel may be off either way.
    allowed: Hertz
    #: What a turn clockwise of a trimmer does to the channel, as far as anybody knows.
    slope: Hertz = 8000.0
    #: How far off the counter may be, in parts per million.
    counter_ppm: float = 1.0
    red: str = ""
    channels: tuple[Channel, ...]


class GripStage(FromFile, frozen=True, kw_only=True):
    """One strength, and the adjuster that sets it."""

    id: str
    name: str
    adjuster: str
    place: str = ""
    #: How the display shows that the setting mode is at it.
    shows: str = ""
    #: What one turn clockwise does.
    slope: Volts = 20.0


class StagesTrim(_Trim, frozen=True, kw_only=True):
    """Strengths by use, set in a mode of their own, on a coil that must not stay energised."""

    kind: Literal["stages"]
    stages: tuple[GripStage, ...]
    #: Use to volts of each stage in order; `-` where a stage does not matter.
    presets: Mapping[str, tuple[str, ...]]
    #: How far each may be off either way.
    within: Volts = 1.0
    #: Steps into the setting mode, and out of it.
    into: tuple[str, ...] = ()
    out_of: tuple[str, ...] = ()
    #: The key that steps on, as it is named on the board.
    next_key: str = ""
    #: The coil, how long a cold one may be on, and how long it rests then.
    coil: str = ""
    on: Seconds = 10.0
    rest: Seconds = 60.0
    #: The panel meter's finest reading, in volts; 0 where it has none.
    panel: Volts = 0.0
    red: str = ""
    black: str = ""


class Reference(FromFile, frozen=True, kw_only=True):
    """What the reference unit read, in one state, at a setting that a better instrument knows."""

    state: str
    setting: Volts
    shown: Volts


class TransferTrim(_Trim, frozen=True, kw_only=True):
    """A setting known on a reference unit by a better instrument, carried to others by a meter."""

    kind: Literal["transfer"]
    #: The model that the reference is of: it holds for no other.
    model: str
    adjuster: Adjuster
    slope: Volts = 1.0
    #: What the setting is, as the better instrument shows it, and with which.
    setting: Volts
    setting_text: str = ""
    #: The state in which it is read, and all states in their order.
    state: str
    states: tuple[str, ...]
    references: tuple[Reference, ...]
    #: How far the meter's reading may be off either way.
    within: Volts
    #: Meter that the reference was read with, its mode and its input; ohms behind the pad.
    meter: str = ""
    mode: Literal["dc V", "ac V"] = "dc V"
    meter_ohms: Ohms = 10e6
    source_ohms: Ohms = 0.0
    #: Modes that say nothing there, with the reason.
    refused: Mapping[str, str] = field(default_factory=dict)
    red: str = ""
    black: str = ""


class SenderMark(FromFile, frozen=True, kw_only=True):
    """A mark of a gauge: the ohms that stand for it, and where it is on the scale, from 0 to 1."""

    name: str
    ohms: Ohms
    share: Share


class Touch(FromFile, frozen=True, kw_only=True):
    """A contact or rivet in a gauge's loop."""

    id: str
    place: str = ""


class SenderTrim(_Trim, frozen=True, kw_only=True):
    """A gauge or S-meter behind a sender, tried with resistors."""

    kind: Literal["sender"]
    marks: tuple[SenderMark, ...]
    #: Gauge and what is in line with it, and the volts that its scale was made for.
    fixed: Ohms
    nominal: Volts
    #: The point where its supply is read, and the part that makes it.
    point: str
    regulator: str = ""
    #: How far the pointer may be off, as a share of the scale.
    within: Share = 0.05
    where: str = ""
    contacts: tuple[Touch, ...] = ()


class Setting(FromFile, frozen=True, kw_only=True):
    """A switch, jumper or menu entry, and how it must stand."""

    id: str
    name: str
    want: str
    #: All that it can stand at; empty for on and off.
    choices: tuple[str, ...] = ()
    why: str = ""
    place: str = ""


class SwitchesTrim(_Trim, frozen=True, kw_only=True):
    """Switches, jumpers and menus as a list."""

    kind: Literal["switches"]
    settings: tuple[Setting, ...]


Trim = TurnTrim | ChannelsTrim | StagesTrim | TransferTrim | SenderTrim | SwitchesTrim


class Shaken(FromFile, frozen=True, kw_only=True):
    """What may come loose on a journey, and what is done about it."""

    id: str
    name: str
    what: Literal["plug", "card", "screw", "ground", "adjuster", "part"] = "plug"
    place: str = ""
    #: What is done with it: `push it home`.
    mend: str = ""

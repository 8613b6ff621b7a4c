"""Where the leads go for a test of the reasoning, and how its figures are written."""

from collections.abc import Iterable

from msgspec import Struct

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import (
    Block,
    Decoupling,
    Dropper,
    FuseBlock,
    Indicator,
    Load,
    Pin,
    Rectifier,
    Regulator,
    Reservoir,
    Switch,
    Transformer,
    block_inputs,
    block_outputs,
    is_source,
    returns_of,
)
from bench_lamp.board.condition import TestKind
from bench_lamp.cards.capacitor_cards import SETTINGS as CAPACITOR_SETTINGS
from bench_lamp.cards.capacitor_cards import capacitor_leads
from bench_lamp.cards.card import Lead
from bench_lamp.cards.flow_words import DISPLAY, flow_setting
from bench_lamp.cards.lift_words import SETTING, lift_leads
from bench_lamp.case.case import Case
from bench_lamp.case.cautions import is_mains
from bench_lamp.case.disturbed import DONE, WITH
from bench_lamp.case.looks import fed_by, look_text
from bench_lamp.reason.values.tests import Test
from bench_lamp.units import engineering
from bench_lamp.units.format import capacitance

UNITS = {
    "dc": "V",
    "ac": "V~",
    "ohm": "Ω",
    "tone": "",
    "drop": "V",
    "amps": "A",
    "look": "",
    "hertz": "Hz",
    "farads": "F",
    "esr": "Ω",
    **dict.fromkeys(DONE, ""),
}
SETTINGS = {
    "dc": "DC volts",
    "ac": "AC volts",
    "ohm": "ohms",
    "tone": "continuity",
    "drop": SETTING,
    "amps": DISPLAY,
    "look": "by eye",
    "hertz": "Hz, on AC volts",
    **CAPACITOR_SETTINGS,
    **dict.fromkeys(DONE, "by hand and eye"),
}
#: Below this, in volts or amperes, a figure across a part or through it says only that it is small.
LEAST_SHOWN = 1e-3
#: From here on ohms say only "open", as the reasoning takes them.
OPEN_OHM = 1e5


def point_on(case: Case, net: str) -> TestPoint | None:
    """Return the test point of a net, if it has one."""
    return case.profile.point_on(net)


class NetName(Struct, frozen=True):
    """What a net is called, and where the red lead touches it."""

    text: str
    red: str
    #: Whether the name says where: `before F4` needs no "at".
    is_place: bool = False

    def after(self, preposition: str) -> str:
        """Say the name behind a preposition, where it needs one."""
        return self.text if self.is_place else f"{preposition} {self.text}"


def name_of(case: Case, net: str) -> NetName:
    """Name a net in a word or two: its point's letter, else before or after which part it is."""
    point = point_on(case, net)
    return NetName(point.id, point.place or point.name) if point else _unmarked(case, net)


def net_title(case: Case, net: str) -> str:
    """Name a net for a person: its point and name, else before or after which part it is."""
    point = point_on(case, net)
    return f"{point.id}, {point.name}" if point else _unmarked(case, net).text


def _unmarked(case: Case, net: str) -> NetName:
    """Return what a net without a point is called."""
    power = case.profile.power
    feeder = next((b for b in power if net in block_outputs(b)), None)
    named = _at_capacitor(power, net) or _before_contact(power, net, feeder.id if feeder else "")
    if named is not None:
        return named
    if isinstance(feeder, Rectifier):
        pole = "−" if feeder.negative else "+"
        return NetName(f"{feeder.id} {pole}", f"{feeder.id}, the {pole} lug")
    if feeder is None or isinstance(feeder, Transformer):
        return NetName(f"the winding {net}", f"the winding {net}")
    after = next((b.id for b in power if net in block_inputs(b) and not isinstance(b, Load)), "")
    side = f"{feeder.id}, on {after}’s side" if after else f"{feeder.id}, the far side"
    return NetName(f"after {feeder.id}", side, is_place=True)


def _at_capacitor(power: Iterable[Block], net: str) -> NetName | None:
    found = (b for b in power if isinstance(b, Reservoir | Decoupling) and b.net == net)
    return next((NetName(f"{b.id} +", f"{b.id}, the + lead") for b in found), None)


def _before_contact(power: Iterable[Block], net: str, feeder: str) -> NetName | None:
    found = (b for b in power if isinstance(b, FuseBlock | Switch) and net in block_inputs(b))
    side = feeder or "the mains"
    block = next(found, None)
    if block is None:
        return None
    return NetName(f"before {block.id}", f"{block.id}, the clip on {side}’s side", is_place=True)


def leads(case: Case, test: Test) -> tuple[Lead, ...]:
    """Return where red and black go, and what the meter is set to."""
    if test.kind == TestKind.TONE:
        block = case.profile.block(test.target)
        return (
            Lead(kind="red", text=f"{test.target}, one cap"),
            Lead(kind="black", text=f"{test.target}, the other cap"),
            Lead(kind="meter", text="continuity"),
            Lead(kind="hand", text=f"fuse out; {block.place if block else ''}".rstrip("; ")),
        )
    if test.kind.is_on_part:
        return part_leads(case, test)
    point = point_on(case, test.target)
    red = name_of(case, test.target).red if point else _with_place(case, test.target)
    return (
        Lead(kind="red", text=red),
        Lead(kind="black", text=_black(case, test, point)),
        Lead(kind="meter", text=_meter(case, test)),
    )


def part_leads(case: Case, test: Test) -> tuple[Lead, ...]:
    """Return where both leads go on one part, or where to look."""
    block = case.profile.block(test.target)
    place = block.place if block and block.place else test.target
    if isinstance(block, Indicator):
        through = f" through {block.through}" if block.through else ""
        return (
            Lead(kind="hand", text=f"{block.shows}, {place}"),
            Lead(kind="fed", text=f"{fed_by(case, block.net)}{through}"),
        )
    if test.kind.is_of_capacitor:
        return capacitor_leads(block, test)
    if test.kind.is_disturbing:
        return (Lead(kind="hand", text=place), Lead(kind="how", text=WITH[test.kind][0]))
    if test.kind == TestKind.AMPS or block is None:
        return (Lead(kind="hand", text=place), Lead(kind="meter", text=flow_setting(case, block)))
    if test.kind == TestKind.DROP and returns_of(block):
        return lift_leads(case, block)
    first, last = _ends(block)
    is_ac = case.tree.is_ac(block_inputs(block)[0])
    return (
        Lead(kind="red", text=f"{test.target}, {first}"),
        Lead(kind="black", text=f"{test.target}, {last}; not ground"),
        Lead(kind="meter", text=SETTINGS["ac" if is_ac else test.kind]),
    )


def _ends(block: Block) -> tuple[str, str]:
    """Name the two ends of a part: where the current comes from, and where it goes."""
    if isinstance(block, FuseBlock):
        return "the clip that is fed", "the other clip, on the board side"
    if isinstance(block, Pin):
        return "the joint of the pin on the feeding side", "the crimp behind the contact"
    if isinstance(block, Regulator | Dropper):
        return "its input", "its output"
    return "the end that is fed", "the far end"


def _with_place(case: Case, net: str) -> str:
    words = _unmarked(case, net).red
    block = case.profile.block(words.partition(",")[0])
    return f"{words}; {block.place}" if block and block.place else words


def _black(case: Case, test: Test, point: TestPoint | None) -> str:
    found = black_point(case, test, point)
    if found is not None:
        return case.profile.ground_of(found).place
    if is_mains(case, test.target):
        return "neutral, at the mains inlet"
    wants_ac = test.kind == TestKind.AC and case.tree.is_ac(test.target)
    return "the other end of that winding" if wants_ac else "the return of this supply"


def black_point(case: Case, test: Test, point: TestPoint | None) -> TestPoint | None:
    """Return the point whose ground a test's black lead belongs on: its own, or one of that winding."""
    if point is not None or is_mains(case, test.target):
        return point
    wants_ac = test.kind == TestKind.AC and case.tree.is_ac(test.target)
    winding = _winding_of(case, test.target)
    same = (p for p in case.profile.test_points if winding and _winding_of(case, p.net) == winding)
    return next((p for p in same if (p.mode == "ac V") == wants_ac), None)


def _winding_of(case: Case, net: str) -> str:
    """Return the net of the winding or DC inlet that feeds a net; empty before the transformer."""
    chain = case.tree.upstream(net)
    at = next((i for i, b in enumerate(chain) if is_source(b)), None)
    if at is None:
        return ""
    behind = [b for b in chain[at + 1 :] if not isinstance(b, Reservoir)]
    return block_inputs(behind[0])[0] if behind else net


def _meter(case: Case, test: Test) -> str:
    if test.kind not in {TestKind.DC, TestKind.AC}:
        return SETTINGS[test.kind]
    point = point_on(case, test.target)
    mode = f"{test.kind} V"
    top = point.top_volts if point else 0.0
    found = case.meter.range_for(mode, top if point and point.mode == mode else 0.0)
    scale = f", {found.full_scale:g}\u202fV range" if found and top else ""
    return f"{SETTINGS[test.kind]}{scale}"


def figure(kind: str, value: float) -> str:
    """Write one figure of a prediction with no more digits than it deserves.

    >>> figure("dc", 17.72), figure("ohm", 4.04), figure("ac", 0.004)
    ('17.7\u202fV', '4.0\u202fΩ', '0.00\u202fV~')
    """
    if kind == TestKind.OHM and value >= OPEN_OHM:
        return "open"
    if kind == TestKind.LOOK:
        return look_text(value)
    if kind == TestKind.FARADS:
        return capacitance(value, figures=2)
    if kind == TestKind.HERTZ:
        return engineering(value, "Hz", resolution=1.0)
    if kind in {TestKind.DROP, TestKind.AMPS, TestKind.ESR}:
        return _small(kind, abs(value))
    size = abs(value)
    resolution = 10.0 ** (-2 if size < 9.95 and kind != TestKind.OHM else -1 if size < 100 else 0)
    if size < 0.5 * resolution:
        value = 0.0
    if size >= 1000:
        resolution = 10.0 ** (len(str(int(size))) - 2)
    return engineering(value, UNITS[kind], resolution=resolution)


def _small(kind: str, value: float) -> str:
    """Write volts across a part or amperes through it: two digits, down to a thousandth.

    >>> _small("drop", 0.0118), _small("amps", 0.787), _small("drop", 4.26)
    ('12\u202fmV', '0.79\u202fA', '4.3\u202fV')
    >>> _small("drop", 0.0007)
    'under 1\u202fmV'
    """
    if value < LEAST_SHOWN:
        return f"under 1\u202fm{UNITS[kind]}"
    if value < 0.1:
        return engineering(value, UNITS[kind], resolution=0.001)
    return engineering(value, UNITS[kind], resolution=0.01 if value < 1 else 0.1)


def span(kind: str, low: float, high: float) -> str:
    """Write a range of a prediction: `14.0 to 18.5 V~`, `over 40 Ω`."""
    if kind == TestKind.TONE:
        return ""
    if kind == TestKind.OHM and high >= OPEN_OHM:
        return f"over {figure(kind, low)}" if low < OPEN_OHM else "open"
    first, last = figure(kind, low), figure(kind, high)
    if kind in {TestKind.DROP, TestKind.AMPS, TestKind.ESR} and low < LEAST_SHOWN:
        return f"up to {last}" if high >= LEAST_SHOWN else last
    number, _, unit = first.partition("\u202f")
    if first == last:
        return first
    return f"{number} to {last}" if last.endswith(unit) else f"{first} to {last}"

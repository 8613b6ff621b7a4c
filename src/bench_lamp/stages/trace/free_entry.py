"""“I did something else”: any test or isolation step, as one says it at the bench."""

from bench_lamp.board.blocks import FuseBlock, Indicator, Inlet, Reservoir, Switch, returns_of
from bench_lamp.board.profile import MeterMode, PointMode
from bench_lamp.cards.card import Accepted, Answer, Card, Entry, Refused, Typed
from bench_lamp.cards.commands import AskPower
from bench_lamp.cards.findings import read_finding
from bench_lamp.cards.leads import UNITS, point_on
from bench_lamp.cards.part_readings import take_lift, take_part_reading, what_feeds
from bench_lamp.cards.reading_entry import take_reading
from bench_lamp.cards.said import take_said
from bench_lamp.cards.said_part import take_said_part
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.journal.events import (
    MENDING,
    ActionDone,
    Complaint,
    PartReplaced,
    PowerConfirmed,
    ReadingTaken,
)
from bench_lamp.stages.trace.free_entry_logic import take_logic
from bench_lamp.units import UnitError, parse_quantity

_OFF, _ON = {"off", "out", "pulled", "lifted", "unplugged"}, {"on", "in", "back", "refitted"}
_OPEN, _TONED = {"open", "blown"}, {"ok", "good", "toned", "tones"}
#: What a reading is of, said before its figure.
_MODE: dict[str, PointMode] = {
    "dc": "dc V",
    "ac": "ac V",
    "ripple": "ac V",
    "ohm": "ohm",
    "ohms": "ohm",
}
#: Stands for what came out or went in, where nobody said it.
NOT_SAID = "not said"
_POWER = {"off": "off", "discharged": "discharged", "live": "live", "on": "live"}


def free_entry_card(case: Case) -> Card:
    """Ask what was done, in a few words."""
    return Card(
        id="trace-else",
        kind="Instead",
        title="What did you do?",
        entry=Entry(
            kind="text", field="did", hint="C 18.2 · J3 off · F4 open", options=_names(case)
        ),
        why_heading="As one says it",
        why=(
            "C 18.2   C ac 0.3   lamp_drv 4.1 ohm",
            "J3 off   J3 on   C2 out   F4 open   F4 ok",
            "twin E 37.8   bulged C2   reseated J3   replaced F4",
            "F4 drop 0.3   J3.5 across 12m   X1 0.85 A",
            "C 100 Hz   J3.5 moved   J3.5 moved same",
            *_capacitor_lines(case),
            *_return_lines(case),
            *_indicator_lines(case),
            "power off   mains 116   complaint hums",
            *(("U7 pin 1 low   U7 pulled same   U7 tester pass",) if case.profile.chips else ()),
        ),
    )


def _indicator_lines(case: Case) -> tuple[str, ...]:
    shown = next((b.id for b in case.profile.power if isinstance(b, Indicator)), "")
    return (f"{shown} dim   {shown} flash   what feeds {shown}",) if shown else ()


def _capacitor_lines(case: Case) -> tuple[str, ...]:
    name = next((b.id for b in case.profile.power if isinstance(b, Reservoir)), "")
    return (f"{name} 7900 uF   {name} esr 0.08",) if name else ()


def _return_lines(case: Case) -> tuple[str, ...]:
    grounds = [g for b in case.profile.power if (g := returns_of(b))]
    return (f"lift {grounds[0]} 0.3",) if grounds else ()


def _names(case: Case) -> tuple[str, ...]:
    points = (p.id for p in case.profile.test_points)
    return tuple(dict.fromkeys([*points, *case.profile.part_ids(), *case.tree.nets]))


def take_free_entry(case: Case, hand: Hand, text: str) -> Answer:
    """Read what was done; nothing is logged unless all of it is understood."""
    words = text.split()
    if len(words) < 2:
        return _not_understood(text)
    head, tail = words[0].lower(), " ".join(words[1:])
    answer = _take_said(case, hand, head, tail)
    if answer is not None:
        return answer
    part = _part(case, words[0])
    if part and (answer := _take_part(case, hand, part, tail.lower())):
        return answer
    target = _target(case, words[0])
    if target and (any(c.isdigit() for c in tail) or tail.upper() == "OL"):
        return _take_value(case, hand, target, tail)
    said = take_said_part(case, text) or take_said(case, hand, text)
    if said is not None:
        return said
    finding = read_finding(case, text) if not head.isdigit() else None
    if finding is not None and finding.place:
        return Accepted(log=(finding,), focus="")
    return _not_understood(text)


def _take_said(case: Case, hand: Hand, head: str, tail: str) -> Answer | None:
    """Read what begins with a word of its own; None where it begins with a name."""
    if head == "power":
        return _take_power(tail)
    asked = _part(case, tail.split()[-1]) if head == "what" else ""
    if asked:
        return what_feeds(case, asked)
    if head == "mains":
        return _take_mains(case, tail)
    ground, _, volts = tail.partition(" ")
    if head == "lift" and volts:
        return take_lift(case, hand, ground, volts)
    if head == "twin":
        return _take_twin(case, tail)
    if head == "complaint":
        return Accepted(log=(Complaint(text=tail),), focus="")
    if head == "replaced":
        return _take_replaced(case, tail)
    return _take_mended(case, head, tail) if head in MENDING else None


def _not_understood(text: str) -> Refused:
    return Refused(
        what=f"“{text[:28]}” names no test or step that is known here",
        mend="Begin with a point, net or part: C 18.2, J3 off, F4 open, bulged C2.",
    )


def _part(case: Case, word: str) -> str:
    """Return a block, pin or connector by its name, as the profile writes it."""
    profile = case.profile
    known = {b.id.lower(): b.id for b in profile.power}
    known |= {name.lower(): name for name in profile.part_ids()}
    return known.get(word.lower(), "")


def _target(case: Case, word: str) -> str:
    """Return a point's id or a net's name; a net with a point goes by the point."""
    point = case.profile.point_called(word)
    if point is not None:
        return point.id
    word = next((n for a, n in case.profile.aliases.items() if a.lower() == word.lower()), word)
    net = next((n for n in case.tree.nets if n.lower() == word.lower()), "")
    on_net = point_on(case, net) if net else None
    return on_net.id if on_net else net


def _take_part(case: Case, hand: Hand, part: str, what: str) -> Answer | None:
    state = case.state
    answer = take_part_reading(case, hand, part, what)
    if answer is not None:
        return answer
    if what in _OFF:
        return Accepted(log=(ActionDone(action="removed for test", target=part),), focus="")
    if what in _ON:
        if part not in state.out:
            return Refused(what=f"{part} is not off", mend=_now_out(case))
        return Accepted(log=(ActionDone(action="refitted", target=part),), focus="")
    if what in _OPEN | _TONED:
        return _take_tone(case, part, is_open=what in _OPEN)
    return take_logic(case, part, what)


def _now_out(case: Case) -> str:
    out = sorted(case.state.out)
    return f"Off now: {', '.join(out)}." if out else "Nothing is off now."


def _take_tone(case: Case, part: str, *, is_open: bool) -> Answer:
    if not isinstance(case.profile.block(part), FuseBlock | Switch):
        return Refused(
            what=f"{part} is no fuse or switch", mend="Test a fuse or switch, or log it under Swap."
        )
    if case.state.power.is_live:
        return Refused(
            what="A continuity test on a live board reads nonsense and can kill the meter",
            mend="Switch off, discharge, confirm with Ctrl+P, then test continuity again.",
        )
    body = ReadingTaken(
        target=part,
        mode="tone",
        value=float(is_open),
        meter=case.meter.id,
        power=case.state.power.logged,
    )
    return Accepted(log=(body,), focus="")


def _take_mended(case: Case, action: str, name: str) -> Answer:
    part = _part(case, name.strip())
    if not part:
        return Refused(
            what=f"“{name[:24]}” is no part of this profile", mend="Name it as it is marked."
        )
    return Accepted(log=(ActionDone(action=action, target=part),), focus="")  # type: ignore[arg-type]


def _take_replaced(case: Case, text: str) -> Answer:
    """Take `F4`, or `F4 10 A slow` with what went in."""
    name, _, fitted = text.partition(" ")
    part = _part(case, name)
    if not part:
        return Refused(
            what=f"“{name[:24]}” is no part of this profile", mend="Name it as it is marked."
        )
    body = PartReplaced(part=part, out=NOT_SAID, fitted=fitted.strip() or NOT_SAID)
    return Accepted(log=(body,), focus="")


def _take_power(text: str) -> Answer:
    power = _POWER.get(text.lower())
    if power is None:
        return Refused(
            what=f"“{text[:24]}” is no power state", mend="Write off, discharged or live."
        )
    if power == "live":
        return Accepted(focus="", command=AskPower())
    return Accepted(log=(PowerConfirmed(power=power),), focus="")  # type: ignore[arg-type]


def _take_value(case: Case, hand: Hand, target: str, text: str) -> Answer:
    word, _, rest = text.partition(" ")
    point = case.profile.point(target)
    mode: MeterMode = point.mode if point else ("ac V" if case.tree.is_ac(target) else "dc V")
    if rest and word.lower() in _MODE:
        mode, text = _MODE[word.lower()], rest
    elif _unit(text) in {"Ω", "Hz"}:
        mode = "ohm" if _unit(text) == "Ω" else "Hz"
    answer = take_reading(
        case, hand, Entry(kind="reading", target=target, mode=mode), Typed(text=text)
    )
    return Accepted(log=answer.log, focus="") if isinstance(answer, Accepted) else answer


def _unit(text: str) -> str:
    try:
        return parse_quantity(text).unit
    except UnitError:
        return ""


def _take_mains(case: Case, text: str) -> Answer:
    """Take what the mains reads at the inlet: it goes into all that is expected."""
    inlet = next((b for b in case.profile.power if isinstance(b, Inlet) and not b.is_dc), None)
    if inlet is None:
        return Refused(what="No mains comes into this board", mend="Read its DC inlet.")
    try:
        found = parse_quantity(text, "V~")
    except UnitError as exc:
        return Refused(what=str(exc), mend=exc.hint or "Write mains 116.")
    if found.is_overload or found.value < 0:
        return Refused(what=f"“{text[:24]}” is no mains", mend="Write mains 116, in volts AC.")
    body = ReadingTaken(
        target=inlet.id,
        mode="ac V",
        value=found.value,
        resolution=found.resolution,
        power=case.state.power.logged,
        meter=case.meter.id,
    )
    return Accepted(log=(body,), focus="")


def _take_twin(case: Case, text: str) -> Answer:
    """Take what a known-good board of the same kind reads: `E 37.8`."""
    name, _, value = text.partition(" ")
    target = _target(case, name)
    point = case.profile.point(target)
    if not target:
        return Refused(what=f"“{name[:24]}” is no point of this profile", mend="Write twin E 37.8.")
    mode = point.mode if point else ("ac V" if case.tree.is_ac(target) else "dc V")
    try:
        found = parse_quantity(value, UNITS[_KIND[mode]])
    except UnitError as exc:
        return Refused(what=str(exc), mend=exc.hint)
    body = ReadingTaken(
        target=target,
        mode=mode,
        value=found.value,
        resolution=found.resolution,
        power="live",
        meter=case.meter.id,
        twin="twin",
    )
    return Accepted(log=(body,), focus="")


_KIND: dict[str, str] = {"dc V": "dc", "ac V": "ac", "ohm": "ohm"}

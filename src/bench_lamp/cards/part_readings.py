"""What is read of a part, live: the volts across it, what flows through it, how an indicator looks."""

from bench_lamp.board.blocks import (
    Block,
    Contact,
    Diode,
    Dropper,
    Indicator,
    Inlet,
    Regulator,
    Reservoir,
    block_inputs,
    returns_of,
)
from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.board.metering import is_steady
from bench_lamp.board.profile import MeterMode
from bench_lamp.cards.capacitor_cards import WORDS as CAPACITOR_WORDS
from bench_lamp.cards.capacitor_cards import capacitor_card
from bench_lamp.cards.card import Accepted, Answer, Asked, Card, Choice, Entry, Refused, Typed
from bench_lamp.cards.commands import AskPower
from bench_lamp.cards.flow_words import flow_cautions
from bench_lamp.cards.leads import UNITS, leads
from bench_lamp.cards.lift_words import ends_of_return
from bench_lamp.cards.power import live_question
from bench_lamp.cards.reading_entry import take_reading
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.disturbed import CHANGES, DO, SAME, WITH
from bench_lamp.case.facts import MODES
from bench_lamp.case.hand import Hand
from bench_lamp.case.looks import TYPED, fed_by, words_of
from bench_lamp.instrument.protocol import Request
from bench_lamp.journal.events import ReadingTaken
from bench_lamp.reason.power.plain import HEATED
from bench_lamp.reason.values.tests import Test
from bench_lamp.units import UnitError, parse_quantity

#: What was done to a part and whether it changed anything, as it is typed: `moved`, `cooled same`.
_DISTURBED = {
    f"{word}{tail}": (mode, value)
    for mode, words in (
        ("wiggle", ("moved", "wiggled")),
        ("cool", ("cooled", "frozen")),
        ("heat", ("heated",)),
    )
    for word in words
    for tail, value in (
        ("", CHANGES),
        (", it changes", CHANGES),
        (" changes", CHANGES),
        (" same", SAME),
    )
}
#: Said before a figure that was read with both leads on one part.
_DROP = {"drop", "across"}


def part_card(case: Case, test: Test, volts: float) -> Card:
    """Ask for what is read of a part; `volts` is what both leads carry against ground."""
    block = case.profile.block(test.target)
    if test.kind == TestKind.LOOK and isinstance(block, Indicator):
        return _look_card(case, test, block)
    if test.kind.is_disturbing:
        return _disturbing_card(case, test, volts)
    if test.kind.is_of_capacitor:
        return capacitor_card(case, test)
    hurts = cautions.for_net(case, _fed(block), volts) if block else ()
    if test.kind == TestKind.AMPS:
        hurts = (*hurts, *flow_cautions(case, block))
    lift = _lift_words(case, test, block)
    if test.kind == TestKind.DROP and not lift:
        hurts = (*hurts, "Both leads are live: neither goes to ground.")
    return Card(
        id="",
        title=lift or part_words(test, capital=True),
        cautions=hurts,
        leads=leads(case, test),
        entry=Entry(
            kind="reading", unit=UNITS[test.kind], target=test.target, mode=MODES[test.kind]
        ),
    )


def _lift_words(case: Case, test: Test, block: Block | None) -> str:
    """Say that a ground's lift is read; empty for anything else."""
    if block is None or test.kind != TestKind.DROP or not returns_of(block):
        return ""
    lifted, first = (case.profile.grounds[name].name for name in ends_of_return(case, block))
    return f"Volts from {lifted} to {first}"


def take_lift(case: Case, hand: Hand, ground: str, text: str) -> Answer:
    """Read `0.3 V` from a ground to the first one: the drop of what returns its current."""
    names = {g.lower(): g for g in case.profile.grounds}
    returned = names.get(ground.lower(), "")
    block = next((b for b in case.profile.power if returned and returns_of(b) == returned), None)
    if block is None:
        known = [returns_of(b) for b in case.profile.power]
        return Refused(
            what=f"The profile names no return of “{ground[:24]}”",
            mend=f"Name one of {', '.join(filter(None, known))}."
            if any(known)
            else "Give a contact or wire the ground whose current it returns: returns: game_gnd.",
        )
    return _take(case, hand, Entry(kind="reading", target=block.id, mode="drop"), text)


def _fed(block: Block) -> str:
    """Return the net that feeds a block; of an inlet the one that it feeds."""
    return block.to if isinstance(block, Inlet) else block_inputs(block)[0]


def part_words(test: Test, *, capital: bool = False) -> str:
    """Say what is read of a part: `volts across F4`, `look at LED3`."""
    words = {
        TestKind.DROP: f"volts across {test.target}",
        TestKind.AMPS: f"current at {test.target}",
        TestKind.LOOK: f"look at {test.target}",
        **{kind: f"{word} of {test.target}" for kind, word in CAPACITOR_WORDS.items()},
        **{TestKind(mode): f"{word} {test.target}" for mode, word in DO.items()},
    }[test.kind]
    return words[:1].upper() + words[1:] if capital else words


def _look_card(case: Case, test: Test, block: Indicator) -> Card:
    """Ask how an indicator looks, by a key for each way."""
    does = "It" if block.shows in {"fan", "relay"} else "It is"
    choices = tuple(
        Choice(key=str(n), text=f"{does} {word}", log=(seen_of(case, block.id, "look", value),))
        for n, (value, word) in enumerate(words_of(block.shows).items(), start=1)
    )
    return _seen_card(case, test, part_words(test, capital=True), (), choices)


def _disturbing_card(case: Case, test: Test, volts: float) -> Card:
    """Ask for a contact to be moved, or a part cooled or heated, while the rail behind it is watched."""
    block, mode = case.profile.block(test.target), MODES[test.kind]
    live = cautions.for_net(case, _fed(block), volts) if block else ()
    mind = WITH[mode][1]
    choices = tuple(
        Choice(key=key, text=text, log=(seen_of(case, test.target, mode, value),))
        for key, text, value in (("1", "Nothing changes", SAME), ("2", "It changes", CHANGES))
    )
    tail = " with a dry stick" if test.kind == TestKind.WIGGLE else ", and watch"
    title = f"{part_words(test, capital=True)}{tail}"
    return _seen_card(case, test, title, (*live, *((mind,) if mind else ())), choices)


def _seen_card(
    case: Case, test: Test, title: str, live: tuple[str, ...], choices: tuple[Choice, ...]
) -> Card:
    """Ask for what is seen without a meter; of a board that is off, for the power first."""
    state = case.state
    if not state.power.is_live:
        on = Choice(key="1", text="Confirm that it is on", command=AskPower())
        return Card(
            id="",
            title=f"Switch on, then {part_words(test)}",
            leads=leads(case, test),
            choices=(on,),
        )
    condition = Condition(out=state.out, hung=state.hung)
    return Card(
        id="",
        title=title,
        cautions=live,
        leads=leads(case, test),
        choices=choices,
        asks=Request(kind=test.kind, target=test.target, condition=condition, mended=state.renewed),
    )


def seen_of(case: Case, part: str, mode: MeterMode, value: float) -> ReadingTaken:
    """Return the event of what was seen of a part, without a meter."""
    return ReadingTaken(
        target=part,
        mode=mode,
        value=value,
        power=case.state.power.logged,
        out=tuple(sorted(case.state.out)),
        hung=tuple(sorted(case.state.hung)),
        limiter=case.state.power.limiter,
    )


def take_part_reading(case: Case, hand: Hand, part: str, text: str) -> Answer | None:
    """Read `drop 0.3`, `0.85 A` or `dim` of a part; None where it says something else."""
    block = case.profile.block(part)
    if isinstance(block, Indicator):
        return _take_look(case, part, text)
    word, _, rest = text.partition(" ")
    if isinstance(block, Reservoir) and (answer := _take_capacitor(case, hand, part, text)):
        return answer
    mode, value = _DISTURBED.get(text, ("", SAME))
    if mode and isinstance(block, Contact if mode == "wiggle" else HEATED):
        return _take_seen(case, seen_of(case, part, mode, value))  # type: ignore[arg-type]
    if word in _DROP and rest:
        if not isinstance(block, Contact | Diode | Dropper | Regulator):
            return _no_current(case, part)
        return _take(case, hand, Entry(kind="reading", target=part, mode="drop"), rest)
    if not _is_amps(text):
        return None
    is_dc = isinstance(block, Inlet) and block.is_dc
    if not is_dc and not (isinstance(block, Contact) and is_steady(case.profile, block)):
        return Refused(
            what=f"The current through {part} is no evidence here",
            mend="Read the current of a DC inlet, or of a fuse or contact that no rectifier is behind.",
        )
    return _take(case, hand, Entry(kind="reading", target=part, mode="A"), text)


def _take_capacitor(case: Case, hand: Hand, part: str, text: str) -> Answer | None:
    """Read `7900 uF` or `esr 0.08` of a reservoir in circuit; None where it says something else."""
    word, _, rest = text.partition(" ")
    if word.lower() == "esr" and rest:
        return _take(case, hand, Entry(kind="reading", target=part, mode="esr"), rest)
    try:
        is_farads = parse_quantity(text).unit == "F"
    except UnitError:
        return None
    return (
        _take(case, hand, Entry(kind="reading", target=part, mode="F"), text) if is_farads else None
    )


def _no_current(case: Case, part: str) -> Refused:
    """Refuse both leads on what is no way from one net to the next; name a connector's pins."""
    pins = [b.id for b in case.profile.power if b.id.startswith(f"{part}.")]
    if pins:
        return Refused(
            what=f"{part} has several contacts", mend=f"Name the one: {', '.join(pins[:4])}."
        )
    return Refused(
        what=f"{part} is not read with both leads on it",
        mend="Read across a fuse, contact, switch, wire, diode or regulator.",
    )


def _take(case: Case, hand: Hand, entry: Entry, text: str) -> Answer:
    answer = take_reading(case, hand, entry, Typed(text=text))
    return Accepted(log=answer.log, focus="") if isinstance(answer, Accepted) else answer


def _take_look(case: Case, part: str, text: str) -> Answer | None:
    value = TYPED.get(text.lower())
    if value is None:
        return Refused(
            what=f"“{text[:24]}” does not say how {part} looks",
            mend="Write on, dim, out, bright, or flash for on and then out.",
        )
    return _take_seen(case, seen_of(case, part, "look", value))


def _take_seen(case: Case, body: ReadingTaken) -> Answer:
    """Take what was seen without a meter; ask whether the board is live."""
    off = Choice(key="o", text="Still off; log it as seen off", log=(body,))
    return live_question(case, off) or Accepted(log=(body,), focus="")


def _is_amps(text: str) -> bool:
    try:
        return parse_quantity(text).unit == "A"
    except UnitError:
        return False


def what_feeds(case: Case, part: str) -> Asked:
    """Answer what feeds a part or indicator."""
    block = case.profile.block(part)
    if isinstance(block, Inlet):
        said = f"{part} is where it comes in."
    else:
        said = f"{part} is fed by {fed_by(case, _fed(block) if block is not None else '')}."
    return Asked(question=said, choices=(Choice(key="o", text="Go on"),))

"""What stands in the way of setting: an adjuster that does nothing, jumps or ends; a reading that breaks something."""

from bench_lamp.board.trims import TrimReading, TurnTrim
from bench_lamp.cards.card import Card, Choice, Entry
from bench_lamp.cards.commands import AskPower
from bench_lamp.case.case import Case
from bench_lamp.case.house_rules import rule
from bench_lamp.case.trims.turning import Turning
from bench_lamp.journal.events import Body, Finding
from bench_lamp.journal.trim_events import AdjusterFound
from bench_lamp.stages.trim.kinds.quantities import hint_of, shown
from bench_lamp.stages.trim.steps import cautions_of, ended_as

#: The entry of the kind’s cards.
VALUE = "trim"


def value_entry(target: str, quantities: tuple[TrimReading, ...]) -> Entry:
    """Return the entry for readings; its target is what the map lights: a point or an adjuster."""
    return Entry(kind="text", field=VALUE, target=target, hint=hint_of(quantities))


def sense_words(case: Case, trim: TurnTrim) -> tuple[str, ...]:
    """Say what the shop's school does with the sense line; nothing where there is none."""
    if not trim.sense:
        return ()
    if rule(case, "sense lines") == "kept":
        return (
            f"{trim.sense} senses at the board: a corroded line drives it up. Read both ends of it first.",
        )
    return (
        f"{trim.sense} is tied at the supply: what the harness drops is missing at the board, set it a little high.",
    )


def broken_by(trim: TurnTrim, now: Turning) -> tuple[str, ...]:
    """Say which reading is above what breaks something: before anything else."""
    return tuple(
        f"{r.name} is above {shown(r, r.most)}: turn it back at once, or switch off."
        for r in trim.readings
        if r.id in now.now and now.now[r.id].value > r.most
    )


def unsafe_card(case: Case, trim: TurnTrim, now: Turning) -> Card:
    """Say that no turn is known to help without breaking something."""
    return Card(
        id=f"trim:{trim.id}:unsafe:{now.count}",
        kind="No turn is known to help",
        title="Switch it off, then trace it",
        cautions=(*broken_by(trim, now), *cautions_of(case, trim)),
        entry=value_entry(trim.adjusters[0].id, trim.readings),
        choices=(Choice(key="1", text="Say how the power is", command=AskPower()),),
        why_heading="Why",
        why=(
            "Any turn by these slopes leads towards what breaks.",
            "Read once more, or say a turn that you made.",
        ),
        marks_cell=True,
    )


def sign_card(case: Case, trim: TurnTrim, now: Turning) -> Card:
    """Say what the adjuster shows, and lead back to the suspects with it."""
    name, sign = now.signs[0] if now.signs else (trim.adjusters[0].id, "at its end stop")
    sign = _stays(trim, now, sign)
    parts = trim.signs.get(sign, ())
    log: tuple[Body, ...] = tuple(Finding(seen="will not set", place=p) for p in parts)
    end = ended_as(trim, "left", f"{name} {sign}")
    return Card(
        id=f"trim:{trim.id}:sign:{now.count}",
        kind="It does not set",
        title=f"{name} {sign}",
        cautions=cautions_of(case, trim),
        entry=value_entry(name, trim.readings),
        choices=(
            Choice(key="1", text="Trace it", log=(*log, end), go="trace"),
            Choice(
                key="2",
                text="Track cleaned: go on",
                log=(AdjusterFound(trim=trim.id, adjuster=name, word="dirty"),),
            ),
        )[: 2 if sign == "jumps" else 1],
        why_heading="What that speaks for",
        why=(
            *_SIGN_WORDS.get(sign, ()),
            *((f"Likely: {', '.join(parts)}.",) if parts else ()),
            *sense_words(case, trim),
        ),
        marks_cell=True,
    )


_SIGN_WORDS = {
    "does nothing": (
        "Turned twice, and no reading moved: the adjuster, its wire, or what it sets.",
    ),
    "jumps": ("Its turns contradict each other: a dirty track. Clean it, or fit another.",),
    "at its end stop": (
        "The band lies beyond its travel. An adjuster near its end hides a fault elsewhere.",
    ),
    "does not come down": (
        "At its end and still high: what it sets passes its input, senses nothing, or has no load.",
    ),
}


def _stays(trim: TurnTrim, now: Turning, sign: str) -> str:
    """A reading that is still high at the end stop does not come down."""
    is_high = any(v.word == "high" for v in now.now.values())
    return "does not come down" if sign == "at its end stop" and is_high else sign

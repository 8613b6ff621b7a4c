"""One adjuster and one reading, or two that pull on each other: read, turn, read again, until it stands still."""

from bench_lamp.board.trims import TurnTrim
from bench_lamp.cards.card import Card, Choice, Entry, Lead
from bench_lamp.cards.instrument_trim import trim_request
from bench_lamp.case.case import Case
from bench_lamp.case.facts import mains_read
from bench_lamp.case.hand import Hand, Pick
from bench_lamp.case.trims.rounds import warm_words
from bench_lamp.case.trims.turning import Turning, asked_for, turning_of
from bench_lamp.journal.events import Body
from bench_lamp.journal.trim_events import AdjusterFound, AdjusterTurned
from bench_lamp.stages.trim.kinds.quantities import band_words, change_words, in_time, shown, where
from bench_lamp.stages.trim.kinds.turning.signs import (
    VALUE,
    broken_by,
    sense_words,
    sign_card,
    unsafe_card,
    value_entry,
)
from bench_lamp.stages.trim.steps import cautions_of, ended_as
from bench_lamp.stages.trim.turns_of import arrowed, made
from bench_lamp.units.turns import turn_text, turn_words

#: A mains nearer to the usual is not spoken of.
MAINS_SHARE = 0.02


def turning_card(case: Case, hand: Hand, trim: TurnTrim) -> Card | None:
    """Return the next step: a sign that is followed up, a turn, a reading; None when it stands right."""
    now = turning_of(case, trim)
    name, turns = made(hand)
    if turns:
        return _turned_card(case, trim, now, name, turns)
    if now.signs and f"trim:{trim.id}:sign:{now.count}" not in hand.skipped:
        return sign_card(case, trim, now)
    if not now.is_read:
        return _read_card(case, trim, now)
    if now.jumped:
        return _wait_card(case, trim, now)
    if now.is_right:
        return None if _is_done(case, trim, now) else _wait_card(case, trim, now)
    if now.advice is None:
        return sign_card(case, trim, now) if now.stops else unsafe_card(case, trim, now)
    return _turn_card(case, trim, now)


def _is_done(case: Case, trim: TurnTrim, now: Turning) -> bool:
    return all(now.steady.values()) and not warm_words(case, trim)


def _read_card(case: Case, trim: TurnTrim, now: Turning) -> Card:
    """Ask for the readings that are missing since the last turn."""
    missing = asked_for(trim, now)
    names = " and ".join(r.name for r in missing)
    return Card(
        id=f"trim:{trim.id}:read:{now.count}",
        kind=f"After turn {now.count}" if now.count else "As it came",
        title=f"Read {names}",
        cautions=cautions_of(case, trim),
        leads=(
            *(lead for r in missing for lead in where(case, r)),
            *((Lead(kind="check", text=f"load: {trim.load}"),) if trim.load else ()),
        ),
        expect=band_words(missing[0]),
        expect_notes=tuple(f"{r.name} {band_words(r)}" for r in missing[1:]),
        entry=value_entry(missing[0].point or trim.adjusters[0].id, missing),
        asks=trim_request(case, trim, [r.id for r in missing]),
        why=_why_read(case, trim, now),
        marks_cell=True,
    )


def mains_words(case: Case) -> tuple[str, ...]:
    """Say at which mains it is set, where that was read and is not the usual."""
    factor = mains_read(case.state, case.profile)
    if factor is None or abs(factor - 1) < MAINS_SHARE:
        return ()
    return (f"The mains is at {100 * factor:.0f}\u202f% here: it is set for this.",)


def _why_read(case: Case, trim: TurnTrim, now: Turning) -> tuple[str, ...]:
    warm = warm_words(case, trim)
    first = () if now.count else ("The reading before the first turn says where it came from.",)
    return (
        *((f"It is {warm}.",) if warm else ()),
        *mains_words(case),
        *sense_words(case, trim),
        *first,
        "Turned otherwise? Say +1/6, or ← →.",
    )


def _turn_card(case: Case, trim: TurnTrim, now: Turning) -> Card:
    """Say which way and how far, and what it will do."""
    assert now.advice is not None
    turns = [(trim.adjusters[j].id, t) for j, t in now.advice.turns]
    log = tuple(AdjusterTurned(trim=trim.id, adjuster=n, turns=t) for n, t in turns)
    title = ", then ".join(f"{n} {turn_words(t)}" for n, t in turns)
    is_test = any(now.known[n] < 0.3 for n, _ in turns)
    return Card(
        id=f"trim:{trim.id}:turn:{now.count}",
        kind=f"Turn {now.count + 1}{': a test turn' if is_test else ''}",
        title=title,
        cautions=(*broken_by(trim, now), *cautions_of(case, trim)),
        leads=tuple(
            Lead(kind="hand", text=f"{a.id}: {a.place}")
            for a in trim.adjusters
            if a.place and a.id in {n for n, _ in turns}
        ),
        entry=value_entry(turns[0][0], trim.readings),
        choices=(Choice(key="1", text="Turned", log=log),),
        why_heading="What it will do",
        why=(
            *(
                f"{r.name} {change_words(r, now.now[r.id].value, value, spread)}"
                for r, (value, spread) in zip(trim.readings, now.advice.expected, strict=True)
            ),
            *_learnt(trim, now, turns),
        ),
        runners=(
            Choice(
                key="Alt+e", text=f"{turns[0][0]} is at its end stop", log=(_stop(trim, *turns[0]),)
            ),
        ),
        marks_cell=True,
    )


def _stop(trim: TurnTrim, name: str, turns: float) -> Body:
    return AdjusterFound(trim=trim.id, adjuster=name, word="stop up" if turns > 0 else "stop down")


def _learnt(trim: TurnTrim, now: Turning, turns: list[tuple[str, float]]) -> tuple[str, ...]:
    """Say where the slopes come from, and what else the adjuster pulls."""
    if not now.count:
        return ("By the profile; the first turn shows whether it is so here.",)
    pulls = []
    for name, _ in turns:
        slopes = now.slopes[name]
        strong = [r for r in trim.readings if abs(slopes[r.id]) > 0.05 * r.band.width]
        pulls.append(f"{name}: {', '.join(shown(r, slopes[r.id]) for r in strong)} a turn")
    return (f"Learnt from {now.count} turn{'s' if now.count > 1 else ''}: {'; '.join(pulls)}.",)


def _turned_card(case: Case, trim: TurnTrim, now: Turning, name: str, turns: float) -> Card:
    """Take a turn that the arrow keys have made."""
    return Card(
        id=f"trim:{trim.id}:made:{now.count}",
        kind="Turned otherwise",
        title=f"{name} {turn_text(turns)}",
        cautions=cautions_of(case, trim),
        entry=Entry(kind="text", field=VALUE, target=name, hint="Enter logs it"),
        why_heading="Keys",
        why=("← → a twenty-fourth each, ↑ ↓ another adjuster, Enter logs it, Esc drops it.",),
        marks_cell=True,
    )


def _wait_card(case: Case, trim: TurnTrim, now: Turning) -> Card:
    """It is in its bands: wait until it stands still."""
    jumped, moving = bool(now.jumped), asked_for(trim, now)
    words = [
        f"{r.name} will settle near {shown(r, end.end)} ± {shown(r, end.half)} {in_time(end.seconds)}."
        for r in moving
        if (end := now.ends[r.id]) is not None
    ]
    warm = warm_words(case, trim)
    return Card(
        id=f"trim:{trim.id}:wait:{now.count}",
        kind="One reading jumped" if jumped else "In its band",
        title=f"{'A jump' if jumped else 'Steady'}? Read {' and '.join(r.name for r in moving)} again",
        effort="wait a little",
        cautions=cautions_of(case, trim),
        leads=tuple(lead for r in moving for lead in where(case, r)),
        expect=band_words(moving[0]),
        entry=value_entry(moving[0].point or trim.adjusters[0].id, moving),
        asks=trim_request(case, trim, [r.id for r in moving]),
        runners=(
            Choice(key="Alt+t", text="Take it as steady", log=(ended_as(trim, "right"),), focus=""),
        ),
        why_heading="Still moving",
        why=(*((f"It is {warm}.",) if warm else ()), *words)
        or ("Three readings that neither move nor wander are steady.",),
        marks_cell=True,
    )


def turning_beside(case: Case, hand: Hand, trim: TurnTrim, down: int, along: int) -> Pick:
    """Turn by the arrow keys."""
    now = turning_of(case, trim)
    names = tuple(a.id for a in trim.adjusters)
    usual = names[now.advice.turns[0][0]] if now.advice else names[0]
    return Pick(focus=trim.id, cell=arrowed(hand, names, usual, down, along))

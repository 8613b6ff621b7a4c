"""What all things that are set share: preparing, writing down how they stood, power, making good."""

from collections.abc import Iterator

from msgspec.structs import replace

from bench_lamp.board.trims import (
    Adjuster,
    ChannelsTrim,
    Prepare,
    StagesTrim,
    SwitchesTrim,
    TransferTrim,
    Trim,
    TurnTrim,
)
from bench_lamp.cards.card import Card, Choice, Entry, Lead
from bench_lamp.cards.commands import AskPower
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.trims.hiding import hiding_words
from bench_lamp.case.trims.rounds import all_told, came_at, round_of, steps_done
from bench_lamp.journal.events import Body
from bench_lamp.journal.open_events import OpenEnd, OpenEndKind
from bench_lamp.journal.trim_events import (
    AdjusterFound,
    AdjusterTurned,
    TrimEnded,
    TrimRead,
    TrimStep,
)

#: The step in which it is taken as right.
RIGHT = "right"
#: The entry in which it is written down how an adjuster stands.
CAME = "came"


def adjusters_of(trim: Trim) -> tuple[Adjuster, ...]:
    """Return all adjusters of a thing that is set, each once."""
    match trim:
        case TurnTrim():
            return trim.adjusters
        case TransferTrim():
            return (trim.adjuster,)
        case StagesTrim():
            return tuple(
                Adjuster(id=s.adjuster, name=s.name, place=s.place, travel=1.0) for s in trim.stages
            )
        case ChannelsTrim():
            named = (c for c in trim.channels if c.trimmer)
            return tuple(Adjuster(id=c.trimmer, name=f"channel {c.id}", travel=1.0) for c in named)
    return ()


def cautions_of(case: Case, trim: Trim) -> tuple[str, ...]:
    """Return what can hurt while it is set: the thing’s own first, then the live board."""
    live = (cautions.LIVE,) if trim.live and case.state.power.is_live else ()
    return (*trim.cautions, *live)


def first_step(case: Case, trim: Trim, skipped: frozenset[str] = frozenset()) -> Card | None:
    """Return what comes before anything is set; None when all of it is done, or set aside."""
    steps = (*_prepare(case, trim), *_paint(case, trim), *_stood(case, trim))
    return next((card for card in steps if card.id not in skipped), None)


def _prepare(case: Case, trim: Trim) -> Iterator[Card]:
    done = steps_done(round_of(case, trim))
    for number, step in enumerate(trim.prepare, start=1):
        if step.text in done:
            continue
        log: tuple[Body, ...] = (TrimStep(trim=trim.id, step=step.text), *_opened(trim, step))
        is_hand = step.opens in HANDS_IN
        off = is_hand and case.state.power.is_live
        first = Choice(key="1", text="Confirm that it is off", command=AskPower())
        yield Card(
            id=f"trim-prepare:{trim.id}:{number}",
            kind=f"Before · {number} of {len(trim.prepare)}",
            title=f"{step.text[0].upper()}{step.text[1:]}",
            cautions=(*trim.cautions, *(cautions.for_hands_in(case) if is_hand else ())),
            choices=(first,)
            if off
            else (
                Choice(key="1", text="Done", log=log),
                Choice(key="2", text="It is so already", log=log[:1]),
            ),
            why_heading="Then",
            why=(f"{step.after or step.target or 'It'} is asked for before Prove.",)
            if step.opens
            else ("Else the reading says something else.",),
            can_skip=True,
        )


def _opened(trim: Trim, step: Prepare) -> tuple[OpenEnd, ...]:
    if not step.opens:
        return ()
    return (
        OpenEnd(what=step.opens, target=step.target or trim.name, text=step.after or step.text),
    )


def _paint(case: Case, trim: Trim) -> Iterator[Card]:
    if not trim.sealed:
        return
    freed = {
        t.body.adjuster
        for t in round_of(case, trim)
        if isinstance(t.body, AdjusterFound) and t.body.word == "freed"
    }
    held = [a for a in adjusters_of(trim) if a.id not in freed]
    if not held:
        return
    names = ", ".join(a.id for a in held)
    log: list[Body] = [AdjusterFound(trim=trim.id, adjuster=a.id, word="freed") for a in held]
    log.append(OpenEnd(what="paint", target=names, text=f"seal {names} again"))
    yield Card(
        id=f"trim-paint:{trim.id}",
        kind="Before",
        title=f"Free the paint on {names}",
        cautions=trim.cautions,
        leads=(Lead(kind="how", text="a drop of alcohol, half a minute, then a fitting blade"),),
        choices=(
            Choice(key="1", text="Free", log=tuple(log)),
            Choice(key="2", text="No paint on it", log=tuple(log[:-1])),
        ),
        why_heading="Then",
        why=("A paint that is broken by force takes the track along.",),
    )


def _stood(case: Case, trim: Trim) -> Iterator[Card]:
    """Ask how each adjuster stands: written down before the first turn, so that it can be put back."""
    if isinstance(trim, ChannelsTrim | SwitchesTrim):
        return
    came = came_at(all_told(case, trim))
    yield from (_came_card(trim, a) for a in adjusters_of(trim) if a.id not in came)


def _came_card(trim: Trim, one: Adjuster) -> Card:
    return Card(
        id=f"trim-came:{trim.id}:{one.id}",
        kind="Before",
        title=f"How does {one.id} stand?",
        cautions=trim.cautions,
        leads=(Lead(kind="hand", text=one.place),) if one.place else (),
        entry=Entry(
            kind="text", field=CAME, target=one.id, hint="2 o’clock; Enter: marked with a pen"
        ),
        why_heading="Why",
        why=("So that it can be put back. A line across slot and rim will do.",),
    )


def power_step(case: Case, trim: Trim) -> Card | None:
    """Ask for the power that it is set with; None where it is so."""
    if trim.live == case.state.power.is_live:
        return None
    if not trim.live and case.state.power.is_known:
        return None
    title = "Switch it on" if trim.live else "Switch it off"
    return Card(
        id=f"trim-power:{trim.id}",
        kind="Before",
        title=f"{title} to set the {trim.name}",
        cautions=trim.cautions,
        leads=(Lead(kind="check", text=f"load: {trim.load}"),) if trim.load else (),
        choices=(Choice(key="1", text="Say how the power is", command=AskPower()),),
        why_heading="Then",
        why=(_counts(trim),),
    )


def _counts(trim: Trim) -> str:
    if not trim.live:
        return "It is set with the power off."
    minutes = trim.warm_up / 60
    return f"It counts after {minutes:.3g}\u202fmin." if minutes >= 1 else "It is read live."


#: Open ends that hands go in for, and all that a thing that is set leaves.
HANDS_IN = frozenset(("link", "line", "temporary part"))
MINE: tuple[OpenEndKind, ...] = ("paint", "link", "line", "bridge", "temporary part")


def last_step(case: Case, trim: Trim) -> Card:
    """Ask for what was opened to be made good, the paint last; then end it."""
    mine = _left_open(case, trim)
    if mine and not is_taken(case, trim):
        return _right_card(case, trim, mine)
    if mine:
        return _good_card(case, trim, mine)
    far = hiding_words(case, trim, adjusters_of(trim))
    take = Choice(key="1", text="Take it as set", log=(ended_as(trim, "right"),), focus="")
    left = ended_as(trim, "left", far[0] if far else "")
    hides = Choice(key="2", text="It hides a fault: trace it", log=(left,), go="trace")
    return Card(
        id=f"trim-end:{trim.id}",
        kind="It is right",
        title="Does that hide a fault?" if far else f"Done: {trim.name}",
        choices=(take, hides) if far else (take,),
        why_heading="Then",
        why=(*far, "Before and after stand on the sheet."),
    )


def is_taken(case: Case, trim: Trim) -> bool:
    """Whether it was taken as right, and neither read nor turned since: the power may go off for the making good."""
    for told in reversed(round_of(case, trim)):
        if isinstance(told.body, TrimStep) and told.body.step == RIGHT:
            return told.event > case.state.last_mend
        if isinstance(told.body, TrimRead | AdjusterTurned):
            return False
    return False


def _right_card(case: Case, trim: Trim, mine: list[OpenEnd]) -> Card:
    return Card(
        id=f"trim-right:{trim.id}",
        kind="It is right",
        title=f"Take {trim.name} as right?",
        cautions=cautions_of(case, trim),
        choices=(
            Choice(
                key="1",
                text="Yes: make good what is open",
                log=(TrimStep(trim=trim.id, step=RIGHT),),
            ),
        ),
        why_heading="Still open",
        why=tuple(e.text or e.target for e in mine),
    )


def _left_open(case: Case, trim: Trim) -> list[OpenEnd]:
    """Return what it opened and is open still, the paint last."""
    targets = {s.target or trim.name for s in trim.prepare if s.opens}
    names = ", ".join(a.id for a in adjusters_of(trim))
    mine = [
        e
        for e in case.state.open_ends
        if e.what in MINE and (e.target in targets or (e.what == "paint" and e.target == names))
    ]
    return sorted(mine, key=lambda e: e.what == "paint")


def _good_card(case: Case, trim: Trim, mine: list[OpenEnd]) -> Card:
    end = mine[0]
    needs_off = end.what in HANDS_IN and case.state.power.is_live
    off = Choice(key="1", text="Confirm that it is off", command=AskPower())
    good = Choice(key="1", text="Made good", log=(replace(end, is_made_good=True),))
    later = Choice(key="2", text="Later: it stays open", log=(ended_as(trim, "right"),), focus="")
    text = end.text or f"make {end.target} good"
    return Card(
        id=f"trim-good:{trim.id}:{end.target}",
        kind="It is right",
        title=f"{text[0].upper()}{text[1:]}",
        cautions=cautions.for_hands_in(case) if end.what in HANDS_IN else cautions_of(case, trim),
        choices=(off if needs_off else good, later),
        why_heading="Still open",
        why=tuple(e.text or e.target for e in mine),
    )


def ended_as(trim: Trim, word: str, reason: str = "") -> TrimEnded:
    """Return the event that ends it."""
    return TrimEnded(trim=trim.id, word="right" if word == "right" else "left", reason=reason)

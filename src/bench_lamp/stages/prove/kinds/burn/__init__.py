"""The burn-in: what is read when, how it drifts, and why it ended."""

from datetime import UTC, datetime

from msgspec.structs import replace

from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Refused, Typed
from bench_lamp.cards.clock import DueClock
from bench_lamp.cards.commands import AskPower, GoToShelf
from bench_lamp.cards.power_first import switch_on
from bench_lamp.cards.reading_card import reading_card
from bench_lamp.cards.reading_entry import take_reading
from bench_lamp.case.case import Case
from bench_lamp.case.clock import local
from bench_lamp.case.hand import Hand
from bench_lamp.case.proving.burn import Burn, bad_in_burn, burn_of, proposed, watched
from bench_lamp.case.proving.drift import drift_of, drift_words, hours_text
from bench_lamp.journal.proof_events import BurnEnded
from bench_lamp.stages.prove.kinds.burn.picture import burn_picture
from bench_lamp.stages.prove.kinds.burn.schedule import PLAN, begun_as, plan_words, take_plan
from bench_lamp.stages.prove.kinds.kind import ProofPart, ProofState, nothing_left


def _state(case: Case) -> ProofState:
    burn = burn_of(case)
    if burn is None:
        wanted = case.profile.burn_in
        return ProofState("edge", f"{wanted.hours:g}\u202fh") if wanted else ProofState("", "free")
    if burn.end is not None:
        return ProofState("within" if burn.end.word == "held" else "absent", burn.end.word)
    if bad_in_burn(case, burn):
        return ProofState("absent", "left its limits")
    return ProofState("edge", f"{burn.done} of {burn.rounds}")


def _next(case: Case, hand: Hand) -> Card | None:
    burn = burn_of(case)
    if burn is None:
        is_wanted = case.profile.burn_in is not None and "prove-burn" not in hand.skipped
        return _begin_card(case) if is_wanted else None
    if burn.end is not None or "prove-burn-on" in hand.skipped:
        return None
    return _go_on(case, hand, burn)


def _begin_card(case: Case) -> Card:
    if not case.state.power.is_live:
        return switch_on(case, "Switch on for the burn-in", ())
    wanted = proposed(case)
    choices = (
        (Choice(key="Enter", text=f"Begin: {plan_words(wanted)}", log=(begun_as(wanted),)),)
        if wanted.points
        else ()
    )
    return Card(
        id="prove-burn",
        kind="Burn-in",
        title="Let it run, and read it now and then",
        cautions=("Nobody leaves the room while it runs for the first time.",),
        entry=Entry(kind="text", field=PLAN, hint="4 h every 30: A C"),
        choices=choices,
        why_heading="What for",
        why=(
            "What fails when it is warm, or after a while, fails here and not at the customer’s.",
            "With switching off in between: 4 h every 30 on 60 off 10: A C",
        ),
    )


def _go_on(case: Case, hand: Hand, burn: Burn) -> Card:
    bad = bad_in_burn(case, burn)
    if bad:
        return _bad_card(case, burn, bad)
    if not burn.next_point:
        return _end_card(case, burn)
    if burn.wants_off:
        return _cycle_card(burn)
    if burn.live_at is None:
        return _off_card(case, burn)
    point = case.profile.point(burn.next_point)
    if point is None:
        return _end_card(case, burn)
    clock = DueClock(
        name=f"read {point.id}",
        due=burn.due_at,
        span=60 * burn.plan.every_min,
        rests=len(burn.plan.points) == 1,
    )
    card = reading_card(case, hand, point)
    return replace(
        card,
        id="prove-burn-on",
        kind="Burn-in",
        title=f"Read {point.id} when it is due, {burn.done + 1} of {burn.rounds}",
        clock=clock,
        why_heading=plan_words(burn.plan),
        why=(f"It has run long enough at {_moment(burn.ends_at)}.", *_drifts(case, burn)),
        runners=_ways_out(),
    )


def _moment(seconds: float) -> str:
    return local(datetime.fromtimestamp(seconds, UTC), "%a %H:%M")


def _ways_out() -> tuple[Choice, ...]:
    return (
        Choice(key="Alt+w", text="Back to the shelf: it goes on", command=GoToShelf()),
        Choice(
            key="Alt+e",
            text="End it now",
            log=(BurnEnded(word="cut short", reason="ended before its time"),),
            note="type why: end: customer waits",
        ),
    )


def _off_card(case: Case, burn: Burn) -> Card:
    off = burn.plan.off_min
    due = max((t.event.at for t in case.state.tape), default=burn.begun.at).timestamp()
    clock = DueClock(name="switch on", due=due + 60 * off, span=60 * off) if off else None
    card = switch_on(case, "Switch on: the burn-in goes on", ())
    why = (f"{hours_text(burn.on_s)} of {hours_text(3600 * burn.plan.hours)} under power so far.",)
    return replace(
        card, id="prove-burn-on", kind="Burn-in", clock=clock, why=why, runners=_ways_out()
    )


def _cycle_card(burn: Burn) -> Card:
    return Card(
        id="prove-burn-on",
        kind="Burn-in",
        title=f"Switch it off for {burn.plan.off_min:g}\u202fmin",
        choices=(Choice(key="1", text="It is off", command=AskPower()),),
        why_heading=f"Cycle {burn.cycles + 1}",
        why=("Cold starts find what running through does not: cracked joints, tired starters.",),
        runners=_ways_out(),
    )


def _bad_card(case: Case, burn: Burn, bad: tuple[str, ...]) -> Card:
    reason = f"{', '.join(bad)} left its limits after {hours_text(burn.on_s)}"
    return Card(
        id="prove-burn-on",
        kind="Burn-in",
        title=f"Stop: {bad[0]} left its limits",
        choices=(
            Choice(
                key="1",
                text="Stop it, and trace",
                log=(BurnEnded(word="stopped", reason=reason),),
                go="trace",
            ),
        ),
        why_heading="How it went",
        why=_drifts(case, burn) or (reason,),
        runners=_ways_out(),
    )


def _end_card(case: Case, burn: Burn) -> Card:
    drifts = _drifts(case, burn)
    leaves = any(
        (d := drift_of(p, r)) is not None and d.will_leave
        for name, r in watched(case, burn)
        if (p := case.profile.point(name)) is not None
    )
    held = Choice(key="1", text="It held", log=(BurnEnded(word="held", reason="; ".join(drifts)),))
    stop = Choice(
        key="2",
        text="It did not hold",
        log=(BurnEnded(word="stopped", reason="said not to have held"),),
        go="trace",
    )
    return Card(
        id="prove-burn-on",
        kind="Burn-in",
        title="It has run long enough. Did it hold?",
        cautions=("By its drift it will leave its limits.",) if leaves else (),
        choices=(held, stop),
        why_heading="How it went",
        why=drifts or ("Every reading inside its limits.",),
    )


def _drifts(case: Case, burn: Burn) -> tuple[str, ...]:
    found = []
    for name, readings in watched(case, burn):
        point = case.profile.point(name)
        drift = drift_of(point, readings) if point is not None else None
        if point is not None and drift is not None:
            found.append(f"{drift_words(point, drift, readings[-1].reading.resolution)}.")
    return tuple(found)


def _take(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    text = " ".join(typed.text.split())
    if entry.field == PLAN:
        return take_plan(case, text)
    burn = burn_of(case)
    if burn is not None and burn.end is None and text.lower().startswith("end"):
        reason = text[3:].strip(" :,")
        if not reason:
            return Refused(what="An end has a reason", mend="end: the customer waits")
        return Accepted(log=(BurnEnded(word="cut short", reason=reason[:200]),))
    return take_reading(case, hand, entry, typed)


def _card(case: Case, hand: Hand) -> Card:
    burn = burn_of(case)
    if burn is None:
        return _begin_card(case)
    if burn.end is None:
        return _go_on(case, hand, burn)
    again = Choice(key="Alt+n", text="Begin another", log=(begun_as(proposed(case)),))
    card = nothing_left("burn", f"Burn-in {burn.end.word}", (burn.end.reason, *_drifts(case, burn)))
    return replace(card, runners=(again,))


PART = ProofPart(
    id="burn",
    name="Burn-in",
    key="b",
    state=_state,
    next=_next,
    card=_card,
    take=_take,
    picture=burn_picture,
)

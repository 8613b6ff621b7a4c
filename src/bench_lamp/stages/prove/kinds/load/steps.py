"""The steps of a full load: what hangs on, what is read, ripple and heat, and the load off again."""

import math

from msgspec.structs import replace

from bench_lamp.board import TestPoint
from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.board.proving import FullLoad
from bench_lamp.cards.card import Card, Choice, Entry, Lead
from bench_lamp.cards.clock import DueClock
from bench_lamp.cards.commands import AskPower
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.proving.loads import (
    LoadStep,
    heat_of,
    hung_since,
    is_held,
    limit_of,
    load_name,
    load_steps,
    regulation,
    stops_here,
)
from bench_lamp.case.readings import MODE_UNITS
from bench_lamp.instrument import Request
from bench_lamp.journal.open_events import LoadHung
from bench_lamp.journal.proof_events import HeatFelt, HeatWord, LoadStepRead
from bench_lamp.stages.prove.kinds.kind import nothing_left
from bench_lamp.units import engineering, exact

VOLTS, RIPPLE, HEAT = "load volts", "load ripple", "load heat"
FELT: tuple[tuple[str, HeatWord, str], ...] = (
    ("Alt+c", "cool", "Cool or hand-warm"),
    ("Alt+h", "hot", "Hot: the hand stays a moment"),
    ("Alt+t", "too hot", "Too hot: stop"),
)
#: A part is too hot from here on, by thermometer, in °C.
TOO_HOT, WARM = 110.0, 45.0


def current(case: Case, hand: Hand) -> FullLoad | None:
    """Return the load under the lamp: the one that hangs on, else the next that is not held."""
    loads = case.profile.full_loads
    on = next((f for f in loads if load_name(f.point) in case.state.hung), None)
    return on or next((f for f in loads if not is_held(case, f)), next(iter(loads[-1:]), None))


def step_of(case: Case, load: FullLoad) -> LoadStep | None:
    """Return the step to read next; None when all are read, or it stops here."""
    steps = load_steps(case, load)
    if stops_here(steps) is not None:
        return None
    return next((s for s in steps if s.read is None), None)


def _off_card(case: Case, title: str, load: FullLoad) -> Card:
    """Ask for the load to come off; hands go in only where the board is off."""
    name = load_name(load.point)
    off = Choice(key="1", text="Confirm that it is off", command=AskPower())
    done = Choice(key="1", text="The load is off", log=(LoadHung(load=name, is_on=False),))
    return Card(
        id="prove-load-off",
        kind="Full load",
        title=title,
        cautions=("The resistor stays hot. Hands off it.", *cautions.for_hands_in(case)),
        choices=(off if case.state.power.is_live else done,),
        why_heading="Why",
        why=("Nothing is proved while a test load hangs on.",),
        can_skip=False,
    )


def _stopped(case: Case, load: FullLoad, what: str) -> Card:
    if load_name(load.point) in case.state.hung:
        return _off_card(case, f"Switch off: {what}", load)
    return Card(
        id="prove-load-bad",
        kind="Full load",
        title=f"Not proved: {what}",
        choices=(Choice(key="1", text="Trace it", go="trace"),),
        why_heading="What the steps say",
        why=step_lines(case, load),
    )


def _step_card(case: Case, load: FullLoad, point: TestPoint, step: LoadStep) -> Card:
    """Ask for a resistor to be hung on, then for what it reads."""
    resistor, name = step.resistor, load_name(load.point)
    hung = hung_since(case, name)
    on_it = hung.body.ohms if hung is not None else 0.0
    if resistor is not None and not _is_right(on_it, resistor.ohms):
        if on_it:
            return _off_card(case, f"Take the load of {exact(on_it, 'Ω')} off", load)
        return _hang_card(case, load, point, step)
    return _read_card(case, load, point, step, on_it)


def _is_right(hung: float, wanted: float) -> bool:
    """Whether what hangs on is meant for this step: within a fifth, so that it is not the next one’s."""
    return hung > 0 and abs(math.log(hung / wanted)) < math.log(1.2)


def _hang_card(case: Case, load: FullLoad, point: TestPoint, step: LoadStep) -> Card:
    resistor = step.resistor
    assert resistor is not None
    ohms, watts = exact(resistor.ohms, "Ω"), exact(resistor.rating, "W", figures=3)
    hung = LoadHung(load=load_name(point.id), is_on=True, ohms=resistor.ohms, watts=resistor.rating)
    off = Choice(key="1", text="Confirm that it is off", command=AskPower())
    on = Choice(key="1", text=f"{ohms} hangs on", log=(hung,))
    return Card(
        id="prove-load",
        kind="Full load",
        title=f"Hang {ohms}, {watts} on {point.id}",
        cautions=cautions.for_hands_in(case),
        leads=(
            Lead(kind="red", text=point.place or point.name),
            Lead(kind="black", text=case.profile.ground_of(point).place),
            Lead(
                kind="how", text=f"current limit, if it has one: {exact(limit_of(case, load), 'A')}"
            ),
        ),
        choices=(off if case.state.power.is_live else on,),
        why_heading=f"{step.share:.0%} of {exact(load.amps, 'A')}",
        why=(
            f"R = V/I: {exact(abs(point.volts), 'V')} at {exact(resistor.amps, 'A', figures=3)}. "
            f"It turns {exact(resistor.heat, 'W', figures=3)} into heat; made for twice that.",
            "Clips and leads for that current; the resistor on something that does not burn.",
        ),
    )


def _read_card(case: Case, load: FullLoad, point: TestPoint, step: LoadStep, on_it: float) -> Card:
    unit = MODE_UNITS[point.mode]
    expected = ""
    if math.isfinite(step.expected):
        sign = -1 if point.volts < 0 else 1
        expected = f"about {exact(sign * step.expected, unit, figures=3)}"
    loaded = f"at {step.share:.0%} load" if step.share else "without the test load"
    return Card(
        id="prove-load",
        kind="Full load",
        title=f"Read {point.id}, {loaded}",
        effort="about 20\u202fs",
        cautions=cautions.for_reading(case, point),
        leads=(
            Lead(kind="red", text=point.place or point.name),
            Lead(kind="black", text=case.profile.ground_of(point).place),
        ),
        expect=expected,
        expect_notes=(f"drawing {_band(point)}",),
        entry=Entry(kind="reading", unit=unit, target=point.id, mode=point.mode, field=VOLTS),
        asks=_request(case, point, on_it, TestKind.AC if point.mode == "ac V" else TestKind.DC),
        why_heading="By the model" if expected else "Why",
        why=(
            "The circuit of the profile, with this on it; a fifth either way on old windings."
            if expected
            else "The model does not know this net; the drawing’s limits decide.",
            "Out of its limits: no more load. Off at once if something smells.",
        ),
    )


def _band(point: TestPoint) -> str:
    from bench_lamp.units import band_text

    return band_text(point.design, MODE_UNITS[point.mode]) if point.design else "gives no limits"


def _request(case: Case, point: TestPoint, ohms: float, kind: TestKind) -> Request:
    state = case.state
    return Request(
        kind=kind,
        target=point.net,
        condition=Condition(is_powered=state.power.is_live, out=state.out),
        mended=state.renewed,
        load_ohms=ohms,
    )


def _held_card(case: Case, load: FullLoad, point: TestPoint, steps: tuple[LoadStep, ...]) -> Card:
    """After the last step: ripple, heat, then the load comes off."""
    last, name = steps[-1], load_name(point.id)
    hung = hung_since(case, name)
    if hung is not None and last.read is not None:
        if last.read.ripple < 0 and point.mode == "dc V":
            return _ripple_card(case, point, last, hung.body.ohms)
        felt = {h.part for h in heat_of(case)}
        left = [p for p in load.feel or (point.id,) if p not in felt]
        if left:
            return _heat_card(case, load, left[0], hung.at.timestamp())
        return _off_card(case, "Switch off, and take the load off", load)
    return Card(
        id="prove-load-held",
        kind="Full load",
        title=f"{point.id} holds {exact(load.amps, 'A')}",
        choices=(Choice(key="1", text="Go on", go="prove"),),
        why_heading="What the steps say",
        why=step_lines(case, load),
    )


def _ripple_card(case: Case, point: TestPoint, last: LoadStep, ohms: float) -> Card:
    expected = last.ripple
    words = f"about {engineering(expected, 'V', resolution=0.001)} peak to peak"
    return Card(
        id="prove-load-ripple",
        kind="Full load",
        title=f"Ripple on {point.id} at full load",
        effort="about 10\u202fs",
        cautions=cautions.for_reading(case, point),
        leads=(Lead(kind="meter", text="AC volts"),),
        expect=words if math.isfinite(expected) else "",
        entry=Entry(kind="reading", unit="V~", target=point.id, mode="ac V", field=RIPPLE),
        asks=_request(case, point, ohms, TestKind.AC),
        choices=(Choice(key="Alt+n", text="Leave it", log=(with_ripple(last, 0.0),)),),
        why_heading="What for",
        why=("A reservoir that is tired shows it under full load first.",),
        can_skip=False,
    )


def with_ripple(step: LoadStep, value: float) -> LoadStepRead:
    """Return a step’s entry with the ripple that was read at it, in volts AC."""
    assert step.read is not None
    return replace(step.read, ripple=value)


def _heat_card(case: Case, load: FullLoad, part: str, since: float) -> Card:
    due = DueClock(name=f"feel {part}", due=since + 60 * load.minutes, span=60 * load.minutes)
    choices = tuple(
        Choice(key=key, text=text, log=(HeatFelt(part=part, word=word),))
        for key, word, text in FELT
    )
    return Card(
        id=f"prove-heat:{part}",
        kind="Full load",
        title=f"How hot is {part} after {load.minutes:g}\u202fmin?",
        cautions=("By thermometer where it is live or hot. One hand.",),
        clock=due,
        entry=Entry(kind="text", field=HEAT, target=part, hint="degrees: 62"),
        choices=choices,
        why_heading="Stop rules",
        why=(f"Above {TOO_HOT:g}\u202f°C, smell, or a reading that runs away: off.",),
        can_skip=False,
    )


def load_card(case: Case, load: FullLoad) -> Card:
    """Ask for the next step of a full load: hang on, read, feel, take off."""
    point = case.profile.point(load.point)
    if point is None:
        return nothing_left("load", "Its point is gone", (load.point,))
    steps = load_steps(case, load)
    stop, step = stops_here(steps), step_of(case, load)
    hot = [h for h in heat_of(case) if h.word == "too hot"]
    if stop is not None or hot:
        what = f"{hot[0].part} gets too hot" if hot else f"{point.id} does not hold its load"
        return _stopped(case, load, what)
    if step is not None:
        return _step_card(case, load, point, step)
    return _held_card(case, load, point, steps)


def step_lines(case: Case, load: FullLoad) -> tuple[str, ...]:
    """Say what each step read, how much it gave way, and what that makes of its source."""
    steps = load_steps(case, load)
    lines = [
        f"{s.share:.0%}: {exact(s.read.volts, 'V', figures=4)}"
        + (f" at {exact(s.amps, 'A', figures=3)}" if s.amps else "")
        for s in steps
        if s.read is not None
    ]
    found = regulation(steps)
    if found is not None:
        lines.append(
            f"It gives way {exact(found.drop, 'V', figures=3)} ({found.percent:.1f}\u202f%): "
            f"{exact(found.ohms, 'Ω', figures=2)} behind it."
        )
    return tuple(lines)

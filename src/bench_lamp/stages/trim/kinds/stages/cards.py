"""Strengths by use: into the setting mode, each stage to its volts, the coil never on too long."""

from collections.abc import Mapping

from bench_lamp.board.trims import Adjuster, GripStage, StagesTrim, TrimReading, TurnTrim
from bench_lamp.cards.card import Card, Choice, Entry, Lead, LeadKind
from bench_lamp.cards.clock import CoilClock
from bench_lamp.cards.instrument_trim import trim_request
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand, Pick
from bench_lamp.case.trims import grip
from bench_lamp.case.trims.rounds import round_of, since_live, steps_done
from bench_lamp.case.trims.turning import Turning, turning_of
from bench_lamp.journal.events import Body
from bench_lamp.journal.trim_events import AdjusterTurned, CoilHeld, TrimStep
from bench_lamp.stages.trim.steps import cautions_of
from bench_lamp.stages.trim.turns_of import arrowed, made
from bench_lamp.trim.panel import LEAST
from bench_lamp.units import Band, exact
from bench_lamp.units.turns import turn_text, turn_words


def as_turning(trim: StagesTrim, stage: GripStage, volts: float) -> TurnTrim:
    """Return one stage as an adjuster with its reading."""
    return TurnTrim(
        id=trim.id,
        name=stage.name,
        kind="single",
        adjusters=(Adjuster(id=stage.adjuster, name=stage.name, place=stage.place, travel=1.0),),
        readings=(
            TrimReading(
                id=stage.id,
                name=stage.name,
                band=Band(volts - trim.within, volts + trim.within),
                red=trim.red,
                black=trim.black,
            ),
        ),
        slopes={stage.adjuster: {stage.id: stage.slope}},
    )


def current(case: Case, hand: Hand, trim: StagesTrim) -> GripStage | None:
    """Return the stage under the lamp: the one picked, else the next that is not right."""
    use = grip.use_of(case, trim)
    wanted = grip.stages_for(trim, use)
    picked = next((s for s in wanted if s.id == hand.cell.partition(":")[2]), None)
    name, turns = made(hand)
    if turns:
        return next((s for s in wanted if s.adjuster == name), picked)
    return picked or next((s for s in wanted if not grip.is_right(case, trim, use, s)), None)


def stages_card(case: Case, hand: Hand, trim: StagesTrim) -> Card | None:
    """Ask for the use, the way in, then each stage; the way out; None when all of it is done."""
    coil = grip.coil_of(case, trim)
    use = grip.use_of(case, trim)
    if not use:
        return _use_card(case, trim)
    stage = current(case, hand, trim)
    done = _steps(case, trim)
    into = _step_card(case, trim, trim.into, done, "Into the setting mode", coil)
    if stage is not None:
        return into or _stage_card(case, hand, trim, stage, coil)
    if coil.is_on:
        return _let_go(case, trim)
    return _step_card(case, trim, trim.out_of, done, "Out of the setting mode", coil)


def _steps(case: Case, trim: StagesTrim) -> Mapping[str, str]:
    """Return the steps that were done; those into the mode count no more once the power was off."""
    told = round_of(case, trim)
    last = f"into: {trim.into[-1]}" if trim.into else ""
    ends = [i for i, t in enumerate(told) if isinstance(t.body, TrimStep) and t.body.step == last]
    if not ends or told[ends[-1]] in since_live(case, told):
        return steps_done(told)
    return steps_done(told[ends[-1] + 1 :])


def _use_card(case: Case, trim: StagesTrim) -> Card:
    return Card(
        id=f"trim:{trim.id}:use",
        kind="First",
        title="What is in the machine?",
        cautions=cautions_of(case, trim),
        choices=tuple(
            Choice(
                key=str(number),
                text=f"{use[0].upper()}{use[1:]}",
                note=_preset_words(trim, use),
                log=(TrimStep(trim=trim.id, step=grip.USE, text=use),),
            )
            for number, use in enumerate(list(trim.presets)[:9], start=1)
        ),
        why_heading="Why",
        why=("Each use has strengths of its own; a stage that does not matter is left out.",),
    )


def _preset_words(trim: StagesTrim, use: str) -> str:
    parts = []
    for stage in trim.stages:
        volts = grip.preset(trim, use, stage)
        parts.append(f"{stage.name} {_volts(volts) if volts is not None else 'as it is'}")
    return ", ".join(parts)


def _volts(volts: float) -> str:
    return f"{volts:g}\u202fV"


def _step_card(
    case: Case,
    trim: StagesTrim,
    steps: tuple[str, ...],
    done: Mapping[str, str],
    heading: str,
    coil: grip.HeldCoil,
) -> Card | None:
    for number, step in enumerate(steps, start=1):
        name = f"{heading.partition(' ')[0].lower()}: {step}"
        if name in done:
            continue
        return Card(
            id=f"trim:{trim.id}:{name}",
            kind=f"{heading} · {number} of {len(steps)}",
            title=f"{step[0].upper()}{step[1:]}",
            cautions=_cautions(case, trim, coil),
            choices=(Choice(key="1", text="Done", log=(TrimStep(trim=trim.id, step=name),)),),
            why_heading="Steps",
            why=tuple(f"{i}. {s}" for i, s in enumerate(steps, start=1)),
            can_skip=False,
        )
    return None


def clock_of(trim: StagesTrim, coil: grip.HeldCoil) -> CoilClock:
    """Return the coil's clock, for the card and the surface."""
    return CoilClock(
        name=trim.coil or "coil",
        is_on=coil.is_on,
        off_by=coil.off_by,
        rest_until=coil.rest_until,
        on_s=trim.on,
        rest_s=trim.rest,
        warm=coil.warm,
    )


def _cautions(case: Case, trim: StagesTrim, coil: grip.HeldCoil) -> tuple[str, ...]:
    if coil.is_on:
        # The card counts it down.
        return cautions_of(case, trim)
    name = trim.coil or "The coil"
    on = (f"{name}: {trim.on:g}\u202fs at most, then {trim.rest:g}\u202fs of rest.",)
    return (*on, *cautions_of(case, trim))


def _let_go(case: Case, trim: StagesTrim) -> Card:
    return Card(
        id=f"trim:{trim.id}:go",
        kind="The coil is on",
        title="Let it go",
        clock=clock_of(trim, grip.coil_of(case, trim)),
        cautions=cautions_of(case, trim),
        choices=(Choice(key="1", text="Let go", log=(CoilHeld(trim=trim.id, is_on=False),)),),
        why_heading="Why",
        why=(f"It burns when it stays on longer than {trim.on:g}\u202fs.",),
        can_skip=False,
    )


def _hold_choice(trim: StagesTrim, coil: grip.HeldCoil) -> Choice:
    if coil.is_on:
        return Choice(key="Alt+c", text="Coil let go", log=(CoilHeld(trim=trim.id, is_on=False),))
    return Choice(key="Alt+c", text="Coil on now", log=(CoilHeld(trim=trim.id, is_on=True),))


def _stage_card(
    case: Case, hand: Hand, trim: StagesTrim, stage: GripStage, coil: grip.HeldCoil
) -> Card:
    use = grip.use_of(case, trim)
    want = grip.preset(trim, use, stage)
    assert want is not None
    now = turning_of(case, as_turning(trim, stage, want))
    title, log = _asked(hand, trim, stage, now)
    panel = grip.panel_for(case, trim, want)
    hint = f"{want:g}, panel 23, or +1/6"
    return Card(
        id=f"trim:{trim.id}:{stage.id}:{now.count}:{'turn' if log else 'read'}",
        kind=f"{stage.name} · {use}",
        title=title,
        clock=clock_of(trim, coil),
        cautions=_cautions(case, trim, coil),
        leads=_where(trim, stage, is_turn=bool(log)),
        expect=f"{want:g}\u202fV",
        expect_notes=(_panel_words(panel) or f"± {trim.within:g}\u202fV, read on the meter",),
        entry=Entry(kind="text", field="trim", target=stage.id, hint=hint),
        asks=None if log else trim_request(case, trim, [stage.id]),
        choices=(Choice(key="1", text="Turned", log=log),) if log else (),
        runners=(_hold_choice(trim, coil),),
        why=_stage_why(case, trim, stage, panel),
        marks_cell=True,
    )


def _asked(
    hand: Hand, trim: StagesTrim, stage: GripStage, now: Turning
) -> tuple[str, tuple[Body, ...]]:
    """Return what a stage's card asks for: a reading, or a turn with its event."""
    name, turns = made(hand)
    if turns:
        return f"{name} {turn_text(turns)}", ()
    if not now.is_read or now.advice is None:
        return f"Read the volts at {stage.name}", ()
    _, by = now.advice.turns[0]
    log = AdjusterTurned(trim=trim.id, adjuster=stage.adjuster, turns=by)
    return f"{stage.adjuster} {turn_words(by)}", (log,)


def _where(trim: StagesTrim, stage: GripStage, *, is_turn: bool) -> tuple[Lead, ...]:
    said: tuple[tuple[LeadKind, str], ...] = (
        ("check", stage.shows and f"the display shows {stage.shows}"),
        ("red", "" if is_turn else trim.red),
        ("black", "" if is_turn else trim.black),
        ("hand", stage.place and f"{stage.adjuster}: {stage.place}"),
    )
    return tuple(Lead(kind=kind, text=text) for kind, text in said if text)


def _panel_words(panel: tuple[float, float] | None) -> str:
    return f"panel about {panel[0]:.0f} ± {panel[1]:.0f}" if panel is not None else ""


def _stage_why(
    case: Case, trim: StagesTrim, stage: GripStage, panel: tuple[float, float] | None
) -> tuple[str, ...]:
    said = []
    have, pairs = grip.read_at(case, trim, stage), len(grip.pairs_of(case, trim))
    if have is not None:
        said.append(f"It has {exact(have, 'V', figures=4)}.")
    if trim.panel and pairs < LEAST:
        said.append(
            f"The panel meter is not trusted: {pairs} of {LEAST} pairs. Type panel 23 beside a reading."
        )
    elif trim.panel and panel is None:
        said.append("These volts lie beyond the pairs: the panel’s line is not carried there.")
    if trim.next_key:
        said.append(f"Next stage: {trim.next_key}.")
    return tuple(said) or ("Read it, turn it, read it again.",)


def stages_beside(case: Case, hand: Hand, trim: StagesTrim, down: int, along: int) -> Pick | None:
    """Turn by the arrow keys; up and down pick a stage."""
    stage = current(case, hand, trim)
    wanted = grip.stages_for(trim, grip.use_of(case, trim))
    if stage is None or not wanted:
        return None
    if down:
        at = wanted[(wanted.index(stage) + down) % len(wanted)]
        return Pick(focus=trim.id, cell=f"stage:{at.id}")
    return Pick(focus=trim.id, cell=arrowed(hand, (stage.adjuster,), stage.adjuster, 0, along))

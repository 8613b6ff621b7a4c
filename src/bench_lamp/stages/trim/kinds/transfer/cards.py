"""A reference setting carried to this unit: the right model, the right state, the right mode, then the target."""

from bench_lamp.board.trims import TransferTrim, TrimReading, TurnTrim
from bench_lamp.cards.card import Card, Choice, Entry, Lead
from bench_lamp.cards.instrument_trim import trim_request
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand, Pick
from bench_lamp.case.trims.carrying import Target, references_of, target_of
from bench_lamp.case.trims.rounds import round_of, since_live, steps_done
from bench_lamp.case.trims.turning import Turning, turning_of
from bench_lamp.journal.trim_events import AdjusterTurned, TrimStep
from bench_lamp.stages.trim.steps import cautions_of, ended_as
from bench_lamp.stages.trim.turns_of import arrowed, made
from bench_lamp.units import Band, exact
from bench_lamp.units.turns import turn_text, turn_words

#: Steps that are told apart.
MODEL, STATE = "model", "state: "
#: A meter that takes less than this share is not spoken of.
LOADS = 0.002


def as_turning(trim: TransferTrim, want: Target) -> TurnTrim:
    """Return the adjuster with what the meter must show."""
    return TurnTrim(
        id=trim.id,
        name=trim.name,
        kind="single",
        adjusters=(trim.adjuster,),
        readings=(
            TrimReading(
                id=trim.state,
                name=f"pad, {trim.state}",
                band=Band(want.volts - want.within, want.volts + want.within),
                red=trim.red,
                black=trim.black,
            ),
        ),
        slopes={trim.adjuster.id: {trim.state: trim.slope}},
    )


def transfer_card(case: Case, hand: Hand, trim: TransferTrim) -> Card | None:
    """Ask for the model, wait for each state, read in the right one, turn; None when it is right."""
    told, want = round_of(case, trim), target_of(case, trim)
    done = steps_done(told)
    if MODEL not in done:
        return _model_card(case, trim)
    if want is None:
        return _beyond_card(case, trim)
    live = steps_done(since_live(case, told))
    reached = [s for s in trim.states if f"{STATE}{s}" in live]
    if trim.state not in reached:
        return _state_card(case, trim, trim.states[len(reached)])
    now = turning_of(case, as_turning(trim, want))
    name, turns = made(hand)
    if turns:
        return _turn_card(case, trim, now, want, f"{name} {turn_text(turns)}", ())
    if now.is_right:
        return None
    if now.is_read and now.advice is not None:
        _, by = now.advice.turns[0]
        log = (AdjusterTurned(trim=trim.id, adjuster=trim.adjuster.id, turns=by),)
        return _turn_card(case, trim, now, want, f"{trim.adjuster.id} {turn_words(by)}", log)
    return _read_card(case, trim, now, want)


def _model_card(case: Case, trim: TransferTrim) -> Card:
    same = TrimStep(trim=trim.id, step=MODEL, text=trim.model)
    other = ended_as(trim, "left", "another model: the reference does not hold")
    same_too = f"{trim.meter or 'meter'}, {mode_words(trim)} and state"
    return Card(
        id=f"trim:{trim.id}:model",
        kind="First",
        title=f"Is it a {trim.model}?",
        cautions=cautions_of(case, trim),
        choices=(
            Choice(key="1", text=f"{trim.model}, as the reference", log=(same,)),
            Choice(key="2", text="Another model", log=(other,), focus=""),
        ),
        why_heading="Why",
        why=(f"The reference holds for the same model, {same_too}, and for nothing else.",),
        can_skip=False,
    )


def mode_words(trim: TransferTrim) -> str:
    """Say what the meter is set to."""
    return "DC volts" if trim.mode == "dc V" else "AC volts"


def _beyond_card(case: Case, trim: TransferTrim) -> Card:
    end = ended_as(trim, "left", "beyond the references")
    return Card(
        id=f"trim:{trim.id}:beyond",
        kind="No target",
        title="The references do not reach this setting",
        cautions=cautions_of(case, trim),
        choices=(Choice(key="1", text="Leave it", log=(end,), focus=""),),
        why_heading="Why",
        why=("A line is not carried beyond the settings that were read on the reference unit.",),
    )


def _state_card(case: Case, trim: TransferTrim, state: str) -> Card:
    is_wanted = state == trim.state
    shown_then = next((v for s, _, v in references_of(case, trim) if s == state), None)
    reads = f" It reads about {exact(shown_then, 'V', figures=3)} then." if shown_then else ""
    return Card(
        id=f"trim:{trim.id}:{state}",
        kind=f"State {trim.states.index(state) + 1} of {len(trim.states)}",
        title=f"Wait until it is {state}",
        cautions=cautions_of(case, trim),
        choices=(
            Choice(
                key="1",
                text=f"It is {state}",
                log=(TrimStep(trim=trim.id, step=f"{STATE}{state}"),),
            ),
        ),
        why_heading="Why",
        why=(
            f"{'It is read in this state.' if is_wanted else 'Nothing is read in this state.'}{reads}",
        ),
        can_skip=False,
    )


def _leads(trim: TransferTrim) -> tuple[Lead, ...]:
    return (
        *((Lead(kind="red", text=trim.red),) if trim.red else ()),
        *((Lead(kind="black", text=trim.black),) if trim.black else ()),
        Lead(kind="meter", text=mode_words(trim)),
    )


def _why(trim: TransferTrim, want: Target) -> tuple[str, ...]:
    words = [
        f"{trim.setting_text or exact(trim.setting, 'V')} on the reference unit, {trim.state}."
    ]
    if max(want.here, want.there) > LOADS:
        here, there = f"{100 * want.here:.1f}\u202f%", f"{100 * want.there:.1f}\u202f%"
        words.append(f"The meter loads the pad by {here}; the reference’s by {there}.")
    words += [f"Not in {mode}: {why}" for mode, why in trim.refused.items()]
    return tuple(words)


def _read_card(case: Case, trim: TransferTrim, now: Turning, want: Target) -> Card:
    return Card(
        id=f"trim:{trim.id}:read:{now.count}",
        kind=f"After turn {now.count}" if now.count else f"It is {trim.state}",
        title=f"Read the pad, {trim.state}",
        cautions=cautions_of(case, trim),
        leads=_leads(trim),
        expect=exact(want.volts, "V", figures=4),
        expect_notes=(f"± {exact(want.within, 'V', figures=2)}",),
        entry=Entry(
            kind="text", field="trim", target=trim.state, hint=exact(want.volts, "V", figures=3)
        ),
        asks=trim_request(case, trim, [trim.state]),
        why=_why(trim, want),
        marks_cell=True,
    )


def _turn_card(
    case: Case,
    trim: TransferTrim,
    now: Turning,
    want: Target,
    title: str,
    log: tuple[AdjusterTurned, ...],
) -> Card:
    have = now.now.get(trim.state)
    return Card(
        id=f"trim:{trim.id}:turn:{now.count}",
        kind=f"Turn {now.count + 1}",
        title=title,
        cautions=cautions_of(case, trim),
        leads=(Lead(kind="hand", text=f"{trim.adjuster.id}: {trim.adjuster.place}"),)
        if trim.adjuster.place
        else (),
        expect=exact(want.volts, "V", figures=4),
        entry=Entry(kind="text", field="trim", target=trim.state, hint="+1/24, or the reading"),
        choices=(Choice(key="1", text="Turned", log=log),) if log else (),
        why=(
            *((f"It shows {exact(have.value, 'V', figures=4)}.",) if have else ()),
            *_why(trim, want),
        ),
        marks_cell=True,
    )


def transfer_beside(case: Case, hand: Hand, trim: TransferTrim, down: int, along: int) -> Pick:
    """Turn by the arrow keys."""
    name = trim.adjuster.id
    return Pick(focus=trim.id, cell=arrowed(hand, (name,), name, down, along))

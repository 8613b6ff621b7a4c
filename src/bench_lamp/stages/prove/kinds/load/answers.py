"""What is typed under full load: volts, ripple, degrees."""

from bench_lamp.board import TestPoint
from bench_lamp.cards.card import Accepted, Answer, Entry, Refused, Typed
from bench_lamp.cards.preview import Preview
from bench_lamp.cards.reading_entry import quantity_of
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.proving.loads import full_load, hung_since, load_name, load_steps
from bench_lamp.case.readings import judge_value
from bench_lamp.journal.proof_events import HeatFelt, HeatWord, LoadStepRead
from bench_lamp.stages.prove.kinds.load.steps import (
    HEAT,
    RIPPLE,
    TOO_HOT,
    WARM,
    step_of,
    with_ripple,
)
from bench_lamp.units import UnitError, exact

#: A reading this many times the nominal is a slip of the fingers.
FAR_OFF = 3.0


def take_load(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    """Take volts at a step, the ripple at full load, or degrees."""
    if entry.field == HEAT:
        return _take_heat(entry, typed.text)
    try:
        quantity, mode = quantity_of(entry, typed)
    except UnitError as exc:
        return Refused(what=str(exc), mend=exc.hint)
    load, point = full_load(case, entry.target), case.profile.point(entry.target)
    if load is None or point is None:
        return Refused(what=f"{entry.target} has no full load", mend="Pick another with Page down.")
    wrong = _wrong(case, point, quantity.value, is_volts=mode != "ohm" and not quantity.is_overload)
    if wrong is not None:
        return wrong
    meter = typed.source or case.meter.id
    if entry.field == RIPPLE:
        last = load_steps(case, load)[-1]
        return Accepted(log=(with_ripple(last, abs(quantity.value)),))
    step = step_of(case, load)
    if step is None:
        return Refused(what="All steps are read", mend="Take the load off.")
    hung = hung_since(case, load_name(load.point))
    body = LoadStepRead(
        point=point.id,
        share=step.share,
        ohms=hung.body.ohms if hung is not None and step.share else 0.0,
        volts=quantity.value,
        resolution=quantity.resolution,
        meter=meter,
    )
    return Accepted(log=(body,))


def _wrong(case: Case, point: TestPoint, value: float, *, is_volts: bool) -> Refused | None:
    """Return what speaks against a reading under load; None for nothing."""
    if not case.state.power.is_live:
        return Refused(what="The board is not marked live", mend="Ctrl+P, then read it again.")
    if not is_volts:
        return Refused(what="That is no voltage under load", mend="Read volts: 35.8.")
    if abs(value) <= FAR_OFF * abs(point.volts):
        return None
    far = f"{exact(value, 'V')} is far from the {exact(point.volts, 'V')} of {point.id}"
    return Refused(what=far, mend="Read it again; write volts as 35.8.")


def _take_heat(entry: Entry, text: str) -> Answer:
    tidy = text.replace("°C", "").replace("°", "").replace(",", ".").strip()
    try:
        celsius = float(tidy)
    except ValueError:
        return Refused(what=f"“{text.strip()}” is no temperature", mend="Degrees Celsius: 62.")
    if not -40 <= celsius <= 400:
        return Refused(what=f"{celsius:g}\u202f°C is not possible", mend="Degrees Celsius: 62.")
    word: HeatWord = "too hot" if celsius >= TOO_HOT else "hot" if celsius > WARM else "cool"
    return Accepted(log=(HeatFelt(part=entry.target, celsius=celsius, word=word),))


def preview_load(case: Case, hand: Hand, entry: Entry, text: str) -> Preview:
    """Judge the volts that stand in the entry so far."""
    point = case.profile.point(entry.target)
    if entry.field == HEAT or point is None:
        return Preview()
    try:
        quantity, mode = quantity_of(entry, Typed(text=text))
    except UnitError:
        return Preview()
    found = judge_value(case, point, mode, quantity.value, resolution=quantity.resolution)
    return Preview(found.verdict, found.word, "")

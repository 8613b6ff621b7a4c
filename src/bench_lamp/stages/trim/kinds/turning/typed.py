"""What is typed of adjusters: readings, a turn, an end stop."""

from bench_lamp.board.trims import TurnTrim
from bench_lamp.cards.card import Accepted, Answer, Refused
from bench_lamp.cards.instrument_trim import read_bodies
from bench_lamp.cards.preview import Preview
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.trims.turning import asked_for, turning_of, verdict_of
from bench_lamp.errors import BenchLampError
from bench_lamp.stages.trim.kinds.quantities import read_typed, shown
from bench_lamp.stages.trim.turns_of import said_turn


def take_turning(case: Case, hand: Hand, trim: TurnTrim, text: str) -> Answer:
    """Take readings, a turn, or an end stop."""
    now, names = turning_of(case, trim), tuple(a.id for a in trim.adjusters)
    usual = names[now.advice.turns[0][0]] if now.advice else names[0]
    try:
        said = said_turn(trim, names, usual, text)
        if said is not None:
            return said
        missing = asked_for(trim, now)
        values = read_typed(missing, trim.readings, text)
    except BenchLampError as exc:
        return Refused(what=str(exc), mend=exc.hint)
    return Accepted(log=tuple(read_bodies(case, trim, values, case.meter.id)), cell="")


def preview_turning(case: Case, hand: Hand, trim: TurnTrim, text: str) -> Preview:
    """Judge the reading that stands in the entry."""
    now, names = turning_of(case, trim), tuple(a.id for a in trim.adjusters)
    try:
        if said_turn(trim, names, names[0], text) is not None:
            return Preview("", "a turn", "")
        missing = asked_for(trim, now)
        values = read_typed(missing, trim.readings, text)
    except BenchLampError:
        return Preview()
    what, (value, _) = next(iter(values.items()))
    quantity = next(r for r in trim.readings if r.id == what)
    found = verdict_of(case, quantity, value)
    return Preview(found.word, found.word, f"{quantity.name} {shown(quantity, value)}")

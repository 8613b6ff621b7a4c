"""What is typed of adjusters: readings, a turn, an end stop."""

from bench_lamp.board.trims import TurnTrim
from bench_lamp.cards.card import Accepted, Answer, Refused
from bench_lamp.cards.instrument_trim import read_bodies
from bench_lamp.cards.preview import Preview
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.trims.turning import turning_of, verdict_of
from bench_lamp.errors import BenchLampError
from bench_lamp.journal.trim_events import AdjusterTurned
from bench_lamp.stages.trim.kinds.quantities import hint_of, read_typed, shown
from bench_lamp.stages.trim.kinds.turning import asked_for, names_of, turning_card
from bench_lamp.stages.trim.turns_of import made, said_turn


def take_turning(case: Case, hand: Hand, trim: TurnTrim, text: str) -> Answer:
    """Take readings, a turn, or an end stop; Enter alone takes what is lit."""
    now, names = turning_of(case, trim), names_of(trim)
    name, turns = made(hand)
    if not text and turns:
        return Accepted(log=(AdjusterTurned(trim=trim.id, adjuster=name, turns=turns),), cell="")
    card = turning_card(case, hand, trim)
    if not text:
        if card is not None and card.choices:
            return Accepted(log=card.choices[0].log, go=card.choices[0].go)
        return Refused(what="Nothing was typed", mend=f"Write {hint_of(trim.readings)}.")
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
    now = turning_of(case, trim)
    try:
        if said_turn(trim, names_of(trim), names_of(trim)[0], text) is not None:
            return Preview("", "a turn", "")
        missing = asked_for(trim, now)
        values = read_typed(missing, trim.readings, text)
    except BenchLampError:
        return Preview()
    what, (value, _) = next(iter(values.items()))
    quantity = next(r for r in trim.readings if r.id == what)
    found = verdict_of(case, quantity, value)
    return Preview(found.word, found.word, f"{quantity.name} {shown(quantity, value)}")

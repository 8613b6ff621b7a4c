"""What is typed of a setting that is carried over: a reading, a turn, a reference."""

from bench_lamp.board.trims import TransferTrim
from bench_lamp.cards.card import Accepted, Answer, Asked, Choice, Refused
from bench_lamp.cards.preview import Preview
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.trims.carrying import Target, state_of, target_of
from bench_lamp.errors import BenchLampError
from bench_lamp.journal.trim_events import ReferenceRead, TrimRead
from bench_lamp.stages.trim.kinds.quantities import read_typed, shown
from bench_lamp.stages.trim.kinds.transfer.cards import as_turning, mode_words
from bench_lamp.stages.trim.turns_of import said_turn
from bench_lamp.units import exact, parse_quantity


def take_transfer(case: Case, hand: Hand, trim: TransferTrim, text: str) -> Answer:
    """Take a reading in the state, or a turn; another mode or state is refused or asked about."""
    want = target_of(case, trim)
    if want is None:
        return Refused(
            what="The references do not reach this setting", mend="Add one: reference 850 mV 1.96."
        )
    return _refused(trim, text) or _typed(case, trim, want, text)


def _typed(case: Case, trim: TransferTrim, want: Target, text: str) -> Answer:
    """Take a reference, a turn, or a reading; one that another state shows is asked about."""
    if text.lower().startswith("reference"):
        return _reference(trim, text)
    turning = as_turning(trim, want)
    try:
        said = said_turn(trim, (trim.adjuster.id,), trim.adjuster.id, text)
        if said is not None:
            return said
        values = read_typed(turning.readings, turning.readings, text.removesuffix(" dc"))
    except BenchLampError as exc:
        return Refused(what=str(exc), mend=exc.hint)
    value, digit = values[trim.state]
    body = TrimRead(trim=trim.id, what=trim.state, value=value, resolution=digit)
    state = state_of(case, trim, value)
    if state and state != trim.state:
        other = TrimRead(trim=trim.id, what=state, value=value, resolution=digit)
        return Asked(
            question=f"The reference shows {exact(value, 'V')} when it is {state}. Is it {trim.state}?",
            choices=(
                Choice(key="1", text=f"No, it is {state}", log=(other,)),
                Choice(key="2", text=f"Yes, {trim.state}", log=(body,)),
            ),
        )
    return Accepted(log=(body,), cell="")


def _reference(trim: TransferTrim, text: str) -> Answer:
    """Take what this unit showed as a reference: `reference 860 mV 1.98`, in the state of the card."""
    words = text.split()[1:]
    values = " ".join(words).replace(" mV", "mV").replace(" V", "V").split()
    try:
        setting, shown_here = (parse_quantity(v, "V").value for v in values)
    except (BenchLampError, ValueError):
        return Refused(
            what="That is no reference",
            mend="Write reference 850 mV 1.96: its setting, then the meter.",
        )
    body = ReferenceRead(trim=trim.id, state=trim.state, setting=setting, shown=shown_here)
    return Accepted(log=(body,), cell="")


def _refused(trim: TransferTrim, text: str) -> Refused | None:
    """Refuse a meter mode that says nothing here, with its reason."""
    low = text.lower()
    is_ac = low.endswith(("ac", "~")) or "v~" in low
    mode = "ac V" if is_ac else "dc V"
    if mode == trim.mode:
        return None
    why = trim.refused.get(mode) or trim.refused.get(mode.upper()[:2])
    if is_ac or why:
        return Refused(
            what=f"{'AC' if is_ac else 'DC'} volts say nothing here{f': {why}' if why else ''}",
            mend=f"Set the meter to {mode_words(trim)} and read again.",
        )
    return None


def preview_transfer(case: Case, hand: Hand, trim: TransferTrim, text: str) -> Preview:
    """Say how far off the reading in the entry is."""
    want = target_of(case, trim)
    if want is None:
        return Preview()
    turning = as_turning(trim, want)
    try:
        ((value, _),) = read_typed(turning.readings, turning.readings, text).values()
    except BenchLampError:
        return Preview()
    off = value - want.volts
    word = "within" if abs(off) <= want.within else "low" if off < 0 else "high"
    return Preview(word, word, f"{shown(turning.readings[0], off)} off")

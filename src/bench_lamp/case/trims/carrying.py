"""A reference setting carried to this unit: the target for this meter, and what it shows here."""

from msgspec import Struct

from bench_lamp.board.trims import TransferTrim
from bench_lamp.case.case import Case
from bench_lamp.case.trims.rounds import reads_of, round_of
from bench_lamp.journal.trim_events import ReferenceRead
from bench_lamp.trim.transfer import loaded, target, unloaded

#: Input of hand-held meters on volts, in ohms, where this one does not say.
METER_OHMS = 10e6


class Target(Struct, frozen=True, kw_only=True):
    """What the meter must show in the state, and how far it may be off."""

    volts: float
    within: float
    #: How much this meter loads the pad, and the reference's did, as shares.
    here: float
    there: float


def references_of(case: Case, trim: TransferTrim) -> tuple[tuple[str, float, float], ...]:
    """Return state, setting and what was shown: what the shop read on reference units, and the profile's."""
    jobs = (case.state, *case.visits, *case.peers)
    read = tuple(
        (t.body.state, t.body.setting, t.body.shown)
        for job in jobs
        for t in job.trims.get(trim.id, ())
        if isinstance(t.body, ReferenceRead)
    )
    return (*read, *((r.state, r.setting, r.shown) for r in trim.references))


def target_of(case: Case, trim: TransferTrim, meter_ohms: float = METER_OHMS) -> Target | None:
    """Return the target for a meter of that input; None where the references do not reach."""
    pairs = [(at, shown) for state, at, shown in references_of(case, trim) if state == trim.state]
    shown = target(pairs, trim.setting)
    if shown is None:
        return None
    bare = unloaded(shown, trim.source_ohms, trim.meter_ohms)
    return Target(
        volts=loaded(bare, trim.source_ohms, meter_ohms),
        within=trim.within,
        here=1 - loaded(1.0, trim.source_ohms, meter_ohms),
        there=1 - loaded(1.0, trim.source_ohms, trim.meter_ohms),
    )


def read_in(case: Case, trim: TransferTrim, state: str) -> float | None:
    """Return what the meter showed last in a state; None where it was not read."""
    reads = reads_of(round_of(case, trim), state)
    return reads[-1].value if reads else None


def state_of(case: Case, trim: TransferTrim, shown: float) -> str:
    """Return the state whose reference is nearest to a reading, where one clearly is; else empty."""
    known = references_of(case, trim)
    by_state = {state: volts for state, at, volts in known if at == trim.setting}
    if len(by_state) < 2:
        return ""
    near = sorted(by_state, key=lambda s: abs(by_state[s] - shown))
    first, second = (abs(by_state[s] - shown) for s in near[:2])
    return near[0] if first < 0.4 * second else ""


def is_right(case: Case, trim: TransferTrim) -> bool:
    """Whether the meter shows the target in the right state."""
    want, have = target_of(case, trim), read_in(case, trim, trim.state)
    return want is not None and have is not None and abs(have - want.volts) <= want.within

"""A reference setting carried to this unit: the target for this meter, and what it shows here."""

from msgspec import Struct

from bench_lamp.board.trims import TransferTrim
from bench_lamp.case.case import Case
from bench_lamp.case.trims.rounds import reads_of, round_of
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


def target_of(trim: TransferTrim, meter_ohms: float = METER_OHMS) -> Target | None:
    """Return the target for a meter of that input; None where the references do not reach."""
    pairs = [(r.setting, r.shown) for r in trim.references if r.state == trim.state]
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


def state_of(trim: TransferTrim, shown: float) -> str:
    """Return the state whose reference is nearest to a reading, where one clearly is; else empty."""
    by_state = {r.state: r.shown for r in trim.references if r.setting == trim.setting}
    if len(by_state) < 2:
        return ""
    near = sorted(by_state, key=lambda s: abs(by_state[s] - shown))
    first, second = (abs(by_state[s] - shown) for s in near[:2])
    return near[0] if first < 0.4 * second else ""


def is_right(case: Case, trim: TransferTrim) -> bool:
    """Whether the meter shows the target in the right state."""
    want, have = target_of(trim), read_in(case, trim, trim.state)
    return want is not None and have is not None and abs(have - want.volts) <= want.within

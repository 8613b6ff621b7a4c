"""What a board drew since a linked supply was switched on, against the model at the gate under way."""

from msgspec import Struct

from bench_lamp.case.case import Case
from bench_lamp.case.gate_currents import GateCurrent, judge_amps
from bench_lamp.case.gates import current_gate, gates
from bench_lamp.checks.inrush import inrush
from bench_lamp.instrument.guard import Drawn
from bench_lamp.units import engineering

#: How far a supply may be set from what stands for it, as a share.
NEAR = 0.15


class DrawnJudged(Struct, frozen=True, kw_only=True):
    """What was drawn, in words."""

    words: str
    #: What to do; empty where all is as it should be.
    mend: str = ""
    #: Whether more flowed, or for longer, than on a sound board.
    is_bad: bool = False


def judge_drawn(case: Case, drawn: Drawn, volts: float, limit: float) -> DrawnJudged | None:
    """Judge inrush and idle of a supply that is set to so many volts and amperes.

    None where it stands for no supply of this board, or nobody knows what it should give.
    """
    current = _supply(case, volts)
    if current is None or current.band is None or drawn.idle < 0:
        return None
    idle = judge_amps(current.band, drawn.idle)
    words = [f"idle {_amps(drawn.idle)}, {current.band_text} expected: {idle.verdict}"]
    is_bad = idle.verdict == "high"
    if limit > 0 and drawn.inrush >= 0:
        wanted = inrush(current.charge, limit, current.band.high)
        is_long = drawn.held > wanted.seconds
        is_bad = is_bad or is_long or drawn.inrush > wanted.most
        verdict = "too long" if is_long else "high" if drawn.inrush > wanted.most else "within"
        words.insert(
            0,
            f"inrush {_amps(drawn.inrush)} for {_moment(drawn.held)}, at most "
            f"{_amps(limit)} for {_moment(wanted.seconds)} expected: {verdict}",
        )
    mend = "Switch off: something draws more than it should." if is_bad else ""
    return DrawnJudged(words=f"{current.supply}: " + " · ".join(words), mend=mend, is_bad=is_bad)


def _supply(case: Case, volts: float) -> GateCurrent | None:
    """Return the supply of the gate under way, or of the last one, that a linked one stands for by its volts."""
    gate = current_gate(case) or next(iter(reversed(gates(case))), None)
    found = gate.currents if gate is not None else ()
    return next((c for c in found if abs(c.volts - volts) <= NEAR * c.volts), None)


def _amps(value: float) -> str:
    return engineering(value, "A", resolution=1e-3 if value < 1 else 1e-2)


def _moment(seconds: float) -> str:
    """Write seconds: `0.3 s`, `long`.

    >>> _moment(0.295), _moment(float("inf"))
    ('0.3\u202fs', 'long')
    """
    return f"{seconds:.1f}\u202fs" if seconds < 60 else "long"

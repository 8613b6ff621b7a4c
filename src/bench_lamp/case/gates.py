"""The gates of waking up: what goes on, what stays off, what is read, and what stops here."""

from typing import Literal

from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import Inlet
from bench_lamp.board.hardware import Gate
from bench_lamp.case.case import Case, remembered
from bench_lamp.case.cautions import is_mains
from bench_lamp.case.cold_checks import ColdKind
from bench_lamp.case.gate_currents import GateCurrent, currents_at
from bench_lamp.case.gate_readings import GateCondition, GateReading, read_at, stray_at
from bench_lamp.case.house_rules import rule
from bench_lamp.checks.limiting import hung_at
from bench_lamp.journal import Reading
from bench_lamp.journal.check_ids import CheckId
from bench_lamp.journal.events import GateMarked
from bench_lamp.journal.state import ROUND

GateStatus = Literal["passed", "overridden", "failed", "here", "waiting"]
#: Limiters that are out again before anything is read.
LIMITERS = frozenset({"series lamp", "variable transformer"})
WHOLE = Gate(id="whole", name="Straight on", signs=("no smell, no hum, it starts",))


class GateView(Struct, frozen=True, kw_only=True):
    """One gate as it stands."""

    number: int
    gate: Gate
    status: GateStatus
    #: Connectors and fuses that stay off here.
    off: frozenset[str]
    #: Dummy loads that hang on here.
    hung: frozenset[str]
    readings: tuple[GateReading, ...]
    #: What each supply gives here.
    currents: tuple[GateCurrent, ...]
    #: Stray pins with their readings; None where not read.
    stray: tuple[tuple[str, Reading | None], ...]
    signs_seen: bool
    #: Whether it was switched on through the shop's limiter, and that is out again.
    is_unlimited: bool = True
    reason: str = ""

    @property
    def waits_for_strays(self) -> bool:
        """Whether stray volts are still to be read, before anything goes on."""
        return any(reading is None for _, reading in self.stray)

    @property
    def bad(self) -> tuple[GateReading, ...]:
        """Points that read wrong here."""
        return tuple(r for r in self.readings if r.judgement is not None and not r.is_good)

    @property
    def bad_currents(self) -> tuple[GateCurrent, ...]:
        """Supplies that give far more than they should here."""
        return tuple(c for c in self.currents if c.stops)

    @property
    def bad_strays(self) -> tuple[str, ...]:
        """Pins that carry more than they may."""
        limit = self.gate.stray_volts
        return tuple(n for n, r in self.stray if r is not None and abs(r.value) > limit)


@remembered
def gates(case: Case) -> tuple[GateView, ...]:
    """Return the gates from left to right; the first that is not passed is the one under way."""
    plan = _plan(case)
    found: list[GateView] = []
    is_here = True
    for number, gate in enumerate(plan, start=1):
        view = _view(case, number, gate, plan[number:])
        status = _status(case, gate, view, is_here=is_here)
        found.append(replace(view, status=status))
        is_here = is_here and status in {"passed", "overridden"}
    return tuple(found)


def current_gate(case: Case) -> GateView | None:
    """Return the gate under way or failed; None when all are passed, or there are none."""
    return next((g for g in gates(case) if g.status in {"here", "failed"}), None)


def _plan(case: Case) -> tuple[Gate, ...]:
    wake = case.profile.wake
    if wake is None or not wake.gates or rule(case, "wake-up") == "straight on":
        return (WHOLE,)
    needs_load = bool(wake.least_loads)
    return tuple(g for g in wake.gates if g.id != "load" or needs_load)


def _view(case: Case, number: int, gate: Gate, later: tuple[Gate, ...]) -> GateView:
    off = frozenset(name for g in later for name in g.on)
    hung: frozenset[str] = hung_at(case.profile, off) if gate.id == "load" else frozenset()
    here = GateCondition(off=off, on=frozenset(gate.on), hung=hung, began=_began(case, gate))
    marks = _marks_now(case, gate)
    reasons = (m.reason for m in reversed(case.state.gates.get(gate.id, ())) if m.reason)
    return GateView(
        number=number,
        gate=gate,
        status="waiting",
        off=here.off,
        hung=here.hung,
        readings=tuple(read_at(case, p, here) for p in _points(case, gate, here.off)),
        currents=currents_at(case, here),
        stray=tuple((name, stray_at(case, name, here)) for name in gate.stray),
        signs_seen=not gate.signs or "signs seen" in marks,
        is_unlimited=number > 1 or not _wants_limiter(case) or "limiter out" in marks,
        reason=next(reasons, ""),
    )


def _wants_limiter(case: Case) -> bool:
    """Whether the shop's way of limiting the mains is one for this board: not where DC comes in."""
    inlets = [b for b in case.profile.power if isinstance(b, Inlet)]
    is_dc = bool(inlets) and all(b.is_dc for b in inlets)
    return rule(case, "limiting") in LIMITERS and not is_dc


def _marks_now(case: Case, gate: Gate) -> list[str]:
    """Return a gate's marks since it failed last."""
    marks: list[str] = [m.mark for m in case.state.gates.get(gate.id, ())]
    since = marks[::-1].index("failed") if "failed" in marks else len(marks)
    return marks[len(marks) - since :]


def _status(case: Case, gate: Gate, view: GateView, *, is_here: bool) -> GateStatus:
    marks = [m.mark for m in case.state.gates.get(gate.id, ()) if m.mark != "signs seen"]
    last = marks[-1] if marks else ""
    if last == "passed" and not view.bad and not view.bad_currents:
        return "passed"
    if last == "overridden":
        return "overridden"
    if not is_here:
        return "waiting"
    is_bad = last == "failed" or view.bad or view.bad_strays or view.bad_currents
    return "failed" if is_bad else "here"


def _points(case: Case, gate: Gate, off: frozenset[str]) -> tuple[TestPoint, ...]:
    """Return what is read at a gate: all that is fed here and that the gate could have changed."""
    tree = case.tree
    fed = [p for p in case.profile.test_points if not tree.is_cut_off(p.net, off)]
    if gate.id in {"supply", WHOLE.id}:
        return tuple(fed)
    wake = case.profile.wake
    if gate.id == "load" and wake is not None:
        nets = {load.net for load in wake.least_loads}
        return tuple(p for p in fed if p.net in nets)
    touched = frozenset().union(*(_touched(case, name) for name in gate.on))
    return tuple(p for p in fed if p.net in touched or p.id in gate.reads)


def _touched(case: Case, name: str) -> frozenset[str]:
    """Return the nets before and behind what goes on."""
    before = (
        block.from_
        for block in case.profile.power
        if name in (block.id, block.id.partition(".")[0]) and hasattr(block, "from_")
    )
    return case.tree.nets_changed_by(name).union(before)


def _began(case: Case, gate: Gate) -> str:
    """Return the event after which a gate's readings count: its last failure, if it had one."""
    if all(m.mark != "failed" for m in case.state.gates.get(gate.id, ())):
        return ""
    for logged in reversed(case.state.tape):
        body = logged.event.body
        is_it = isinstance(body, GateMarked) and body.gate == gate.id and body.mark == "failed"
        if is_it and not logged.struck_by:
            return logged.event.id
    return ""


def live_fuses(case: Case, gate: GateView) -> tuple[tuple[str, str, str], ...]:
    """Return fuses that are judged live at the first gate: fuse, net before it, net behind it."""
    if gate.number != 1:
        return ()
    return tuple(
        (f.id, f.from_, f.to)
        for f in case.profile.fuses
        if (note := case.state.checks.get(str(CheckId(ColdKind.FUSE, f.id))))
        and note.word == "judge live"
        and not case.tree.is_cut_off(f.from_, gate.off)
        and f.id not in gate.off
        and not is_mains(case, f.from_)
    )


def is_round_done(case: Case) -> bool:
    """Whether the round before the first switching on was walked."""
    return any(m.mark in {"round done", "overridden"} for m in case.state.gates.get(ROUND, ()))


def off_for_wake(case: Case) -> frozenset[str]:
    """Return what is off because its gate has not come: no test left it so."""
    gate = current_gate(case) if is_round_done(case) else None
    return gate.off | frozenset(gate.gate.on) if gate else frozenset()


def is_awake(case: Case) -> bool:
    """Whether every gate is passed."""
    found = gates(case)
    return bool(found) and all(g.status in {"passed", "overridden"} for g in found)

"""The gates of waking up: what goes on, what stays off, what is read, and what stops here."""

from typing import Literal

from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.board import TestPoint
from bench_lamp.board.hardware import Gate
from bench_lamp.case.case import Case, remembered
from bench_lamp.case.cautions import is_mains
from bench_lamp.case.house_rules import rule
from bench_lamp.case.readings import MODE_UNITS, band_with, reading_text
from bench_lamp.checks import Judgement, judge
from bench_lamp.journal import Reading
from bench_lamp.journal.events import GateMarked
from bench_lamp.journal.state import ROUND
from bench_lamp.units import Band, band_text

GateStatus = Literal["passed", "overridden", "failed", "here", "waiting"]
WHOLE = Gate(id="whole", name="Straight on", signs=("no smell, no hum, it starts",))


class GateReading(Struct, frozen=True, kw_only=True):
    """A point of a gate with what it read in the gate's own condition."""

    point: TestPoint
    reading: Reading | None
    judgement: Judgement | None
    #: What it may read as things are connected here.
    band: Band

    @property
    def is_good(self) -> bool:
        """Whether it was read here, and well."""
        return self.judgement is not None and self.judgement.is_good

    @property
    def band_text(self) -> str:
        """The band as it is written, with no more digits than a meter shows."""
        places = 2 if max(abs(self.band.low), abs(self.band.high)) < 20 else 1
        shown = Band(round(self.band.low, places), round(self.band.high, places))
        return band_text(shown, MODE_UNITS[self.point.mode])

    @property
    def text(self) -> str:
        """The reading as it is written, or an em dash."""
        return reading_text(self.reading) if self.reading else "—"


class GateView(Struct, frozen=True, kw_only=True):
    """One gate as it stands."""

    number: int
    gate: Gate
    status: GateStatus
    #: Connectors and fuses that stay off here.
    off: frozenset[str]
    readings: tuple[GateReading, ...]
    #: Stray pins with their readings; None where not read.
    stray: tuple[tuple[str, Reading | None], ...]
    signs_seen: bool
    reason: str = ""

    @property
    def bad(self) -> tuple[GateReading, ...]:
        """Points that read wrong here."""
        return tuple(r for r in self.readings if r.judgement is not None and not r.is_good)

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
    points, began = _points(case, gate, off), _began(case, gate)
    marks = [m.mark for m in case.state.gates.get(gate.id, ())]
    since = marks[::-1].index("failed") if "failed" in marks else len(marks)
    return GateView(
        number=number,
        gate=gate,
        status="waiting",
        off=off,
        readings=tuple(_read(case, p, off, frozenset(gate.on), began) for p in points),
        stray=tuple((name, _stray(case, name)) for name in gate.stray),
        signs_seen=not gate.signs or "signs seen" in marks[len(marks) - since :],
        reason=next(
            (m.reason for m in reversed(case.state.gates.get(gate.id, ())) if m.reason), ""
        ),
    )


def _status(case: Case, gate: Gate, view: GateView, *, is_here: bool) -> GateStatus:
    marks = [m.mark for m in case.state.gates.get(gate.id, ()) if m.mark != "signs seen"]
    last = marks[-1] if marks else ""
    if last == "passed" and not view.bad:
        return "passed"
    if last == "overridden":
        return "overridden"
    if not is_here:
        return "waiting"
    return "failed" if last == "failed" or view.bad or view.bad_strays else "here"


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
    touched: set[str] = set()
    for name in gate.on:
        touched |= tree.nets_changed_by(name)
        for block in case.profile.power:
            if name in (block.id, block.id.partition(".")[0]) and hasattr(block, "from_"):
                touched.add(block.from_)
    return tuple(p for p in fed if p.net in touched)


def _read(
    case: Case, point: TestPoint, off: frozenset[str], on: frozenset[str], began: str
) -> GateReading:
    """Return the last reading that was taken live in this gate's condition, judged in it."""
    found = next(
        (
            r
            for r in reversed(case.state.readings)
            if r.target == point.id
            and r.mode == point.mode
            and r.power == "live"
            and not r.is_stale
            and off <= r.out
            and not r.out & on
            and r.event > began
        ),
        None,
    )
    band = band_here(case, point, off)
    if found is None:
        return GateReading(point=point, reading=None, judgement=None, band=band)
    margin = case.meter.expanded_uncertainty(found.mode, found.value, resolution=found.resolution)
    judgement = judge(
        found.value, nominal=point.nominal, design=band, practice=point.practice, uncertainty=margin
    )
    return GateReading(point=point, reading=found, judgement=judgement, band=band)


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


def band_here(case: Case, point: TestPoint, off: frozenset[str]) -> Band:
    """Return what a point may read at a gate: the drawing's band, wider where its load is off.

    A supply without its load floats as high as the profile says, or else the model.
    """
    floating = band_with(case, point, off)
    if floating != point.design:
        return floating
    expected = case.insight.expected_at.get(off, {}) if case.insight else {}
    low, high = expected.get(point.net, (point.design.low, point.design.high))
    return Band(min(point.design.low, low), max(point.design.high, high))


def live_fuses(case: Case, gate: GateView) -> tuple[tuple[str, str, str], ...]:
    """Return fuses that are judged live at the first gate: fuse, net before it, net behind it."""
    if gate.number != 1:
        return ()
    return tuple(
        (f.id, f.from_, f.to)
        for f in case.profile.fuses
        if (note := case.state.checks.get(f"fuse:{f.id}"))
        and note.word == "judge live"
        and not case.tree.is_cut_off(f.from_, gate.off)
        and f.id not in gate.off
        and not is_mains(case, f.from_)
    )


def volts_at(case: Case, net: str) -> Reading | None:
    """Return the last live, fresh reading at a net, by its point or its own name."""
    found = (r for r in reversed(case.state.readings) if r.net == net and r.power == "live")
    return next((r for r in found if not r.is_stale and r.mode in {"ac V", "dc V"}), None)


def _stray(case: Case, name: str) -> Reading | None:
    return next(
        (r for r in reversed(case.state.readings) if r.target == name and not r.is_stale), None
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

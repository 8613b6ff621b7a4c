"""A supply under full load: which steps, what they should read, what was read, and when to stop."""

from collections.abc import Iterator
from datetime import datetime
from typing import NamedTuple

from msgspec import Struct

from bench_lamp.board import TestPoint
from bench_lamp.board.proving import FullLoad
from bench_lamp.case.case import Case, remembered
from bench_lamp.case.proving.run import since_change
from bench_lamp.case.readings import judge_value
from bench_lamp.checks import Judgement
from bench_lamp.checks.full_load import LoadResistor, limit_above, load_resistor
from bench_lamp.journal.open_events import LoadHung
from bench_lamp.journal.proof_events import HeatFelt, LoadStepRead

#: Shares of the full load, one step after the other.
SHARES = (0.0, 0.25, 0.5, 1.0)


class LoadStep(Struct, frozen=True, kw_only=True):
    """One step of a full load."""

    share: float
    #: What hangs on; None for nothing.
    resistor: LoadResistor | None
    #: By the model, in volts; and the ripple peak to peak. NaN where it knows nothing.
    expected: float
    ripple: float
    #: As it was read; None before.
    read: LoadStepRead | None = None
    judgement: Judgement | None = None

    @property
    def amps(self) -> float:
        """What flows at what was read, in amperes."""
        if self.read is None or not self.read.ohms:
            return 0.0
        return abs(self.read.volts) / self.read.ohms


class Regulation(NamedTuple):
    """How much a supply gives way from no load to full load."""

    #: In volts, and in percent of the volts without load.
    drop: float
    percent: float
    #: The output resistance that this makes, in ohms.
    ohms: float


def full_loads(case: Case) -> tuple[FullLoad, ...]:
    """Return the supplies that the profile gives a full load."""
    return case.profile.full_loads


def full_load(case: Case, point: str) -> FullLoad | None:
    """Return the full load of a point, if it has one."""
    return next((f for f in case.profile.full_loads if f.point == point), None)


def load_steps(case: Case, load: FullLoad) -> tuple[LoadStep, ...]:
    """Return the steps of a full load with what was read at each since the last change."""
    point = case.profile.point(load.point)
    return () if point is None else tuple(_steps(case, load, point))


def _steps(case: Case, load: FullLoad, point: TestPoint) -> Iterator[LoadStep]:
    done = [
        t.body
        for t in since_change(case)
        if isinstance(t.body, LoadStepRead) and t.body.point == load.point
    ]
    for share in SHARES:
        resistor = load_resistor(abs(point.volts), load.amps * share) if share else None
        volts, ripple = _expected(case, point, resistor.ohms if resistor else 0.0)
        read = next((b for b in reversed(done) if b.share == share), None)
        yield LoadStep(
            share=share,
            resistor=resistor,
            expected=volts,
            ripple=ripple,
            read=read,
            judgement=_judge(case, point, read) if read else None,
        )


def _judge(case: Case, point: TestPoint, read: LoadStepRead) -> Judgement:
    return judge_value(case, point, point.mode, read.volts, resolution=read.resolution)


def _expected(case: Case, point: TestPoint, ohms: float) -> tuple[float, float]:
    """Return what the model says of a net under a load, remembered by case."""
    memory = case.memory.setdefault("case.proving.loads", {})
    key = (point.net, ohms)
    if key not in memory:
        from bench_lamp.sums.at_rest import under_load

        memory[key] = under_load(case.profile, point.net, ohms)
    found: tuple[float, float] = memory[key]
    return found


def regulation(steps: tuple[LoadStep, ...]) -> Regulation | None:
    """Return how much it gives way, from no load to the largest that was read; None before two are read.

    Drop and percent of the open volts; the ohms are the drop over the current.
    """
    read = [s for s in steps if s.read is not None]
    if len(read) < 2 or read[0].read is None or read[-1].read is None or read[0].read.ohms:
        return None
    open_v, loaded = abs(read[0].read.volts), abs(read[-1].read.volts)
    amps = read[-1].amps
    if not open_v or not amps:
        return None
    drop = open_v - loaded
    return Regulation(drop=drop, percent=100 * drop / open_v, ohms=drop / amps)


class HungAt(NamedTuple):
    """A test load that hangs on, and since when."""

    at: datetime
    body: LoadHung


def load_name(point: str) -> str:
    """Return what the test load of a point is called."""
    return f"test load on {point}"


def hung_since(case: Case, name: str) -> HungAt | None:
    """Return the load of that name with the moment it was hung on; None where it hangs no more."""
    if name not in case.state.hung:
        return None
    found = (
        HungAt(logged.event.at, logged.event.body)
        for logged in reversed(case.state.tape)
        if not logged.struck_by
        and isinstance(logged.event.body, LoadHung)
        and logged.event.body.load == name
    )
    return next(found, None)


def load_under_way(case: Case) -> str:
    """Return the name of the test load that hangs on for a full load; empty for none."""
    names = (load_name(f.point) for f in full_loads(case))
    return next((n for n in names if n in case.state.hung), "")


def limit_of(case: Case, load: FullLoad) -> float:
    """Return where a current limit is set, in amperes: above the load by both instruments' errors."""
    return limit_above(load.amps, case.meter.expanded_uncertainty("A", load.amps, resolution=0.0))


def stops_here(steps: tuple[LoadStep, ...]) -> LoadStep | None:
    """Return the step at which it left its limits: no more load is hung on."""
    return next((s for s in steps if s.judgement is not None and s.judgement.is_bad), None)


def heat_of(case: Case) -> tuple[HeatFelt, ...]:
    """Return how hot parts got, the last word on each, since the last change."""
    found = {t.body.part: t.body for t in since_change(case) if isinstance(t.body, HeatFelt)}
    return tuple(found.values())


@remembered
def loads_progress(case: Case) -> tuple[int, int]:
    """Return how many full loads held, and how many there are."""
    loads = full_loads(case)
    return sum(is_held(case, load) for load in loads), len(loads)


def is_held(case: Case, load: FullLoad) -> bool:
    """Whether it was read at its full load since the last change, and is good, and nothing too hot."""
    steps = load_steps(case, load)
    last = steps[-1] if steps else None
    if last is None or last.judgement is None or not last.judgement.is_good:
        return False
    return stops_here(steps) is None and all(h.word != "too hot" for h in heat_of(case))


def load_doubts(case: Case) -> tuple[str, ...]:
    """Say which supplies failed under load, and which full loads were begun and not ended."""
    found = []
    for load in full_loads(case):
        steps = load_steps(case, load)
        stop = stops_here(steps)
        if stop is not None and stop.read is not None:
            found.append(f"{load.point} under load: {stop.read.volts:.4g}\u202fV.")
        elif steps and steps[-1].read is None:
            begun = any(s.read for s in steps)
            found.append(
                f"{load.point}: full load {'begun, and not ended' if begun else 'not tried'}."
            )
    found += [f"{h.part} gets too hot." for h in heat_of(case) if h.word == "too hot"]
    return tuple(found)

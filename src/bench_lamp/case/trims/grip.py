"""Strengths by use: what each stage must have, what the panel shows for it, how long the coil may be on."""

from msgspec import Struct

from bench_lamp.board.trims import GripStage, StagesTrim
from bench_lamp.case.case import Case
from bench_lamp.case.trims.rounds import reads_of, round_of, steps_done
from bench_lamp.journal.state import TrimTold
from bench_lamp.journal.trim_events import CoilHeld, PanelPaired
from bench_lamp.trim.duty import heat, left_s, rest_left_s
from bench_lamp.trim.panel import PanelLine, panel_line, shown_at, true_of
from bench_lamp.units import parse_quantity

#: The step in which the use is chosen.
USE = "use"
#: How the panel’s own figure is marked among the readings.
PANEL = "panel"


class HeldCoil(Struct, frozen=True, kw_only=True):
    """A coil that must not stay energised, at the moment of the last event."""

    is_on: bool
    #: When it must be let go, and when it is cold again, in seconds of the clock; 0 for neither.
    off_by: float
    rest_until: float
    #: How warm it is, from 0 to 1 at its limit.
    warm: float


def use_of(case: Case, trim: StagesTrim) -> str:
    """Return what is in the machine, as it was chosen; empty before."""
    return steps_done(round_of(case, trim)).get(USE, "")


def preset(trim: StagesTrim, use: str, stage: GripStage) -> float | None:
    """Return the volts that a stage must have for a use; None where it does not matter."""
    text = trim.presets.get(use, ())[trim.stages.index(stage)] if use in trim.presets else "-"
    return None if text == "-" else parse_quantity(text, "V").value


def stages_for(trim: StagesTrim, use: str) -> tuple[GripStage, ...]:
    """Return the stages that matter for a use, in order."""
    return tuple(s for s in trim.stages if preset(trim, use, s) is not None)


def read_at(case: Case, trim: StagesTrim, stage: GripStage) -> float | None:
    """Return the last true volts of a stage; None where it was not read."""
    reads = reads_of(round_of(case, trim), stage.id)
    return reads[-1].value if reads else None


def is_right(case: Case, trim: StagesTrim, use: str, stage: GripStage) -> bool:
    """Whether a stage has what it must have."""
    want, have = preset(trim, use, stage), read_at(case, trim, stage)
    return want is None or (have is not None and abs(have - want) <= trim.within)


def pairs_of(case: Case, trim: StagesTrim) -> tuple[tuple[float, float], ...]:
    """Return the (true, panel) pairs of this job."""
    return tuple(
        (t.body.true, t.body.shown)
        for t in case.state.trims.get(trim.id, ())
        if isinstance(t.body, PanelPaired)
    )


def line_of(case: Case, trim: StagesTrim) -> PanelLine | None:
    """Return the panel's line; None before three pairs."""
    return panel_line(pairs_of(case, trim))


def _least(trim: StagesTrim) -> float:
    return trim.panel / 12**0.5


def panel_for(case: Case, trim: StagesTrim, true: float) -> tuple[float, float] | None:
    """Return what the panel shows at true volts, with its half interval; None where nobody can say."""
    line = line_of(case, trim)
    return shown_at(line, true, least=_least(trim)) if line is not None else None


def true_for(case: Case, trim: StagesTrim, shown: float) -> tuple[float, float] | None:
    """Return the true volts behind what the panel shows; None where nobody can say."""
    line = line_of(case, trim)
    return true_of(line, shown, least=_least(trim)) if line is not None else None


def coil_of(case: Case, trim: StagesTrim) -> HeldCoil:
    """Return how the coil is, by its pulls."""
    told = case.state.trims.get(trim.id, ())
    pulls, now, is_on = _pulls(told)
    warm = heat(pulls, now, on_s=trim.on, rest_s=trim.rest)
    return HeldCoil(
        is_on=is_on,
        off_by=now + left_s(warm, trim.on) if is_on else 0.0,
        rest_until=0.0 if is_on or not warm else now + rest_left_s(warm, trim.rest),
        warm=warm,
    )


def _pulls(told: tuple[TrimTold, ...]) -> tuple[list[tuple[float, float]], float, bool]:
    """Return the pulls with begin and end in seconds, the moment of the last one, and whether it is on."""
    pulls: list[tuple[float, float]] = []
    begin, now = None, 0.0
    for t in told:
        if not isinstance(t.body, CoilHeld):
            continue
        now = t.at.timestamp()
        if t.body.is_on and begin is None:
            begin = now
        elif not t.body.is_on and begin is not None:
            pulls.append((begin, now))
            begin = None
    return (pulls if begin is None else [*pulls, (begin, now)]), now, begin is not None

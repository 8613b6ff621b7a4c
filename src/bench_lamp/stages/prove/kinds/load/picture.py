"""A full load as the surface shows it: each step beside the model, the reading on its band."""

import math

from bench_lamp.board import TestPoint
from bench_lamp.cards.picture import BenchPicture, NeedleView, PictureRow
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.proving.loads import LoadStep, heat_of, load_steps
from bench_lamp.case.readings import MODE_UNITS
from bench_lamp.stages.prove.kinds.load.steps import current, step_lines, step_of
from bench_lamp.units import exact


def load_picture(case: Case, hand: Hand) -> BenchPicture:
    """Return the steps beside what the model says, and the last reading on its band."""
    load = current(case, hand)
    point = case.profile.point(load.point) if load is not None else None
    if load is None or point is None:
        return BenchPicture(title="Full load", words=("No full load is listed.",))
    steps = load_steps(case, load)
    lit = step_of(case, load)
    rows = tuple(_row(s, point, is_here=lit is not None and s.share == lit.share) for s in steps)
    return BenchPicture(
        title=f"Full load of {point.id}, {point.name}: {exact(load.amps, 'A')}",
        needles=_needles(point, steps),
        heads=("load", "hangs on", "made for", "by the model", "read"),
        rows=rows,
        spare=(2,),
        words=step_lines(case, load)[len([s for s in steps if s.read]) :] + _heat_lines(case),
    )


def _heat_lines(case: Case) -> tuple[str, ...]:
    return tuple(
        f"{h.part}: {h.celsius:g}\u202f°C" if h.celsius > -273 else f"{h.part}: {h.word}"
        for h in heat_of(case)
    )


def _row(step: LoadStep, point: TestPoint, *, is_here: bool) -> PictureRow:
    unit, resistor = MODE_UNITS[point.mode], step.resistor
    model = exact(step.expected, unit, figures=3) if math.isfinite(step.expected) else "—"
    found = step.judgement
    return PictureRow(
        id=f"{step.share:g}",
        cells=(
            f"{step.share:.0%}",
            exact(resistor.ohms, "Ω") if resistor else "nothing",
            exact(resistor.rating, "W", figures=3) if resistor else "",
            model,
            exact(step.read.volts, unit, figures=4) if step.read else "",
        ),
        verdict=found.verdict if found else "",
        word=found.word if found else "to read",
        is_here=is_here,
    )


def _needles(point: TestPoint, steps: tuple[LoadStep, ...]) -> tuple[NeedleView, ...]:
    """Draw the last reading on the drawing’s band, the steps before fading."""
    read = [s for s in steps if s.read is not None]
    if point.design is None or not read:
        return ()
    values = tuple(s.read.volts for s in read if s.read is not None)
    unit, last = MODE_UNITS[point.mode], read[-1]
    return (
        NeedleView(
            name=point.id,
            low=point.design.low,
            high=point.design.high,
            low_text=exact(point.design.low, unit),
            high_text=exact(point.design.high, unit),
            value=values[-1],
            trail=values[:-1],
            text=exact(values[-1], unit, figures=4),
            verdict=last.judgement.verdict if last.judgement else "",
        ),
    )

"""A burn-in as the surface shows it: each reading over the time under power."""

from bench_lamp.cards.picture import BenchPicture, DriftView, PictureRow
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.proving.burn import BurnReading, burn_of, proposed, watched
from bench_lamp.case.proving.drift import drift_of, drift_words, hours_text
from bench_lamp.case.readings import judged
from bench_lamp.stages.prove.kinds.burn.schedule import plan_words


def burn_picture(case: Case, hand: Hand) -> BenchPicture:
    """Return the readings over the time under power, and the last as rows."""
    burn = burn_of(case)
    if burn is None:
        return BenchPicture(title="Burn-in", words=(f"Proposed: {plan_words(proposed(case))}.",))
    rows = tuple(
        row for name, readings in watched(case, burn) for row in _rows(case, name, readings)
    )
    views = [_view(case, name, readings) for name, readings in watched(case, burn)]
    return BenchPicture(
        title=f"Burn-in: {plan_words(burn.plan)}",
        drifts=tuple(v for v in views if v is not None),
        heads=("point", "after", "reading") if rows else (),
        rows=rows[-4:],
        words=(f"{burn.done} of {burn.rounds} read, {hours_text(burn.on_s)} under power.",),
    )


def _rows(case: Case, name: str, readings: tuple[BurnReading, ...]) -> list[PictureRow]:
    point = case.profile.point(name)
    if point is None:
        return []
    found = [(r, judged(case, point, r.reading)) for r in readings]
    return [
        PictureRow(
            id=r.reading.event,
            cells=(name, hours_text(r.seconds), j.text),
            verdict=j.judgement.verdict,
            word=j.judgement.word,
        )
        for r, j in found
    ]


def _view(case: Case, name: str, readings: tuple[BurnReading, ...]) -> DriftView | None:
    point = case.profile.point(name)
    if point is None or not readings:
        return None
    drift = drift_of(point, readings)
    words = point.name
    if drift is not None:
        words = drift_words(point, drift, readings[-1].reading.resolution)
    last = readings[-1].seconds
    ahead = ((last, drift.end), (1.4 * last, drift.end)) if drift and drift.end is not None else ()
    return DriftView(
        name=point.id,
        words=words,
        points=tuple((r.seconds, r.reading.value) for r in readings),
        aside=(False,) * len(readings),
        ahead=ahead,
        half=drift.half if drift is not None else 0.0,
    )

"""The picture of adjusters and their readings: dials, needles on their bands, the drift."""

import math
from typing import TYPE_CHECKING

from bench_lamp.board.trims import TrimReading, TurnTrim
from bench_lamp.cards.picture import BenchPicture, DialView, DriftView, NeedleView
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.trims.rounds import ReadAt, all_told, came_at, reads_of, round_of, since_live
from bench_lamp.case.trims.turning import Turning, turning_of
from bench_lamp.stages.trim.kinds.quantities import in_time, shown
from bench_lamp.stages.trim.turns_of import made
from bench_lamp.units.turns import turn_text

if TYPE_CHECKING:
    from bench_lamp.trim.steady import Forecast

#: Readings that stay as a fading trail.
TRAIL = 4
#: How far ahead a drift is drawn, in time constants.
AHEAD = 3.0
#: Readings that are drawn at most.
MOST_DRAWN = 60


def turning_picture(case: Case, hand: Hand, trim: TurnTrim) -> BenchPicture:
    """Return dials and needles, and the drift of what still moves."""
    now, told = turning_of(case, trim), round_of(case, trim)
    # A pause with the power off is no drift.
    live = since_live(case, told) if trim.live else told
    reads = {r.id: reads_of(told, r.id) for r in trim.readings}
    pull = " · two that pull on each other" if trim.kind == "pair" else ""
    return BenchPicture(
        title=f"{trim.name}{pull}",
        sub="" if pull else trim.place,
        dials=dials(case, hand, trim, now),
        needles=tuple(needle(r, reads[r.id], now) for r in trim.readings),
        drifts=_drifts(trim, {r.id: reads_of(live, r.id) for r in trim.readings}, now),
    )


def dials(case: Case, hand: Hand, trim: TurnTrim, now: Turning) -> tuple[DialView, ...]:
    """Return the dial of each adjuster, with where it came and where it goes."""
    came = came_at(all_told(case, trim))
    name, turns = made(hand)
    advised = {trim.adjusters[j].id: t for j, t in now.advice.turns} if now.advice else {}
    if turns:
        advised = {name: turns}
    found = []
    for adjuster in trim.adjusters:
        total = now.total[adjuster.id]
        stood = came.get(adjuster.id, "")
        so_far = f"{turn_text(total)} turn so far" if total else "not turned yet"
        ends = dict(now.stops)
        way = ends.get(adjuster.id)
        ahead = advised.get(adjuster.id, 0.0)
        found.append(
            DialView(
                id=adjuster.id,
                name=f"{adjuster.id} {adjuster.name}".strip(),
                sub=f"came: {stood} · {so_far}" if stood else so_far,
                now=total,
                next=ahead,
                travel=adjuster.travel,
                low_stop=total if way == -1 else None,
                high_stop=total if way == 1 else None,
                turn_text=f"{turn_text(ahead)} turn" if ahead else "",
                is_lit=adjuster.id in advised,
            )
        )
    return tuple(found)


def needle(quantity: TrimReading, reads: list[ReadAt], now: Turning) -> NeedleView:
    """Return a reading on its band, with the last ones fading."""
    last = now.now.get(quantity.id)
    value = last.value if last else (reads[-1].value if reads else None)
    return NeedleView(
        name=quantity.name,
        low=quantity.band.low,
        high=quantity.band.high,
        low_text=shown(quantity, quantity.band.low).partition("\u202f")[0],
        high_text=shown(quantity, quantity.band.high).partition("\u202f")[0],
        value=value,
        half=last.half if last else 0.0,
        trail=tuple(r.value for r in reads[:-1][-TRAIL:]),
        text=shown(quantity, value) if value is not None else "not read",
        verdict=last.word if last else "",
    )


def _drifts(trim: TurnTrim, reads: dict[str, list[ReadAt]], now: Turning) -> tuple[DriftView, ...]:
    """Return the readings over time of the quantity that moves most against its band."""
    from bench_lamp.trim.steady import set_aside

    found = [r for r in trim.readings if len(reads[r.id]) >= 2]
    if not found:
        return ()
    moving = [r for r in found if not now.steady[r.id]] or found
    one = max(moving, key=lambda r: _span(reads[r.id]) / r.band.width)
    series = reads[one.id][-MOST_DRAWN:]
    begin = series[0].seconds
    points = tuple((r.seconds - begin, r.value) for r in series)
    end = now.ends[one.id]
    still = (
        f"{one.name} stands still" if now.steady[one.id] else f"{one.name}, {len(points)} readings"
    )
    drawn = DriftView(
        name=one.name,
        words=_end_words(one, points[-1][1], end) if end is not None else still,
        points=points,
        aside=set_aside([r.value for r in series], max(r.resolution for r in series)),
        ahead=_ahead(points[-1], end) if end is not None else (),
        half=end.half if end is not None else 0.0,
    )
    return (drawn,)


def _end_words(one: TrimReading, last: float, end: "Forecast") -> str:
    way = "rising" if end.end > last else "falling"
    near = f"{shown(one, end.end)} ± {shown(one, end.half)}"
    return f"{one.name}, still {way}, will settle near {near} {in_time(end.seconds)}"


def _ahead(last: tuple[float, float], end: "Forecast") -> tuple[tuple[float, float], ...]:
    """Return seconds and values of what is expected after the last reading."""
    steps = (i * AHEAD * end.tau / 12 for i in range(13))
    left = end.end - last[1]
    return tuple((last[0] + s, end.end - left * math.exp(-s / end.tau)) for s in steps)


def _span(reads: list[ReadAt]) -> float:
    values = [r.value for r in reads]
    return max(values) - min(values)

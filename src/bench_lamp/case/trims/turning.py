"""One adjuster and one reading, or two of each: what was turned, what it did, what to turn next."""

from collections.abc import Mapping
from typing import TYPE_CHECKING

from msgspec import Struct

from bench_lamp.board.trims import TrimReading, TurnTrim
from bench_lamp.case.case import Case
from bench_lamp.case.trims.rounds import ReadAt, reads_of, round_of, since_live, turned_by
from bench_lamp.journal.state import TrimTold
from bench_lamp.journal.trim_events import AdjusterFound, AdjusterTurned, TrimRead

if TYPE_CHECKING:
    from bench_lamp.trim.coupled import Aim, Array, Knob, TurnAdvice, TurnMade
    from bench_lamp.trim.steady import Forecast

#: A reading's doubt where neither profile nor meter says one, as a share of the band.
DOUBT = 0.03
#: What counts as moving, as a share of the band.
ROOM = 0.12
#: Readings that are held against each other for steadiness.
LAST = 6


class ReadVerdict(Struct, frozen=True, kw_only=True):
    """A quantity as it was last read."""

    value: float
    #: How far the truth may lie either way.
    half: float
    #: `within`, `edge`, `low`, `high`.
    word: str


class Turning(Struct, frozen=True, kw_only=True):
    """How far it is."""

    #: The last reading of each quantity since the last turn; those that are missing are not in it.
    now: Mapping[str, ReadVerdict]
    #: Turns of each adjuster in all, and the last of each.
    total: Mapping[str, float]
    last: Mapping[str, float]
    #: Ways that are at their end: (adjuster, +1 or −1).
    stops: frozenset[tuple[str, int]]
    advice: "TurnAdvice | None"
    #: Adjuster and what it shows.
    signs: tuple[tuple[str, str], ...]
    #: What a turn does by now, by adjuster and reading, and how much of it was seen.
    slopes: Mapping[str, Mapping[str, float]]
    known: Mapping[str, float]
    #: By quantity: whether it stands still, and where it will end.
    steady: Mapping[str, bool]
    ends: "Mapping[str, Forecast | None]"
    #: Quantities that were in their band, and of which the last reading alone is not.
    jumped: tuple[str, ...]
    count: int

    @property
    def is_read(self) -> bool:
        """Whether each quantity was read since the last turn."""
        return bool(self.now) and len(self.now) == len(self.steady)

    @property
    def is_right(self) -> bool:
        """Whether each is in its band."""
        return self.is_read and all(v.word in {"within", "edge"} for v in self.now.values())


def doubt_of(case: Case, quantity: TrimReading) -> float:
    """Return the standard deviation of a reading, in the quantity's unit."""
    if quantity.doubt:
        return quantity.doubt
    mode = {"V": "dc V", "V~": "ac V", "A": "dc V", "Ω": "ohm"}.get(quantity.unit, "")
    level = quantity.band.middle * (quantity.over or 1.0)
    wide = case.meter.expanded_uncertainty(mode, level) / 2 if mode else 0.0
    if quantity.unit == "A" and not quantity.over:
        wide = 0.0
    return max(wide / (quantity.over or 1.0), DOUBT * quantity.band.width / 4, 1e-12)


def verdict_of(case: Case, quantity: TrimReading, value: float) -> ReadVerdict:
    """Judge a reading: its doubt, and the tolerance of a resistor that it is read over."""
    half = 2 * doubt_of(case, quantity)
    if quantity.over:
        half += quantity.over_tolerance * abs(value)
    band = quantity.band
    if value > band.high or value < band.low:
        return ReadVerdict(value=value, half=half, word="high" if value > band.high else "low")
    is_clear = band.low + half <= value <= band.high - half
    return ReadVerdict(value=value, half=half, word="within" if is_clear else "edge")


def turning_of(case: Case, trim: TurnTrim) -> Turning:
    """Work out how far it is; kept with the case."""
    # A channel or a stage stands in as a thing of its own: each has its reading and band.
    key = f"turning:{trim.id}:{','.join(f'{r.id} {r.band}' for r in trim.readings)}"
    if key not in case.memory:
        case.memory[key] = _turning(case, trim)
    found: Turning = case.memory[key]
    return found


def asked_for(trim: TurnTrim, now: Turning) -> tuple[TrimReading, ...]:
    """Return what is to be read: what is missing since the last turn, what jumped, what moves; else all."""
    missing = tuple(r for r in trim.readings if r.id not in now.now)
    jumped = tuple(r for r in trim.readings if r.id in now.jumped)
    is_wanted = now.is_right and not all(now.steady.values())
    moving = tuple(r for r in trim.readings if not now.steady[r.id]) if is_wanted else ()
    return missing or jumped or moving or trim.readings


def _turning(case: Case, trim: TurnTrim) -> Turning:
    from bench_lamp.trim.coupled import advise, learn
    from bench_lamp.trim.signs import signs_of

    told = round_of(case, trim)
    names, whats = [a.id for a in trim.adjusters], [r.id for r in trim.readings]
    knobs, aims, guess = _model(case, trim)
    moves, since, last = _history(told, names, whats)
    # What was read before the power was off is cold by now.
    counts = since_live(case, since) if trim.live else since
    reads = {w: reads_of(counts, w) for w in whats}
    now = {r.id: verdict_of(case, r, reads[r.id][-1].value) for r in trim.readings if reads[r.id]}
    learned = learn(guess, knobs, aims, moves)
    blocked = frozenset((names.index(n), way) for n, way in _stops(told) if n in names)
    advice = None
    if len(now) == len(whats):
        levels, before = [now[w].value for w in whats], [last.get(n, 0.0) for n in names]
        advice = advise(learned, knobs, aims, levels, before, blocked)
    found = signs_of(guess, knobs, aims, moves, blocked).found
    steady, ends = _steadiness(trim, reads)
    return Turning(
        now=now,
        total={n: turned_by(told).get(n, 0.0) for n in names},
        last=last,
        stops=_stops(told),
        advice=advice,
        signs=tuple((names[j], sign.value) for j, sign in found),
        slopes=_named(learned.slopes, names, whats),
        known=dict(zip(names, learned.known, strict=True)),
        steady=steady,
        ends=ends,
        jumped=_jumped(trim, reads),
        count=sum(isinstance(t.body, AdjusterTurned) for t in told),
    )


def _named(slopes: "Array", names: list[str], whats: list[str]) -> dict[str, dict[str, float]]:
    """Return slopes by adjuster and reading."""
    columns = slopes.T.tolist()
    return {n: dict(zip(whats, c, strict=True)) for n, c in zip(names, columns, strict=True)}


def _model(case: Case, trim: TurnTrim) -> "tuple[list[Knob], list[Aim], Array]":
    """Return the adjusters, what the readings must be, and the profile's slopes."""
    import numpy as np

    from bench_lamp.trim.coupled import Aim, Knob

    knobs = [Knob(name=a.id, most=a.most, backlash=a.backlash) for a in trim.adjusters]
    aims = [
        Aim(name=r.id, low=r.band.low, high=r.band.high, doubt=doubt_of(case, r), most=r.most)
        for r in trim.readings
    ]
    rows = [
        [trim.slopes.get(a.id, {}).get(r.id, 0.0) for a in trim.adjusters] for r in trim.readings
    ]
    return knobs, aims, np.array(rows)


def _history(
    told: tuple[TrimTold, ...], names: list[str], whats: list[str]
) -> "tuple[list[TurnMade], tuple[TrimTold, ...], dict[str, float]]":
    """Return the turns with readings before and after, what was said since the last, the last of each.

    What was turned twice between readings teaches nothing: nobody knows which did it.
    """
    moves: list[TurnMade] = []
    last: dict[str, float] = {}
    before: dict[str, float] = {}
    level: dict[str, float] = {}
    turned: list[tuple[str, float]] = []
    begin = 0
    for index, t in enumerate(told, start=1):
        match t.body:
            case TrimRead(what=what, value=value) if what in whats:
                level[what] = value
                if turned and len(level) == len(whats):
                    moves += _made(turned, before, level, names, whats)
                    turned = []
            case AdjusterTurned(adjuster=name, turns=turns) if name in names:
                if not turned:
                    before, level = dict(level), {}
                turned.append((name, turns))
                last[name], begin = turns, index
            case AdjusterFound(word="dirty"):
                # A cleaned track is another one.
                moves = []
    return moves, told[begin:], last


def _made(
    turned: list[tuple[str, float]],
    before: Mapping[str, float],
    after: Mapping[str, float],
    names: list[str],
    whats: list[str],
) -> "list[TurnMade]":
    from bench_lamp.trim.coupled import TurnMade

    if len(turned) != 1 or len(before) != len(whats):
        return []
    ((name, turns),) = turned
    levels = [tuple(side[w] for w in whats) for side in (before, after)]
    return [TurnMade(adjuster=names.index(name), turns=turns, before=levels[0], after=levels[1])]


def _stops(told: tuple[TrimTold, ...]) -> frozenset[tuple[str, int]]:
    """Return the ends that an adjuster stands at: said, and not turned away from since."""
    found: dict[str, int] = {}
    for t in told:
        if isinstance(t.body, AdjusterFound) and t.body.word in {"stop up", "stop down"}:
            found[t.body.adjuster] = 1 if t.body.word == "stop up" else -1
        elif (
            isinstance(t.body, AdjusterTurned) and t.body.turns * found.get(t.body.adjuster, 0) < 0
        ):
            del found[t.body.adjuster]
    return frozenset(found.items())


def _jumped(trim: TurnTrim, reads: Mapping[str, list[ReadAt]]) -> tuple[str, ...]:
    """Return what is out of its band by one reading alone: nobody turns anything by that."""
    return tuple(
        r.id
        for r in trim.readings
        if len(reads[r.id]) > 1
        and reads[r.id][-2].value in r.band
        and reads[r.id][-1].value not in r.band
    )


def _steadiness(
    trim: TurnTrim, reads: Mapping[str, list[ReadAt]]
) -> "tuple[dict[str, bool], dict[str, Forecast | None]]":
    from bench_lamp.trim.steady import forecast, is_steady, set_aside

    steady, ends = {}, {}
    for quantity in trim.readings:
        found = reads[quantity.id]
        digit = max((r.resolution for r in found), default=0.0)
        aside = set_aside([r.value for r in found], digit)
        kept = [r for r, is_out in zip(found, aside, strict=True) if not is_out]
        times, values = [r.seconds for r in kept], [r.value for r in kept]
        room = ROOM * quantity.band.width
        steady[quantity.id] = is_steady(times[-LAST:], values[-LAST:], room=room, resolution=digit)
        ends[quantity.id] = forecast(times, values, resolution=digit)
    return steady, ends

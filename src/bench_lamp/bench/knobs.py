"""Things that are set, on the simulated bench: adjusters with play and dirt, drift, a panel meter that lies.

Each answer follows from the seed and from all that was turned; only drift knows the clock.
"""

import math
import time
from collections.abc import Callable, Mapping, Sequence
from typing import Any

import numpy as np

from bench_lamp.board import Profile
from bench_lamp.board.trims import (
    ChannelsTrim,
    SenderTrim,
    StagesTrim,
    TransferTrim,
    Trim,
    TurnTrim,
)
from bench_lamp.instrument.protocol import InstrumentError, TrimRequest, TrimShown
from bench_lamp.trim.channels import Injection, expected_hz
from bench_lamp.trim.sender import ScaleMark, shown_share
from bench_lamp.trim.transfer import loaded, unloaded

#: How far off the profile's slopes a board is, as natural logs; how exactly a hand turns.
SLOPE_OFF, HAND = 0.5, 0.06
#: A drift's share of the band when cold, and its time constant in seconds.
DRIFT_SHARE, DRIFT_S = 0.8, 40.0
#: Share of readings that something near the board disturbs.
JUMPS = 0.02
#: How far a dirty track leaves the wiper off, in turns.
DIRT = 0.12
#: Hertz of a trimmer's whole turn, and how far a channel came off, in units of what is allowed.
TRIMMER_HZ, CHANNEL_OFF = 9000.0, 2.6
#: A panel meter's offset and gain error at most.
PANEL_OFF, PANEL_GAIN = 2.0, 0.25
#: Ohms of the worst contact in a gauge's loop, as a share of the loop.
CONTACT_SHARE = 0.08

Answer = Callable[["Knobs", Any, TrimRequest], list[tuple[float, float]]]


class Knobs:
    """Answers readings of all that is set on one board."""

    def __init__(
        self,
        profile: Profile,
        seed: int,
        clock: Callable[[], float] = time.monotonic,
        dirty: frozenset[str] = frozenset(),
    ) -> None:
        self._profile, self._seed, self._clock = profile, seed, clock
        #: Adjusters with a dirty track: each turn leaves the wiper somewhere else.
        self.dirty = dirty
        self._begin: dict[str, float] = {}
        self._count = 0

    def read(self, request: TrimRequest) -> TrimShown:
        """Return what is read of a thing that is set; raise `InstrumentError` where nothing can be."""
        trim = self._profile.trim(request.trim)
        work = _ANSWERS.get(type(trim))
        if trim is None or work is None:
            raise InstrumentError(
                "The simulated bench cannot read that", hint="Look, and type what you see."
            )
        self._count += 1
        return TrimShown(values=tuple(work(self, trim, request)))

    def truth(self, trim: Trim) -> np.random.Generator:
        """Return the chance that draws a board's own values: the same at every reading."""
        return np.random.default_rng([self._seed, *trim.id.encode()])

    def noise(self) -> np.random.Generator:
        """Return the chance of this reading alone."""
        return np.random.default_rng([self._seed, self._count])

    def dirt(self, trim: Trim, name: str, made: int) -> float:
        """Return how far a dirty track leaves the wiper off after so many turns, in turns."""
        chance = np.random.default_rng([self._seed, made, *trim.id.encode(), *name.encode()])
        return DIRT * float(chance.standard_normal()) if made else 0.0

    def warm(self, trim: Trim) -> float:
        """Return what is left of the drift: 1 cold, 0 warm."""
        now = self._clock()
        begin = self._begin.setdefault(trim.id, now)
        return math.exp(-(now - begin) / DRIFT_S) if trim.warm_up else 0.0


def _positions(
    turned: Sequence[tuple[str, float]], play: Mapping[str, float], hand: Any
) -> dict[str, float]:
    """Return where each wiper stands after all turns, its slack first taken up."""
    at: dict[str, float] = {}
    slack: dict[str, float] = {}
    for name, turns in turned:
        real = turns * (1 + HAND * float(hand.standard_normal()))
        half = play.get(name, 0.0) / 2
        inside = slack.get(name, 0.0) + real
        slack[name] = min(max(inside, -half), half)
        at[name] = at.get(name, 0.0) + inside - slack[name]
    return at


def _turned(knobs: Knobs, trim: TurnTrim, request: TrimRequest) -> list[tuple[float, float]]:
    own = knobs.truth(trim)
    slopes = {
        a.id: {
            r.id: trim.slopes.get(a.id, {}).get(r.id, 0.0)
            * math.exp(SLOPE_OFF * float(own.uniform(-1, 1)))
            for r in trim.readings
        }
        for a in trim.adjusters
    }
    came = {
        a.id: float(own.choice([-1, 1])) * float(own.uniform(0.15, 0.35)) for a in trim.adjusters
    }
    at = _positions(request.turned, {a.id: a.backlash for a in trim.adjusters}, own)
    for name in knobs.dirty - request.cleaned:
        made = sum(n == name for n, _ in request.turned)
        at[name] = at.get(name, 0.0) + knobs.dirt(trim, name, made)
    noise, warm = knobs.noise(), knobs.warm(trim)
    found = {}
    for reading in trim.readings:
        value = reading.band.middle + sum(
            slopes[a.id][reading.id] * (came[a.id] + at.get(a.id, 0.0)) for a in trim.adjusters
        )
        value -= DRIFT_SHARE * reading.band.width * warm
        value += 0.01 * reading.band.width * float(noise.standard_normal())
        if noise.random() < JUMPS:
            value += 0.6 * reading.band.width
        digit = _digit(reading.band.width / 200)
        least = 0.0 if reading.band.low >= 0 else -math.inf
        found[reading.id] = (_rounded(max(value, least), digit), digit)
    return [found[what] for what in request.whats]


def _counted(knobs: Knobs, trim: ChannelsTrim, request: TrimRequest) -> list[tuple[float, float]]:
    own, noise = knobs.truth(trim), knobs.noise()
    plan = Injection(if_hz=round(trim.if_), side=trim.injection, multiplier=trim.multiplier)
    off = {c.id: float(own.uniform(-1, 1)) * CHANNEL_OFF * trim.allowed for c in trim.channels}
    at = _positions(request.turned, {}, own)
    values = []
    for what in request.whats:
        channel = next(c for c in trim.channels if c.id == what)
        away = (off[what] + TRIMMER_HZ * at.get(channel.trimmer, 0.0)) / trim.multiplier
        value = (
            float(expected_hz(plan, round(channel.hertz)))
            + away
            + 8 * float(noise.standard_normal())
        )
        values.append((_rounded(value, 10.0), 10.0))
    return values


def _strong(knobs: Knobs, trim: StagesTrim, request: TrimRequest) -> list[tuple[float, float]]:
    own, noise = knobs.truth(trim), knobs.noise()
    came = {s.id: float(own.uniform(8, 36)) for s in trim.stages}
    offset, gain = (
        float(own.uniform(-PANEL_OFF, PANEL_OFF)),
        1 - PANEL_GAIN * float(own.uniform(0.3, 1)),
    )
    at = _positions(request.turned, {}, own)
    values = []
    for what in request.whats:
        stage = next(s for s in trim.stages if s.id == what)
        true = max(came[what] + stage.slope * at.get(stage.adjuster, 0.0), 0.0)
        if request.state == "panel":
            shown = offset + gain * true + 0.3 * float(noise.standard_normal())
            values.append((_rounded(shown, trim.panel or 1.0), trim.panel or 1.0))
        else:
            values.append((_rounded(true + 0.03 * float(noise.standard_normal()), 0.01), 0.01))
    return values


def _carried(knobs: Knobs, trim: TransferTrim, request: TrimRequest) -> list[tuple[float, float]]:
    own, noise = knobs.truth(trim), knobs.noise()
    came = float(own.choice([-1, 1])) * float(own.uniform(2, 5)) * trim.within
    at = _positions(request.turned, {trim.adjuster.id: trim.adjuster.backlash}, own)
    values = []
    for what in request.whats:
        shown = next((r.shown for r in trim.references if r.state == what), 0.0)
        bare = unloaded(shown, trim.source_ohms, trim.meter_ohms)
        if what == trim.state:
            bare += came + trim.slope * at.get(trim.adjuster.id, 0.0)
        value = loaded(bare, trim.source_ohms, 10e6) + 0.002 * float(noise.standard_normal())
        values.append((_rounded(value, 0.001), 0.001))
    return values


def _pointed(knobs: Knobs, trim: SenderTrim, request: TrimRequest) -> list[tuple[float, float]]:
    own, noise = knobs.truth(trim), knobs.noise()
    loop = trim.fixed + min(m.ohms for m in trim.marks)
    plugged = next((m.ohms for m in trim.marks if m.name == request.state), trim.marks[0].ohms)
    worst = int(own.integers(max(len(trim.contacts), 1)))
    is_bad = bool(trim.contacts) and trim.contacts[worst].id not in request.cleaned
    ohms = CONTACT_SHARE * loop if is_bad else 0.0
    scale = [ScaleMark(name=m.name, ohms=m.ohms, share=m.share) for m in trim.marks]
    values = []
    for what in request.whats:
        if what.startswith("drop:"):
            name = what.removeprefix("drop:")
            amps = trim.nominal / (trim.fixed + plugged + ohms)
            bad = name == trim.contacts[worst].id
            values.append((_rounded(amps * (ohms if bad else 0.01 * ohms), 0.001), 0.001))
            continue
        mark = next(m for m in trim.marks if m.name == what)
        share = shown_share(
            scale,
            mark.ohms + ohms,
            fixed_ohms=trim.fixed,
            supply=trim.nominal,
            nominal=trim.nominal,
        )
        values.append((_rounded(share + 0.005 * float(noise.standard_normal()), 0.01), 0.01))
    return values


_ANSWERS: dict[type, Answer] = {
    TurnTrim: _turned,
    ChannelsTrim: _counted,
    StagesTrim: _strong,
    TransferTrim: _carried,
    SenderTrim: _pointed,
}


def _digit(size: float) -> float:
    """Return the power of ten at or below a size."""
    return float(10.0 ** math.floor(math.log10(size)))


def _rounded(value: float, digit: float) -> float:
    return round(round(value / digit) * digit, 12)

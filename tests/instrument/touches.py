"""Probes on a board, simulated: lifted, bouncing, on slow capacitors, through a meter with noise and digits.

It shares nothing with what judges them: the meter's input, the point's capacitor and the hand are written
down here as they are in the world, and sampled.
"""

import math
import random
from collections.abc import Iterator
from dataclasses import dataclass

from bench_lamp.instrument.sample import Flag, Sample

#: Readings a second, and last digits of a full range.
RATE, COUNTS = 10.0, 6000


@dataclass
class Touch:
    """One visit of a point: what it reads there, and how."""

    volts: float
    #: How the meter scatters, in last digits; time of the bounce before, and of the contact, in seconds.
    noise: float
    bounce_s: float
    contact_s: float
    #: The point charges through the meter or the supply with this time constant; 0 for at once.
    tau_s: float
    #: Leads in the air before it, in seconds.
    lifted_s: float
    ohms: bool = False
    begin: float = 0.0
    end: float = 0.0


def digit_of(value: float) -> float:
    """Return the last digit of the range that holds a value."""
    scale = 0.6
    while scale < abs(value):
        scale *= 10
    return scale / COUNTS


def touches(count: int, seed: int) -> list[Touch]:
    """Return so many visits, drawn."""
    chance = random.Random(seed)
    made = []
    for _ in range(count):
        is_slow = chance.random() < 0.2
        # Dead points read as open leads do, and are proposed: they are not among these.
        volts = chance.choice((-1, 1)) * 10 ** chance.uniform(math.log10(0.3), math.log10(300))
        made.append(
            Touch(
                volts=volts,
                noise=chance.uniform(0.0, 1.2),
                bounce_s=chance.choice((0.0, 0.0, 0.2, 0.5, 1.0)),
                contact_s=chance.uniform(2.0, 4.0) if not is_slow else chance.uniform(14.0, 20.0),
                tau_s=chance.uniform(0.3, 2.0) if is_slow else 0.0,
                lifted_s=chance.uniform(0.4, 2.0),
            )
        )
    return made


def samples(
    made: list[Touch], seed: int, *, mode: str = "dc V"
) -> Iterator[tuple[Sample, Touch | None]]:
    """Yield what the meter shows, and the touch that it belongs to; None while the leads are in the air."""
    chance, at = random.Random(seed + 1), 0.0
    for touch in made:
        for _ in range(round(touch.lifted_s * RATE)):
            at += 1 / RATE
            yield _shown(chance.gauss(0.0, 0.0004), 0.5, at, mode, chance), None
        touch.begin = at
        charge = 0.0 if touch.tau_s else 1.0
        for number in range(round((touch.bounce_s + touch.contact_s) * RATE)):
            at += 1 / RATE
            if number < touch.bounce_s * RATE and chance.random() < 0.6:
                # A slipping tip: part of a meter's averaging is spent in the air.
                yield (
                    _shown(touch.volts * charge * chance.random(), touch.noise, at, mode, chance),
                    touch,
                )
                continue
            if touch.tau_s:
                charge += (1 - charge) * (1 - math.exp(-1 / RATE / touch.tau_s))
            yield _shown(touch.volts * charge, touch.noise, at, mode, chance), touch
        touch.end = at


def _shown(value: float, noise: float, at: float, mode: str, chance: random.Random) -> Sample:
    digit = digit_of(value)
    shown = round((value + chance.gauss(0.0, noise) * digit) / digit) * digit
    return Sample(at=at, mode=mode, value=shown, resolution=digit, flags=frozenset[Flag]())

"""Charging signatures of simulated capacitors on simulated meters: how often the verdict is right.

A quarter each are good, dried out, leaky and shorted. Just over half stand alone; the others have a
capacitor or a load across them, known to the profile or not. Who reads them is late by up to 0.3 s and
up to 0.2 s off at each reading; the meter is one of those that ship, on the range that the card names.
"""

import math
import random
from collections import Counter

from bench_lamp.checks import load_meters
from bench_lamp.checks.charging import Source, charging_curve, judge_charging
from bench_lamp.checks.meter import MeterRange

MARKED = (47e-6, 100e-6, 470e-6, 1e-3, 2.2e-3, 4.7e-3, 8.2e-3, 12e-3, 33e-3)
KINDS = ("good", "dried", "leaky", "shorted")
CONDEMNED = {"open", "much too small", "short or leaky"}


def tally(count: int, *, seed: int) -> dict[str, Counter[str]]:
    """Return for each kind how many there were, were condemned, were unclear."""
    chance = random.Random(seed)
    found: dict[str, Counter[str]] = {kind: Counter() for kind in KINDS}
    for number in range(count):
        kind = KINDS[number % len(KINDS)]
        word = _word(chance, kind)
        found[kind].update(["all", word])
        found[kind]["condemned"] += word in CONDEMNED
    return found


def _part(chance: random.Random, kind: str, marked: float) -> tuple[float, float]:
    """Return farads and leak, in ohms, of one part."""
    farads, leak = marked * chance.uniform(0.8, 1.5), chance.uniform(150, 3000) / marked
    if kind == "dried":
        farads = marked * chance.uniform(0.02, 0.3)
    if kind == "leaky":
        leak = chance.uniform(0.3, 8) / marked
    return farads, chance.uniform(0.1, 4) if kind == "shorted" else leak


def _word(chance: random.Random, kind: str) -> str:
    marked = chance.choice(MARKED)
    farads, leak = _part(chance, kind, marked)
    around = chance.choices(("alone", "capacitor", "known", "unknown"), (55, 15, 15, 15))[0]
    parallel = marked * chance.uniform(0.05, 0.5) if around == "capacitor" else 0.0
    farads += parallel * chance.uniform(0.8, 1.4)
    beside: float | None = math.inf
    if around in {"known", "unknown"}:
        load = math.exp(chance.uniform(math.log(3), math.log(60))) / marked
        leak = 1 / (1 / leak + 1 / load)
        beside = load * chance.uniform(0.5, 0.95) if around == "known" else None
    meter = chance.choice(list(load_meters().values()))
    held = _range(meter.functions["ohm"], 6.0 / (marked + parallel))
    seconds = (1.0, 2.0, 3.0, 4.0, 5.0)
    late, gain = chance.uniform(-0.3, 0.3), chance.gauss(1, held.gain / 2)
    shown = []
    for t in seconds:
        at = max(t + late + chance.uniform(-0.2, 0.2), 0.05)
        (ohms,) = charging_curve(
            (at,), farads, Source.of(held).ohms * chance.uniform(0.9, 1.1), leak
        )
        ohms = round(ohms * gain / held.resolution) * held.resolution
        shown.append(ohms if ohms <= held.full_scale else math.inf)
    verdict = judge_charging(
        seconds, shown, marked, source=Source.of(held), in_parallel=parallel, beside_ohms=beside
    )
    return verdict.word


def _range(ranges: tuple[MeterRange, ...], wanted: float) -> MeterRange:
    found = sorted(ranges, key=lambda r: r.full_scale)
    return next((r for r in found if r.full_scale >= wanted), found[-1])


if __name__ == "__main__":
    for kind, counts in tally(4000, seed=1).items():
        print(kind, dict(counts))

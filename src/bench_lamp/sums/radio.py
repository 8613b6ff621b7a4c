"""Sums of frequencies and levels: dB, ppm, crystal and intermediate frequency."""

import math
from collections.abc import Iterator

from bench_lamp.sums.values import Sum, SumError, SumResult, SumValues, number, outcome, signed


def _db(given: SumValues) -> Iterator[SumResult]:
    if "ratio" in given:
        yield outcome("as volts", 10 ** (given.ratio / 20), "to 1", figures=4)
        yield outcome("as power", 10 ** (given.ratio / 10), "to 1", figures=4)
        return
    if "first" not in given or "second" not in given:
        raise SumError("Give two levels, or the dB", hint="Both in volts, or dB alone.")
    both = given.second / given.first
    yield outcome("of volts", 20 * math.log10(both), "dB", figures=4)
    yield outcome("of watts", 10 * math.log10(both), "dB", figures=4)


def _ppm(given: SumValues) -> Iterator[SumResult]:
    off = given.read - given.wanted
    yield outcome("off by", off, "Hz", figures=4)
    yield outcome("that is", 1e6 * off / given.wanted, "ppm", figures=3)
    if "counter" in given:
        yield outcome(
            "the counter alone may be off", given.counter * 1e-6 * given.read, "Hz", figures=3
        )


def _crystal(given: SumValues) -> Iterator[SumResult]:
    for name, sign in (("injection low", -1), ("injection high", 1)):
        oscillator = given.channel + sign * given.middle
        if oscillator > 0:
            yield outcome(f"{name}, oscillator", oscillator, "Hz", figures=9)
            yield outcome(f"{name}, crystal", oscillator / given.times, "Hz", figures=9)
            yield outcome(
                f"{name}, image at", given.channel + 2 * sign * given.middle, "Hz", figures=9
            )


def _channel(given: SumValues) -> Iterator[SumResult]:
    oscillator = given.crystal * given.times
    yield outcome("injection low, channel", oscillator + given.middle, "Hz", figures=9)
    if oscillator > given.middle:
        yield outcome("injection high, channel", oscillator - given.middle, "Hz", figures=9)


_MIDDLE = number("middle", "IF", "Hz", hint="10.7M")
_TIMES = number("times", "multiplied by", usual="1")
SUMS = (
    Sum(
        id="db",
        title="dB and ratios",
        words="decibel level gain",
        givens=(
            number("first", "from", is_optional=True),
            number("second", "to", is_optional=True),
            signed("ratio", "or dB", "dB", is_optional=True),
        ),
        formula="20·lg(U₂/U₁), 10·lg(P₂/P₁)",
        source="IEC 60027-3",
        work=_db,
    ),
    Sum(
        id="ppm",
        title="Frequency: off by how many ppm",
        words="counter deviation",
        givens=(
            number("wanted", "should be", "Hz"),
            number("read", "reads", "Hz"),
            number("counter", "counter is good to", "ppm", is_optional=True),
        ),
        formula="10⁶·(f − f₀)/f₀",
        source="definition",
        work=_ppm,
    ),
    Sum(
        id="crystal",
        title="Crystal from channel and IF",
        words="injection oscillator receiver image",
        givens=(number("channel", "channel", "Hz", hint="145.5M"), _MIDDLE, _TIMES),
        formula="(f ∓ fIF)/n",
        source="mixing",
        work=_crystal,
    ),
    Sum(
        id="channel",
        title="Channel from crystal and IF",
        words="injection oscillator receiver reading",
        givens=(number("crystal", "crystal", "Hz"), _MIDDLE, _TIMES),
        formula="n·fx ± fIF",
        source="mixing",
        work=_channel,
    ),
)

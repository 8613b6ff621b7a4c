"""Sums of wires and tracks."""

import math
from collections.abc import Iterator

from bench_lamp.sums.values import Sum, SumResult, SumValues, number, outcome, signed

#: Ohm square millimetres a metre of copper at 20 °C (IEC 60028), and its change a kelvin.
RHO, ALPHA = 1 / 58, 0.00393
#: IPC-2221, outer layers: I = k·ΔT^0.44·A^0.725 with A in square mils.
TRACK_K, MIL_MM = 0.048, 0.0254


def _ohms(given: SumValues, square_mm: float, metres: float) -> Iterator[SumResult]:
    ohms = RHO * metres / square_mm * (1 + ALPHA * (given.celsius - 20))
    yield outcome("it has", ohms, "Ω")
    yield outcome("drop", ohms * given.amps, "V")
    yield outcome("heat", ohms * given.amps**2, "W")


def _wire(given: SumValues) -> Iterator[SumResult]:
    area = given.square if "square" in given else math.pi / 4 * given.across**2
    yield outcome("cross-section", area, "mm²")
    yield from _ohms(given, area, 2 * given.metres)


def _track(given: SumValues) -> Iterator[SumResult]:
    area = given.width * given.thick / 1000
    yield from _ohms(given, area, given.long / 1000)
    yield outcome("carries, for 20 K more", TRACK_K * 20**0.44 * (area / MIL_MM**2) ** 0.725, "A")


_CELSIUS = signed("celsius", "at", "°C", usual="20")
_AMPS = number("amps", "current", "A")
SUMS = (
    Sum(
        id="wire",
        title="Wire: its drop, there and back",
        words="cable harness voltage drop",
        givens=(
            number("metres", "length, one way", "m"),
            number("square", "cross-section", "mm²", is_optional=True),
            number("across", "or diameter", "mm", usual="1"),
            _AMPS,
            _CELSIUS,
        ),
        formula="R = ρ·2l/A",
        source="copper of IEC 60028, 1/58 Ω mm²/m",
        work=_wire,
    ),
    Sum(
        id="track",
        title="Track: its drop, and what it carries",
        words="copper pcb trace",
        givens=(
            number("width", "width", "mm"),
            number("long", "length", "mm"),
            number("thick", "copper", "µm", usual="35"),
            _AMPS,
            _CELSIUS,
        ),
        formula="R = ρ·l/(b·d); I = 0.048·ΔT^0.44·A^0.725",
        source="IEC 60028; IPC-2221, outer layers",
        work=_track,
    ),
)

"""What each supply gives at a gate of the wake-up: a DC inlet, or a bench supply on a rail."""

import math
from collections.abc import Iterator

from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import Converter, Decoupling, Inlet, Load, Regulator, Reservoir
from bench_lamp.case.case import Case
from bench_lamp.case.gate_readings import GateCondition
from bench_lamp.case.house_rules import rule
from bench_lamp.case.readings import reading_text
from bench_lamp.checks import Judgement, judge
from bench_lamp.checks.inrush import charge_behind
from bench_lamp.journal import Reading
from bench_lamp.units import Band, engineering

#: How far loads are from what is drawn of them, as a share; what leaks and bleeders take beside them, in amperes.
LOADS_SHARE, REST_A = 0.25, 0.02
#: From so many times what it should give at the most, a supply is switched off.
STOPS = 1.3
#: Below this share of its upper limit, a lower one is none.
NOTHING_SHARE = 0.02
#: What a rail's supply is called, before its point.
ON = "supply on "


class GateCurrent(Struct, frozen=True, kw_only=True):
    """A supply of a gate, with what it was read to give."""

    #: Id of the inlet, or `supply on P3`.
    supply: str
    #: What the bench supply that stands for it is set to, in volts.
    volts: float
    #: What it gives on a sound board as things are connected, in amperes; None where nobody knows.
    band: Band | None
    #: What its capacitors take until they are charged, in coulombs.
    charge: float
    reading: Reading | None = None
    judgement: Judgement | None = None

    @property
    def label(self) -> str:
        """Its name in few letters, beside those of points: `X1`, `TP5 A`."""
        point = self.supply.removeprefix(ON)
        return self.supply if point == self.supply else f"{point} A"

    @property
    def stops(self) -> bool:
        """Whether it gives so much more than it should that it is switched off."""
        return (
            self.reading is not None
            and self.band is not None
            and self.reading.value > STOPS * self.band.high
        )

    @property
    def idle(self) -> float:
        """What it gives at rest, in amperes; 0 where nobody knows."""
        return (self.band.low + self.band.high) / 2 if self.band else 0.0

    @property
    def band_text(self) -> str:
        """The band as it is written."""
        if self.band is None:
            return "nobody has said"
        return amps_text(self.band)

    @property
    def text(self) -> str:
        """The reading as it is written, or an em dash."""
        return reading_text(self.reading) if self.reading else "—"


def amps_text(band: Band) -> str:
    """Write a range of currents: `0.38 A to 0.58 A`, `at most 16 mA`."""
    high = engineering(band.high, "A", resolution=band.high / 50)
    if band.low < NOTHING_SHARE * band.high:
        return f"at most {high}"
    return f"{engineering(band.low, 'A', resolution=band.high / 50)} to {high}"


def currents_at(case: Case, here: GateCondition) -> tuple[GateCurrent, ...]:
    """Return each supply of a gate with its last reading there, judged."""
    return tuple(_read(case, found, here) for found in _supplies(case, here))


def _supplies(case: Case, here: GateCondition) -> Iterator[GateCurrent]:
    """Yield the inlet that feeds the board with DC; else the rail that the shop feeds with a bench supply."""
    inlets = [b for b in case.profile.power if isinstance(b, Inlet) and b.is_dc and _is_fed_by(b)]
    for inlet in inlets:
        known = case.insight.drawn_at.get((here.off, here.hung), {}) if case.insight else {}
        low, high = known.get(inlet.id, (0.0, 0.0))
        band = Band(low, high + REST_A) if inlet.id in known else None
        charge = _charge(case, inlet.to, here)
        yield GateCurrent(supply=inlet.id, volts=abs(inlet.volts), band=band, charge=charge)
    point = None if inlets else bench_supply_point(case)
    if point is not None and not case.tree.is_cut_off(point.net, here.off):
        drawn = drawn_behind(case, point.net, here.off)
        band = Band((1 - LOADS_SHARE) * drawn, (1 + LOADS_SHARE) * drawn + REST_A)
        charge = _charge(case, point.net, here)
        yield GateCurrent(supply=ON + point.id, volts=abs(point.volts), band=band, charge=charge)


def _is_fed_by(inlet: Inlet) -> bool:
    """Whether a board runs on an inlet: a battery behind ohms only keeps a memory."""
    return inlet.ohms is None or inlet.ohms < KEEPS_OHMS


#: A battery of more ohms than this feeds no board.
KEEPS_OHMS = 4.0


def bench_supply_point(case: Case) -> TestPoint | None:
    """Return the rail that a bench supply feeds in the mains' place, where the shop limits so; None for none."""
    if rule(case, "limiting") != "bench supply":
        return None
    regulated = {b.to for b in case.profile.power if isinstance(b, Regulator)}
    points = (p for p in case.profile.test_points if p.net in regulated and p.volts)
    return next((p for p in points if drawn_behind(case, p.net)), None)


def drawn_behind(case: Case, net: str, off: frozenset[str] = frozenset()) -> float:
    """Return what the loads behind a net draw, without those that are cut off, in amperes."""
    behind = case.tree.downstream_nets({net})
    loads = (b for b in case.profile.power if isinstance(b, Load) and b.net in behind)
    return sum(b.amps for b in loads if not case.tree.is_cut_off(b.net, off))


def _charge(case: Case, net: str, here: GateCondition) -> float:
    """Return what the capacitors behind a net take until they are charged, in coulombs."""
    tree, behind = case.tree, case.tree.downstream_nets({net})
    total = 0.0
    for block in case.profile.power:
        if not isinstance(block, Reservoir | Decoupling) or block.net not in behind:
            continue
        if tree.is_cut_off(block.net, here.off):
            continue
        volts = _volts(case, block.net)
        # Of a chain, the first is fed by the supply; each of them loses its share.
        way = [
            b for b in tree.upstream(block.net) if isinstance(b, Converter) and b.from_ in behind
        ]
        through = _volts(case, way[0].from_) if way else 0.0
        efficiency = math.prod(b.efficiency for b in way)
        total += charge_behind(block.value, volts, through=through, efficiency=efficiency)
    return total


def _volts(case: Case, net: str) -> float:
    """Return what a net carries when all is well, in volts; 0 where nobody knows."""
    known = case.insight.expected.get(net) if case.insight else None
    if known is not None:
        return abs(known[0] + known[1]) / 2
    return next((abs(p.volts) for p in case.profile.test_points if p.net == net), 0.0)


def _read(case: Case, found: GateCurrent, here: GateCondition) -> GateCurrent:
    reading = next((r for r in reversed(case.state.readings) if _is_here(r, found, here)), None)
    if reading is None or found.band is None:
        return replace(found, reading=reading)
    judgement = judge_amps(found.band, reading.value, reading.resolution)
    return replace(found, reading=reading, judgement=judgement)


def judge_amps(band: Band, amps: float, resolution: float = 0.0) -> Judgement:
    """Judge what a supply gives, in amperes; its display shows to half its last digit."""
    low = band.low if band.low > NOTHING_SHARE * band.high else -band.high
    return judge(amps, nominal=0.0, design=Band(low, band.high), uncertainty=resolution / 2)


def _is_here(reading: Reading, found: GateCurrent, here: GateCondition) -> bool:
    is_it = reading.target == found.supply and reading.mode == "A"
    return (
        is_it and here.off <= reading.out and not reading.out & here.on and here.is_that_of(reading)
    )

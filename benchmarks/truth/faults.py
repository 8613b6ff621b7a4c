"""What can be wrong with a real board: kinds, degrees, and what each does to its values."""

from collections.abc import Iterator

import numpy as np

from bench_lamp.board import Block, Profile
from bench_lamp.board.blocks import (
    Converter,
    Decoupling,
    Diode,
    Dropper,
    FuseBlock,
    Harness,
    Indicator,
    Inlet,
    Load,
    Pin,
    Rectifier,
    Regulator,
    Reservoir,
    Sense,
    Switch,
    Transformer,
)
from bench_lamp.board.fault_kind import FaultKind as K
from benchmarks.truth.drawing import OPEN_OHM, Drawn, Layout

#: Kinds by block, with the winding's net for those of a transformer.
Site = tuple[str, str]


def sites(profile: Profile) -> Iterator[tuple[K, str, str]]:
    """Yield every (kind, block, winding) that can be wrong with a kind of board."""
    for block in profile.power:
        for kind in _kinds(block):
            yield kind, block.id, ""
        if isinstance(block, Transformer):
            for net in block.to:
                yield K.WINDING_OPEN, block.id, net
                yield K.WINDING_RESISTIVE, block.id, net


def _kinds(block: Block) -> tuple[K, ...]:
    if isinstance(block, Rectifier):
        legs = {"bridge": K.ONE_LEG_OPEN, "full-wave": K.ONE_DIODE_OPEN, "half-wave": K.OPEN}
        return (legs[block.kind], K.SHORTED)
    if isinstance(block, Regulator):
        trim = (K.OUT_OF_ADJUSTMENT,) if block.adjustable else ()
        return (K.DEAD, K.PASSES_INPUT, K.LOW, K.HIGH, *trim)
    if isinstance(block, Converter):
        through = K.SWITCH_SHORTED if block.steps_up else K.PASSES_INPUT
        return (K.DEAD, through, K.INDUCTOR_WEAK)
    if isinstance(block, Inlet):
        return (K.NO_MAINS, K.SUPPLY_WEAK) if block.is_dc else (K.NO_MAINS,)
    table: dict[type, tuple[K, ...]] = {
        FuseBlock: (K.OPEN, K.RESISTIVE),
        Switch: (K.OPEN, K.RESISTIVE),
        Pin: (K.OPEN, K.RESISTIVE),
        Harness: (K.OPEN, K.RESISTIVE),
        Diode: (K.OPEN, K.SHORTED),
        Reservoir: (K.DRIED_OUT, K.HIGH_ESR, K.LEAKY, K.SHORTED),
        Decoupling: (K.SHORTED,),
        Sense: (K.LINE_OPEN,),
        Indicator: (K.OPEN,),
        Dropper: (K.DROPPER_OPEN, K.ZENER_OPEN, K.ZENER_SHORTED),
        Load: (K.SHORTED, K.OPEN, K.DRAWS_MORE, K.DRAWS_LESS),
    }
    return table.get(type(block), ())


def draw_faults(profile: Profile, seed: int, count: int) -> dict[tuple[str, str], float]:
    """Return so many faults of different parts, kinds drawn evenly, each with its degree."""
    chance = np.random.default_rng((seed, 31))
    by_kind: dict[K, list[tuple[str, str]]] = {}
    for kind, block, winding in sites(profile):
        by_kind.setdefault(kind, []).append((block, winding))
    found: dict[tuple[str, str], float] = {}
    while len(found) < count:
        kind = list(by_kind)[int(chance.integers(len(by_kind)))]
        block, winding = by_kind[kind][int(chance.integers(len(by_kind[kind])))]
        if all(block != other.partition("@")[0] for other, _ in found):
            found[f"{block}@{winding}" if winding else block, kind] = float(chance.random())
    return found


class Effects:
    """What the faults of one board do; each is asked for by block while it is built."""

    def __init__(self, board: Drawn, layout: Layout) -> None:
        self._board, self._layout = board, layout

    def degree(self, block: str, kind: K) -> float | None:
        """Return how bad a block is in a way, from 0 to 1; None where it is not."""
        return self._board.faults.get((block, kind))

    def ohms(self, block: Block, amps: float) -> float:
        """Return what a contact, wire, switch or fuse has in series."""
        board = self._board
        if block.id in board.blown or self.degree(block.id, K.OPEN) is not None:
            return OPEN_OHM
        ohms = board.value(block.id, "ohms")
        degree = self.degree(block.id, K.RESISTIVE)
        if degree is None:
            return ohms
        if isinstance(block, FuseBlock):
            return ohms + 0.1 * 30**degree
        volts = self._layout.volts[block.to]  # type: ignore[union-attr]
        return ohms + volts / max(amps, 0.01) * 0.06 * 8**degree

    def short(self, block: str, kinds: tuple[K, ...] = (K.SHORTED,)) -> float:
        """Return the siemens of a short to the return; 0 for none."""
        degrees = [self.degree(block, kind) for kind in kinds]
        return sum(1 / (0.02 * 150**d) for d in degrees if d is not None)

    def leak(self, block: Reservoir, amps: float) -> float:
        """Return the siemens that a capacitor passes, beside or as a short."""
        degree = self.degree(block.id, K.LEAKY)
        volts = self._layout.volts[block.net]
        found = 0.0 if degree is None else 0.6 * 5**degree * max(amps, 0.02) / volts
        return found + self.short(block.id)

    def farads(self, block: Reservoir) -> tuple[float, float]:
        """Return farads, and ohms in series."""
        farads, esr = (self._board.value(block.id, name) for name in ("farads", "esr"))
        dried, lossy = self.degree(block.id, K.DRIED_OUT), self.degree(block.id, K.HIGH_ESR)
        if dried is not None:
            farads, esr = farads * (0.03 + 0.27 * dried), esr * 2
        if lossy is not None:
            esr = esr * 15 * 10**lossy
        return farads, esr

    def winding(self, block: Transformer, net: str, load_ohms: float) -> float:
        """Return ohms that a bad joint of a winding adds."""
        key = f"{block.id}@{net}"
        if self.degree(key, K.WINDING_OPEN) is not None:
            return OPEN_OHM
        degree = self.degree(key, K.WINDING_RESISTIVE)
        return 0.0 if degree is None else load_ohms * 0.08 * 8**degree

    def set_v(self, block: Regulator | Converter) -> float:
        """Return what a regulator holds its output at."""
        volts = self._board.value(block.id, "volts")
        ranges = {K.LOW: (0.72, 0.94), K.HIGH: (1.06, 1.4), K.OUT_OF_ADJUSTMENT: (0.87, 1.13)}
        for kind, (low, high) in ranges.items():
            degree = self.degree(block.id, kind)
            if degree is not None:
                volts *= low + (high - low) * degree
        return volts

    def limit(self, block: Regulator | Converter, amps: float) -> float:
        """Return the most that a regulator or converter gives, in amperes."""
        if self.degree(block.id, K.DEAD) is not None:
            return 1e-7
        limit = self._board.value(block.id, "limit")
        degree = self.degree(block.id, K.INDUCTOR_WEAK)
        if isinstance(block, Converter) and self.degree(block.id, K.PASSES_INPUT) is not None:
            return 1e-7
        return limit if degree is None else max(amps, 0.01) * (0.2 + 0.65 * degree)

    def through(self, block: Regulator | Converter) -> float:
        """Return the siemens from input to output beside the regulator."""
        degree = self.degree(block.id, K.PASSES_INPUT)
        leak = 1 / self._board.value(block.id, "through")
        return leak if degree is None else leak + 0.15 * 40**degree

    def amps(self, block: Load) -> float:
        """Return what a load draws at its usual voltage."""
        amps = self._board.value(block.id, "amps")
        more, less = self.degree(block.id, K.DRAWS_MORE), self.degree(block.id, K.DRAWS_LESS)
        if self.degree(block.id, K.OPEN) is not None:
            return amps * 1e-5
        if more is not None:
            return amps * 1.5 * 2.7**more
        return amps if less is None else amps * (0.15 + 0.55 * less)

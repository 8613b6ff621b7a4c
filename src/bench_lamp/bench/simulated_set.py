"""A simulated board set: its rails under a meter, and its logic under its own tests."""

from dataclasses import dataclass

from bench_lamp.bench.knobs import Knobs
from bench_lamp.bench.simulated import SimulatedBoard
from bench_lamp.bench.simulated_logic import SimulatedLogic
from bench_lamp.instrument.protocol import (
    InstrumentError,
    LogicRequest,
    LogicShown,
    Request,
    Shown,
    TrimRequest,
    TrimShown,
)
from bench_lamp.logic.clue import LogicKind
from bench_lamp.logic.graph import LogicGraph


@dataclass(slots=True)
class SimulatedSet:
    """Answers what either half can; implements `Instrument`."""

    #: None where the profile knows no power tree, or no logic.
    rails: SimulatedBoard | None
    logic: SimulatedLogic | None
    name: str = "simulated bench"
    #: None where nothing is set on it.
    knobs: Knobs | None = None

    def read(self, request: Request) -> Shown:
        """Measure on the rails."""
        if self.rails is None:
            raise InstrumentError(
                "No simulated board for this profile",
                hint="It has no power tree: type the reading.",
            )
        return self.rails.read(request)

    def read_trim(self, request: TrimRequest) -> TrimShown:
        """Read what is set."""
        if self.knobs is None:
            raise InstrumentError(
                "Nothing is set on this simulated board", hint="Type what you read."
            )
        return self.knobs.read(request)

    def tell(self, request: LogicRequest) -> LogicShown:
        """Run a test of the logic."""
        if self.logic is None:
            raise InstrumentError(
                "This simulated board has no logic", hint="Its profile names no chips: type it."
            )
        if request.needs_power and self._is_supply_gone(request):
            return _dark(self.logic.graph, request)
        return self.logic.tell(request)

    def _is_supply_gone(self, request: LogicRequest) -> bool:
        """Whether the rail that a test needs is far from what it should be, as the board stands."""
        assert self.logic is not None
        net = self.logic.graph.supplies.get(request.target, "")
        if self.rails is None or not net or self.rails.tree.part_of(net) is None:
            return False
        return not 1 - GONE < self.rails.share_of(net, request.mended) < 1 + GONE


#: A supply this far from what it should be, as a share, is as good as gone for what hangs on it.
GONE = 0.12


def _dark(graph: LogicGraph, request: LogicRequest) -> LogicShown:
    """Return what a test shows without its supply: nothing, or everything bad."""
    if request.kind == LogicKind.LANE:
        return LogicShown(code="low", bad=graph.all_units(request.target))
    if request.kind == LogicKind.CELLS:
        return LogicShown(bad=graph.all_units(request.target))
    if request.kind == LogicKind.CODE:
        return LogicShown(code="off")
    return LogicShown(code="lost" if request.kind == LogicKind.SETTINGS else "wrong")

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
        return self.logic.tell(request)

"""Bench: instruments, and the simulated board that ships with the program.

For: the protocol of instruments, and what answers it without hardware: a board with
hidden faults and drawn component values. What is named here costs no NumPy; the
simulated board (`bench.simulated`, `bench.demo`) does.
May import: `circuit`, `board`, `units`, NumPy.
Must not import: `reason`, `journal`, Qt, SQL.
"""

from bench_lamp.bench.instrument import (
    Instrument,
    InstrumentError,
    LogicRequest,
    LogicShown,
    Request,
    Shown,
)

__all__ = ["Instrument", "InstrumentError", "LogicRequest", "LogicShown", "Request", "Shown"]

"""Instrument: what is asked of an instrument, what it shows, and the protocol that all keep.

May import: `board`, `units`.
Must not import: `circuit`, Qt, SQL.
"""

from bench_lamp.instrument.protocol import (
    Instrument,
    InstrumentError,
    LogicRequest,
    LogicShown,
    Request,
    Shown,
    TrimRequest,
    TrimShown,
)

__all__ = [
    "Instrument",
    "InstrumentError",
    "LogicRequest",
    "LogicShown",
    "Request",
    "Shown",
    "TrimRequest",
    "TrimShown",
]

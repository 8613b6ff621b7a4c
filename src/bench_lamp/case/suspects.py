"""The suspects as rows: by odds where there is a model, else by the fuse map."""

from typing import TYPE_CHECKING

from msgspec import Struct

from bench_lamp.case.case import Case
from bench_lamp.case.fuse_map import suggested_parts
from bench_lamp.reason.fuse_map.suggest import Suggestion

if TYPE_CHECKING:
    from bench_lamp.circuit.faults import Fault
    from bench_lamp.reason.values.faults import LogicFault


class SuspectRow(Struct, frozen=True, kw_only=True):
    """One suspect as a row: with odds where there is a model, else with the fuse map's reason."""

    key: str
    part: str
    odds: float | None = None
    fault: "Fault | LogicFault | None" = None
    suggestion: Suggestion | None = None


def suspect_rows(case: Case) -> tuple[SuspectRow, ...]:
    """Return the suspects, the likeliest first."""
    if case.insight is None:
        return tuple(
            SuspectRow(key=s.part, part=s.part, suggestion=s) for s in suggested_parts(case)
        )
    return tuple(
        SuspectRow(key=s.key, part=s.block, odds=s.odds, fault=s.fault)
        for s in case.insight.suspects
    )

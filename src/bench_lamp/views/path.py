"""The path: each stage with its state and a count."""

from msgspec import Struct

from bench_lamp.cards.stage import PathWord
from bench_lamp.case.case import Case, remembered
from bench_lamp.journal.events import StageId
from bench_lamp.stages import STAGES
from bench_lamp.views.guard import stage_of


class StageView(Struct, frozen=True, kw_only=True):
    """One stage on the path."""

    stage: StageId
    name: str
    state: PathWord
    #: `9 of 14`, `2 suspects`.
    note: str


@remembered
def path(case: Case) -> tuple[StageView, ...]:
    """Return every stage in the order of the work."""
    return tuple(
        StageView(stage=stage.id, name=stage.name, state=found.word, note=found.note)
        for stage in STAGES
        for found in [stage_of(stage.id).state(case)]
    )

"""Stages: a package a stage, each with one frozen `Stage` record; `STAGES` is their only list.

May import: `cards` and what it may. Stages do not import each other.
"""

from bench_lamp.cards.card import Answer, Card, Typed
from bench_lamp.cards.stage import Stage
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.journal.events import StageId
from bench_lamp.stages import (
    cold,
    handback,
    intake,
    prove,
    rails,
    selftest,
    swap,
    trace,
    trim,
    wake,
)

#: The order of the path, and of the keys.
STAGES: tuple[Stage, ...] = (
    intake.STAGE,
    cold.STAGE,
    wake.STAGE,
    rails.STAGE,
    selftest.STAGE,
    trace.STAGE,
    swap.STAGE,
    trim.STAGE,
    prove.STAGE,
    handback.STAGE,
)
_BY_ID = {stage.id: stage for stage in STAGES}
#: Keys of the stages in their order, each with Alt.
KEYS = "1234567890-"


def stage_of(stage: StageId) -> Stage:
    """Return a stage's record."""
    return _BY_ID[stage]


def key_of(stage: Stage) -> str:
    """Return the key that opens a stage: `Alt+1`, `Alt+0` for the tenth, `Alt+-` for the eleventh."""
    return f"Alt+{KEYS[STAGES.index(stage)]}"


def card_for(stage: StageId, case: Case, hand: Hand | None = None) -> Card:
    """Return the lit card of a stage."""
    return stage_of(stage).card(case, hand or Hand())


def take(stage: StageId, case: Case, hand: Hand, typed: Typed) -> Answer | None:
    """Return what an answer on the stage's card means; None when none is wanted."""
    entry = card_for(stage, case, hand).entry
    return None if entry is None else stage_of(stage).take(case, hand, entry, typed)

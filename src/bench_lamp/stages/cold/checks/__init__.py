"""The kinds of cold check on the stage: a module a kind, and here their only list."""

from collections.abc import Mapping

from bench_lamp.case.case import Case
from bench_lamp.case.cold_checks import ColdItem, ColdKind
from bench_lamp.case.cold_list import current_check
from bench_lamp.case.hand import Hand
from bench_lamp.stages.cold.checks import (
    capacitor,
    chip,
    coil,
    fuse,
    junction,
    ohms,
    row,
    switch,
    unknown,
)
from bench_lamp.stages.cold.checks.check import CheckCards
from bench_lamp.stages.cold.picture import ColdPicture

CHECKS: Mapping[ColdKind, CheckCards] = {
    ColdKind.FUSE: fuse.CHECK,
    ColdKind.ROW: row.CHECK,
    ColdKind.CHIP: chip.CHECK,
    ColdKind.SWITCH: switch.CHECK,
    ColdKind.JUNCTION: junction.CHECK,
    ColdKind.UNKNOWN: unknown.CHECK,
    ColdKind.OHMS: ohms.CHECK,
    ColdKind.CAPACITOR: capacitor.CHECK,
    ColdKind.COIL: coil.CHECK,
}


def cold_picture(case: Case, hand: Hand) -> ColdPicture | None:
    """Return the drawing of the check under the lamp; None where words are enough."""
    item = current_check(case, hand)
    return cards_of(item).picture(case, hand, item) if item is not None else None


def cards_of(item: ColdItem) -> CheckCards:
    """Return the cards of a check's kind."""
    return CHECKS[item.kind]

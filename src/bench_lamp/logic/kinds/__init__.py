"""The kinds of self-test: a module a kind, and here their only list.

May import: `board`, and the sums of `logic`.
Must not import: `journal`, `case`, Qt.
"""

from collections.abc import Mapping

from bench_lamp.board.self_tests import SelfTest, SelfTestKind
from bench_lamp.logic.kinds import blinks, displays, matrix, memory, program, settings, steps
from bench_lamp.logic.kinds.kind import KindLogic

#: Lanes, pins and images are not tests of the profile's list: they have functions of their own.
KINDS: Mapping[SelfTestKind, KindLogic] = {
    SelfTestKind.BLINKS: blinks.KIND,
    SelfTestKind.BEEPS: blinks.KIND,
    SelfTestKind.PROGRAM: program.KIND,
    SelfTestKind.MEMORY: memory.KIND,
    SelfTestKind.SWITCHES: matrix.KIND,
    SelfTestKind.LAMPS: matrix.KIND,
    SelfTestKind.DISPLAYS: displays.KIND,
    SelfTestKind.COILS: steps.KIND,
    SelfTestKind.SOUNDS: steps.KIND,
    SelfTestKind.HARNESS: steps.KIND,
    SelfTestKind.SETTINGS: settings.KIND,
}


def logic_of(test: SelfTest) -> KindLogic:
    """Return the logic of a test's kind."""
    return KINDS[SelfTestKind(test.kind)]


def cells_of(test: SelfTest) -> tuple[str, ...]:
    """Return what can be marked in a test, in the order of the walk."""
    return logic_of(test).cells(test)


def cell_short(test: SelfTest | None, cell: str) -> str:
    """Name a cell in a word or two: `2.3`, `M23`, `P2 digit 4`, `P2 digit 4 g`."""
    return logic_of(test).short(test, cell) if test is not None else cell

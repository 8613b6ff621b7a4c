"""The kinds of self-test on the stage: a module a kind, and here their only list."""

from collections.abc import Mapping

from bench_lamp.board.self_tests import SelfTestKind
from bench_lamp.case.selftest_list import Item
from bench_lamp.stages.selftest.kinds import (
    blinks,
    displays,
    lane,
    matrix,
    memory,
    pins,
    program,
    rom_images,
    settings,
    steps,
)
from bench_lamp.stages.selftest.kinds.kind import KindCards

KINDS: Mapping[SelfTestKind, KindCards] = {
    SelfTestKind.BLINKS: blinks.KIND,
    SelfTestKind.BEEPS: blinks.KIND,
    SelfTestKind.PROGRAM: program.KIND,
    SelfTestKind.MEMORY: memory.KIND,
    SelfTestKind.SWITCHES: matrix.KIND,
    SelfTestKind.LAMPS: matrix.KIND,
    SelfTestKind.DISPLAYS: displays.KIND,
    SelfTestKind.COILS: steps.COILS,
    SelfTestKind.SOUNDS: steps.SOUNDS,
    SelfTestKind.HARNESS: steps.HARNESS,
    SelfTestKind.SETTINGS: settings.KIND,
    SelfTestKind.LANE: lane.KIND,
    SelfTestKind.PINS: pins.KIND,
    SelfTestKind.IMAGES: rom_images.KIND,
}


def cards_of(item: Item) -> KindCards:
    """Return the cards of an item's kind."""
    return KINDS[item.kind]

"""Which parts a self-test is about: where the hand would look on the board."""

from collections.abc import Iterable

from bench_lamp.board.self_tests import SelfTestKind
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.logic_facts import logic_graph
from bench_lamp.case.results import cells_now, lane_bits, lane_of
from bench_lamp.case.selftest_list import Item, current_test
from bench_lamp.logic.marks import GOOD_MARKS


def parts_of_test(case: Case, hand: Hand) -> tuple[str, ...]:
    """Return the parts of the self-test under the lamp, those of the fewest lines first.

    Those on the lines of its bad cells; while nothing is bad, of the cell that is picked; else all.
    """
    item = current_test(case, hand)
    if item is None:
        return ()
    cells = _bad_cells(case, item) or frozenset({hand.cell} - {""})
    if item.kind is SelfTestKind.PINS:
        return _of_cells(((c, c.partition(":")[0]) for c in item.cells), cells)
    if item.kind is SelfTestKind.IMAGES:
        return _of_cells(((i.id, i.part) for i in case.profile.images), cells)
    graph = logic_graph(case)
    units = graph.units.get(item.id, {})
    lines = {line for line, shows in units.items() if not cells or shows & cells}
    found = [part for part, touched in graph.touches.items() if touched & lines]
    return tuple(sorted(found, key=lambda part: len(graph.touches[part])))


def _of_cells(parts: Iterable[tuple[str, str]], cells: frozenset[str]) -> tuple[str, ...]:
    """Return the parts of some cells, each once; without any, of all."""
    return tuple(dict.fromkeys(part for cell, part in parts if not cells or cell in cells))


def _bad_cells(case: Case, item: Item) -> frozenset[str]:
    if item.kind is SelfTestKind.LANE:
        lane = lane_of(case.profile, item.id)
        return frozenset(lane.lines[b.number] for b in lane_bits(case, lane.id) if b.is_bad)
    marks = cells_now(case, item.id)
    return frozenset(cell for cell, m in marks.items() if m.mark not in GOOD_MARKS)

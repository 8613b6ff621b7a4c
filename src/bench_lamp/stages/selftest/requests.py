"""What the linked board is asked for a self-test: the whole of it at once."""

from bench_lamp.case.case import Case
from bench_lamp.case.selftest_list import Item
from bench_lamp.instrument import LogicRequest
from bench_lamp.logic.clue import LogicKind


def ask_cells(case: Case, item: Item) -> LogicRequest | None:
    """Return the request for all cells that have no mark; None when all have one."""
    if item.done >= len(item.cells):
        return None
    return LogicRequest(kind=LogicKind.CELLS, target=item.id, mended=case.state.renewed)


def ask_code(case: Case, item: Item, memory: str = "") -> LogicRequest:
    """Return the request for the code that a test shows; it may name chips of a memory test."""
    return LogicRequest(
        kind=LogicKind.CODE, target=item.id, memory=memory, mended=case.state.renewed
    )

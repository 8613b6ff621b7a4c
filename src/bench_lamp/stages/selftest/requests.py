"""What the linked board is asked for each self-test."""

from bench_lamp.board.self_tests import (
    DisplayTest,
    MatrixTest,
    MemoryTest,
    ProgramTest,
    SettingsTest,
    StepsTest,
)
from bench_lamp.cards.instrument_logic import probe_request
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.results import code_now
from bench_lamp.case.selftest_list import Item, current_cell
from bench_lamp.instrument.protocol import LogicRequest


def request_of(case: Case, hand: Hand, item: Item) -> LogicRequest | None:
    """Return what the linked board is asked for a test; None where it has told all."""
    mended, test = case.state.renewed, case.profile.self_test(item.id)
    if item.kind == "lane":
        return LogicRequest(kind="lane", target=item.id, mended=mended)
    if item.kind == "pins":
        return probe_request(case, current_cell(case, hand, item))
    if isinstance(test, SettingsTest):
        is_told = not test.kept_by or code_now(case, test.id)
        return None if is_told else LogicRequest(
            kind="settings", target=test.id, parts=test.kept_by, mended=mended
        )  # fmt: skip
    if isinstance(test, MatrixTest | MemoryTest | DisplayTest | StepsTest):
        is_open = item.done < len(item.cells)
        return LogicRequest(kind="cells", target=test.id, mended=mended) if is_open else None
    if test is None:
        return None
    memories = (t.id for t in case.profile.self_tests if isinstance(t, MemoryTest))
    memory = next(memories, "") if isinstance(test, ProgramTest) else ""
    return LogicRequest(kind="code", target=test.id, memory=memory, mended=mended)

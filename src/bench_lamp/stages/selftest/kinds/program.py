"""Test programs: a ROM that shows a code for what it found."""

from bench_lamp.board.self_tests import MemoryTest, ProgramTest
from bench_lamp.cards.card import Accepted, Answer, Card, Entry, Refused
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.cautions import CHIP_OFF
from bench_lamp.case.hand import Hand
from bench_lamp.case.results import code_now
from bench_lamp.case.selftest_list import Item
from bench_lamp.journal.logic_events import CellsMarked, SelfTestSeen
from bench_lamp.stages.selftest.code_cards import code_card, code_rows
from bench_lamp.stages.selftest.kinds.kind import KindCards
from bench_lamp.stages.selftest.picture import BootPicture
from bench_lamp.stages.selftest.requests import ask_code
from bench_lamp.stages.selftest.walk_cards import how


def _card(case: Case, hand: Hand, item: Item) -> Card:
    """Ask what the test ROM shows."""
    test = case.profile.self_test(item.id)
    assert isinstance(test, ProgramTest)
    code = code_now(case, test.id)
    if code:
        return code_card(case, item, test, code)
    memory = next((t.id for t in case.profile.self_tests if isinstance(t, MemoryTest)), "")
    return Card(
        id=f"selftest:{item.id}",
        kind=item.name,
        title="What does it show?",
        effort=f"about {test.seconds:g}\u202fs",
        cautions=(CHIP_OFF, cautions.STATIC) if test.socket else (),
        leads=how(test),
        entry=Entry(
            kind="text",
            field="program",
            hint=f"{test.good}, or the letter",
            options=(test.good, *(c.code for c in test.codes)),
        ),
        why_heading="",
        why=(),
        asks=ask_code(case, item, memory),
    )


def _take(case: Case, hand: Hand, item: Item, text: str) -> Answer:
    test = case.profile.self_test(item.id)
    assert isinstance(test, ProgramTest)
    known = {c.code.upper(): c.code for c in test.codes} | {test.good.upper(): test.good}
    code = known.get(text.upper())
    if code is not None:
        return Accepted(log=(SelfTestSeen(test=test.id, code=code),), focus=item.id)
    for memory in case.profile.self_tests:
        if isinstance(memory, MemoryTest) and (cell := memory.cell_of(text)):
            mark = CellsMarked(test=memory.id, cells=(cell,), mark="dead")
            return Accepted(log=(mark,), focus=memory.id, cell=cell)
    return Refused(
        what=f"“{text[:12]}” is not in this test’s table",
        mend=f"It knows {', '.join(known.values())}.",
    )


def _picture(case: Case, hand: Hand, item: Item) -> BootPicture:
    test = case.profile.self_test(item.id)
    assert isinstance(test, ProgramTest)
    rows = code_rows(test, code_now(case, test.id))
    return BootPicture(title=item.name, steps=rows, taps=0, words=())


KIND = KindCards(card=_card, take=_take, picture=_picture)

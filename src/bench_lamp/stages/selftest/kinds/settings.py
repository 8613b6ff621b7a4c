"""Settings: whether they last, what keeps them, and what is to be set again."""

from bench_lamp.board.self_tests import SettingsTest
from bench_lamp.cards.card import Card, Choice, Lead
from bench_lamp.cards.logic_words import part_name, part_place
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.results import code_now
from bench_lamp.case.selftest_list import Item, current_cell
from bench_lamp.instrument.protocol import LogicRequest
from bench_lamp.journal.logic_events import CellsMarked, SelfTestSeen
from bench_lamp.logic.clue import LogicKind
from bench_lamp.logic.kinds.settings import LOST
from bench_lamp.stages.selftest.cell_views import list_picture
from bench_lamp.stages.selftest.kinds.kind import KindCards
from bench_lamp.stages.selftest.picture import ListPicture
from bench_lamp.stages.selftest.result_cards import item_done, once_more, onward
from bench_lamp.stages.selftest.walk import after
from bench_lamp.stages.selftest.walk_cards import how
from bench_lamp.units.words import opening


def _card(case: Case, hand: Hand, item: Item) -> Card:
    """Ask whether the settings last, then what is to be set again."""
    test = case.profile.self_test(item.id)
    assert isinstance(test, SettingsTest)
    if test.kept_by and not code_now(case, test.id):
        return _ask_whether_kept(case, item, test)
    if item.status == "bad" and not hand.cell:
        return _lost_card(case, item, test)
    cell = current_cell(case, hand, item)
    if not cell:
        return item_done(case, item, pattern_words(case, item))
    return Card(
        id=f"selftest:{item.id}",
        kind="To be set again",
        marks_cell=True,
        title=opening(cell),
        effort=f"{len(item.cells) - item.done} to go",
        leads=how(test),
        choices=(
            Choice(
                key="1",
                text="Set",
                log=(CellsMarked(test=item.id, cells=(cell,), mark="done"),),
                focus=item.id,
                cell=after(case, item, cell),
            ),
            Choice(
                key="2",
                text="Leave it as it is",
                log=(CellsMarked(test=item.id, cells=(cell,), mark="good"),),
                focus=item.id,
                cell=after(case, item, cell),
            ),
        ),
        why_heading="",
        why=(),
    )


def _ask_whether_kept(case: Case, item: Item, test: SettingsTest) -> Card:
    return Card(
        id=f"selftest:{item.id}",
        kind=item.name,
        title="Are the settings still there after a start?",
        effort=f"about {test.seconds:g}\u202fs",
        leads=how(test),
        choices=tuple(
            Choice(key=key, text=text, log=(SelfTestSeen(test=test.id, code=code),), focus=item.id)
            for key, text, code in (("1", "Kept", "kept"), ("2", "Lost at each start", "lost"))
        ),
        why_heading="What keeps them",
        why=(f"{_keepers(case, test)}.",),
        asks=LogicRequest(
            kind=LogicKind.SETTINGS, target=test.id, parts=test.kept_by, mended=case.state.renewed
        ),
    )


def _lost_card(case: Case, item: Item, test: SettingsTest) -> Card:
    """Settings that do not last: what keeps them comes first, setting them again afterwards."""
    return Card(
        id=f"selftest-result:{item.id}",
        kind=item.name,
        title="Lost at each start",
        leads=tuple(
            Lead(kind="hand", text=part_place(case.profile, part)) for part in test.kept_by[:3]
        ),
        choices=(onward(is_bad=True), once_more(item)),
        why_heading="What it says",
        why=(
            "A leaking battery corrodes what is round it: look there first.",
            "What is to be set again is asked when they last.",
        ),
        can_skip=False,
    )


def _keepers(case: Case, test: SettingsTest) -> str:
    """Name what keeps the settings: `BT1, settings battery; IC7, settings memory`."""
    return "; ".join(part_name(case.profile, part) for part in test.kept_by)


def pattern_words(case: Case, item: Item) -> tuple[str, ...]:
    """Return what keeps settings that are lost."""
    test = case.profile.self_test(item.id)
    if isinstance(test, SettingsTest) and code_now(case, test.id) == LOST:
        return (f"Lost at each start: {_keepers(case, test)}.",)
    return ()


def _picture(case: Case, hand: Hand, item: Item) -> ListPicture:
    return list_picture(case, hand, item, {}, pattern_words(case, item))


KIND = KindCards(card=_card, picture=_picture, pattern_words=pattern_words)

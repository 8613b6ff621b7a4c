"""Coils, sounds and the steps of a test harness: walked one by one."""

from bench_lamp.board.self_tests import SelfTestKind, Step, StepsTest
from bench_lamp.cards.card import Card
from bench_lamp.cards.marks import MARK_CHOICES
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.selftest_list import Item, current_cell
from bench_lamp.logic.marks import GOOD_MARKS, LOCKED_ON
from bench_lamp.stages.selftest.cell_views import list_picture
from bench_lamp.stages.selftest.kinds.kind import KindCards
from bench_lamp.stages.selftest.picture import ListPicture
from bench_lamp.stages.selftest.result_cards import bad_cells, item_done, known_marks
from bench_lamp.stages.selftest.walk_cards import USUAL, walk_card

_VERBS = {"coils": "Watch", "sounds": "Listen to", "harness": "Step"}
_FIRING = ("Coils fire. Fingers off the playfield, one hand on the switch.",)
#: Bad steps that are named where nothing else is said.
NAMED = 3


def _card(case: Case, hand: Hand, item: Item) -> Card:
    test = _test(case, item)
    cell = current_cell(case, hand, item)
    if not cell:
        bad = [s for s in test.steps if s.id in bad_cells(case, item)]
        parts = tuple(dict.fromkeys(part for step in bad for part in step.parts))
        return item_done(case, item, pattern_words(case, item), parts)
    step = next(s for s in test.steps if s.id == cell)
    special = "This one works without the processor: it separates drive from logic."
    return walk_card(
        case,
        item,
        test,
        cell,
        MARK_CHOICES[test.kind],
        title=f"{_VERBS[test.kind]} {step.id} {step.name}",
        mind=special if step.special else USUAL,
        cautions=_FIRING if item.kind is SelfTestKind.COILS else (),
    )


def _test(case: Case, item: Item) -> StepsTest:
    test = case.profile.self_test(item.id)
    assert isinstance(test, StepsTest)
    return test


def _picture(case: Case, hand: Hand, item: Item) -> ListPicture:
    test = _test(case, item)
    labels = {step.id: f"{step.id} {step.name}" for step in test.steps}
    words = pattern_words(case, item)
    return list_picture(case, hand, item, labels, words, SAID[item.kind])


def pattern_words(case: Case, item: Item) -> tuple[str, ...]:
    """Return what the marks of the steps say together."""
    test, marks = _test(case, item), known_marks(case, item)
    told = [s for s in test.steps if s.id in marks]
    bad = [s for s in told if marks[s.id].mark not in GOOD_MARKS]
    dead = [s for s in bad if marks[s.id].mark == "dead"]
    words = _locked_words([s.id for s in bad if marks[s.id].mark == LOCKED_ON])
    if len(dead) > 1:
        words += _common_words(told, bad)
    if not words and bad:
        words = ["; ".join(f"{s.id}: {', '.join(s.parts) or 'its lines'}" for s in bad[:NAMED])]
    return tuple(words)


def _locked_words(locked: list[str]) -> list[str]:
    if not locked:
        return []
    names = ", ".join(locked)
    return [f"{names} stays in: its transistor is shorted, or its driver; it burns in seconds."]


def _common_words(told: list[Step], bad: list[Step]) -> list[str]:
    """Say what several dead steps share: the supply, or what needs the processor."""
    words = []
    if len(bad) == len(told):
        words.append("None of them: the supply or its fuse before any part.")
    special = [s for s in told if s.special]
    good = [s for s in special if s not in bad]
    if special and good == special:
        words.append(
            "What works without the processor works: supply and drive are good, look to the command lines."
        )
    if special and not good:
        words.append("Those that need no processor are dead too: drive or supply, not the logic.")
    return words


#: How a mark is said of each kind of step, where the word that is kept says less.
SAID: dict[SelfTestKind, dict[str, str]] = {
    SelfTestKind.COILS: {"good": "fired", "dead": "silent"},
    SelfTestKind.SOUNDS: {"good": "plays", "dead": "silent"},
    SelfTestKind.HARNESS: {"good": "passes", "dead": "fails"},
}


def _kind(kind: SelfTestKind) -> KindCards:
    return KindCards(card=_card, picture=_picture, pattern_words=pattern_words, said=SAID[kind])


COILS, SOUNDS, HARNESS = map(_kind, (SelfTestKind.COILS, SelfTestKind.SOUNDS, SelfTestKind.HARNESS))

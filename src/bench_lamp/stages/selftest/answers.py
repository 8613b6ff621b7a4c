"""What is typed on the self-test's cards: each kind takes its own."""

from bench_lamp.cards.card import Answer, Refused
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.selftest_list import current_test
from bench_lamp.stages.selftest.kinds import cards_of


def take_selftest(case: Case, hand: Hand, text: str) -> Answer:
    """Take one typed answer; nothing is logged unless all of it is understood."""
    item = current_test(case, hand)
    if item is None:
        return Refused(what="No test is picked", mend="Pick one with Page up and down.")
    return cards_of(item).take(case, hand, item, text.strip())

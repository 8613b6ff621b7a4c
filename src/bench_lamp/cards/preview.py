"""What a card says while something is typed."""

from msgspec import Struct

from bench_lamp.cards.card import Entry
from bench_lamp.cards.reading_card import consequence
from bench_lamp.cards.reading_entry import judge_typed, typed_value
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand


class Preview(Struct, frozen=True):
    """Verdict, word and what it implies; each empty for nothing."""

    verdict: str = ""
    word: str = ""
    implies: str = ""


def preview_reading(case: Case, hand: Hand, entry: Entry, text: str) -> Preview:
    """Judge the reading that stands in the entry so far, and say what it would mean."""
    if not entry.is_reading:
        return Preview()
    judgement, point = judge_typed(case, entry, text), case.profile.point(entry.target)
    means = _means(case, hand, entry, text)
    if judgement is None or point is None:
        return Preview(implies=means)
    return Preview(judgement.verdict, judgement.word, means or consequence(case, point, judgement))


def _means(case: Case, hand: Hand, entry: Entry, text: str) -> str:
    """Say what a figure means for the reasoning's next test; empty when it is another."""
    value = typed_value(entry, text)
    if case.insight is None or value is None:
        return ""
    from bench_lamp.cards.leads import point_on
    from bench_lamp.cards.outcome_words import implied
    from bench_lamp.case.facts import MODES
    from bench_lamp.case.next_test import lit_try
    from bench_lamp.reason.values.tests import Test

    attempt = lit_try(case, hand)
    if attempt is None:
        return ""

    point = point_on(case, attempt.test.target)
    is_same = entry.target == (point.id if point else attempt.test.target)
    if not is_same or not isinstance(attempt.test, Test) or MODES[attempt.test.kind] != entry.mode:
        return ""
    return implied(case.profile, case.insight, attempt, value)

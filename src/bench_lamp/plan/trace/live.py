"""What the card says while something is typed."""

from bench_lamp.plan.card import Entry
from bench_lamp.plan.entry import preview, typed_value
from bench_lamp.plan.intake import read_finding
from bench_lamp.plan.probe import point_on
from bench_lamp.plan.rails import consequence
from bench_lamp.plan.situation import Situation
from bench_lamp.plan.trace.cards import MODES, lit_try
from bench_lamp.plan.trace.outcome_words import implied


def live_words(situation: Situation, entry: Entry, text: str) -> tuple[str, str, str]:
    """Return verdict, word and what it implies, for the text so far; empty for nothing."""
    if not text.strip():
        return "", "", ""
    if entry.kind == "reading":
        return _reading_words(situation, entry, text)
    if entry.field == "look":
        finding = read_finding(situation, text)
        return ("", finding.seen, finding.place or "where?") if finding else ("", "", "")
    return "", "", ""


def _reading_words(situation: Situation, entry: Entry, text: str) -> tuple[str, str, str]:
    judgement = preview(situation, entry, text)
    point = situation.profile.point(entry.target)
    means = _hunted(situation, entry, text)
    if judgement is None or point is None:
        return "", "", means
    return judgement.verdict, judgement.word, means or consequence(situation, point, judgement)


def _hunted(situation: Situation, entry: Entry, text: str) -> str:
    """Say what a figure means for the test under the lamp; empty when it is another."""
    attempt, value = lit_try(situation), typed_value(entry, text)
    if attempt is None or situation.insight is None or value is None:
        return ""
    point = point_on(situation, attempt.test.target)
    is_same = entry.target == (point.id if point else attempt.test.target)
    if not is_same or MODES[attempt.test.kind] != entry.mode:
        return ""
    return implied(situation.insight, attempt, value)

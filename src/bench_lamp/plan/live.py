"""What the card says while something is typed."""

from bench_lamp.plan.card import Entry
from bench_lamp.plan.entry import preview
from bench_lamp.plan.intake import read_finding
from bench_lamp.plan.rails import consequence
from bench_lamp.plan.situation import Situation


def live_words(situation: Situation, entry: Entry, text: str) -> tuple[str, str, str]:
    """Return verdict, word and what it implies, for the text so far; empty for nothing."""
    if not text.strip():
        return "", "", ""
    if entry.kind == "reading":
        judgement = preview(situation, entry, text)
        point = situation.profile.point(entry.target)
        if judgement is None or point is None:
            return "", "", ""
        return judgement.verdict, judgement.word, consequence(situation, point, judgement)
    if entry.field == "look":
        finding = read_finding(situation, text)
        return ("", finding.seen, finding.place or "where?") if finding else ("", "", "")
    return "", "", ""

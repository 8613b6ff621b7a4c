"""The large view: the lit point, the live value and its verdict, to be read from three metres."""

from msgspec import Struct

from bench_lamp.cards.card import Card
from bench_lamp.cards.settled import as_typed, dial_words
from bench_lamp.case.case import Case
from bench_lamp.instrument.sample import UNITS, Sample
from bench_lamp.journal.events import ReadingTaken
from bench_lamp.views.guard import stage_of
from bench_lamp.views.tape import tile


class LargeView(Struct, frozen=True, kw_only=True):
    """What stands on it."""

    #: `C`, and `+18 V lamps`; a card without a point has its title alone.
    point: str
    name: str
    #: Where the leads go.
    red: str
    black: str
    expect: str
    caution: str
    #: The live value, and how it is judged as it stands; empty for none.
    value: str
    unit: str
    verdict: str
    word: str
    #: What was logged last: `B 10.4 V within`, and its verdict.
    last: str
    last_verdict: str


def large_view(case: Case, card: Card, stage: str, live: Sample | None) -> LargeView:
    """Return what stands on the large view."""
    entry = card.entry
    point = case.profile.point(entry.target) if entry is not None else None
    leads = {lead.kind: lead.text for lead in card.leads}
    value = as_typed(live, "").text if live is not None else ""
    found = None
    if live is not None and entry is not None and entry.is_reading and entry.mode == live.mode:
        from bench_lamp.case.hand import Hand

        found = stage_of(stage).preview(case, Hand(), entry, value)
    dial = dial_words(card, live) if live is not None else None
    logged = next(
        (e for e in reversed(case.state.tape)
         if isinstance(e.event.body, ReadingTaken) and not e.struck_by), None,
    )  # fmt: skip
    last = tile(case, logged) if logged is not None else None
    return LargeView(
        point=point.id if point else "",
        name=point.name if point else card.title,
        red=leads.get("red", ""),
        black=leads.get("black", ""),
        expect=card.expect,
        caution=card.cautions[0] if card.cautions else "",
        value=value,
        unit=UNITS.get(live.mode, "") if live is not None else "",
        verdict=found.verdict if found else "",
        word=found.word if found else dial[0] if dial else "",
        last=f"{last.title} {last.detail}" if last else "",
        last_verdict=last.verdict if last else "",
    )

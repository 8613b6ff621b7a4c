"""The card that asks for the level at one pin."""

from bench_lamp.cards.card import Card, Choice, Lead
from bench_lamp.cards.marks import MARK_CHOICES
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.results import pin_of
from bench_lamp.case.selftest_list import does_not_run
from bench_lamp.journal.logic_events import PinProbed
from bench_lamp.logic.levels import LEVELS


def pin_card(case: Case, name: str, *, card_id: str, focus: str = "", cell: str = "") -> Card:
    """Ask for the level at one pin."""
    pin = pin_of(case, name)
    part, _, number = name.partition(":")
    chip = case.profile.chip(part)
    assert pin is not None
    assert chip is not None
    # What it should be is lit: Enter alone never logs something odd.
    by_level = {m.word: m for m in MARK_CHOICES["pins"]}
    levels = sorted(LEVELS, key=lambda level: level != pin.should)
    return Card(
        id=card_id,
        kind="Logic probe",
        marks_cell=True,
        title=f"Probe {part} pin {number}, {pin.name}",
        effort="about 16\u202fs",
        cautions=(cautions.LIVE,) if case.state.power.is_live else (),
        leads=(
            Lead(
                kind="red", text=f"{part} pin {number}" + (f", {chip.place}" if chip.place else "")
            ),
            Lead(kind="black", text="ground clip on the same board"),
            Lead(kind="meter", text="logic probe"),
        ),
        expect=pin.should,
        choices=tuple(
            Choice(
                key=by_level[level].key,
                text=by_level[level].text,
                focus=focus,
                cell=cell,
                log=(PinProbed(part=part, pin=int(number), level=level),),
            )
            for level in levels
        ),
        why_heading="Why first" if pin.vital else "Why this",
        why=("Nothing runs: supply, clock and reset before any other chip is blamed.",)
        if does_not_run(case)
        else ("What drives it, and what hangs on it, are told apart by one touch.",),
    )

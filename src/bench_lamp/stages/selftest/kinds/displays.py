"""Displays: what is dark in each digit, and what the dark segments share."""

from bench_lamp.board import Profile
from bench_lamp.board.self_tests import DisplayTest
from bench_lamp.cards.card import Accepted, Answer, Card, Entry, Outcome, Refused
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.results import cells_now
from bench_lamp.case.selftest_list import Item, current_cell
from bench_lamp.journal.logic_events import CellsMarked
from bench_lamp.logic.digits import SEGMENTS, Dark, DarkKind, missing
from bench_lamp.logic.kinds.displays import across, dark_letters, dark_pattern
from bench_lamp.stages.selftest.kinds.kind import KindCards
from bench_lamp.stages.selftest.picture import DigitPicture
from bench_lamp.stages.selftest.requests import ask_cells
from bench_lamp.stages.selftest.result_cards import (
    REST_GOOD,
    item_done,
    known_marks,
    line_with_parts,
)
from bench_lamp.stages.selftest.walk import after
from bench_lamp.stages.selftest.walk_cards import how
from bench_lamp.units.words import opening


def _test(case: Case, item: Item) -> DisplayTest:
    test = case.profile.self_test(item.id)
    assert isinstance(test, DisplayTest)
    return test


def _card(case: Case, hand: Hand, item: Item) -> Card:
    """Ask what one digit shows in place of an eight."""
    test = _test(case, item)
    cell = current_cell(case, hand, item)
    if not cell:
        return item_done(case, item, pattern_words(case, item))
    return Card(
        id=f"selftest:{item.id}",
        kind=item.name,
        title=opening(f"{_named(test, cell)}: all lit?"),
        effort=f"{len(item.cells) - item.done} to go",
        cautions=cautions.for_hands_in(case) if not case.state.power.is_live else (),
        leads=how(test),
        entry=Entry(kind="text", field="digit", hint="Enter: all lit · g · all · =0"),
        outcomes=(
            Outcome(reads="g", means="that segment is dark (a top, on to f; g middle)"),
            Outcome(reads="=0", means="it shows a 0 in place of the 8"),
            Outcome(reads="all", means="the whole digit is dark"),
            Outcome(reads="g*", means="that segment is dark in every digit"),
            Outcome(reads="ok", means="this one and all that are left are lit"),
        ),
        why_heading="",
        why=(),
        asks=ask_cells(case, item),
    )


def _named(test: DisplayTest, cell: str) -> str:
    """Name a digit as one would: `player 1, digit 3`."""
    head, _, position = cell.partition(".")
    name = next(d.name for d in test.displays if d.id == head)
    return f"{name}, digit {int(position) + 1}"


def _take(case: Case, hand: Hand, item: Item, text: str) -> Answer:
    cell = current_cell(case, hand, item)
    word = text.lower()
    if word in REST_GOOD:
        marks = cells_now(case, item.id)
        left = tuple(c for c in item.cells if c not in marks)
        return Accepted(log=(CellsMarked(test=item.id, cells=left, mark="good"),), focus=item.id)
    dark = _dark_of(word)
    if dark is None:
        return Refused(
            what=f"“{text[:12]}” names no segment",
            mend="Letters a to g, all, =0 for the figure it shows, g* in every digit, or Enter.",
        )
    cells = item.cells if word.endswith("*") else (cell,)
    mark = f"dark {dark}" if dark else "good"
    following = "" if len(cells) > 1 else after(case, item, cell)
    return Accepted(
        log=(CellsMarked(test=item.id, cells=cells, mark=mark),), focus=item.id, cell=following
    )


def _dark_of(word: str) -> str | None:
    """Return the dark segments that a word names; empty for none, None for nonsense."""
    word = word.removesuffix("*")
    if word in {"all", "dark"}:
        return "abcdefg"
    if word.startswith("="):
        figure = word[1:] or " "
        return missing(figure) if figure in SEGMENTS else None
    return "".join(sorted(set(word))) if set(word) <= set("abcdefg") else None


def _picture(case: Case, hand: Hand, item: Item) -> DigitPicture:
    test, marks = _test(case, item), known_marks(case, item)
    cell = current_cell(case, hand, item)
    display, _, position = cell.partition(".")
    return DigitPicture(
        title=item.name,
        across=across(test),
        displays=tuple(
            (
                d.id,
                d.name,
                tuple(
                    dark_letters(marks[c].mark) if (c := f"{d.id}.{p}") in marks else None
                    for p in range(len(d.strobes))
                ),
            )
            for d in test.displays
        ),
        here=(display, int(position)) if cell else None,
        words=pattern_words(case, item),
    )


def pattern_words(case: Case, item: Item) -> tuple[str, ...]:
    """Return what all dark segments share."""
    test = _test(case, item)
    found = dark_pattern(test, known_marks(case, item))
    return (_dark_words(case.profile, test, found),) if found else ()


def _dark_words(profile: Profile, test: DisplayTest, dark: Dark) -> str:
    first = next(d for d in test.displays if d.id == dark.displays[0])
    names = ", ".join(d.name for d in test.displays if d.id in dark.displays)
    digit = f"digit {dark.position + 1}" if dark.position is not None else ""
    strobe = first.strobes[dark.position] if dark.position is not None else ""
    strobe = line_with_parts(profile, strobe)
    line = line_with_parts(profile, first.segments["abcdefg".index(dark.segment or "a")])
    words = {
        DarkKind.DIGIT: f"{digit} of {names} dark: that tube, or its strobe {strobe} at this display only.",
        DarkKind.DIGIT_EVERYWHERE: f"{digit} dark everywhere: the strobe {strobe}, not the displays.",
        DarkKind.SPOT: f"segment {dark.segment} of {digit}, {names}: the tube itself.",
        DarkKind.SEGMENT: f"segment {dark.segment} dark all over {names}: its line {line} at this display.",
        DarkKind.SEGMENT_EVERYWHERE: f"segment {dark.segment} dark everywhere: "
        "what all displays share before the latches.",
        DarkKind.DISPLAY: f"{names} dark: its supply, its connector, or the display.",
        DarkKind.GROUP: f"{names} together: what they share, "
        + (f"line {line}." if dark.segment else f"all lines like {line}."),
        DarkKind.ALL: "All displays dark: their supply first.",
        DarkKind.SCATTERED: "The dark ones share nothing: more than one fault, or bad contacts.",
    }[dark.kind]
    return opening(words)


KIND = KindCards(card=_card, take=_take, picture=_picture, pattern_words=pattern_words)

"""What is typed on the self-test's cards: codes, chips, digits, pairs, files."""

import re
from collections.abc import Callable

from bench_lamp.board.self_tests import BlinkTest, DisplayTest, MatrixTest, MemoryTest, ProgramTest
from bench_lamp.cards.card import Accepted, Answer, Entry, Refused
from bench_lamp.cards.commands import FileKind, ReadFiles
from bench_lamp.cards.power import live_question
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.results import cells_now, lane_of
from bench_lamp.case.selftest_list import Item, current_cell, current_test
from bench_lamp.journal.logic_events import CellsMarked, LaneRead, SelfTestSeen
from bench_lamp.logic.blinks import read_code
from bench_lamp.logic.digits import SEGMENTS, missing
from bench_lamp.logic.lanes import PairsError, read_pairs
from bench_lamp.stages.selftest.walk import after
from bench_lamp.stages.selftest.walk_cards import SHOWED

#: Words that call all the rest good.
REST_GOOD = frozenset({"ok", "good", "none", "rest"})


def take_selftest(case: Case, hand: Hand, entry: Entry, text: str) -> Answer:
    """Take one typed answer; nothing is logged unless all of it is understood."""
    item = current_test(case, hand)
    if item is None:
        return Refused(what="No test is under the lamp", mend="Pick one with Page up and down.")
    return _TAKERS[entry.field](case, hand, item, text.strip())


def _code(case: Case, hand: Hand, item: Item, text: str) -> Answer:
    test = case.profile.self_test(item.id)
    assert isinstance(test, BlinkTest)
    code = read_code(text)
    if code is None:
        return Refused(
            what=f"“{text[:20]}” is no count or pattern" if text else "Nothing was counted",
            mend="Tap Space in time with it, or type 3, 2-3, SLS, on, off, flicker.",
        )
    asked = live_question(case)
    if asked is not None:
        return asked
    return Accepted(log=(SelfTestSeen(test=test.id, code=code),), draft={}, focus=item.id)


def _program(case: Case, hand: Hand, item: Item, text: str) -> Answer:
    test = case.profile.self_test(item.id)
    assert isinstance(test, ProgramTest)
    known = {c.code.upper(): c.code for c in test.codes} | {test.good.upper(): test.good}
    code = known.get(text.upper())
    if code is not None:
        return Accepted(log=(SelfTestSeen(test=test.id, code=code),), focus=item.id)
    for memory in case.profile.self_tests:
        if isinstance(memory, MemoryTest) and (cell := memory.cell_of(text)):
            return Accepted(
                log=(CellsMarked(test=memory.id, cells=(cell,), mark="dead"),),
                focus=memory.id,
                cell=cell,
            )
    return Refused(
        what=f"“{text[:12]}” is not in this test’s table",
        mend=f"It knows {', '.join(known.values())}.",
    )


def _memory(case: Case, hand: Hand, item: Item, text: str) -> Answer:
    test = case.profile.self_test(item.id)
    assert isinstance(test, MemoryTest)
    marks = cells_now(case, item.id)
    if not text:
        cell = hand.cell
        if cell not in item.cells:
            return Refused(
                what="No chip was named",
                mend="Type the letters that it shows, ok, or go to one by arrow.",
            )
        is_bad = cell in marks and marks[cell].mark == "dead"
        mark = CellsMarked(test=item.id, cells=(cell,), mark="good" if is_bad else "dead")
        return Accepted(log=(mark,), focus=item.id, cell=cell)
    words = re.split(r"[\s,;]+", text)
    named = [w for w in words if w.lower() not in REST_GOOD]
    cells = [w if w in item.cells else test.cell_of(w) for w in named]
    if "" in cells:
        bad = named[cells.index("")]
        return Refused(
            what=f"“{bad[:12]}” names no chip of this memory",
            mend="Type the letters that it shows, cells as 1.3, or ok.",
        )
    bodies = [CellsMarked(test=item.id, cells=tuple(cells), mark="dead")] if cells else []
    rest = tuple(
        c for c in item.cells if c not in cells and not (c in marks and marks[c].mark == "dead")
    )
    if rest:
        bodies.append(CellsMarked(test=item.id, cells=rest, mark="good"))
    return Accepted(log=tuple(bodies), focus=item.id)


def _digit(case: Case, hand: Hand, item: Item, text: str) -> Answer:
    test = case.profile.self_test(item.id)
    assert isinstance(test, DisplayTest)
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


def _showed(case: Case, hand: Hand, item: Item, text: str) -> Answer:
    test = case.profile.self_test(item.id)
    assert isinstance(test, MatrixTest)
    worked = hand.draft.get(SHOWED, "")
    names = {name.lower(): cell for cell, name in test.names.items()}
    cell = names.get(text.lower(), text.replace(" ", "."))
    if cell not in test.cells() or cell == worked:
        return Refused(
            what=f"“{text[:16]}” is no other cell of this matrix",
            mend="Type row.column, as 2.3, or its name.",
        )
    mark = CellsMarked(test=item.id, cells=(worked,), mark="another", showed=cell)
    return Accepted(log=(mark,), draft={}, focus=item.id, cell=after(case, item, worked))


def _pairs(case: Case, hand: Hand, item: Item, text: str) -> Answer:
    lane = lane_of(case.profile, item.id)
    if text.lower().endswith(".csv"):
        return Accepted(command=ReadFiles(FileKind.CAPTURE, lane.id, (text,)))
    try:
        pairs = read_pairs(text, len(lane.lines))
    except PairsError as exc:
        return Refused(what=str(exc), mend=exc.hint)
    wrote, came = zip(*pairs, strict=True)
    return Accepted(log=(LaneRead(lane=lane.id, wrote=wrote, came=came),), draft={}, focus=item.id)


def _image(case: Case, hand: Hand, item: Item, text: str) -> Answer:
    name = current_cell(case, hand, item)
    if not text:
        return Refused(what="No file was named", mend="Type its path, or Alt+F to choose one.")
    return Accepted(command=ReadFiles(FileKind.IMAGE, name, (text,)))


_TAKERS: dict[str, Callable[[Case, Hand, Item, str], Answer]] = {
    "code": _code, "program": _program, "memory": _memory, "digit": _digit, "showed": _showed,
    "pairs": _pairs, "image": _image,
}  # fmt: skip

"""What this board can tell: one item for each self-test, lane, set of pins and images."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

from bench_lamp.board.logic_graph import good_code
from bench_lamp.board.self_tests import (
    BlinkTest,
    DisplayTest,
    MatrixTest,
    MemoryTest,
    ProgramTest,
    SelfTest,
    SettingsTest,
    StepsTest,
)
from bench_lamp.case.case import Case, remembered
from bench_lamp.case.hand import Hand
from bench_lamp.case.results import (
    GOOD_MARKS,
    IMAGES,
    PINS,
    cells_now,
    code_now,
    is_stale,
    lane_bits,
    vital_pins,
)
from bench_lamp.logic.lanes import words_for
from bench_lamp.units.words import opening

ItemKind = Literal[
    "blinks", "beeps", "program", "memory", "switches", "lamps", "displays", "coils", "sounds",
    "harness", "settings", "lane", "pins", "images",
]  # fmt: skip
Status = Literal["waiting", "partly", "good", "bad", "again"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Item:
    """One thing that the board can tell."""

    #: Test id, `lane:PA`, `pins`, `images`.
    id: str
    kind: ItemKind
    name: str
    #: Everything in it that can be marked; empty where it shows one code.
    cells: tuple[str, ...]
    done: int
    bad: int
    status: Status
    #: `3 blinks`, `12 of 56, 1 bad`.
    words: str

    @property
    def is_bad(self) -> bool:
        """Whether anything in it is bad, although the rest may still be to come."""
        return self.status == "bad" or (self.status == "partly" and self.bad > 0)

    @property
    def shape(self) -> str:
        """Verdict word for its glyph; empty where it was not asked."""
        return "absent" if self.is_bad else STATUS_SHAPES[self.status]


STATUS_SHAPES: dict[Status, str] = {
    "good": "within", "bad": "absent", "partly": "edge", "again": "noisy", "waiting": "",
}  # fmt: skip


@remembered
def selftest_items(case: Case) -> tuple[Item, ...]:
    """Return everything that this board can tell, in the profile's order."""
    profile = case.profile
    found = [_test_item(case, test) for test in profile.self_tests]
    found += [_lane_item(case, lane.id, lane.name) for lane in profile.lanes]
    if vital_pins(case):
        found.append(_pins_item(case))
    if profile.images:
        found.append(_images_item(case))
    return tuple(found)


def item_of(case: Case, item_id: str) -> Item | None:
    """Return an item by its id."""
    return next((i for i in selftest_items(case) if i.id == item_id), None)


def current_test(case: Case, hand: Hand) -> Item | None:
    """Return the item under the lamp: the one picked, else the next that is not done."""
    picked = item_of(case, hand.focus)
    if picked is not None:
        return picked
    waiting = [i for i in selftest_items(case) if i.status in {"waiting", "partly", "again"}]
    waiting.sort(key=lambda i: (not _is_urgent(case, i), i.status == "waiting"))
    fresh = [i for i in waiting if f"selftest:{i.id}" not in hand.skipped]
    return next(iter(fresh), None)


def _is_urgent(case: Case, item: Item) -> bool:
    """Nothing runs: clock, reset and power of the processor come first."""
    return item.kind == "pins" and does_not_run(case)


def does_not_run(case: Case) -> bool:
    """Whether a boot test says that nothing runs at all."""
    return any(
        isinstance(test, BlinkTest) and code_now(case, test.id) in {"off", "on", "0"}
        for test in case.profile.self_tests
    )


def has_bad_logic(case: Case) -> bool:
    """Whether a self-test showed something bad since the last repair."""
    return not case.state.logic.is_empty and any(item.bad for item in selftest_items(case))


def is_waiting(case: Case) -> bool:
    """Whether the board could tell more, and nobody said that it has told enough."""
    if case.state.marks.get("selftest") == "done":
        return False
    return any(item.status in {"waiting", "partly", "again"} for item in selftest_items(case))


def current_cell(case: Case, hand: Hand, item: Item) -> str:
    """Return the cell under the lamp: the one picked, else the first that has no mark."""
    if hand.focus == item.id and hand.cell in item.cells:
        return hand.cell
    marks = cells_now(case, item.id)
    return next((c for c in item.cells if c not in marks), "")


def selftest_progress(case: Case) -> tuple[int, int]:
    """Return how many items are done, and how many there are."""
    found = selftest_items(case)
    return sum(i.status in {"good", "bad"} for i in found), len(found)


# The items.


def cells_of(test: SelfTest) -> tuple[str, ...]:
    """Return what can be marked in a test, in the order of the walk."""
    return tuple(_CELLS[type(test)](test)) if type(test) in _CELLS else ()


def _memory(test: MemoryTest) -> Iterator[str]:
    for number, bank in enumerate(test.banks, start=1):
        yield from (f"{number}.{bit}" for bit in range(len(bank.chips)))


def _digits(test: DisplayTest) -> Iterator[str]:
    for display in test.displays:
        yield from (f"{display.id}.{position}" for position in range(len(display.strobes)))


_CELLS: dict[type, Callable[..., Iterator[str]]] = {
    MemoryTest: _memory,
    MatrixTest: lambda test: iter(test.cells()),
    DisplayTest: _digits,
    StepsTest: lambda test: (step.id for step in test.steps if step.fitted),
    SettingsTest: lambda test: iter(test.set_again),
}


def cell_short(test: SelfTest | None, cell: str) -> str:
    """Name a cell in a word or two: `2.3`, `M23`, `P2 digit 4`, `P2 digit 4 g`."""
    head, _, tail = cell.partition(".")
    number, _, segment = tail.partition(".")
    if isinstance(test, DisplayTest) and number.isdecimal():
        return f"{head} digit {int(number) + 1} {segment}".strip()
    if isinstance(test, MemoryTest) and cell in cells_of(test):
        return test.banks[int(head) - 1].chips[int(number)]
    return cell


def _test_item(case: Case, test: SelfTest) -> Item:
    if isinstance(test, BlinkTest | ProgramTest):
        return _code_item(case, test)
    if isinstance(test, SettingsTest):
        return _settings_item(case, test)
    return _cells_item(case, test.id, test.kind, test.name, cells_of(test))


def _code_item(case: Case, test: BlinkTest | ProgramTest) -> Item:
    event, code = case.state.logic.codes.get(test.id, ("", ""))
    status: Status = "waiting"
    if code:
        status = "good" if code == good_code(test) else "bad"
        status = "again" if is_stale(case, event) else status
    return Item(
        id=test.id, kind=test.kind, name=test.name, cells=(), done=int(bool(code)),
        bad=int(status == "bad"), status=status, words=code_words(test, code) if code else "",
    )  # fmt: skip


def code_words(test: BlinkTest | ProgramTest, code: str) -> str:
    """Write a code as one says it: `3 blinks`, `stuck on`, `C`."""
    if isinstance(test, ProgramTest):
        return f"“{code}”"
    noun = "blink" if test.kind == "blinks" else "beep"
    if code.isdecimal():
        return f"{code} {noun}{'s' if code != '1' else ''}"
    return {"on": "stuck on", "off": "stays off", "flicker": "flickers"}.get(
        code, f"{noun}s {code}"
    )


def _cells_item(case: Case, item: str, kind: ItemKind, name: str, cells: tuple[str, ...]) -> Item:
    marks = cells_now(case, item)
    old = case.state.logic.cells.get(item, {})
    done = [c for c in cells if c in marks]
    bad = sum(marks[c].mark not in GOOD_MARKS for c in done)
    status: Status = "partly" if done else "again" if old else "waiting"
    if done and len(done) == len(cells):
        status = "bad" if bad else "good"
    words = f"{len(done)} of {len(cells)}" + (f", {bad} bad" if bad else "") if done else ""
    if status == "again":
        words = "before the repair"
    return Item(id=item, kind=kind, name=name, cells=cells, done=len(done), bad=bad, status=status,
                words=words)  # fmt: skip


def _settings_item(case: Case, test: SettingsTest) -> Item:
    item = _cells_item(case, test.id, "settings", test.name, cells_of(test))
    code = code_now(case, test.id)
    if not test.kept_by:
        return item
    if not code:
        return Item(id=test.id, kind="settings", name=test.name, cells=item.cells, done=0, bad=0,
                    status="waiting", words="")  # fmt: skip
    status: Status = "bad" if code == "lost" else "good" if item.status == "good" else "partly"
    words = (
        "lost at each start" if code == "lost" else f"kept, {item.done} of {len(item.cells)} set"
    )
    return Item(id=test.id, kind="settings", name=test.name, cells=item.cells, done=item.done,
                bad=int(code == "lost"), status=status, words=words)  # fmt: skip


def _lane_item(case: Case, lane_id: str, name: str) -> Item:
    bits = lane_bits(case, lane_id)
    bad = sum(b.is_bad for b in bits)
    untried = sum(b.state == "not tried" for b in bits)
    status: Status = "bad" if bad else "partly" if untried else "good"
    if not bits:
        status = "again" if lane_id in case.state.logic.lanes else "waiting"
    return Item(
        id=f"lane:{lane_id}", kind="lane", name=opening(name), cells=(),
        done=len(bits) - untried, bad=bad, status=status, words=words_for(bits) if bits else "",
    )  # fmt: skip


def _pins_item(case: Case) -> Item:
    cells = tuple(vital_pins(case))
    return _cells_item(case, PINS, "pins", "Pins of the processor", cells)


def _images_item(case: Case) -> Item:
    cells = tuple(image.id for image in case.profile.images)
    return _cells_item(case, IMAGES, "images", "ROM images", cells)


def cell_name(case: Case, item: Item, cell: str) -> str:
    """Name a cell as one would: `2.3 left bumper`, `bank 1 bit 5, M15`, `player 1, digit 3`."""
    test = case.profile.self_test(item.id)
    if isinstance(test, MatrixTest):
        return f"{cell} {test.names.get(cell, test.part_of(cell))}"
    head, _, tail = cell.partition(".")
    if isinstance(test, MemoryTest):
        return f"{test.banks[int(head) - 1].chips[int(tail)]}, bank {head} bit {tail}"
    if isinstance(test, DisplayTest):
        name = next(d.name for d in test.displays if d.id == head)
        return f"{name}, digit {int(tail) + 1}"
    if isinstance(test, StepsTest):
        step = next(s for s in test.steps if s.id == cell)
        return f"{step.id} {step.name}"
    return cell

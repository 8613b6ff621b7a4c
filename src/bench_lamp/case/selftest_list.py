"""What this board can tell: one item for each self-test, lane, set of pins and images."""

from msgspec import Struct

from bench_lamp.board.self_tests import BlinkTest, SelfTestKind
from bench_lamp.case.case import Case, remembered
from bench_lamp.case.hand import Hand
from bench_lamp.case.results import cells_now, code_now, lane_bits, results_of
from bench_lamp.logic.kinds import logic_of
from bench_lamp.logic.kinds.kind import Result, Status, marked_result
from bench_lamp.logic.kinds.lane import lane_result
from bench_lamp.logic.kinds.pins import PINS, vital_pins
from bench_lamp.logic.kinds.rom_images import IMAGES
from bench_lamp.units.words import opening


class Item(Struct, frozen=True, kw_only=True):
    """One thing that the board can tell."""

    #: Test id, `lane:PA`, `pins`, `images`.
    id: str
    kind: SelfTestKind
    name: str
    #: Everything in it that can be marked; empty where it shows one code.
    cells: tuple[str, ...]
    result: Result

    @property
    def status(self) -> Status:
        """Whether it waits, is partly told, good, bad, or to be told again."""
        return self.result.status

    @property
    def done(self) -> int:
        """How many of its cells are told."""
        return self.result.done

    @property
    def bad(self) -> int:
        """How many of them are bad."""
        return self.result.bad

    @property
    def words(self) -> str:
        """`3 blinks`, `12 of 56, 1 bad`."""
        return self.result.words

    @property
    def is_bad(self) -> bool:
        """Whether anything in it is bad, although the rest may still be to come."""
        return self.status == "bad" or (self.status == "partly" and self.bad > 0)

    @property
    def shape(self) -> str:
        """Verdict word for its glyph; empty where it was not asked."""
        return "absent" if self.is_bad else STATUS_SHAPES[self.status]


STATUS_SHAPES: dict[Status, str] = {
    "good": "within",
    "bad": "absent",
    "partly": "edge",
    "again": "noisy",
    "waiting": "",
}
#: An item that is not told yet, or not all of it.
OPEN: frozenset[Status] = frozenset({"waiting", "partly", "again"})


@remembered
def selftest_items(case: Case) -> tuple[Item, ...]:
    """Return everything that this board can tell, in the profile's order."""
    profile = case.profile
    found = []
    for test in profile.self_tests:
        logic = logic_of(test)
        result = logic.result(test, results_of(case, test.id))
        item = Item(
            id=test.id,
            kind=SelfTestKind(test.kind),
            name=test.name,
            cells=logic.cells(test),
            result=result,
        )
        found.append(item)
    for lane in profile.lanes:
        before = lane.id in case.state.logic.lanes
        result = lane_result(lane_bits(case, lane.id), told_before=before)
        kind, name = SelfTestKind.LANE, opening(lane.name)
        found.append(Item(id=lane.test_id, kind=kind, name=name, cells=(), result=result))
    pins = tuple(vital_pins(profile))
    if pins:
        found.append(_marked(case, PINS, SelfTestKind.PINS, "Pins of the processor", pins))
    if profile.images:
        images = tuple(image.id for image in profile.images)
        found.append(_marked(case, IMAGES, SelfTestKind.IMAGES, "ROM images", images))
    return tuple(found)


def _marked(
    case: Case, item_id: str, kind: SelfTestKind, name: str, cells: tuple[str, ...]
) -> Item:
    result = marked_result(cells, results_of(case, item_id))
    return Item(id=item_id, kind=kind, name=name, cells=cells, result=result)


def item_of(case: Case, item_id: str) -> Item | None:
    """Return an item by its id."""
    return next((i for i in selftest_items(case) if i.id == item_id), None)


def current_test(case: Case, hand: Hand) -> Item | None:
    """Return the item under the lamp: the one picked, else the next that is not done."""
    picked = item_of(case, hand.focus)
    if picked is not None:
        return picked
    waiting = [i for i in selftest_items(case) if i.status in OPEN]
    waiting.sort(key=lambda i: (not _is_urgent(case, i), i.status == "waiting"))
    fresh = [i for i in waiting if f"selftest:{i.id}" not in hand.skipped]
    return next(iter(fresh), None)


def _is_urgent(case: Case, item: Item) -> bool:
    """Nothing runs: clock, reset and power of the processor come first."""
    return item.kind is SelfTestKind.PINS and does_not_run(case)


def does_not_run(case: Case) -> bool:
    """Whether a boot test says that nothing runs at all."""
    return any(
        isinstance(test, BlinkTest) and code_now(case, test.id) in {"off", "on", "0"}
        for test in case.profile.self_tests
    )


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

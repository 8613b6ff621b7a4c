"""Walking through cells: what each mark means, which key gives it, and what comes after."""

from dataclasses import dataclass

from bench_lamp.board.self_tests import DisplayTest, MatrixTest, MemoryTest, StepsTest
from bench_lamp.plan.selftest.items import Item
from bench_lamp.plan.selftest.standing import cells_now
from bench_lamp.plan.situation import Situation


@dataclass(frozen=True, slots=True, kw_only=True)
class Mark:
    """One way that a cell behaves."""

    key: str
    word: str
    text: str


#: By the kind of item, the marks that can be given, the usual one first.
MARKS: dict[str, tuple[Mark, ...]] = {
    "switches": (
        Mark(key="c", word="good", text="Closes when worked"),
        Mark(key="n", word="dead", text="Nothing shows"),
        Mark(key="s", word="stuck", text="Shows with nothing on it"),
        Mark(key="w", word="another", text="Another one shows …"),
    ),
    "lamps": (
        Mark(key="l", word="good", text="Lights"),
        Mark(key="d", word="dead", text="Stays dark"),
        Mark(key="s", word="stuck", text="Stays lit"),
        Mark(key="w", word="another", text="Another one lights …"),
    ),
    "coils": (
        Mark(key="f", word="good", text="Fired"),
        Mark(key="w", word="weak", text="Weak"),
        Mark(key="s", word="dead", text="Silent"),
        Mark(key="l", word="locked on", text="Stays in: LOCKED ON"),
    ),
    "sounds": (
        Mark(key="p", word="good", text="Plays"),
        Mark(key="w", word="weak", text="Weak or distorted"),
        Mark(key="s", word="dead", text="Silent"),
    ),
    "harness": (
        Mark(key="p", word="good", text="Passes"),
        Mark(key="f", word="dead", text="Fails"),
    ),
    "pins": (
        Mark(key="h", word="high", text="Steady high"),
        Mark(key="l", word="low", text="Steady low"),
        Mark(key="p", word="pulsing", text="Pulsing"),
        Mark(key="f", word="floating", text="Floating"),
    ),
}
#: A switch that a ball works: what closes it matters.
BALL_MARKS = (
    Mark(key="c", word="good", text="Closes under the ball"),
    Mark(key="f", word="finger only", text="A finger closes it, the ball does not"),
    *MARKS["switches"][1:],
)


#: How a mark is said of steps, where the word that is kept says less.
_SAID = {
    "coils": {"good": "fired", "dead": "silent"},
    "sounds": {"good": "plays", "dead": "silent"},
    "harness": {"good": "passes", "dead": "fails"},
}


def said(kind: str, mark: str) -> str:
    """Say a mark as one does of this kind of step: a coil fired, a harness step fails."""
    return _SAID.get(kind, {}).get(mark, mark)


def marks_for(situation: Situation, item: Item, cell: str) -> tuple[Mark, ...]:
    """Return the marks that a cell can be given."""
    test = situation.profile.self_test(item.id)
    if isinstance(test, MatrixTest) and cell in test.ball:
        return BALL_MARKS
    return MARKS.get(item.kind, ())


def after(situation: Situation, item: Item, cell: str) -> str:
    """Return the focus after a cell is marked: the next one that has no mark, else the item."""
    marks = cells_now(situation, item.id)
    index = item.cells.index(cell) if cell in item.cells else -1
    turned = (*item.cells[index + 1 :], *item.cells[: max(index, 0)])
    following = next((c for c in turned if c not in marks), "")
    return f"{item.id}@{following}" if following else item.id


def beside(situation: Situation, item: Item, cell: str, down: int, along: int) -> str:
    """Return the cell that an arrow key goes to; the same one at the edge.

    Memory and matrices go by row and column, displays as they are drawn, lists by entry.
    """
    rows = grid_rows(situation, item)
    place = next(
        ((r, c) for r, row in enumerate(rows) for c, x in enumerate(row) if x == cell), None
    )
    if place is None:
        return item.cells[0] if item.cells else ""
    row = min(max(place[0] + down, 0), len(rows) - 1)
    column = min(max(place[1] + along, 0), len(rows[row]) - 1)
    found = rows[row][column]
    while not found and 0 <= column + (along or -1) < len(rows[row]):
        column += along or -1
        found = rows[row][column]
    return found or cell


def grid_rows(situation: Situation, item: Item) -> tuple[tuple[str, ...], ...]:
    """Return the cells as they lie, row by row; empty text where none is fitted."""
    test = situation.profile.self_test(item.id)
    if isinstance(test, MatrixTest):
        fitted = set(test.cells())
        return tuple(
            tuple(
                cell if (cell := f"{r}.{c}") in fitted else ""
                for c in range(1, len(test.columns) + 1)
            )
            for r in range(1, len(test.rows) + 1)
        )
    if isinstance(test, MemoryTest | DisplayTest):
        heads = list(dict.fromkeys(c.partition(".")[0] for c in item.cells))
        across = displays_across(test) if isinstance(test, DisplayTest) else 1
        return tuple(
            tuple(c for c in item.cells if c.partition(".")[0] in heads[first : first + across])
            for first in range(0, len(heads), across)
        )
    return tuple((cell,) for cell in item.cells)


def displays_across(test: DisplayTest) -> int:
    """Return how many displays are drawn beside each other."""
    return min(2, len(test.displays))


def cell_name(situation: Situation, item: Item, cell: str) -> str:
    """Name a cell as one would: `2.3 left bumper`, `bank 1 bit 5, M15`, `player 1, digit 3`."""
    test = situation.profile.self_test(item.id)
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

"""What a meter can show at all of the faults that the hunts draw: a ceiling for any reasoning.

    python -m benchmarks.truth_visible [COUNT [PROFILE …]]

Each drawn board is read three times at every place of the menu. A fault shows where some
reading lies beyond what 60 sound boards of the kind read there, by more than 3.7 of their standard deviations
(of a hundred places on a sound board one does so once in fifty boards); a reasoning that knows no more than other
boards cannot be sure of the others.
"""

import sys

import numpy as np

from bench_lamp.board import Profile
from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.board.library import ProfileLibrary
from bench_lamp.circuit import compile_tree
from bench_lamp.reason.power.tests import Menu
from bench_lamp.reason.values.tests import Test
from benchmarks.truth.boards import LiveReadings, Meter, capacitor, cold_ohms, settle
from benchmarks.truth.building import Setting
from benchmarks.truth.drawing import Drawn, Layout, draw_board
from benchmarks.truth_hunt import PROFILES, REPORT, boards, shown_live

#: Sound boards that say what is usual, and how many standard deviations beyond it shows.
SOUND, BEYOND = 60, 3.7
#: What nothing is read of without a fault: their tests say so by themselves.
PLAIN = {TestKind.TONE, TestKind.WIGGLE, TestKind.COOL, TestKind.HEAT}
OFF = Condition(is_powered=False)


def readings(board: Drawn, tests: list[Test], live: LiveReadings) -> np.ndarray:
    """Return what a meter shows at each place, decades for ohms and farads; shape (tests,).

    The middle of three, so that no reading at a wrong place makes a fault seem to show.
    """
    meter, cold = Meter(board, Layout.of(board.profile)), cold_ohms(board, OFF)
    each = [_once(meter, tests, live, cold) for _ in range(3)]
    return np.asarray(np.median(each, axis=0))


def _once(
    meter: Meter, tests: list[Test], live: LiveReadings, cold: dict[str, float]
) -> np.ndarray:
    """Return one round of readings, shape (tests,)."""
    found = []
    for test in tests:
        if test.kind == TestKind.OHM:
            found.append(np.log10(min(cold[test.target], 1e5) + 0.3))
        elif test.kind.is_of_capacitor:
            least = 1e-9 if test.kind == TestKind.FARADS else 0.01
            value = capacitor(meter, test.kind, test.target, OFF)
            found.append(np.log10(value + least))
        else:
            found.append(shown_live(meter, test, live))
    return np.array(found)


def visible(profile: Profile, count: int, first: int, faults: int) -> tuple[int, int]:
    """Return of how many boards every fault shows by itself, and of how many boards."""
    tree = compile_tree(profile)
    assert tree is not None
    menu = Menu(tree, {}).plain()
    tests = [t for t in menu if t.kind not in PLAIN and t.part >= 0]
    sound = [draw_board(profile, 500_000 + seed) for seed in range(SOUND)]
    usual = np.array([readings(b, tests, x) for b, x in zip(sound, _settled(sound), strict=True)])
    middle, spread = (
        usual.mean(axis=0),
        usual.std(axis=0) + 1e-3 * np.abs(usual.mean(axis=0)) + 1e-3,
    )
    drawn = boards(profile, first, count, faults)
    alone = [(n, one) for n, board in enumerate(drawn) for one in _each(board)]
    hidden = set()
    for (number, board), live in zip(alone, _settled([b for _, b in alone]), strict=True):
        beyond = np.abs(readings(board, tests, live) - middle) / spread
        if float(beyond.max()) < BEYOND and not board.blown and not _opens(board):
            hidden.add(number)
    return len(drawn) - len(hidden), len(drawn)


def _each(board: Drawn) -> list[Drawn]:
    """Return a board with each of its faults alone."""
    found = []
    for key, degree in board.faults.items():
        alone = draw_board(board.profile, board.seed)
        alone.faults = {key: degree}
        found.append(alone)
    return found


def _opens(board: Drawn) -> bool:
    """Whether its fault is an open fuse or contact, which a continuity test shows."""
    return any(kind == "open" for _, kind in board.faults)


def _settled(found: list[Drawn]) -> list[LiveReadings]:
    return settle([Setting(board, Condition()) for board in found])


def main() -> None:
    """Print the ceilings."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 60
    library = ProfileLibrary()
    for name in sys.argv[2:] or PROFILES:
        profile = library.get(name)
        assert profile is not None
        one, of_one = visible(profile, count, REPORT, 1)
        both, of_both = visible(profile, count, REPORT + 5000, 2)
        print(
            f"{name}: shows {one / of_one:.2f} of {of_one}, both of two {both / of_both:.2f} of {of_both}"
        )


if __name__ == "__main__":
    main()

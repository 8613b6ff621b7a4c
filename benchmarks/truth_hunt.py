"""Hunts on boards that are integrated in time: what the program says, and what was true.

    python -m benchmarks.truth_hunt [SHARE [PROFILE …]]

prints the tables of docs/reasoning.md: 150 single faults and 100 pairs a profile, or a share of
them. Seeds from 40,000 are for reporting only; those below 10,000 were for tuning.
"""

import copy
import sys
from collections.abc import Generator, Iterable
from dataclasses import dataclass, field

import numpy as np
from msgspec.structs import replace

from bench_lamp.board import Profile
from bench_lamp.board.blocks import Load
from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.board.library import ProfileLibrary
from bench_lamp.circuit import compile_tree
from bench_lamp.reason.insight_of import insight_of
from bench_lamp.reason.power.dictionary import build_dictionary
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.values.clues import Clue, Facts
from bench_lamp.reason.values.insight import Insight, Suspect
from bench_lamp.reason.values.tests import Test
from benchmarks.truth.boards import LiveReadings, Meter, capacitor, cold_ohms, settle
from benchmarks.truth.building import Setting
from benchmarks.truth.drawing import Drawn, Layout, draw_board
from benchmarks.truth.faults import draw_faults

#: Tests at which a hunt is given up, and repairs of one board.
MOST_TESTS, MOST_REPAIRS = 25, 4

Need = Generator[Setting, LiveReadings, None]


@dataclass
class Call:
    """One suspect that was called, and what was true at that moment."""

    odds: float
    is_right: bool
    has_doubt: bool
    said: str


@dataclass
class Hunt:
    """One board from the complaint to the end."""

    board: Drawn
    has_complaint: bool
    profile: Profile
    engine: Engine
    facts: Facts = field(default_factory=Facts)
    tests: int = 0
    seconds: float = 0.0
    calls: list[Call] = field(default_factory=list)
    #: `called`, `sound`, `spent` or `given up`.
    end: str = ""
    good_parts: int = 0
    is_hard: bool = False
    #: How many of the faults are hard by themselves; counted where that is wanted.
    hard_faults: int = 0
    counts_hard: bool = False
    tests_at_first: int = 0
    #: Odds of the first suspect when it ended, for the bins.
    last: Call | None = None
    names: list[str] = field(default_factory=list)

    def run(self, *, repairs: bool) -> Need:
        """Hunt; each need of the board in a condition is yielded, and its readings sent back."""
        layout = Layout.of(self.profile)
        meter = Meter(self.board, layout)
        live = yield Setting(self.board, Condition())
        self.is_hard = _moves_a_rail(self.profile, layout, live)
        if self.counts_hard:
            yield from self._count_hard(layout)
        if self.has_complaint:
            dead = meter.says_dead(live)
            words = [b.words[0] for b in self.profile.power
                     if isinstance(b, Load) and b.id in dead and b.words]  # fmt: skip
            self.facts = replace(self.facts, complaint=f"{', '.join(words)} out" if words else "")
        while not self.end:
            insight = insight_of(self.engine, self.profile, self.facts)
            assert insight is not None
            called = insight.called
            if called is not None and self.tests < MOST_TESTS:
                self._note(insight, called)
                self.calls.append(self.last)  # type: ignore[arg-type]
                if not repairs:
                    self.end = "called"
                else:
                    yield from self._repair(called, meter)
                continue
            ended = self._ended(insight)
            if ended:
                self.end = ended
                if insight.suspects:
                    self._note(insight, insight.suspects[0])
                break
            yield from self._test(insight, meter)

    def _count_hard(self, layout: Layout) -> Need:
        for key in tuple(self.board.faults):
            found = yield Setting(replace_faults(self.board, key), Condition())
            self.hard_faults += _moves_a_rail(self.profile, layout, found)

    def _ended(self, insight: Insight) -> str:
        if insight.is_sound:
            return "sound"
        if not insight.tries or getattr(insight, "is_spent", False):
            return "spent"
        return "given up" if self.tests >= MOST_TESTS else ""

    def _note(self, insight: Insight, suspect: Suspect) -> None:
        if not self.calls:
            self.tests_at_first = self.tests
        self.last = Call(suspect.odds, self._is_true(suspect), insight.is_poor, suspect.key)

    def _is_true(self, suspect: Suspect) -> bool:
        true = {(b.partition("@")[0], b.partition("@")[2]) for b, _ in self.board.faults}
        blown = {(fuse, "") for fuse in self.board.blown if (fuse, K_OPEN) in self.board.faults}
        members = {(f.block, getattr(f, "winding", "")) for f, _ in suspect.members}
        return bool(members & (true | blown))

    def _test(self, insight: Insight, meter: Meter) -> Need:
        attempt = insight.tries[0]
        assert isinstance(attempt.test, Test)
        self.seconds += attempt.seconds
        yield from self._read(attempt.test, meter)

    def _read(self, test: Test, meter: Meter) -> Need:
        self.tests += 1
        self.names.append(test.name)
        if test.kind == TestKind.TONE:
            is_open = test.target in self.board.blown or (test.target, K_OPEN) in self.board.faults
            value = float(is_open)
        elif test.kind == TestKind.OHM:
            value = meter.ohms(test.target, cold_ohms(self.board, test.condition))
        elif test.kind.is_of_capacitor:
            value = capacitor(meter, test.kind, test.target, test.condition)
        else:
            live = yield Setting(self.board, replace(test.condition, is_powered=True))
            value = shown_live(meter, test, live)
        clue = Clue(event=str(self.tests), kind=test.kind, target=test.target, value=value,
                    out=test.condition.out, hung=test.condition.hung, text=test.name)  # fmt: skip
        key = (clue.kind, clue.target, clue.out, clue.hung)
        same = [c for c in self.facts.clues if (c.kind, c.target, c.out, c.hung) == key]
        if same and abs(same[0].value - value) <= max(0.03 * abs(value), 0.02):
            clue = replace(clue, times=same[0].times + 1)
        kept = tuple(c for c in self.facts.clues if (c.kind, c.target, c.out, c.hung) != key)
        self.facts = replace(
            self.facts,
            clues=(*kept, clue),
            out=test.condition.out,
            is_powered=test.condition.is_powered,
        )

    def _repair(self, suspect: Suspect, meter: Meter) -> Need:
        """Replace what is called, its fuse too; then sweep the marked points."""
        fault = suspect.fault
        true = [key for key in self.board.faults if key[0].partition("@")[0] == fault.block]
        self.good_parts += not true and fault.block not in self.board.blown
        for key in true:
            del self.board.faults[key]
        self.board.blown -= {fault.block, *(f.blows for f, _ in suspect.members)}
        mended = {fault.block, fault.blows} - {""}
        self.facts = Facts(mended=self.facts.mended | mended, is_powered=True)
        if len(self.facts.mended) > 2 * MOST_REPAIRS:
            self.end = "given up"
            return
        yield from self._sweep(meter)

    def _sweep(self, meter: Meter) -> Need:
        tree = self.engine.dictionary.tree
        for point in self.profile.test_points:
            number = tree.part_of(point.net)
            if number is not None and point.mode in {"dc V", "ac V"}:
                kind = TestKind.AC if point.mode == "ac V" else TestKind.DC
                test = Test(kind=kind, target=point.net, part=number, seconds=point.seconds)
                yield from self._read(test, meter)
                self.tests -= 1
        self.tests += 1


def replace_faults(board: Drawn, key: tuple[str, str]) -> Drawn:
    """Return the same board with one of its faults alone."""
    alone = copy.copy(board)
    alone.faults, alone.blown = {key: board.faults[key]}, set()
    return alone


K_OPEN = "open"
#: A fault is hard where it moves some point so far beyond its limits, as a share of the nominal.
HARD = 0.10


def _moves_a_rail(profile: Profile, layout: Layout, live: LiveReadings) -> bool:
    """Whether some test point reads at least a tenth beyond the drawing's limits."""
    for point in profile.test_points:
        if point.mode not in {"dc V", "ac V"} or point.net not in live.dc:
            continue
        is_ac = point.mode == "ac V"
        volts = live.ac[point.net] if is_ac else layout.sign[point.net] * live.dc[point.net]
        room = HARD * abs(point.nominal)
        if not point.design.low - room < volts < point.design.high + room:
            return True
    return False


def shown_live(meter: Meter, test: Test, live: LiveReadings) -> float:
    """Return what a live test shows."""
    if test.kind == TestKind.DROP:
        return meter.across(test.target, live)
    if test.kind == TestKind.AMPS:
        return meter.amps(test.target, live)
    if test.kind == TestKind.LOOK:
        return meter.look(test.target, live)
    if test.kind == TestKind.HERTZ:
        return meter.hertz(test.target)
    if test.kind.is_disturbing:
        return meter.moved(test.target)
    return meter.read(test.kind, test.target, live)


def run_all(hunts: Iterable[Hunt], *, repairs: bool) -> list[Hunt]:
    """Run hunts side by side, so that their boards are integrated together."""
    every = list(hunts)
    known: dict[object, LiveReadings] = {}
    waiting = [(hunt, hunt.run(repairs=repairs)) for hunt in every]
    asked = [(hunt, work, next(work)) for hunt, work in waiting]
    while asked:
        fresh = {_key(s): s for _, _, s in asked if _key(s) not in known}
        if fresh:
            before = list(fresh.items())
            for (key, setting), found in zip(before, settle([s for _, s in before]), strict=True):
                known[key] = known[_key(setting)] = found
        left = []
        for hunt, work, setting in asked:
            try:
                left.append((hunt, work, work.send(known[_key(setting)])))
            except StopIteration:
                continue
        asked = left
    return every


def _key(setting: Setting) -> object:
    board = setting.board
    return (board.seed, tuple(board.faults), frozenset(board.blown), setting.condition)


def boards(profile: Profile, first: int, count: int, faults: int) -> list[Drawn]:
    """Return boards with so many drawn faults each."""
    found = []
    for seed in range(first, first + count):
        board = draw_board(profile, seed)
        board.faults = draw_faults(profile, seed, faults)
        found.append(board)
    return found


def bins(calls: Iterable[Call]) -> list[tuple[str, int, float, float]]:
    """Return by bin of odds: name, cases, mean odds, share right."""
    every, rows = list(calls), []
    for low, high in (
        (0.0, 0.5),
        (0.5, 0.75),
        (0.75, 0.9),
        (0.9, 0.97),
        (0.97, 0.99),
        (0.99, 1.01),
    ):
        inside = [c for c in every if low <= c.odds < high]
        if inside:
            odds = float(np.mean([c.odds for c in inside]))
            right = float(np.mean([c.is_right for c in inside]))
            rows.append(
                (f"{low:.2f}-{min(high, 1):.2f}", len(inside), round(odds, 3), round(right, 3))
            )
    return rows


#: What is reported on, singles and pairs a profile, and the first seed of reporting.
PROFILES = (
    "tessenby-orrery-nights", "ardvane-cinder-dunes", "ostrel-8", "varnholt-vx12", "larkmoor-24",
)  # fmt: skip
SINGLES, PAIRS, REPORT = 150, 100, 40_000


@dataclass(frozen=True)
class Table:
    """What many hunts of one profile come to."""

    profile: str
    singles: list[Hunt]
    pairs: list[Hunt]

    @property
    def calls(self) -> list[Call]:
        """Every call on boards with one fault."""
        return [c for h in self.singles for c in h.calls]

    def rows(self) -> list[str]:
        """Return the table's lines."""
        calls, every = self.calls, self.singles
        right = float(np.mean([c.is_right for c in calls])) if calls else 0.0
        doubted = [c for h in every if h.last for c in [h.last] if c.has_doubt]
        both = [not h.board.faults and h.good_parts <= 1 and h.tests <= 25 for h in self.pairs]
        left = [h.end == "sound" and bool(h.board.faults) for h in self.pairs]
        pair_calls = [c.is_right for h in self.pairs for c in h.calls]
        return [
            f"{self.profile}: {len(every)} singles, {len(calls)} called, right {right:.3f}, "
            f"wrong calls {sum(not c.is_right for c in calls) / len(every):.3f} of hunts, "
            f"mean tests {np.mean([h.tests for h in every]):.1f}, {len(doubted)} ended in doubt",
            f"  pairs {len(self.pairs)}: calls right {np.mean(pair_calls or [0]):.3f}, both "
            f"repaired {np.mean(both):.2f}, ended as sound with a fault left {np.mean(left):.2f}",
            f"  both repaired, by how many of the two are hard: {_by_hard(self.pairs, both)}",
            f"  {_tests(every, is_hard=True)}; {_tests(every, is_hard=False)}",
        ]


def _by_hard(pairs: list[Hunt], both: list[bool]) -> str:
    """Say for pairs with two, one and no hard fault how many were repaired."""
    found = []
    for count in (2, 1, 0):
        mine = [done for hunt, done in zip(pairs, both, strict=True) if hunt.hard_faults == count]
        found.append(f"{count}: {sum(mine)} of {len(mine)}")
    return ", ".join(found)


def _tests(hunts: list[Hunt], *, is_hard: bool) -> str:
    """Say of hard or soft faults how often the true one was first, and how many tests it took."""
    mine = [h for h in hunts if h.is_hard == is_hard]
    found = [bool(h.last and h.last.is_right) for h in mine]
    said, silent = (
        [h.tests for h in mine if h.has_complaint == has_complaint]
        for has_complaint in (True, False)
    )
    return (
        f"{'hard' if is_hard else 'soft'} {len(mine)}: first {np.mean(found or [0]):.2f}, mean tests "
        f"{np.mean(said or [0]):.1f} with a complaint, {np.mean(silent or [0]):.1f} without"
    )


def table(
    profile: Profile, share: float = 1.0, first: int = REPORT, *, counts_hard: bool = False
) -> Table:
    """Hunt on drawn boards of a profile; every other one begins with a complaint.

    Of pairs it is counted how many of the two are hard, where that is wanted: it takes time.
    """
    tree = compile_tree(profile)
    assert tree is not None
    dictionary = build_dictionary(tree)
    assert dictionary is not None
    engine = Engine.of(dictionary, {p.net: p.seconds for p in profile.test_points})

    def hunts(count: int, faults: int, start: int) -> list[Hunt]:
        drawn = boards(profile, start, max(int(count * share), 1), faults)
        found = [Hunt(board, board.seed % 2 == 0, profile, engine) for board in drawn]
        for hunt in found:
            hunt.counts_hard = counts_hard and faults > 1
        return found

    return Table(
        profile.id,
        run_all(hunts(SINGLES, 1, first), repairs=False),
        run_all(hunts(PAIRS, 2, first + 5000), repairs=True),
    )


def main() -> None:
    """Print the tables."""
    share = float(sys.argv[1]) if len(sys.argv) > 1 else 1.0
    library, found = ProfileLibrary(), []
    for name in sys.argv[2:] or PROFILES:
        found.append(table(library.get(name), share, counts_hard=True))
        print("\n".join(found[-1].rows()), flush=True)
    for row in bins(h.last for t in found for h in t.singles if h.last):
        print(row)


if __name__ == "__main__":
    main()

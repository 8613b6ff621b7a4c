"""Faults, tests and outcomes of the logic, as one says them at the bench."""

from bench_lamp.board import Profile
from bench_lamp.board.chips import Chip
from bench_lamp.board.self_tests import DisplayTest, MatrixTest, StepsTest
from bench_lamp.case.case import Case
from bench_lamp.logic.clue import LogicKind
from bench_lamp.reason.logic.insight_of import SOMETHING_ELSE
from bench_lamp.reason.values.branch import Branch, BranchKind
from bench_lamp.reason.values.faults import LogicFault
from bench_lamp.reason.values.tests import LogicTest


def part_name(profile: Profile, part: str) -> str:
    """Name a part with what it is: `U7, I/O chip, three ports`."""
    chip = profile.chip(part)
    if chip is not None:
        return f"{part}, {chip.name}"
    return next((name for name in _named(profile, part) if name), part)


def part_place(profile: Profile, part: str) -> str:
    """Say where a part is: `M23: game board, lower row`; its name where no place is known."""
    chip = profile.chip(part)
    return f"{part}: {chip.place}" if chip is not None and chip.place else part_name(profile, part)


def _named(profile: Profile, part: str) -> list[str]:
    found = []
    for test in profile.self_tests:
        if isinstance(test, MatrixTest):
            noun = {"switches": "switch", "lamps": "lamp"}[test.kind]
            cells = {test.part_of(cell): cell for cell in test.cells()}
            if part in cells:
                found.append(f"{part}, {noun} {test.names.get(cells[part], cells[part])}")
        elif isinstance(test, DisplayTest):
            found += [f"{d.name} display" for d in test.displays if d.id == part]
        elif isinstance(test, StepsTest):
            found += [f"{part}, of {s.name}" for s in test.steps if part in s.parts]
    return [*found, *(f"{part}, {coil.name}" for coil in profile.coils if coil.id == part)]


def fault_name(profile: Profile, fault: LogicFault) -> str:
    """Say a fault aloud: `U7, PA3 bad`, `M15 dead`, `S23, switch left bumper`."""
    chip = profile.chip(fault.block)
    if chip is None and fault.is_dead:
        return part_name(profile, fault.block)
    if fault.is_dead:
        return f"{fault.block} dead, {chip.name}" if chip else f"{fault.block} dead"
    return f"{fault.block}, {fault.what}"


def test_words(profile: Profile, test: LogicTest) -> str:
    """Say a test in a few words: `write and read port A`, `pull U9`."""
    kind, target = test.kind, test.target
    lane = next((x for x in profile.lanes if x.test_id == target), None)
    if lane is not None:
        return f"write and read {lane.name}"
    if kind in {LogicKind.CELLS, LogicKind.CODE}:
        found = profile.self_test(target)
        return f"self-test: {found.name}" if found else target
    if kind == LogicKind.PROBE:
        part, _, pin = target.partition(":")
        return f"probe {part} pin {pin}"
    return {
        "reseated": f"re-seat {target}",
        "pulled": f"leave {target} out",
        "donor": f"swap {target} from the donor",
        "tester": f"put {target} into the chip tester",
    }[kind]


def outcome_label(profile: Profile, test: LogicTest, branch: Branch) -> str:
    """Write one way that a test comes out."""
    if branch.kind is BranchKind.SEVERAL:
        return "several bad"
    label = branch.label or ""
    words = {
        "": "all as it should be",
        "gone": "the symptom is gone",
        "fail": "it fails",
        "wrong": "another level",
    }
    if test.kind in {LogicKind.PULLED, LogicKind.DONOR, LogicKind.RESEATED} and not label:
        return "still the same"
    if test.kind == LogicKind.TESTER and not label:
        return "it passes"
    if test.kind == LogicKind.PROBE and not label:
        return "the level it should have"
    if label in words:
        return words[label]
    if label == SOMETHING_ELSE:
        return label
    if test.kind == LogicKind.CODE:
        return f"it shows {label}"
    units = label.split()
    return f"{', '.join(units)} bad" if len(units) <= 3 else f"{len(units)} bad: {units[0]} …"


def effort_words(case: Case, chip: Chip) -> str:
    """Say what it takes to pull a part, and what for: `socket, 40 pins, one on the donor board`."""
    hold = "plug" if chip.family == "connector" else "socket" if chip.socket else "soldered"
    words = [hold, f"{chip.pins} pins"]
    if chip.exposed:
        words.append("reached from outside")
    if chip.optional:
        words.append("runs without it")
    if chip.donor and case.profile.donor:
        words.append("donor at hand")
    return ", ".join(words)

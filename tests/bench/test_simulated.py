"""The simulated board: it answers as its fault says, and differs from the dictionary."""

import numpy as np
import pytest

from bench_lamp.bench.simulated import SimulatedBoard, Truth
from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.checks.charging import judge_charging
from bench_lamp.circuit import compile_tree
from bench_lamp.circuit.faults import faults_of
from bench_lamp.instrument import InstrumentError, LogicRequest, Request
from bench_lamp.practice.demo_bench import HIDDEN, demo_board

EXACT = Truth(spread=0.0, leak=0.0, misread=0.0, gain=0.0, complaint_error=0.0)
OFF = Condition(is_powered=False)


@pytest.fixture
def board_with(orrery):
    tree = compile_tree(orrery)
    faults = {f.name: f for f in faults_of(tree)}
    return lambda *names, truth=EXACT, seed=1: SimulatedBoard(
        tree, tuple(faults[n] for n in names), truth, seed
    )


def read(board, kind: str, target: str, **more) -> float:
    return board.read(Request(kind=kind, target=target, **more)).value


@pytest.mark.parametrize(
    ("fault", "kind", "net", "low", "high"),
    [
        ("F4: open", "ac", "ac_lamp", -0.01, 0.05),
        ("F4: open", "dc", "lamp_drv", -0.01, 0.05),
        ("F4: open", "dc", "logic5", 5.0, 5.1),
        ("J3.5: open", "dc", "lamp18", 17.0, 21.0),
        ("J3.5: open", "dc", "lamp_drv", -0.01, 0.05),
        ("F1: open", "dc", "logic5", -0.01, 0.01),
        ("F4: open", "dc", "ac_coil", -0.01, 0.01),
    ],
)
def test_it_answers_as_its_fault_says(board_with, fault, kind, net, low, high):
    assert low <= read(board_with(fault), kind, net) <= high


def test_two_faults_stand_together_and_the_complaint_follows(board_with):
    board = board_with("F4: open", "J2.4: open")
    assert board.complaint() == {"LAMPS", "CPU"}
    assert read(board, "tone", "F4", condition=OFF) == 1.0
    assert read(board, "tone", "F2", condition=OFF) == 0.0


@pytest.mark.parametrize(
    ("fault", "kind", "target", "condition", "mended", "low", "high"),
    [
        pytest.param("F4: open", "dc", "cpu5", Condition(out=frozenset({"J2"})), (), 0, 0.01, id="unplugged"),
        pytest.param("F4: open", "dc", "logic5", OFF, (), 0, 0, id="switched-off"),
        pytest.param("C203: shorted", "ohm", "logic5", OFF, (), 0.2, 2.0, id="a-short-shows-cold"),
        pytest.param("C203: shorted", "ohm", "logic5", Condition(False, frozenset({"J6"})), (), 10, 400,
                     id="and-is-gone-with-its-connector"),
        pytest.param("C203: shorted", "ohm", "drv5", Condition(False, frozenset({"J6"})), (), 0.2, 2.0,
                     id="but-not-on-its-own-board"),
        pytest.param("C203: shorted", "ohm", "logic5", OFF, ("C203",), 10, 400, id="mended"),
        pytest.param("J3.5: resistive", "dc", "lamp_drv", Condition(), ("J3",), 17, 18.5, id="by-its-connector"),
        pytest.param("C2: shorted, F4 blown", "dc", "lamp18", Condition(), ("C2",), 0, 0.1,
                     id="the-fuse-stays-blown"),
        pytest.param("C2: shorted, F4 blown", "dc", "lamp18", Condition(), ("F4",), 0, 0.1,
                     id="a-new-fuse-on-the-short-goes-too"),
        pytest.param("C2: shorted, F4 blown", "dc", "lamp18", Condition(), ("C2", "F4"), 17, 18.5,
                     id="both-mended"),
    ],
)  # fmt: skip
def test_condition_and_repairs_count(board_with, fault, kind, target, condition, mended, low, high):
    shown = read(board_with(fault), kind, target, condition=condition, mended=frozenset(mended))
    assert low - 0.01 <= shown <= high + 0.01


@pytest.mark.parametrize(
    ("request_", "says"),
    [
        (Request(kind="ohm", target="logic5"), "live"),
        (Request(kind="dc", target="mains"), "no net mains"),
        (Request(kind="tone", target="C1"), "no continuity to test"),
        (Request(kind="farads", target="C1"), "live board"),
        (Request(kind="esr", target="F4"), "no reservoir"),
        (Request(kind="esr", target="nothing"), "no reservoir"),
    ],
)
def test_what_cannot_be_measured_says_so_with_a_mend(board_with, request_, says):
    with pytest.raises(InstrumentError, match=says) as caught:
        board_with("F4: open").read(request_)
    assert caught.value.hint


def test_the_meter_has_digits_ranges_and_a_limit(board_with):
    shown = board_with("F4: open").read(Request(kind="dc", target="logic5"))
    assert shown.resolution == 0.001
    assert shown.value == pytest.approx(round(shown.value, 3), abs=1e-9)
    far = board_with("J3.5: open").read(
        Request(
            kind="ohm", target="lamp_drv", condition=Condition(False, frozenset({"J3", "LAMPS"}))
        )
    )
    assert far.value > 1e5


@pytest.mark.parametrize(
    ("fault", "word"), [("F4: open", "charges"), ("C2: dried out", "much too small")]
)
def test_a_charging_series_shows_the_capacitor_that_is_there(board_with, fault, word):
    moments = (1.0, 2.0, 3.0, 5.0)
    shown = board_with(fault).read(
        Request(kind="ohm", target="lamp18", seconds=moments,
                condition=Condition(is_powered=False, out=frozenset({"J3"})))
    )  # fmt: skip
    assert len(shown.series) == len(moments)
    assert shown.value == shown.series[-1]
    found = judge_charging(moments, shown.series, 8.2e-3)
    assert found.word == word, (shown.series, found)


def test_the_same_seed_is_the_same_board_and_another_is_not(board_with):
    one, same, other = (board_with("F4: open", truth=Truth(misread=0.0), seed=s) for s in (3, 3, 4))
    assert read(one, "dc", "coil32") == read(same, "dc", "coil32")
    assert read(one, "dc", "coil32") != read(other, "dc", "coil32")


def test_a_misread_point_gives_some_other_nets_value(board_with):
    board = board_with("F4: open", truth=Truth(spread=0.0, leak=0.0, misread=1.0, gain=0.0))
    shown = {round(read(board, "dc", "logic5"), 1) for _ in range(30)}
    assert len(shown) > 3


def test_tolerances_are_wider_than_the_dictionarys(board_with):
    values = [
        read(board_with("J2.4: open", truth=Truth(misread=0.0), seed=s), "dc", "coil32")
        for s in range(60)
    ]
    assert 0.02 < np.std(values) / np.mean(values) < 0.08


def test_the_demos_boards_agree_with_what_its_journal_says(orrery, ruskel, library):
    """A and B of the opening job read within the meter's doubt of what stands on its tape."""
    board = demo_board(orrery, "QH-017/1").rails
    assert read(board, "dc", "logic5") == pytest.approx(5.08, abs=0.02)
    assert read(board, "dc", "raw_logic") == pytest.approx(10.4, abs=0.1)
    assert read(board, "dc", "lamp18") < 0.2
    names = {f.name for p in library.all() if (tree := compile_tree(p)) for f in faults_of(tree)}
    assert all(set(hidden) <= names for hidden in HIDDEN.values())
    with pytest.raises(InstrumentError, match="No simulated board"):
        read(demo_board(ruskel, "QH-023/1"), "dc", "x")
    with pytest.raises(InstrumentError, match="has no logic"):
        demo_board(ruskel, "QH-023/1").tell(LogicRequest(kind="code", target="x"))


@pytest.mark.parametrize(
    ("fault", "kind", "target", "low", "high"),
    [
        # Seen and counted on the simulated bench as on a real one: 50 Hz mains, so 100 Hz of ripple.
        pytest.param("BR2: one leg open", "hertz", "lamp18", 50, 50, id="a-leg-once"),
        pytest.param("C2: dried out", "hertz", "lamp18", 100, 100, id="a-capacitor-twice"),
        pytest.param("J3.5: resistive", "wiggle", "J3.5", 1, 1, id="a-bad-contact-changes"),
        pytest.param("J3.5: resistive", "wiggle", "J4.1", 0, 0, id="a-good-one-does-not"),
        pytest.param("J3.5: resistive", "drop", "J3.5", 0.3, 12, id="and-it-drops"),
        pytest.param(
            "C2: dried out", "drop", "J3.5", 0.0, 0.08, id="where-a-good-one-drops-little"
        ),
    ],
)
def test_what_is_read_of_a_part_follows_from_its_fault(board_with, fault, kind, target, low, high):
    assert low <= read(board_with(fault), TestKind(kind), target) <= high


@pytest.mark.parametrize(
    ("fault", "kind", "low", "high"),
    [
        pytest.param("F4: open", "farads", 5e-3, 12e-3, id="good"),
        pytest.param("F4: open", "esr", 0.01, 0.06, id="good-esr"),
        pytest.param("C2: dried out", "farads", 2e-4, 3e-3, id="dried-out"),
        pytest.param("C2: high ESR", "esr", 0.1, 5.0, id="lossy"),
    ],
)
def test_a_capacitor_in_circuit_shows_what_is_wrong_with_it(board_with, fault, kind, low, high):
    shown = read(board_with(fault), TestKind(kind), "C2", condition=Condition(is_powered=False))
    assert low <= shown <= high

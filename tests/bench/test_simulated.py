"""The simulated board: it answers as its fault says, and differs from the dictionary."""

import numpy as np
import pytest

from bench_lamp.bench import SimulatedBoard, Truth
from bench_lamp.circuit import Condition, compile_tree
from bench_lamp.circuit.faults import faults_of

EXACT = Truth(spread=0.0, leak=0.0, misread=0.0, gain=0.0, complaint_error=0.0)


@pytest.fixture
def board_with(orrery):
    tree = compile_tree(orrery)
    faults = {f.name: f for f in faults_of(tree)}
    return lambda *names, truth=EXACT, seed=1: SimulatedBoard(
        tree, tuple(faults[n] for n in names), truth, seed
    )


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
    assert low <= board_with(fault).read(kind, net) <= high


def test_two_faults_stand_together_and_the_complaint_follows(board_with):
    board = board_with("F4: open", "J2.4: open")
    assert board.complaint() == {"LAMPS", "CPU"}
    assert not board.tone("F4")
    assert board.tone("F2")


def test_the_condition_counts(board_with):
    board = board_with("F4: open")
    board.condition = Condition(out=frozenset({"J2"}))
    assert board.read("dc", "cpu5") < 0.01
    assert board.read("dc", "logic5") == pytest.approx(5.05, abs=0.02)
    board.condition = Condition(is_powered=False)
    assert board.read("dc", "logic5") == 0.0


def test_the_same_seed_is_the_same_board_and_another_is_not(board_with):
    one, same, other = (board_with("F4: open", truth=Truth(misread=0.0), seed=s) for s in (3, 3, 4))
    assert one.read("dc", "coil32") == same.read("dc", "coil32")
    assert one.read("dc", "coil32") != other.read("dc", "coil32")


def test_a_misread_point_gives_some_other_nets_value(board_with):
    board = board_with("F4: open", truth=Truth(spread=0.0, leak=0.0, misread=1.0, gain=0.0))
    shown = {round(board.read("dc", "logic5"), 1) for _ in range(30)}
    assert len(shown) > 3


def test_tolerances_are_wider_than_the_dictionarys(board_with):
    values = [
        board_with("J2.4: open", truth=Truth(misread=0.0), seed=s).read("dc", "coil32")
        for s in range(60)
    ]
    assert 0.02 < np.std(values) / np.mean(values) < 0.08

"""The simulated logic board: another truth than the reasoning's, and honest about its own."""

import numpy as np
import pytest

from bench_lamp.bench.simulated_logic import SimulatedLogic, draw_logic
from bench_lamp.logic.graph import LogicGraph
from bench_lamp.reason.logic.engine import LogicEngine


@pytest.fixture(scope="module")
def engine(library):
    return LogicEngine.of(library.get("ostrel-8"))


def board(graph, part="U7", lines=("PA3",), *, dead=False, seed=1):
    return SimulatedLogic(graph, part, frozenset(lines), dead, seed)


@pytest.mark.parametrize(
    ("lines", "shows"),
    [
        pytest.param(("PA3",), {"PA3"}, id="one-line"),
        pytest.param(("PA1", "PA2"), {"PA1", "PA2"}, id="two-lines"),
        pytest.param(("KC0",), set(), id="elsewhere"),
    ],
)
def test_a_lane_mostly_shows_just_what_is_spoilt(engine, lines, shows):
    seen = [board(engine.graph, lines=lines, seed=s).cells("lane:PA") for s in range(200)]
    share = np.mean([s == shows for s in seen])
    assert 0.85 < share < 1.0


def test_a_dead_line_of_a_matrix_shows_as_its_row(engine):
    seen = board(engine.graph, lines=("PA3",), seed=3).cells("keyboard")
    assert {cell.partition(".")[0] for cell in seen} <= {"4"}


def test_trials_and_tester_err_as_often_as_they_say(engine):
    bad = [board(engine.graph, seed=s) for s in range(400)]
    assert 0.93 < np.mean([b.is_cured_by("U7") for b in bad]) < 1.0
    assert 0.02 < np.mean([b.is_cured_by("U9") for b in bad]) < 0.12
    assert 0.45 < np.mean([b.is_cured_by_reseating("U7") for b in bad]) < 0.65
    assert np.mean([b.is_cured_by_reseating("J2") for b in bad]) < 0.08
    assert 0.55 < np.mean([b.fails_tester("U7") for b in bad]) < 0.75
    assert np.mean([b.fails_tester("U9") for b in bad]) < 0.07
    assert 0.9 < np.mean([b.is_odd_at("PA3") for b in bad]) < 1.0
    assert np.mean([b.is_odd_at("PA4") for b in bad]) < 0.11


def test_codes_name_a_dead_part_and_seldom_a_single_line_of_it(engine):
    dead = [
        board(engine.graph, "U3", engine.graph.drives["U3"], dead=True, seed=s).code("beeps")
        for s in range(200)
    ]
    assert np.mean([code == "0" for code in dead]) > 0.85
    line = [board(engine.graph, "U3", ("D3",), seed=s).code("beeps") for s in range(200)]
    assert 0.2 < np.mean([code == "" for code in line]) < 0.8


def test_boards_are_drawn_by_weight_and_the_same_for_a_seed(engine):
    weights = {"U7": 3.0, "U9": 1.0}
    drawn = [draw_logic(engine.graph, weights, s) for s in range(400)]
    assert 0.68 < np.mean([b.part == "U7" for b in drawn]) < 0.82
    assert all(b.lines <= engine.graph.touches[b.part] for b in drawn)
    again = draw_logic(engine.graph, weights, 7)
    assert (again.part, again.lines, again.is_dead) == (
        drawn[7].part,
        drawn[7].lines,
        drawn[7].is_dead,
    )
    assert isinstance(LogicGraph.of(engine.profile), LogicGraph)

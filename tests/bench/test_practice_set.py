"""The board of a drill: its rails and its logic as one board, and what heat does to it."""

import pytest
from msgspec.structs import replace

from bench_lamp.bench.simulated import COMES_WITH_HEAT, SimulatedBoard, Truth
from bench_lamp.bench.simulated_logic import SimulatedLogic
from bench_lamp.bench.simulated_set import GONE, SimulatedSet
from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.circuit import compile_tree
from bench_lamp.circuit.faults import faults_of
from bench_lamp.commands.advise import Adviser
from bench_lamp.instrument.protocol import LogicRequest, LogicShown, Request
from bench_lamp.logic.graph import LogicGraph
from bench_lamp.practice.hidden import symptoms

LIVE = Condition(is_powered=True)


@pytest.fixture(scope="module")
def tree(orrery):
    return compile_tree(orrery)


def board(tree, *names):
    faults = tuple(f for f in faults_of(tree) if f.name in names)
    assert len(faults) == len(names)
    return SimulatedBoard(tree, faults, Truth(misread=0.0), 7)


@pytest.mark.parametrize(
    "name", ["U1: low", "C1: dried out", "BR1: one leg open", "J2.4: resistive", "F4: open"]
)
@pytest.mark.parametrize("kind", ["cool", "heat"])
def test_what_comes_and_goes_with_heat_changes_when_its_part_is_cooled(tree, name, kind):
    part = name.partition(":")[0]
    made = board(tree, name)
    fault = made.faults[0]
    for target in (part, "U2"):
        request = Request(kind=kind, target=target, condition=LIVE)
        if target == part:
            assert made.read(request).value == float(fault.kind in COMES_WITH_HEAT)
            mended = replace(request, mended=frozenset({part}))
            assert made.read(mended).value == 0.0
        else:
            assert made.read(request).value == 0.0


@pytest.mark.parametrize(
    ("name", "net", "low", "high"),
    [
        ("F4: open", "lamp18", 0.0, 0.05),
        ("F4: open", "logic5", 0.999, 1.001),
        ("F1: open", "logic5", 0.0, 0.01),
    ],
)
def test_the_share_of_a_rail_is_against_the_same_board_without_faults(tree, name, net, low, high):
    made = board(tree, name)
    assert low <= made.share_of(net, frozenset()) <= high
    assert made.share_of(net, frozenset({name.partition(":")[0]})) == pytest.approx(1.0)


@pytest.mark.parametrize("name", ["F4: open", "F2: open", "S1: open"])
def test_only_tests_whose_supply_is_gone_are_dark(orrery, tree, name):
    rails, graph = board(tree, name), LogicGraph.of(orrery)
    quiet = SimulatedLogic(graph, "", frozenset(), False, 1, noise=0.0)
    made = SimulatedSet(rails, quiet)
    for test in orrery.self_tests:
        net = graph.supplies.get(test.id, "")
        is_gone = bool(net) and abs(rails.share_of(net, frozenset()) - 1) > GONE
        for kind, known in (("code", graph.codes), ("cells", graph.units)):
            if test.id in known:
                shown = made.tell(LogicRequest(kind=kind, target=test.id))
                assert (shown != LogicShown()) == is_gone, (test.id, kind)


def test_what_a_customer_says_of_a_bad_part_is_of_the_tests_that_show_it(orrery):
    graph = LogicGraph.of(orrery)
    sound = SimulatedLogic(graph, "", frozenset(), False, 1, noise=0.0)
    assert symptoms(orrery, sound) == ()
    assert symptoms(orrery, None) == ()
    kinds = {t.id: t.kind for t in orrery.self_tests}
    for part in ("L32", "S12"):
        bad = SimulatedLogic(graph, part, graph.drives[part], True, 1, noise=1.0)
        said = symptoms(orrery, bad)
        shows = {kinds[t] for t in graph.units if t in kinds and replace_noise(bad).cells(t)}
        assert said
        assert ("some lamps stay dark" in said) == ("lamps" in shows)
        assert ("some keys do nothing" in said) == ("switches" in shows)


def replace_noise(bad):
    return SimulatedLogic(bad.graph, bad.part, bad.lines, bad.is_dead, bad.seed, noise=0.0)


@pytest.mark.parametrize(("result", "value"), [("changes", 1.0), ("same", 0.0)])
def test_the_advice_offers_to_cool_a_part_and_takes_the_answer_by_its_id(orrery, result, value):
    adviser = Adviser(orrery, None)
    for line in (
        "complaint resets when warm",
        "power on",
        "A 4.55",
        "A 4.55",
        "B 10.4",
        "L1 4.5",
        "D1 4.53",
        "B ac 0.32",
    ):
        answer = adviser.answer(line)
        assert "error" not in answer, answer
    found = [t for t in answer["tests"] if t["id"].startswith(("cool:", "heat:"))]
    if not found:
        answer = adviser.answer("U1 cooled" if value else "U1 cooled same")
    else:
        answer = adviser.answer(f"answer {found[0]['id']} {result}")
    assert "error" not in answer
    kept = adviser.case.state.readings[-1]
    assert (TestKind(kept.mode) in {TestKind.COOL, TestKind.HEAT}, kept.value) == (True, value)

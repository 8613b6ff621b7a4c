"""Logic suspects: likelihoods by hand, coverage, odds that add up, hunts, and both halves together."""

import sys
from math import comb
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from bench_lamp.board.chips import Chip
from bench_lamp.circuit import compile_tree
from bench_lamp.logic.clue import LogicClue
from bench_lamp.logic.graph import LogicGraph
from bench_lamp.reason.joint import join, logic_alone
from bench_lamp.reason.logic.engine import LogicEngine
from bench_lamp.reason.logic.faults import FAMILY_WEIGHT, OUTER
from bench_lamp.reason.logic.odds import (
    MISREAD,
    NOWHERE,
    SLEEPS,
    TESTER_FAILS,
    TESTER_PASSES,
    cells_chance,
    code_chance,
    code_chances,
    likelihood,
    on_no_list,
    two_way,
    without_fault,
    without_supply,
)
from bench_lamp.reason.logic.tests import outcomes, part_tests_of
from bench_lamp.reason.power.dictionary import build_dictionary
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.values.clues import Clue, Facts
from bench_lamp.reason.values.faults import LogicFault, LogicFaultKind
from bench_lamp.reason.values.tests import LogicTest

sys.path.insert(0, str(Path(__file__).parents[2]))
from benchmarks.logic_hunt import LogicHunter

PROFILES = ("ostrel-8", "ardvane-cinder-dunes", "tessenby-orrery-nights")


class Engines(dict):
    """By profile; a short repr, since hypothesis prints what it was given."""

    def __repr__(self):
        return "engines"


@pytest.fixture(scope="session")
def engines(library):
    return Engines({name: LogicEngine.of(library.get(name)) for name in PROFILES})


@pytest.fixture(scope="session")
def ostrel(engines):
    return engines["ostrel-8"]


def lane(lane_id, *bad, lines=None, manner="stuck"):
    tried = frozenset(lines or (f"{lane_id}{i}" for i in range(8)))
    return LogicClue(event=str(len(bad)), kind="cells", target=f"lane:{lane_id}", bad=frozenset(bad),
                     tried=tried, manner=manner if bad else "")  # fmt: skip


def beeps(code):
    return LogicClue(event="1", kind="code", target="beeps", code=code)


def best(engine, *clues, seen=()):
    joint = logic_alone(engine.weigh(clues, seen))
    parts = engine.by_part(joint.logic)
    return list(parts), parts, joint


# What each result is worth, by hand.

UNITS = {f"P{i}": frozenset({f"P{i}"}) for i in range(4)}


def fault(*lines, whole=True, dead=False, block="U1"):
    kind = LogicFaultKind.SEVERAL if not whole else LogicFaultKind.LINE
    kind = LogicFaultKind.DEAD if dead else kind
    return LogicFault(block=block, kind=kind, where="x", weight=1.0, lines=frozenset(lines))


EXACT = 1 - MISREAD - NOWHERE


@pytest.mark.parametrize(
    ("what", "bad", "chance"),
    [
        pytest.param(fault("P1"), {"P1"}, (1 - SLEEPS) * EXACT, id="just-its-line"),
        pytest.param(fault("P1"), set(), SLEEPS, id="asleep"),
        pytest.param(fault("P1"), {"P1", "P2"}, (1 - SLEEPS) * MISREAD / 4, id="one-misread"),
        pytest.param(fault("P1"), {"P2", "P3"}, (1 - SLEEPS) * NOWHERE / 18, id="elsewhere"),
        pytest.param(
            fault("P0", "P1", "P2"),
            {"P0", "P1", "P2"},
            (1 - SLEEPS) * EXACT,
            id="all-of-a-dead-part",
        ),
        pytest.param(fault("Q7"), set(), EXACT, id="invisible-here"),
        pytest.param(fault("Q7"), {"P0"}, MISREAD / 4, id="invisible-and-misread"),
    ],
)
def test_the_chance_of_an_outcome_under_one_fault(what, bad, chance):
    clue = LogicClue(event="", kind="cells", target="t", bad=frozenset(bad), tried=frozenset(UNITS))
    assert cells_chance(UNITS, clue, what) == pytest.approx(chance)


@pytest.mark.parametrize("touched", [2, 3, 4])
def test_a_part_pays_for_each_good_bit_that_it_touches_too(touched):
    """Two bad of n touched: one choice of C(n, 2), and n - 1 sizes are as likely."""
    several = fault(*(f"P{i}" for i in range(touched)), whole=False)
    clue = LogicClue(
        event="", kind="cells", target="t", bad=frozenset({"P0", "P1"}), tried=frozenset(UNITS)
    )
    expected = (1 - SLEEPS - NOWHERE) / (max(touched - 1, 1) * comb(touched, 2))
    assert cells_chance(UNITS, clue, several) == pytest.approx(expected, abs=NOWHERE)


def test_a_testers_pass_is_no_proof_and_its_fail_nearly_is():
    passed = two_way("tester", "pass", is_here=True) / two_way("tester", "pass", is_here=False)
    failed = two_way("tester", "fail", is_here=True) / two_way("tester", "fail", is_here=False)
    assert passed == pytest.approx(TESTER_PASSES / (1 - TESTER_FAILS))
    assert failed == pytest.approx((1 - TESTER_PASSES) / TESTER_FAILS)
    assert 0.2 < passed < 0.5
    assert failed > 30
    still = two_way("pulled", "same", is_here=True) / two_way("pulled", "same", is_here=False)
    assert still < passed


@pytest.mark.parametrize(
    ("kind", "code", "there", "not_there"),
    [
        ("tester", "fail", 0.70, 0.02),
        ("image", "wrong", 0.80, 0.003),
        ("settings", "lost", 0.75, 0.03),
        ("reseated", "gone", 0.60, 0.03),
        ("pulled", "gone", 0.96, 0.05),
        ("donor", "same", 0.04, 0.95),
    ],
)
def test_what_speaks_for_a_part_is_likelier_if_it_is_bad(kind, code, there, not_there):
    """The chances by hand, from the table of the model: 1 − 0.30, 1 − 0.2, 1 − 0.25, 1 − 0.04."""
    assert two_way(kind, code, is_here=True) == pytest.approx(there)
    assert two_way(kind, code, is_here=False) == pytest.approx(not_there)


@given(
    st.sampled_from(["tester", "pulled", "donor", "reseated", "image", "settings"]), st.booleans()
)
def test_both_answers_about_a_part_add_up(kind, is_here):
    others = {"tester": ("pass", "fail"), "image": ("good", "wrong"), "settings": ("kept", "lost")}
    words = others.get(kind, ("same", "gone"))
    assert sum(two_way(kind, word, is_here=is_here) for word in words) == pytest.approx(1.0)


@pytest.mark.parametrize("name", PROFILES)
def test_the_codes_of_a_fault_add_up(engines, name):
    graph = engines[name].graph
    for test in graph.codes:
        for each in engines[name].faults:
            assert sum(code_chances(graph, test, each).values()) == pytest.approx(1.0)


@pytest.mark.parametrize("name", PROFILES)
@pytest.mark.parametrize("chance", [on_no_list, without_supply, without_fault])
def test_what_no_fault_of_the_list_shows_adds_up_too(engines, name, chance):
    graph = engines[name].graph
    for test, codes in graph.codes.items():
        always = {"off", "on", "flicker", "0"} if chance is without_supply else set()
        shown = {"", *codes} | always
        total = sum(
            chance(graph, LogicClue(event="", kind="code", target=test, code=c)) for c in shown
        )
        assert total <= 1.0 + 1e-9
        assert total > 0.5
    for kind, words in (
        ("probe", ("wrong", "")),
        ("tester", ("pass", "fail")),
        ("donor", ("same", "gone")),
    ):
        clues = (LogicClue(event="", kind=kind, target="U1", code=word) for word in words)
        assert sum(chance(graph, clue) for clue in clues) == pytest.approx(1.0)


def test_a_line_to_the_outside_fails_five_times_as_often_as_one_inside(ostrel):
    """Its single lines share what the part has for lines, by what they are exposed to."""
    port = [f for f in ostrel.faults if f.block == "U7" and f.kind is LogicFaultKind.LINE]
    weights = {min(f.lines): f.weight for f in port}
    outer = [w for line, w in weights.items() if line.startswith(("PA", "PB", "PC"))]
    inner = [w for line, w in weights.items() if line.startswith(("D", "ICS", "RES"))]
    assert outer
    assert inner
    assert max(outer) / min(inner) == pytest.approx(OUTER)


def test_a_probe_shows_a_whole_fault_twice_as_surely_as_one_that_comes_and_goes(ostrel):
    probe = LogicTest(kind="probe", target="U7:1", seconds=16.0, line="P1")
    shown = {w: outcomes(ostrel.graph, probe, fault("P1", whole=w))["wrong"] for w in (True, False)}
    assert shown == {True: 0.9, False: 0.45}


# The graph of parts and lines.


@pytest.mark.parametrize("name", PROFILES)
def test_every_part_can_be_at_fault_and_every_unit_seen(engines, name):
    engine = engines[name]
    assert {f.block for f in engine.faults} == set(engine.graph.chips)
    for test, units in engine.graph.units.items():
        touched = {line for lines in engine.graph.touches.values() for line in lines}
        seen = {u for line, shown in units.items() if line in touched for u in shown}
        assert seen == engine.graph.all_units(test)


def test_the_first_chip_on_a_line_drives_it(ostrel):
    assert "CLK" in ostrel.graph.drives["Y1"]
    assert "CLK" not in ostrel.graph.drives["U1"]
    assert "PA3" in ostrel.graph.drives["U7"]
    assert "KC0" in ostrel.graph.drives["U8"]
    assert {"PA3", "KC0"} <= ostrel.graph.drives["J2"]


def test_what_is_not_fitted_is_never_a_suspect(orrery, engines):
    engine = engines["tessenby-orrery-nights"]
    matrix = orrery.self_test("switches")
    missing = {matrix.part_of(cell) for cell in matrix.not_fitted}
    assert len(missing) == 8
    assert not missing & set(engine.graph.chips)
    assert not {"K16", "K17", "K18"} & set(engine.graph.chips)


# Parts that can cause these bad bits


@pytest.mark.parametrize(
    ("clues", "first"),
    [
        pytest.param([lane("PA", "PA3")], "U7", id="one-line-stuck"),
        pytest.param([lane("PA", *(f"PA{i}" for i in range(8)))], "U7", id="a-whole-port-dead"),
        pytest.param([lane("PA", "PA3", manner="floating")], "J2", id="one-line-open"),
        pytest.param([lane("PA", "PA3"), LogicClue(event="2", kind="donor", target="U7", code="same")], "J2",
                     id="swapped-and-still-the-same"),
        pytest.param([lane("PA"), lane("PB"), LogicClue(event="3", kind="tester", target="U9", code="fail")], "U9",
                     id="failed-in-the-tester"),
        pytest.param([beeps("2-1")], "BT1", id="the-clock-lost-its-time"),
        pytest.param([beeps("3"), lane("PB", *(f"PB{i}" for i in range(8)))],
                     "U7", id="a-code-and-a-lane"),
    ],
)  # fmt: skip
def test_the_likeliest_part_by_coverage_and_trials(ostrel, clues, first):
    names, parts, joint = best(ostrel, *clues)
    assert names[0] == first, dict(list(parts.items())[:4])
    assert joint.shares.sum() + joint.unknown + joint.nothing == pytest.approx(1.0)
    assert (joint.logic >= joint.shares - 1e-12).all()


@pytest.mark.parametrize(
    ("cells", "first"),
    [
        pytest.param({"2.3"}, "M23", id="one-chip"),
        pytest.param({f"1.{i}" for i in range(8)}, "IC7", id="a-whole-bank"),
        pytest.param({"1.5", "2.5"}, "IC4", id="one-bit-in-both-banks"),
    ],
)
def test_a_memorys_pattern_points_at_chip_select_or_data_path(engines, cells, first):
    engine = engines["ardvane-cinder-dunes"]
    tried = engine.graph.all_units("memory")
    clue = LogicClue(event="1", kind="cells", target="memory", bad=frozenset(cells), tried=tried)
    assert best(engine, clue)[0][0] == first


def test_a_leaking_battery_makes_its_neighbours_likelier(ostrel):
    before, after = best(ostrel)[1], best(ostrel, seen=(("BT1", "leaking"),))[1]
    assert after["U10"] > 2 * before["U10"]
    assert after["U9"] < before["U9"]


def test_good_lanes_clear_a_part_more_the_more_of_it_they_show(ostrel):
    clues = [lane(x) for x in ("PA", "PB", "PC", "D")]
    odds = [best(ostrel, *clues[:n])[1]["U7"] for n in range(5)]
    assert odds == sorted(odds, reverse=True)
    assert odds[-1] < 0.5 * odds[0]


@settings(deadline=None, max_examples=40)
@given(st.sampled_from(PROFILES), st.integers(0, 10_000))
def test_nothing_explains_a_faults_own_results_better_than_that_fault(engines, name, number):
    engine = engines[name]
    whole = [i for i, f in enumerate(engine.faults) if f.is_whole]
    mine = whole[number % len(whole)]
    hidden = engine.faults[mine]
    clues = [
        LogicClue(event=str(n), kind="cells", target=test, tried=engine.graph.all_units(test),
                  bad=frozenset(u for line in hidden.lines if line in units for u in units[line]))
        for n, (test, units) in enumerate(engine.graph.units.items())
    ]  # fmt: skip
    fits = engine.weigh(tuple(clues)).faults - np.log([f.weight for f in engine.faults])
    # A group of two lines that are both bad is as good a name for a part with just these two.
    assert fits[mine] >= fits.max() - 0.05


# The next test.


@pytest.mark.parametrize("name", PROFILES)
def test_no_test_tells_more_than_is_left_to_know(engines, name):
    engine = engines[name]
    joint = logic_alone(engine.weigh(()))
    rest = joint.unknown + joint.nothing
    shares = np.array([*engine.by_part(joint.logic).values(), rest])
    entropy = float(-(shares * np.log2(np.maximum(shares, 1e-300))).sum())
    tests = engine.candidates(joint.logic, {})
    bits = {t.name: engine.information(t, joint.logic, rest) for t in tests}
    assert len(tests) > 8
    assert all(0 <= b <= entropy for b in bits.values())
    assert max(bits.values()) > 0.3


def test_a_test_by_hand_half_and_half(ostrel):
    """Two parts at even odds: swapping one of them tells nearly one bit."""
    shares = np.zeros(len(ostrel.faults))
    for part in ("U7", "U9"):
        i = next(n for n, f in enumerate(ostrel.faults) if f.block == part and f.is_dead)
        shares[i] = 0.5
    swap = LogicTest(kind="donor", target="U7", seconds=100.0)
    tester = LogicTest(kind="tester", target="U9", seconds=100.0)
    told = ostrel.information(swap, shares, 0.0)
    assert 0.6 < told < 1.0
    assert ostrel.information(tester, shares, 0.0) < told


def test_only_what_is_in_a_socket_is_pulled_and_only_what_there_is_is_borrowed(ostrel):
    shares = np.ones(len(ostrel.faults)) / len(ostrel.faults)
    tests = ostrel.candidates(shares, {})
    plugs = {c.id for c in ostrel.graph.chips.values() if c.family == "connector"}
    assert {t.target for t in tests if t.kind == "reseated"} <= plugs
    for test in tests:
        if test.kind in {"pulled", "donor", "tester"}:
            chip = ostrel.graph.chips[test.target]
            assert chip.socket
            assert test.kind != "donor" or chip.donor
            assert test.kind != "pulled" or chip.optional
            assert not test.condition.is_powered


@pytest.mark.parametrize("name", PROFILES)
def test_hunts_end_with_the_right_part_among_the_first_three(engines, library, name):
    hunter = LogicHunter(engines[name], library.get(name))
    ended = [hunter.hunt(500 + i) for i in range(12)]
    assert sum(h.place <= 3 for h in ended) >= 10
    assert np.mean([h.tests for h in ended]) < 9


# Both halves together.


@pytest.fixture(scope="session")
def halves(library, engines):
    profile = library.get("ardvane-cinder-dunes")
    book = build_dictionary(compile_tree(profile))
    return Engine.of(book, {}), engines["ardvane-cinder-dunes"]


def shares(halves, facts):
    engine, logic = halves
    joint = join(engine, engine.weigh(facts), logic, logic.weigh(facts.logic))
    odds, unknown = joint.posterior.odds()
    tree = {f.name: o for f, o in zip(engine.dictionary.faults, odds, strict=True) if f.block}
    return joint, tree, unknown


GOOD_RAILS = tuple(
    Clue(event=str(i), kind="dc", target=net, value=volts)
    for i, (net, volts) in enumerate(
        [("reg5", 5.12), ("game5", 5.05), ("gamem", -5.0), ("game12", 12.0)]
    )
)


def test_all_odds_of_both_halves_add_up_to_one(halves):
    clue = LogicClue(event="9", kind="code", target="boot", code="1")
    for facts in (Facts(), Facts(clues=GOOD_RAILS), Facts(clues=GOOD_RAILS, logic=(clue,))):
        joint, tree, unknown = shares(halves, facts)
        assert joint.logic.sum() + sum(
            tree.values()
        ) + joint.nothing + joint.unknown == pytest.approx(1.0, abs=0.15)
        assert unknown == pytest.approx(joint.unknown)


def test_good_rails_leave_the_logic_and_a_bad_rail_clears_it(halves):
    dead_memory = LogicClue(event="8", kind="cells", target="memory", bad=frozenset({"1.2"}),
                            tried=halves[1].graph.all_units("memory"))  # fmt: skip
    joint, tree, _ = shares(halves, Facts(clues=GOOD_RAILS, logic=(dead_memory,)))
    assert halves[1].by_part(joint.logic)["M12"] > 0.5
    gone = (
        Clue(event="1", kind="dc", target="game5", value=0.02),
        Clue(event="2", kind="dc", target="reg5", value=8.8),
    )
    silent = LogicClue(event="8", kind="code", target="boot", code="off")
    joint, tree, _ = shares(halves, Facts(clues=gone, logic=(silent,)))
    assert joint.logic.sum() < 0.1
    assert max(tree, key=tree.get).partition(":")[0] in {"W1", "J1.2"}


def test_a_silent_board_accuses_its_supply_too(halves):
    silent = LogicClue(event="8", kind="code", target="boot", code="off")
    _, before, _ = shares(halves, Facts())
    _, after, _ = shares(halves, Facts(logic=(silent,)))
    assert after["F2: open"] > before["F2: open"]
    assert after["F5: open"] < after["F2: open"]


def test_a_profile_without_logic_has_no_engine(ruskel):
    assert LogicEngine.of(ruskel) is None


def test_the_likelihood_of_a_probe(ostrel):
    clue = LogicClue(event="", kind="probe", target="U7:1", line="PA3", code="wrong")
    stuck = next(f for f in ostrel.faults if f.name == "J2: PA3 bad")
    other = next(f for f in ostrel.faults if f.name == "J2: PA4 bad")
    assert likelihood(ostrel.graph, clue, stuck) == pytest.approx(0.9)
    assert likelihood(ostrel.graph, clue, other) == pytest.approx(0.04)


def test_the_graph_is_read_from_any_profile(library):
    for name in library.paths():
        graph = LogicGraph.of(library.get(name))
        assert set(graph.drives) == set(graph.touches)


def test_how_often_each_family_fails_is_what_the_model_says():
    """On the scale of the power tree, where a fuse is 8."""
    assert FAMILY_WEIGHT == {
        "cpu": 1.0,
        "rom": 2.0,
        "ram": 3.0,
        "io": 4.0,
        "buffer": 2.5,
        "decoder": 2.0,
        "latch": 2.5,
        "driver": 3.0,
        "mux": 2.0,
        "transistor": 2.5,
        "diode": 1.5,
        "crystal": 1.0,
        "connector": 2.0,
        "switch": 1.0,
        "lamp": 1.2,
        "display": 2.0,
        "coil": 0.6,
        "battery": 4.0,
        "speaker": 1.0,
        "passive": 0.7,
    }


@pytest.mark.parametrize("name", PROFILES)
def test_the_chances_of_all_codes_add_up_misread_ones_too(engines, name):
    graph = engines[name].graph
    for test, codes in graph.codes.items():
        for each in engines[name].faults[::7]:
            shown = {"", "off", "on", "flicker", *codes, *code_chances(graph, test, each)}
            assert sum(code_chance(graph, test, c, each) for c in shown) == pytest.approx(
                1.0, abs=0.05
            )
            assert code_chance(graph, test, "", each) < 1.0


def test_what_is_in_no_socket_or_has_no_donor_is_not_pulled_or_borrowed():
    chip = Chip(id="U1", name="x", family="ram", pins=18, socket=True, donor=True)
    kinds = {t.kind for t in part_tests_of(chip, has_donor=True)}
    assert "donor" in kinds
    assert "donor" not in {t.kind for t in part_tests_of(chip, has_donor=False)}
    assert "donor" not in {
        t.kind for t in part_tests_of(replace(chip, donor=False), has_donor=True)
    }
    large = replace(chip, pins=64)
    assert "tester" in kinds
    assert "tester" not in {t.kind for t in part_tests_of(large, has_donor=True)}
    assert "tester" not in {
        t.kind for t in part_tests_of(replace(chip, family="cpu"), has_donor=True)
    }


@pytest.mark.parametrize(
    "keys",
    [
        ("3.5", "5.2", "7.7"),
        ("1.8", "2.6", "4.1"),
        ("1.8", "4.3", "7.1"),
        ("5.7", "8.2"),
        ("2.2", "6.6"),
    ],
    ids=" ".join,
)
def test_keys_that_are_bad_by_themselves_come_before_groups_that_would_spoil_more(library, keys):
    """Two or three single keys of a matrix: a group of lines explains more units, and each key its own one best."""
    profile = library.get("ostrel-8")
    engine = LogicEngine.of(profile)
    units = engine.graph.all_units("keyboard")
    assert set(keys) <= units
    clue = LogicClue(event="1", kind="cells", target="keyboard", bad=frozenset(keys), tried=units)
    order = list(engine.by_part(logic_alone(engine.weigh((clue,))).logic))
    wanted = {f"KEY{key.replace('.', '')}" for key in keys}
    assert set(order[: len(keys)]) == wanted

"""Odds from evidence: what they become, what they never do, and which test comes next."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bench_lamp.bench import Truth, draw_truth
from bench_lamp.bench.generate import generated_profile
from bench_lamp.circuit import compile_tree
from bench_lamp.reason.dictionary import as_log, build_dictionary
from bench_lamp.reason.groups import group_faults
from bench_lamp.reason.next_test import entropy_bits, group_odds, outcomes, rank_tests
from bench_lamp.reason.posterior import UNKNOWN_PRIOR, hear_complaint, observe, start


@pytest.fixture(scope="module")
def book(library):
    """Return the demo set's dictionary with groups, bins and tests by name."""
    dictionary = build_dictionary(compile_tree(library.get("tessenby-orrery-nights")))
    groups = group_faults(dictionary)
    tests = {test.name: test for test in dictionary.tests}
    return dictionary, groups, outcomes(dictionary, groups), tests


def odds_of(posterior, *names: str) -> float:
    """Return the odds of some faults together."""
    odds, _ = posterior.odds()
    return float(sum(odds[i] for i, f in enumerate(posterior.dictionary.faults) if f.name in names))


def read(posterior, tests, **values: float):
    """Enter readings: `dc_lamp18=17.6`, AC in volts."""
    for name, value in values.items():
        kind, _, target = name.partition("_")
        scaled = float(as_log(np.array(value))) if kind == "ac" else value
        posterior = observe(posterior, tests[f"{kind} {target}"], scaled)
    return posterior


def test_priors_are_the_weights_and_a_share_for_what_is_not_listed(book):
    odds, unknown = start(book[0]).odds()
    assert unknown == pytest.approx(UNKNOWN_PRIOR)
    assert odds.sum() + unknown == pytest.approx(1.0)
    assert odds_of(start(book[0]), "F4: open") / odds_of(
        start(book[0]), "BR2: one leg open"
    ) == pytest.approx(10 / 3)


BLOWN = ("F4: open", "BR2: shorted, F4 blown", "C2: shorted, F4 blown", "LAMPS: shorted, F4 blown")


@pytest.mark.parametrize(
    ("readings", "suspects", "least"),
    [
        pytest.param({"ac_ac_lamp": 0.0, "ac_sec_lamp": 15.8}, BLOWN, 0.9, id="winding-good-fuse-out"),
        pytest.param({"dc_lamp18": 20.9, "dc_lamp_drv": 0.1}, ("J3.5: open",), 0.9, id="lost-in-the-contact"),
        pytest.param({"dc_lamp18": 18.3, "dc_lamp_drv": 13.5}, ("J3.5: resistive",), 0.8, id="resistive-contact"),
        pytest.param({"dc_logic5": 8.7, "dc_raw_logic": 9.6}, ("U1: passes its input",), 0.9, id="regulator-passes"),
        pytest.param({"dc_lamp18": 12.0, "ac_lamp18": 4.0}, ("C2: dried out",), 0.9, id="dried-reservoir"),
        pytest.param({"dc_logic5": 0.0, "dc_raw_logic": 11.5}, ("U1: dead",), 0.9, id="regulator-dead"),
        pytest.param(
            {"dc_logic5": 0.0, "dc_lamp18": 0.0, "dc_coil32": 0.0},
            ("X1: no mains", "S1: open", "F1: open"), 0.9, id="everything-dead",
        ),
    ],
)  # fmt: skip
def test_readings_point_at_the_fault(book, readings, suspects, least):
    assert odds_of(read(start(book[0]), book[3], **readings), *suspects) >= least


def test_a_reading_that_nothing_explains_raises_what_is_not_listed(book):
    posterior = read(
        start(book[0]), book[3], dc_logic5=7.4, dc_lamp18=9.0, dc_coil32=20.0, dc_disp140=60.0
    )
    _, unknown = posterior.odds()
    assert unknown > 0.5


def test_the_order_of_the_evidence_does_not_matter(book):
    one = read(start(book[0]), book[3], dc_lamp18=12.0, ac_lamp18=4.0, dc_logic5=5.05)
    other = read(start(book[0]), book[3], dc_logic5=5.05, ac_lamp18=4.0, dc_lamp18=12.0)
    np.testing.assert_allclose(one.odds()[0], other.odds()[0], atol=1e-12)


def test_the_complaint_is_evidence(book):
    posterior = hear_complaint(start(book[0]), frozenset({"LAMPS"}))
    lamp = [f.name for f in book[0].faults if f.part == 1]
    assert odds_of(posterior, *lamp) > 0.6
    dead = hear_complaint(
        start(book[0]), frozenset({"LAMPS", "CPU", "DRV", "COILS", "LIGHTS", "DISP"})
    )
    assert odds_of(dead, "X1: no mains", "S1: open", "F1: open") > 0.9


def test_a_low_mains_is_no_fault_of_any_rail(book):
    """Every rail 4 % low: readings share their tolerances, so nothing stands out wrongly."""
    posterior = read(
        start(book[0]), book[3], dc_lamp18=16.9, dc_coil32=33.5, ac_light7=7.1, dc_raw_logic=9.8
    )
    odds, _ = posterior.odds()
    assert max(np.bincount(book[1], weights=odds)) < 0.6


def test_faults_that_look_alike_are_one_group(book):
    names = [f.name for f in book[0].faults]
    group = dict(zip(names, book[1], strict=True))
    assert len({group[n] for n in BLOWN}) == 1
    assert group["X1: no mains"] == group["F1: open"]
    assert group["U1: dead"] != group["U1: low"]
    assert group["F4: open"] != group["F3: open"]


@settings(max_examples=25, deadline=None)
@given(data=st.data())
def test_no_test_promises_more_than_is_left(book, data):
    """After any readings the ranking holds the bound and is sorted by bits a second."""
    dictionary, groups, known, _ = book
    posterior = start(dictionary)
    for test in data.draw(st.lists(st.sampled_from(dictionary.tests), max_size=4, unique=True)):
        ranges = {"ac": (-2.4, 2.2), "tone": (0.0, 1.0), "dc": (0.0, 200.0)}
        value = data.draw(st.floats(*ranges[test.kind]))
        posterior = observe(posterior, test, value)
    ranked = rank_tests(posterior, groups, known)
    left = entropy_bits(group_odds(posterior, groups))
    assert all(0 <= p.bits <= left + 1e-6 for p in ranked)
    assert [p.rate for p in ranked] == sorted((p.rate for p in ranked), reverse=True)
    assert {p.test.name for p in ranked}.isdisjoint(posterior.seen)


def test_the_next_test_splits_what_is_left(book):
    """With only the contact and the fuse side left, the point between them is worth most."""
    posterior = read(start(book[0]), book[3], dc_logic5=5.05, dc_lamp_drv=0.1)
    first = rank_tests(posterior, book[1], book[2])[0]
    assert first.test.target in {"ac_lamp", "lamp18"}
    assert first.bits > 0.8


def test_building_can_be_stopped(orrery):
    seen: list[float] = []
    assert (
        build_dictionary(compile_tree(orrery), progress=lambda s: seen.append(s) or s < 0.5) is None
    )
    assert seen[-1] < 1.0


def test_a_generated_board_is_solved_without_losing_a_case():
    dictionary = build_dictionary(compile_tree(generated_profile(4, seed=1)), draws=8)
    assert dictionary.lost == 0
    assert dictionary.tree.net_count >= 24
    assert len(dictionary.faults) > 100


def test_hunts_on_a_different_truth_are_short_and_mostly_right(book):
    """Forty boards with wider tolerances, leaks and slips; the benchmark has the full table."""
    dictionary, groups, known, _ = book
    right = tests = 0
    for seed in range(40):
        board = draw_truth(dictionary.tree, dictionary.faults, 500 + seed, Truth())
        posterior = hear_complaint(start(dictionary), board.complaint())
        for _ in range(20):
            if group_odds(posterior, groups).max() >= 0.95:
                break
            test = rank_tests(posterior, groups, known)[0].test
            if test.kind == "tone":
                value = float(not board.tone(test.target))
            else:
                value = board.read(test.kind, test.target)
                value = float(as_log(np.array(value))) if test.kind == "ac" else value
            posterior = observe(posterior, test, value)
            tests += 1
        true = groups[dictionary.faults.index(board.faults[0])]
        right += int(group_odds(posterior, groups).argmax()) == true
    assert right >= 34
    assert tests / 40 < 7

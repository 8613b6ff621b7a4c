"""Odds from evidence: what they become, what they never do, and which test comes next."""

from itertools import combinations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from bench_lamp.bench.generate import generated_profile
from bench_lamp.board import ProfileLibrary
from bench_lamp.board.blocks import FuseBlock, Load, Pin, Reservoir
from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.circuit import compile_tree
from bench_lamp.circuit.design import MAINS, STATES
from bench_lamp.reason.insight_of import insight_of
from bench_lamp.reason.power.complaint import hint_factors, weigh_dead_loads, weigh_full_complaint
from bench_lamp.reason.power.dictionary import build_dictionary
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.power.fit import fit_of
from bench_lamp.reason.power.likelihood import Memory, Slip, log_likelihood
from bench_lamp.reason.power.next_test import ASIDE
from bench_lamp.reason.power.outcomes import branches
from bench_lamp.reason.power.posterior import (
    NEW_PART,
    SOUND_AFTER_REPAIR,
    SOUND_PRIOR,
    UNKNOWN_PRIOR,
    observe,
    start,
)
from bench_lamp.reason.power.prediction import Prediction, scaled
from bench_lamp.reason.power.several import ONE, THREE, TWO, presence
from bench_lamp.reason.power.shares import never_sure, odds_by_block
from bench_lamp.reason.power.strangeness import DOUBT_MISS
from bench_lamp.reason.power.tests import change_s, effort
from bench_lamp.reason.values.branch import BranchKind
from bench_lamp.reason.values.clues import Facts
from bench_lamp.reason.values.tests import LIVE, OFF, Test
from bench_lamp.units import FuseRating

from .conftest import clues

BLOWN = ("F4: open", "BR2: shorted, F4 blown", "C2: shorted, F4 blown", "LAMPS: shorted, F4 blown")
DARK = ("X1: no mains", "S1: open", "F1: open")


def test_priors_are_the_weights_with_shares_for_not_listed_and_nothing_wrong(engine):
    odds, unknown = start(engine.dictionary).odds()
    names = [f.name for f in engine.dictionary.faults]
    # Two faults at once take a share of what is listed.
    assert unknown == pytest.approx(UNKNOWN_PRIOR, rel=0.4)
    assert odds[-1] == pytest.approx(SOUND_PRIOR, rel=0.4)
    assert 1.0 <= odds.sum() + unknown < 1.2
    assert odds[names.index("F4: open")] / odds[names.index("J3.5: open")] == pytest.approx(10 / 4)
    after, _ = start(engine.dictionary, mended={"F4"}).odds()
    assert after[-1] == pytest.approx(SOUND_AFTER_REPAIR, rel=0.4)
    ratio = after[names.index("F4: open")] / after[names.index("F3: open")]
    assert ratio == pytest.approx(NEW_PART, rel=0.02)


@pytest.mark.parametrize(
    ("written", "suspects", "least"),
    [
        pytest.param(["ac ac_lamp 0", "ac sec_lamp 15.8"], BLOWN, 0.75, id="winding-good-fuse-out"),
        pytest.param(["dc lamp18 20.9", "dc lamp_drv 0.1"], ("J3.5: open",), 0.9, id="lost-in-the-contact"),
        pytest.param(["dc lamp18 18.3", "dc lamp_drv 13.5"], ("J3.5: resistive",), 0.8, id="resistive-contact"),
        pytest.param(["dc logic5 8.7", "dc raw_logic 9.6"], ("U1: passes its input",), 0.85, id="regulator-passes"),
        pytest.param(["dc lamp18 12.0", "ac lamp18 4.0"], ("C2: dried out",), 0.75, id="dried-reservoir"),
        pytest.param(["dc logic5 0", "dc raw_logic 11.5"], ("U1: dead",), 0.8, id="regulator-dead"),
        pytest.param(["dc logic5 0", "dc lamp18 0", "dc coil32 0"], DARK, 0.9, id="everything-dead"),
        pytest.param(["dc logic5 0", "dc lamp18 0", "dc coil32 0", "tone F1 1"], ("F1: open",), 0.9,
                     id="and-its-fuse-toned-open"),
        pytest.param(["dc logic5 5.05", "dc lamp18 0", "tone F4 0", "ac sec_lamp 0"], ("T1: winding sec_lamp open",),
                     0.9,                     id="fuse-good-winding-dead"),
        pytest.param(["dc logic5 0.4", "ohm logic5 0.6"],
                     ("C112: shorted", "C203: shorted", "CPU: shorted", "DRV: shorted"), 0.75, id="short-cold"),
        pytest.param(["dc logic5 0.4", "ohm logic5 0.6", "ohm logic5 60 without J6"],
                     ("C203: shorted", "DRV: shorted"), 0.75, id="came-back-when-its-connector-was-pulled"),
        pytest.param(["dc logic5 0.4", "ohm logic5 0.6", "ohm logic5 0.6 without J6"],
                     ("C112: shorted", "CPU: shorted"), 0.75, id="stayed-when-another-was-pulled"),
        pytest.param(["dc logic5 0.4", "ohm logic5 0.6", "ohm drv5 0.6 without J6", "ohm drv5 60 without J6 C203"],
                     ("C203: shorted",), 0.9, id="gone-when-the-part-was-lifted"),
        pytest.param(["dc logic5 3.9", "ac raw_logic 0.3", "dc logic5 5.1 without J2"],
                     ("CPU: draws too much", "CPU: shorted", "C112: shorted"), 0.5, id="dragged-down-by-a-board"),
    ],
)  # fmt: skip
def test_evidence_points_at_the_fault(engine, odds_of, written, suspects, least):
    assert odds_of(engine.weigh(Facts(clues=clues(*written))), *suspects) >= least


def test_readings_that_nothing_explains_raise_what_is_not_listed(engine):
    strange = clues("dc logic5 7.4", "dc lamp18 9.0", "dc coil32 20.0", "dc disp140 60.0")
    _, unknown = engine.weigh(Facts(clues=strange)).posterior.odds()
    assert unknown > 0.5


def test_the_order_of_the_evidence_does_not_matter(engine):
    written = clues("dc lamp18 12", "ac lamp18 4", "dc logic5 5.05", "tone F4 0")
    one, other = (
        engine.weigh(Facts(clues=c)).posterior.odds()[0] for c in (written, written[::-1])
    )
    # Slips are judged one by one, so the order shows in the third digit.
    np.testing.assert_allclose(one, other, atol=0.02)


@pytest.mark.parametrize(
    ("complaint", "suspects", "least"),
    [
        ("half the lamps dead", ("F4: open", "J3.5: open", "C2: dried out", "LAMPS: open"), 0.25),
        ("completely dead", DARK, 0.8),
        ("it hums", ("C2: dried out", "BR2: one leg open", "C4: dried out"), 0.15),
    ],
)
def test_the_complaint_is_evidence(engine, odds_of, complaint, suspects, least):
    before, after = Facts(), Facts(complaint=complaint)
    assert odds_of(engine.weigh(after), *suspects) >= least
    assert odds_of(engine.weigh(after), *suspects) > 2 * odds_of(engine.weigh(before), *suspects)


def test_the_look_over_is_evidence_until_the_part_is_new(engine, odds_of):
    seen = Facts(seen=(("C2", "bulged"),))
    assert odds_of(engine.weigh(seen), "C2: dried out") > 5 * odds_of(
        engine.weigh(Facts()), "C2: dried out"
    )
    by_connector = engine.weigh(Facts(seen=(("J3", "corroded"),)))
    assert odds_of(by_connector, "J3.5: open") > 3 * odds_of(engine.weigh(Facts()), "J3.5: open")
    new = replace(seen, mended=frozenset({"C2"}), seen=())
    assert odds_of(engine.weigh(new), "C2: dried out") < 0.01


def test_a_full_complaint_counts_what_is_said_to_work(engine, odds_of):
    heard = weigh_full_complaint(start(engine.dictionary), frozenset({"LAMPS"}))
    lamp = [i for i, f in enumerate(engine.dictionary.faults) if f.part == 1]
    assert heard.odds()[0][lamp].sum() > 0.6


def test_a_low_mains_is_no_fault_of_any_rail(engine):
    """Every rail 4 % low: readings share their tolerances, so nothing stands out wrongly."""
    low = clues("dc lamp18 16.9", "dc coil32 33.5", "ac light7 7.1", "dc raw_logic 9.8")
    odds, _ = engine.weigh(Facts(clues=low)).posterior.odds()
    shares = np.bincount(engine.groups, weights=odds)
    assert max(np.delete(shares, engine.groups[-1])) < 0.6


def test_a_known_good_twin_moves_what_is_expected(engine):
    """The coil rail at 28 V is strange by the model, and right beside a twin that reads 28.1 V."""
    written = clues("dc coil32 28.0")
    alone = engine.weigh(Facts(clues=written)).posterior.odds()[0]
    twin = engine.bent_to({"coil32": 28.1}).weigh(Facts(clues=written)).posterior.odds()[0]
    coil = [i for i, f in enumerate(engine.dictionary.faults) if f.part == 2]
    assert twin[coil].sum() < 0.4 * alone[coil].sum()
    assert engine.bent_to({}) is engine


def test_faults_that_look_alike_are_one_group(engine):
    names = [f.name for f in engine.dictionary.faults]
    group = dict(zip(names, engine.groups, strict=True))
    assert group["C203: shorted"] == group["DRV: shorted"]
    assert group["C203: shorted"] != group["C112: shorted"]
    assert group["F4: open"] != group["C2: shorted, F4 blown"]
    assert group["F1: open"] != group["S1: open"]
    assert group["U1: dead"] == group["U1: low"], "one part is one thing to repair"
    assert group["F4: open"] == group["BR2: shorted, F4 blown"]
    assert group["LIGHTS: draws too little"] != engine.groups[-1], "its fuse drops less"


@pytest.mark.parametrize(
    ("test", "present", "seconds"),
    [
        (Test(kind=TestKind.DC, target="raw", part=0, seconds=8), LIVE, 8),
        (Test(kind=TestKind.OHM, target="raw", part=0, seconds=15, condition=OFF), LIVE, 45),
        (
            Test(
                kind="dc",
                target="raw",
                part=0,
                seconds=8,
                condition=Condition(out=frozenset({"J3"})),
            ),
            LIVE,
            98,
        ),
        (
            Test(kind=TestKind.DC, target="raw", part=0, seconds=8),
            Condition(out=frozenset({"J3"})),
            98,
        ),
        (
            Test(
                kind="ohm",
                target="raw",
                part=0,
                seconds=15,
                condition=Condition(False, frozenset({"C2"})),
            ),
            OFF,
            315,
        ),
    ],
)
def test_effort_counts_power_connectors_and_parts(engine, test, present, seconds):
    assert effort(engine.dictionary.tree.profile, test, present) == seconds


@pytest.mark.parametrize(("name", "seconds"), [("X3", 90), ("FL1", 300), ("N1", 45), ("J77", 300)])
def test_effort_goes_by_what_a_part_is_not_by_the_letters_of_its_name(engine, name, seconds):
    profile = engine.dictionary.tree.profile
    made = replace(
        profile,
        power=(
            *profile.power,
            Pin(id="X3.1", from_="raw", to="x"),
            FuseBlock(id="N1", from_="x", to="y", rating=FuseRating.parse("T1A")),
            Reservoir(id="FL1", net="y", value=1e-3),
        ),
    )
    assert change_s(made, name) == seconds


@settings(max_examples=25, deadline=None)
@given(data=st.data())
def test_no_test_promises_more_than_is_left(engine, data):
    """After any readings the ranking holds the bound and is sorted by bits a second."""
    posterior = start(engine.dictionary)
    menu = list(engine.menu.plain())
    ranges = {"drop": (0.0, 200.0), "amps": (0.0, 5.0), "look": (0.0, 1.5)}
    ranges |= {"hertz": (1.0, 1000.0), **dict.fromkeys(("wiggle", "cool", "heat"), (0.0, 1.0))}
    ranges |= {"ac": (0.0, 150.0), "tone": (0.0, 1.0), "dc": (0.0, 200.0), "ohm": (0.0, 1e6)}
    ranges |= {"farads": (0.0, 0.1), "esr": (0.0, 1e3)}
    for test in data.draw(st.lists(st.sampled_from(menu), max_size=4, unique=True)):
        value = data.draw(st.floats(*ranges[test.kind]))
        posterior = observe(posterior, test, scaled(test.kind, value))
    present = data.draw(st.sampled_from([LIVE, OFF, Condition(False, frozenset({"J3"}))]))
    ranking = engine.ranker.rank(posterior, present, is_warm=data.draw(st.booleans()))
    assert all(0 <= p.bits <= ranking.entropy + 1e-6 for p in ranking.proposals)
    odds = posterior.presence.shares.sum(axis=1)
    for p in ranking.proposals:
        assert p.bits <= engine.ranker._bound(p.test.part, odds) + 1e-6, "or it is never weighed"
    focus = engine.ranker._focus(odds)
    rates = [p.rate * (1.0 if p.test.part in focus else ASIDE) for p in ranking.proposals]
    assert rates == sorted(rates, reverse=True)
    seen = {p.test.name for p in ranking.proposals} & set(posterior.seen)
    assert all(not name.startswith("tone") for name in seen), "to read again is a test, not to tone"
    assert 0 <= ranking.left_out <= 1


def test_the_next_test_splits_what_is_left(engine):
    """With only the contact and the fuse side left, the point between them is worth most."""
    weighed = engine.weigh(Facts(clues=clues("dc logic5 5.05", "dc lamp_drv 0.1"), is_powered=True))
    first = engine.rank(weighed).proposals[0]
    assert first.test.target in {"ac_lamp", "lamp18", "sec_lamp"}
    assert first.bits > 0.5


@pytest.mark.parametrize(
    ("written", "lifted"),
    [
        pytest.param(["dc logic5 0.4"], set(), id="no-short-known"),
        pytest.param(["ohm logic5 0.6", "ohm logic5 50 without J6"], {"C203"}, id="one-of-two-that-look-alike"),
        pytest.param(["ohm logic5 0.6", "ohm drv5 0.6 without J6", "ohm drv5 115 without J6 C203"], set(),
                     id="nothing-left-to-split"),
    ],
)  # fmt: skip
def test_parts_are_lifted_only_on_the_hunt_for_a_short(engine, written, lifted):
    out = frozenset({"J6"}) if len(written) > 1 else frozenset()
    weighed = engine.weigh(Facts(clues=clues(*written), out=out))
    found = engine.rank_lifts(weighed).proposals if engine.lifts(weighed) else ()
    assert {n for p in found if p.bits > 0.2 for n in p.test.condition.out - out} == lifted


def test_the_short_hunt_pulls_connectors_before_it_lifts_parts(engine):
    """By odds and effort: the two connectors split four shorts, and cost a third of a leg."""
    weighed = engine.weigh(Facts(clues=clues("dc logic5 0.4", "ohm logic5 0.6")))
    pulled = [p for p in engine.rank(weighed).proposals if p.test.condition.out]
    assert pulled[0].test.condition.out <= {"J2", "J6"}
    assert len(pulled[0].test.condition.out) == 1
    assert pulled[0].bits > 0.8


def test_building_can_be_stopped(orrery):
    seen: list[float] = []
    tree = compile_tree(orrery)
    assert build_dictionary(tree, progress=lambda s: seen.append(s) or s < 0.5) is None
    assert seen[-1] < 1.0


def test_a_case_that_was_not_solved_is_counted_and_says_nothing(engine):
    """Its fault keeps its odds, whatever is read; and the count of lost cases is told."""
    book = engine.dictionary
    answers = dict(book.answers)
    found = answers[1, LIVE]
    broken = found.plain.has_converged.copy()
    broken[3] = False
    answers[1, LIVE] = replace(found, plain=replace(found.plain, has_converged=broken))
    worse = replace(book, answers=answers, _predicted={}, _reach=[])
    assert (worse.lost - book.lost, worse.cases) == (broken.shape[1], book.cases)
    test = Test(kind=TestKind.DC, target="lamp18", part=1, seconds=8)
    index = worse.split(1)[1][3]
    unknown = [observe(start(worse), test, v).unknown - start(worse).unknown for v in (0.0, 17.7)]
    moved = [
        observe(start(worse), test, v).weights[index] - start(worse).weights[index]
        for v in (0.0, 17.7)
    ]
    for shift, nowhere in zip(moved, unknown, strict=True):
        np.testing.assert_allclose(shift, nowhere)


def test_a_generated_board_is_solved_without_losing_a_case():
    dictionary = build_dictionary(compile_tree(generated_profile(4, seed=1)))
    assert dictionary.lost == 0
    assert dictionary.tree.net_count >= 24
    assert len(dictionary.faults) > 100


def test_a_reading_far_from_everything_is_a_slip_not_a_proof():
    """ln L never falls below ln(1 %) and the slip's density: by hand, −3·ln(1 + z²/5) would be −78."""
    mean, width = np.array([[5.0, 5.01]]), np.array([[0.05, 0.05]])
    slip = Slip(density=-3.0, chance=float(np.log(0.01)))
    far = log_likelihood(1e6, mean, width, slip)
    assert far == pytest.approx(np.full((1, 2), -3.0 + np.log(0.01)), abs=1e-6)
    assert (log_likelihood(5.0, mean, width, slip) > 1.0).all()


def test_leads_in_the_air_are_the_commonest_slip_and_who_reads_twice_seldom_slips_twice(engine):
    prediction = engine.dictionary.predict(
        Test(kind=TestKind.DC, target="lamp18", part=1, seconds=8)
    )
    nothing, some = (Slip.of(v, prediction) for v in (0.0, 11.0))
    assert nothing.density > some.density + 2
    assert Slip.of(0.0, prediction, 2).chance == pytest.approx(2 * np.log(0.01))


def test_a_slip_may_show_another_place(engine):
    """5 V at the lamps is what the logic has: a wrong place explains it, as none does 11 V."""
    test = Test(kind=TestKind.DC, target="lamp18", part=1, seconds=8)
    prediction, places = engine.dictionary.predict(test), engine.dictionary.places(test)
    there, nowhere = (Slip.of(v, prediction, 1, places) for v in (5.05, 25.0))
    assert there.density > nowhere.density + 1.5
    assert len(places) == engine.dictionary.tree.net_count - 1, "its own place is none of them"


@pytest.mark.parametrize(("going", "spread"), [(0.0, 0.3), (0.6, 0.3), (0.95, 0.1), (-0.5, 0.2)])
def test_an_earlier_reading_shifts_this_one_as_two_gaussians_do(going, spread):
    """The mean and width of the second given the first, from their covariances by hand."""
    first = predicted_as([spread, 0.0], alone=0.05)
    second = predicted_as([going * 0.2, np.sqrt(1 - going**2) * 0.2], alone=0.08)
    missed = 1.5 * spread
    mean, width = Memory.of([(first, 5.0 + missed)]).own_of(second)
    total = spread**2 + 0.05**2
    both = going * spread * 0.2
    assert mean == pytest.approx(np.full_like(mean, 5.0 + both / total * missed))
    assert width == pytest.approx(np.full_like(width, np.sqrt(0.04 + 0.08**2 - both**2 / total)))


def predicted_as(parts: list[float], *, alone: float) -> Prediction:
    """Return a prediction of 5 V whatever the state, with some parts of its spread."""
    own, each = np.full((1, STATES), 5.0), np.array(parts)
    return Prediction(
        own, np.broadcast_to(each, (1, STATES, 2)), own[0], each,
        np.full((1, STATES), alone), np.full(STATES, alone),
    )  # fmt: skip


@given(st.lists(st.floats(0, 50), min_size=1, max_size=5))
def test_several_faults_are_added_up_as_every_subset_would_be(sums):
    """Against the sum over all subsets of one, two and three parts, by brute force."""
    states = len(MAINS)
    weights = np.full((len(sums) + 1, STATES), -np.inf)
    for row, each in enumerate(sums):
        weights[row, states * 3 : states * 4] = np.log(each / 1.0 + 1e-300)
    sound = np.full(STATES, -np.inf)
    sound[:states] = 0.0
    weights[-1] = sound + np.log(0.5)
    found = presence(weights, sound, -np.inf, tuple((i,) for i in range(len(sums))))
    cases = {(): 0.5}
    for count, prior in ((1, ONE), (2, TWO), (3, THREE)):
        for chosen in combinations(range(len(sums)), count):
            cases[chosen] = prior * float(np.prod([sums[i] for i in chosen]))
    whole = sum(cases.values())
    for fault in range(len(sums)):
        with_it = sum(mass for chosen, mass in cases.items() if fault in chosen)
        assert found.by_state[fault].sum() == pytest.approx(with_it / whole, abs=1e-9)
    several = sum(mass for chosen, mass in cases.items() if len(chosen) > 1)
    assert found.several == pytest.approx(several / whole, abs=1e-9)


@pytest.mark.parametrize(
    ("written", "both"),
    [
        pytest.param(["dc lamp18 0", "ac sec_lamp 15.8", "dc disp140 0", "dc raw_disp 166"],
                     ({"F4", "BR2", "C2", "LAMPS"}, {"U2", "DISP"}), id="two-supplies"),
        pytest.param(["dc logic5 0", "dc raw_logic 11.5", "dc lamp18 12.0", "ac lamp18 4.0"],
                     ({"U1"}, {"C2"}), id="a-dead-regulator-and-a-dried-reservoir"),
    ],
)  # fmt: skip
def test_two_faults_in_two_supplies_are_both_found(engine, written, both):
    # Each was read twice: a slip is out of the question.
    sure = tuple(replace(clue, times=2) for clue in clues(*written))
    weighed = engine.weigh(Facts(clues=sure))
    odds, unknown = weighed.posterior.odds()
    for parts in both:
        inside = [i for i, f in enumerate(engine.dictionary.faults) if f.block in parts]
        assert odds[inside].sum() > 0.8, parts
    assert weighed.posterior.presence.several > 0.8
    assert unknown < 0.2


def test_ohms_and_alternating_volts_are_compared_by_decades_from_their_floors():
    """By hand: log10(0 + 0.3) = −0.523, log10(0.7 + 0.3) = 0; log10(0.097 + 0.003) = −1."""
    assert scaled("ohm", 0.0) == pytest.approx(-0.5229, abs=1e-4)
    assert scaled("ohm", 0.7) == pytest.approx(0.0, abs=1e-9)
    assert scaled("ac", 0.097) == pytest.approx(-1.0, abs=1e-9)


@pytest.mark.parametrize(
    ("word", "kind", "times"),
    [
        ("hum", FaultKind.DRIED_OUT, 5.0),
        ("hum", FaultKind.ONE_LEG_OPEN, 4.0),
        ("hum", FaultKind.ONE_DIODE_OPEN, 4.0),
        ("blows", FaultKind.SHORTED, 10.0),
        ("blows", FaultKind.LEAKY, 2.0),
        ("smoke", FaultKind.SHORTED, 5.0),
        ("smoke", FaultKind.LEAKY, 2.0),
        ("smell", FaultKind.SHORTED, 4.0),
        ("smell", FaultKind.LEAKY, 3.0),
        ("smell", FaultKind.RESISTIVE, 2.0),
        ("burnt", FaultKind.SHORTED, 4.0),
        ("burnt", FaultKind.RESISTIVE, 3.0),
        ("dim", FaultKind.RESISTIVE, 3.0),
        ("dim", FaultKind.DRIED_OUT, 2.0),
        ("dim", FaultKind.LEAKY, 2.0),
        ("dim", FaultKind.LOW, 3.0),
        ("dim", FaultKind.ONE_LEG_OPEN, 2.0),
        ("flicker", FaultKind.RESISTIVE, 4.0),
        ("flicker", FaultKind.ONE_LEG_OPEN, 2.0),
        ("warm", FaultKind.DRIED_OUT, 3.0),
        ("warm", FaultKind.LEAKY, 3.0),
        ("warm", FaultKind.RESISTIVE, 2.0),
        ("knock", FaultKind.RESISTIVE, 4.0),
        ("knock", FaultKind.OPEN, 1.5),
        ("reset", FaultKind.RESISTIVE, 3.0),
        ("reset", FaultKind.LOW, 3.0),
        ("reset", FaultKind.DRIED_OUT, 2.0),
        ("hum", FaultKind.OPEN, 1.0),
    ],
)
def test_a_word_of_the_complaint_weighs_as_much_as_the_model_says(engine, word, kind, times):
    factors = hint_factors(engine.dictionary, word)
    of_kind = [x for f, x in zip(engine.dictionary.faults, factors, strict=True) if f.kind is kind]
    assert set(of_kind) <= {times}
    assert times in of_kind or kind is FaultKind.ONE_DIODE_OPEN


def test_loads_that_are_said_to_be_dead_or_to_work_weigh_by_hand(engine):
    """With no mains every load is dead: each named one gives ln 0.65, each other ln 0.35."""
    before = start(engine.dictionary)
    after = weigh_dead_loads(before, frozenset({"LAMPS"}), named=0.65, silent=0.06)
    names = [f.name for f in engine.dictionary.faults]
    parts = engine.dictionary.tree.parts
    loads = sum(isinstance(b, Load) for p in parts for b in p.blocks)
    added = (after.weights - before.weights).mean(axis=1)
    assert added[names.index("X1: no mains")] == pytest.approx(
        np.log(0.65) + (loads - 1) * np.log(0.35)
    )
    assert added[-1] == pytest.approx(np.log(0.06) + (loads - 1) * np.log(0.94))


def test_a_tone_test_before_the_transformer_tells_its_own_fuse_alone(engine):
    posterior = engine.weigh(Facts(clues=clues("dc logic5 0", "dc lamp18 0"))).posterior
    odds, _ = posterior.odds()
    names = [f.name for f in engine.dictionary.faults]
    tone = next(t for t in engine.menu.plain() if t.name == "tone F1")
    by_kind = {b.kind: b for b in branches(posterior, engine.groups, tone)}
    own = odds[names.index("F1: open")]
    assert by_kind[BranchKind.ABOVE].share == pytest.approx(own, rel=0.1)
    assert sum(b.share for b in by_kind.values()) == pytest.approx(1.0)


def test_odds_of_a_block_are_those_of_its_faults_that_can_be_measured(engine):
    odds, _ = start(engine.dictionary).odds()
    sound = engine.groups[-1]
    found = odds_by_block(engine, odds, sound)
    for block in ("COILS", "F4", "U1"):
        every = zip(engine.dictionary.faults, engine.groups, odds, strict=True)
        own = [o for f, group, o in every if f.block == block and group != sound]
        assert found[block] == pytest.approx(sum(own))
    assert "" not in found


def test_a_second_fault_in_another_supply_is_no_doubt_about_the_first(engine):
    """Each supply is held against its own fault: two bad ones fit, a reading that is odd does not."""
    sure = tuple(
        replace(clue, times=2)
        for clue in clues("dc lamp18 0", "ac sec_lamp 15.8", "dc disp140 0", "dc raw_disp 166")
    )
    posterior = engine.weigh(Facts(clues=sure)).posterior
    names = [f.name for f in engine.dictionary.faults]
    fit = fit_of(posterior, names.index("F4: open"))
    assert abs(fit.miss) < 3
    assert fit.chance > 0.05
    odd = engine.weigh(
        Facts(clues=clues("dc lamp18 0", "ac sec_lamp 15.8", "dc coil32 26"))
    ).posterior
    assert abs(fit_of(odd, names.index("F4: open")).miss) > 3


def test_a_reading_as_sound_boards_have_it_speaks_against_none():
    """Every point as drawn, though the drawing and the model disagree: nothing is accused."""
    profile = ProfileLibrary().get("ardvane-cinder-dunes")
    engine = Engine.of(build_dictionary(compile_tree(profile)), {})
    good = [f"dc {p.net} {p.nominal}" for p in profile.test_points if p.mode == "dc V"]
    low = [text if "rawa" not in text else "dc rawa 9.5" for text in good]
    odds, sick = (
        engine.weigh(Facts(clues=clues(*each))).posterior.odds()[0] for each in (good, low)
    )
    names = [f.name for f in engine.dictionary.faults]
    dried = names.index("C8: dried out")
    assert odds[dried] < 0.03
    assert odds[dried] < sick[dried], "outside the drawing's limits it is what it was"
    assert odds[-1] == odds.max(), "nothing wrong comes first"
    high = [text if "rawa" not in text else "dc rawa 15.1" for text in good]
    weighed = engine.weigh(Facts(clues=clues(*high)))
    fit = fit_of(weighed.posterior, len(names) - 1)
    assert abs(fit.miss) < DOUBT_MISS, "and it is no reason for doubt"


def test_what_was_made_good_is_taken_back_when_the_part_turns_out_bad(engine):
    """In which order a usual and an odd reading came does not matter."""
    first, second = "dc raw_logic 11.5", "dc logic5 0"
    one, other = (
        engine.weigh(Facts(clues=clues(*order))).posterior.odds()[0]
        for order in ((first, second), (second, first))
    )
    assert one == pytest.approx(other, abs=0.01)


@pytest.mark.parametrize(
    ("odds", "unknown", "groups", "kept", "left"),
    [
        # A suspect that stands alone is never as good as sure; what is one of many loses next to nothing.
        pytest.param(
            [0.99, 0.01], 0.0, (1, 0), [0.99 * (1 - 0.02 * 0.99), 0.01], 0.0196, id="sure"
        ),
        pytest.param(
            [0.1, 0.1, 0.8], 0.0, (1, 2, 0), [0.0998, 0.0998, 0.8], 0.0002, id="one-of-many"
        ),
        # Members of one group stand and fall together.
        pytest.param([0.5, 0.4, 0.1], 0.0, (1, 1, 0), [0.491, 0.3928, 0.1], 0.0162, id="one-group"),
    ],
)
def test_a_share_is_held_back_of_what_stands_alone(odds, unknown, groups, kept, left):
    found, shares, rest = never_sure(np.array(odds), unknown, groups)
    assert found == pytest.approx(kept)
    assert rest == pytest.approx(left, abs=1e-4)
    assert shares[-1] == pytest.approx(rest)
    assert shares[0] == pytest.approx(odds[-1]), "nothing wrong keeps all"


def test_where_nothing_on_the_list_explains_it_the_next_test_is_still_named():
    """Two converters that pass their input, one behind the other: no single fault gives 21.8 V at a 9 V rail."""
    profile = ProfileLibrary().get("larkmoor-24")
    engine = Engine.of(build_dictionary(compile_tree(profile)), {})
    seen = tuple(replace(clue, times=2) for clue in clues("dc line9 21.8"))
    insight = insight_of(engine, profile, Facts(clues=seen, is_powered=True))
    assert insight.unknown > 0.5
    assert insight.called is None
    assert not insight.is_spent
    assert max(t.bits for t in insight.tries) > 0.3

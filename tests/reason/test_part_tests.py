"""Both leads on one part, currents and indicators as evidence."""

import pytest
from msgspec.structs import replace

from bench_lamp.board import ProfileLibrary
from bench_lamp.board.condition import TestKind
from bench_lamp.circuit import compile_tree
from bench_lamp.reason.power.dictionary import build_dictionary
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.power.strangeness import pairs_where_odd
from bench_lamp.reason.values.clues import Facts

from .conftest import clues


@pytest.fixture(scope="module")
def engines():
    library = ProfileLibrary()
    names = ("tessenby-orrery-nights", "varnholt-vx12")
    return {n: Engine.of(build_dictionary(compile_tree(library.get(n))), {}) for n in names}


@pytest.mark.parametrize(
    ("name", "written", "suspects", "least"),
    [
        # The drop over a contact speaks for the contact alone, whatever the rails are like.
        pytest.param("tessenby-orrery-nights", ["dc lamp_drv 16.2", "drop J3.5 1.4"], ("J3.5: resistive",), 0.9,
                     id="a-contact-that-drops"),
        pytest.param("tessenby-orrery-nights", ["dc lamp18 16.4", "drop F4 0.9"], ("F4: resistive",), 0.75,
                     id="a-holder-that-drops"),
        pytest.param("varnholt-vx12", ["dc audio13 12.2", "drop J1.3 0.75"], ("J1.3: resistive",), 0.9,
                     id="a-contact-on-a-dc-board"),
        pytest.param("varnholt-vx12", ["dc sw13 0.0", "drop D1 13.8"], ("D1: open",), 0.9, id="an-open-diode"),
        # A load is told by what flows to it, by a clamp and on AC as well; a capacitor by its own meter.
        pytest.param("tessenby-orrery-nights", ["dc lamp18 18.6", "amps J3.5 0.7"], ("LAMPS: draws too little",), 0.65,
                     id="a-load-that-draws-too-little"),
        pytest.param("tessenby-orrery-nights", ["ac light7 7.0", "amps J4.1 11.0"], ("LIGHTS: draws too much",), 0.75,
                     id="a-load-on-ac-that-draws-too-much"),
        pytest.param("varnholt-vx12", ["dc sw13 13.2", "farads C1 0.0003"], ("C1: dried out",), 0.75,
                     id="a-dry-capacitor-behind-a-battery"),
        pytest.param("varnholt-vx12", ["dc sw13 13.2", "esr C1 1.1"], ("C1: high ESR",), 0.75,
                     id="a-lossy-capacitor-behind-a-battery"),
        # An LED that is dark on a good rail is itself bad; on a dead one it says what the rail says.
        pytest.param("varnholt-vx12", ["look D9 0", "dc log5 5.0"], ("D9: open",), 0.55, id="the-led-itself"),
        pytest.param("varnholt-vx12", ["look D9 0", "dc rf9 9.0", "dc log5 0.02"],
                     ("U2: dead", "U2: passes its input", "DISP: shorted"), 0.7, id="a-dark-led-on-a-dead-rail"),
        # The supply's display: nothing flows where nothing is fed.
        pytest.param("varnholt-vx12", ["amps X1 0.0", "dc lead 13.8"], ("F1: open", "D1: open", "S1: open"), 0.6,
                     id="no-current"),
    ],
)  # fmt: skip
def test_what_is_read_of_a_part_points_at_the_fault(
    engines, odds_of, name, written, suspects, least
):
    assert odds_of(engines[name].weigh(Facts(clues=clues(*written))), *suspects) >= least


def test_a_good_drop_clears_a_contact(engines, odds_of):
    engine = engines["tessenby-orrery-nights"]
    before = engine.weigh(Facts(clues=clues("dc lamp18 18.0", "dc lamp_drv 16.4")))
    after = engine.weigh(Facts(clues=clues("dc lamp18 18.0", "dc lamp_drv 16.4", "drop J3.5 0.02")))
    assert odds_of(after, "J3.5: resistive") < 0.2 * odds_of(before, "J3.5: resistive")


def test_lit_for_a_moment_speaks_for_what_pulls_a_supply_down(engines):
    engine = engines["varnholt-vx12"]
    faults = engine.dictionary.faults
    pulled, steady = (
        sum(
            odds
            for odds, f in zip(engine.weigh(Facts(clues=clues(f"look D9 {look}"))).posterior.odds()[0], faults,
                               strict=True)
            if f.kind.is_short
        )
        for look in (-1, 0)
    )  # fmt: skip
    assert pulled > 1.5 * steady


def test_each_such_test_is_on_the_menu_once_and_only_where_it_can_be_done(engines):
    menu = [t for t in engines["varnholt-vx12"].menu.plain() if t.kind.is_on_part]
    by_kind = {k: {t.target for t in menu if t.kind == k} for k in TestKind}
    assert by_kind[TestKind.LOOK] == {"D9"}
    assert by_kind[TestKind.AMPS] == {"X1", "F1", "S1", "J1.3", "J1.5", "J2.1", "J2.4", "J3.2"}
    assert {"F1", "D1", "S1", "J1.3", "U1"} <= by_kind[TestKind.DROP]
    assert len({t.name for t in menu}) == len(menu)


@pytest.mark.parametrize("written", ["drop LAMP 1.0", "look F1 0", "amps U1 0.3", "drop nowhere 1"])
def test_what_the_tree_cannot_say_is_left_aside(engines, written):
    weighed = engines["varnholt-vx12"].weigh(Facts(clues=clues(written)))
    assert weighed.taken == ()


@pytest.mark.parametrize(
    ("written", "suspects", "least"),
    [
        # The same ripple, once in a period of the mains: a leg; twice: the capacitor.
        pytest.param(["ac lamp18 2.2", "hertz lamp18 50"], ("BR2: one leg open",), 0.55, id="once-a-leg"),
        pytest.param(["ac lamp18 3.0", "hertz lamp18 100"], ("C2: dried out", "C2: high ESR"), 0.8,
                     id="twice-the-capacitor"),
        # A contact that changes when it is moved, and one that does not.
        pytest.param(["dc lamp_drv 14.5", "wiggle J3.5 1"], ("J3.5: resistive", "J3.5: open"), 0.45, id="moved"),
        # A rail that comes back when its regulator is cooled, and when its capacitor is warmed.
        pytest.param(["dc logic5 4.2", "cool U1 1"], ("U1: dead", "U1: low"), 0.7, id="cooled"),
        pytest.param(["ac lamp18 2.0", "heat C2 1"], ("C2: dried out", "C2: high ESR"), 0.7, id="warmed"),
    ],
)  # fmt: skip
def test_plain_tests_tell_one_thing_from_another(engines, odds_of, written, suspects, least):
    engine = engines["tessenby-orrery-nights"]
    assert odds_of(engine.weigh(Facts(clues=clues(*written))), *suspects) >= least


def test_ripple_is_counted_behind_two_half_waves_only_and_on_60_hertz_at_120(engines):
    engine = engines["tessenby-orrery-nights"]
    counted = {t.target for t in engine.menu.plain() if t.kind == TestKind.HERTZ}
    assert "lamp18" in counted
    assert not counted & {"lamp_drv", "ac_lamp", "logic5"}
    rectified = {
        b.to for b in engine.dictionary.tree.profile.power if b.kind in {"bridge", "full-wave"}
    }
    assert counted == rectified


@pytest.mark.parametrize(
    ("reading", "part", "fault"),
    [
        ("dc logic5 4.2", "U1", ("U1: low", "U1: dead")),
        ("ac lamp18 2.0", "C2", ("C2: dried out", "C2: high ESR")),
        ("ac lamp18 2.0", "BR2", ("BR2: one leg open",)),
    ],
)
@pytest.mark.parametrize("kind", ["cool", "heat"])
def test_what_changes_when_it_is_cooled_or_heated_is_likelier_bad(
    engines, odds_of, kind, reading, part, fault
):
    """In three of five it shows where heat is the fault: so it weighs ten times for, and half against."""
    engine = engines["tessenby-orrery-nights"]
    before, same, turns = (
        odds_of(engine.weigh(Facts(clues=clues(reading, *more))), *fault)
        for more in ((), (f"{kind} {part} 0",), (f"{kind} {part} 1",))
    )
    odds = [p / (1 - p) for p in (same, before, turns)]
    assert 0.2 < odds[0] / odds[1] < 0.9
    assert 3.0 < odds[2] / odds[1] < 40.0


@pytest.mark.parametrize(
    ("complaint", "offered"), [("resets when warm", True), ("resets", False), ("", False)]
)
def test_parts_are_cooled_only_where_it_fails_when_it_is_warm(engines, complaint, offered):
    engine = engines["tessenby-orrery-nights"]
    facts = Facts(
        complaint=complaint, clues=clues("dc logic5 4.6", "dc raw_logic 10.3"), is_powered=True
    )
    found = {p.test.kind for p in engine.rank(engine.weigh(facts)).proposals}
    assert bool(found & {TestKind.COOL, TestKind.HEAT}) == offered


def test_a_contact_that_stays_the_same_when_moved_is_likelier_good(engines, odds_of):
    engine = engines["tessenby-orrery-nights"]
    before = engine.weigh(Facts(clues=clues("dc lamp_drv 14.5")))
    after = engine.weigh(Facts(clues=clues("dc lamp_drv 14.5", "wiggle J3.5 0")))
    ratio = odds_of(after, "J3.5: resistive") / odds_of(before, "J3.5: resistive")
    assert 0.1 < ratio < 0.95, "one bad contact in five does not show"


def test_two_faults_of_one_part_cost_no_more_than_the_slips_they_stand_for(engines, odds_of):
    """No 9 V, and 1.0 A where 0.6 A is left to draw: the regulator, and something that draws too much besides.

    A short with a slip at the 9 V, or a cold net of 303 Ω that is shorted, explains less than it seems to.
    """
    engine = engines["varnholt-vx12"]
    written = clues("ohm osc9 303.4", "dc osc9 0.0001", "amps X1 1.02")
    seen = tuple(replace(c, times=2) for c in written)
    weighed = engine.weigh(Facts(clues=seen))
    pairs = pairs_where_odd(weighed.posterior, weighed.taken)
    assert pairs
    found = replace(weighed, posterior=replace(weighed.posterior, pairs=pairs, _known={}))
    assert odds_of(found, "U1: dead") > 0.8
    assert odds_of(found, "DISP: shorted") < 0.5
    assert odds_of(found, "C9: shorted") < 0.1

"""Both leads on one part, currents and indicators as evidence."""

import pytest

from bench_lamp.board import ProfileLibrary
from bench_lamp.board.condition import TestKind
from bench_lamp.circuit import compile_tree
from bench_lamp.reason.power.dictionary import build_dictionary
from bench_lamp.reason.power.engine import Engine
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
    assert by_kind[TestKind.AMPS] == {"X1"}
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
        pytest.param(["ac lamp18 3.0", "hertz lamp18 50"], ("BR2: one leg open",), 0.55, id="once-a-leg"),
        pytest.param(["ac lamp18 3.0", "hertz lamp18 100"], ("C2: dried out", "C2: high ESR"), 0.8,
                     id="twice-the-capacitor"),
        # A contact that changes when it is moved, and one that does not.
        pytest.param(["dc lamp_drv 14.5", "wiggle J3.5 1"], ("J3.5: resistive", "J3.5: open"), 0.45, id="moved"),
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


def test_a_contact_that_stays_the_same_when_moved_is_likelier_good(engines, odds_of):
    engine = engines["tessenby-orrery-nights"]
    before = engine.weigh(Facts(clues=clues("dc lamp_drv 14.5")))
    after = engine.weigh(Facts(clues=clues("dc lamp_drv 14.5", "wiggle J3.5 0")))
    ratio = odds_of(after, "J3.5: resistive") / odds_of(before, "J3.5: resistive")
    assert 0.1 < ratio < 0.95, "one bad contact in five does not show"

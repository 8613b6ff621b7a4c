"""What the engine says beside the odds: outcomes, weights, misfits; and the kept dictionary."""

import numpy as np
import pytest

from bench_lamp.bench.simulated import Truth, draw_truth
from bench_lamp.board.condition import TestKind
from bench_lamp.circuit import compile_tree
from bench_lamp.instrument import Request
from bench_lamp.reason.power import dictionary_cache as kept
from bench_lamp.reason.power.complaint import read_complaint, weigh_full_complaint
from bench_lamp.reason.power.dictionary_cache import cached_dictionary
from bench_lamp.reason.power.for_and_against import EachAlone, weigh_group
from bench_lamp.reason.power.history import power_history
from bench_lamp.reason.power.outcomes import branches
from bench_lamp.reason.power.posterior import observe, start
from bench_lamp.reason.power.prediction import scaled
from bench_lamp.reason.power.shares import group_odds
from bench_lamp.reason.power.strangeness import Strangeness, strangeness
from bench_lamp.reason.values.branch import ELSEWHERE, branch_of
from bench_lamp.reason.values.clues import Facts
from bench_lamp.reason.values.tests import LIVE, OFF, Test

from .conftest import clues

ABSENT = clues("dc logic5 5.08", "dc lamp18 0.1")


def group_of(engine, name: str) -> int:
    return next(
        g for f, g in zip(engine.dictionary.faults, engine.groups, strict=True) if f.name == name
    )


def weights_of(engine, weighed, name: str):
    said = EachAlone.of(engine, weighed)
    return weigh_group(engine, weighed, group_of(engine, name), said)


def named(engine, branch) -> set[str]:
    inside = {g for g, share in branch.groups if share > 0.05}
    return {
        f.name for f, g in zip(engine.dictionary.faults, engine.groups, strict=True) if g in inside
    }


def test_the_outcomes_of_a_test_say_what_each_would_mean(engine):
    """Before F4: the winding's volts clear it, and nothing there leaves only the winding."""
    weighed = engine.weigh(Facts(clues=ABSENT))
    test = Test(kind=TestKind("ac"), target="sec_lamp", part=1, seconds=12)
    found = {b.kind: b for b in branches(weighed.posterior, engine.groups, test)}
    assert named(engine, found["nothing"]) <= {
        "T1: winding sec_lamp open",
        "T1: winding sec_lamp resistive",
    }
    assert "F4: open" in named(engine, found["sound"])
    assert found["sound"].low < 15.8 < found["sound"].high
    assert sum(b.share for b in found.values()) == pytest.approx(1.0, abs=0.03)
    assert branch_of(tuple(found.values()), 15.0).kind == "sound"
    assert branch_of(tuple(found.values()), 0.02).kind == "nothing"


def test_a_contact_that_may_lose_little_or_much_stands_between(engine):
    weighed = engine.weigh(Facts(clues=clues("dc lamp18 17.9"), seen=(("J3", "corroded"),)))
    test = Test(kind=TestKind("dc"), target="lamp_drv", part=1, seconds=10)
    found = {b.kind: b for b in branches(weighed.posterior, engine.groups, test)}
    assert "J3.5: resistive" in named(engine, found["between"])
    assert ELSEWHERE in {g for g, _ in found["sound"].groups}
    assert 1 < found["between"].low < found["between"].high < found["sound"].low


def test_cold_ohms_below_the_limit_of_a_short_are_an_outcome_of_their_own(engine):
    """12 Ω, whatever the rail's own ohms are: a shorted part stands apart from a heavy load."""
    weighed = engine.weigh(Facts(clues=clues("dc logic5 0.2")))
    number = engine.dictionary.tree.part_of("logic5")
    test = Test(kind=TestKind("ohm"), target="logic5", part=number, seconds=10, condition=OFF)
    found = {b.kind: b for b in branches(weighed.posterior, engine.groups, test)}
    assert found["nothing"].high < min(12.0, found["sound"].low)
    assert found["nothing"].high > 0.06 * found["sound"].high


def test_weights_tell_for_from_against(engine):
    weighed = engine.weigh(
        Facts(clues=clues("dc lamp18 0.1", "tone F4 0"), seen=(("J3", "corroded"),))
    )
    fuse = {w.text: w for w in weights_of(engine, weighed, "F4: open")}
    assert fuse["dc lamp18 0.1"].bits > 1
    assert fuse["dc lamp18 0.1"].expects == pytest.approx(0.0, abs=0.05)
    assert fuse["tone F4 0"].bits < -1
    contact = {w.text: w for w in weights_of(engine, weighed, "J3.5: open")}
    assert contact["seen: J3 corroded"].bits > 1
    winding = {w.text: w for w in weights_of(engine, weighed, "T1: winding sec_lamp open")}
    assert "tone F4 0" not in winding


def test_the_reading_that_fits_worst_is_named(engine):
    names = [f.name for f in engine.dictionary.faults]

    def strange(*written, fault):
        found = engine.weigh(Facts(clues=(*ABSENT, *clues(*written))))
        return strangeness(found.posterior, found.taken, names.index(fault))

    assert strange(fault="F4: open") == Strangeness()
    odd = strange("dc coil32 21.0", fault="F4: open")
    clue, expected = odd.worst
    assert clue.target == "coil32"
    assert expected == pytest.approx(35.5, abs=1.0)
    assert odd.is_strange
    assert odd.again.target == "coil32", "it is read once more before anything is called"
    clue, expected = strange(fault="F3: open").worst
    assert (clue.target, expected) == ("lamp18", pytest.approx(18.0, abs=1.0))


def test_what_the_customer_says_speaks_for_what_feeds_it(engine):
    weighed = engine.weigh(Facts(complaint="lamps dead"))
    said = {
        name: next(w.bits for w in weights_of(engine, weighed, name) if "customer" in w.text)
        for name in ("F4: open", "F3: open")
    }
    assert said["F4: open"] > 1 > 0 > said["F3: open"]


@pytest.mark.parametrize(
    ("text", "loads", "hints"),
    [
        ("half the lamps dead, then it resets", {"CPU", "LAMPS"}, ()),
        ("dead", {"CPU", "DRV", "LAMPS", "COILS", "LIGHTS", "DISP"}, ()),
        ("hums loudly when warm", set(), ("hum", "warm")),
        ("Scores dim; burnt smell", {"DISP"}, ("smell", "burnt", "dim")),
        ("lampshade lost", set(), ()),
        ("", set(), ()),
    ],
)
def test_what_is_heard_in_a_complaint(orrery, text, loads, hints):
    read = read_complaint(text, compile_tree(orrery))
    assert {load for load, _ in read.loads} == loads
    assert read.hints == hints


def test_a_cached_dictionary_answers_the_same_and_a_damaged_one_is_made_again(
    orrery, tmp_path, monkeypatch
):
    tree = compile_tree(orrery)
    made = cached_dictionary(tree, tmp_path)
    (place,) = tmp_path.glob("dictionary-*.npz")
    monkeypatch.setattr(kept, "build_dictionary", lambda *_, **__: pytest.fail("it was on disk"))
    again = cached_dictionary(tree, tmp_path)
    for number in range(len(tree.parts)):
        np.testing.assert_array_equal(
            made.answers[number, LIVE].graded.volts, again.answers[number, LIVE].graded.volts
        )
    monkeypatch.undo()
    for damage in (b"", b"PK\x03\x04 no archive", place.read_bytes()[:-400]):
        place.write_bytes(damage)
        assert cached_dictionary(tree, tmp_path).lost == 0
        assert place.stat().st_size > 10_000


def test_a_dictionary_without_a_folder_is_made_and_one_that_was_stopped_is_not_kept(
    orrery, tmp_path
):
    tree = compile_tree(orrery)
    assert cached_dictionary(tree, None).lost == 0
    assert cached_dictionary(tree, tmp_path, progress=lambda share: False) is None
    assert not list(tmp_path.iterdir())


def test_a_history_that_nobody_stops_has_a_moment_for_each_clue(engine):
    moments = power_history(engine, Facts(clues=ABSENT))
    assert len(moments) == 1 + len(ABSENT)
    assert power_history(engine, Facts(clues=ABSENT), go_on=lambda: False) == ()


def test_another_profile_has_another_place(orrery, tmp_path):
    from msgspec.structs import replace

    cached_dictionary(compile_tree(orrery), tmp_path)
    changed = tuple(replace(b, value=2 * b.value) if b.id == "C1" else b for b in orrery.power)
    cached_dictionary(compile_tree(replace(orrery, power=changed)), tmp_path)
    assert len(list(tmp_path.glob("dictionary-*.npz"))) == 2


def test_hunts_on_a_different_truth_are_short_and_mostly_right(engine):
    """Forty boards with wider tolerances, leaks and slips; the benchmark has the full table."""
    right = tests = 0
    for seed in range(40):
        board = draw_truth(engine.dictionary.tree, engine.dictionary.faults, 500 + seed, Truth())
        posterior, present = weigh_full_complaint(start(engine.dictionary), board.complaint()), LIVE
        for _ in range(20):
            if group_odds(posterior, engine.groups).max() >= 0.95:
                break
            proposals = engine.ranker.rank(posterior, present).proposals
            if not proposals:
                break
            test = proposals[0].test
            present = test.condition
            shown = board.read(Request(kind=test.kind, target=test.target, condition=present))
            posterior = observe(posterior, test, scaled(test.kind, shown.value))
            tests += 1
        true = engine.groups[engine.dictionary.faults.index(board.faults[0])]
        right += int(group_odds(posterior, engine.groups).argmax()) == true
    assert right >= 32
    assert tests / 40 < 8

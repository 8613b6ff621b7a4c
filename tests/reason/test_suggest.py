"""Suggestions by the fuse map and tree order: what comes first, and why."""

import pytest

from bench_lamp.board.blocks import Rectifier, block_outputs
from bench_lamp.reason.fuse_map.evidence import Evidence, PointFact
from bench_lamp.reason.fuse_map.suggest import suggestions

GOOD = {"A": 5.08, "B": 10.5, "E": 35.0, "G": 7.1, "H": 140.0}


def fact(volts: float, verdict: str = "within", noisy: bool | None = None) -> PointFact:
    return PointFact(verdict=verdict, volts=volts, is_noisy=noisy)


def evidence(*, parts=None, seen=None, **points: PointFact) -> Evidence:
    known = {name: fact(volts) for name, volts in GOOD.items()}
    return Evidence(points={**known, **points}, parts=parts or {}, seen=seen or {})


ABSENT = fact(0.1, "absent")


@pytest.mark.parametrize(
    ("found", "parts"),
    [
        pytest.param(evidence(), [], id="all-good-nothing-to-suspect"),
        pytest.param(evidence(C=ABSENT), ["F4", "BR2", "C2", "T1"], id="one-absent-its-fuse-first"),
        pytest.param(
            evidence(C=ABSENT, Q=fact(14.5)), ["BR2", "C2"], id="ac-behind-the-fuse-clears-it"
        ),
        pytest.param(evidence(C=ABSENT, Q=fact(0.0, "absent")), ["F4", "T1"], id="ac-absent-too"),
        pytest.param(
            evidence(C=ABSENT, D=ABSENT), ["F4", "BR2", "C2", "T1"], id="what-follows-adds-nothing"
        ),
        pytest.param(
            evidence(C=ABSENT, parts={"F4": "toned"}), ["BR2", "C2", "T1"], id="toned-fuse-is-out"
        ),
        pytest.param(
            evidence(C=ABSENT, parts={"F4": "replaced"}), ["BR2", "C2", "T1"], id="new-fuse-is-out"
        ),
        pytest.param(
            evidence(C=ABSENT, seen={"BR2": "burnt"}), ["BR2", "F4", "C2", "T1"], id="seen-leads"
        ),
        pytest.param(
            evidence(C=fact(18.0), D=fact(0.1, "absent")), ["J3.5"], id="lost-in-the-contact"
        ),
        pytest.param(evidence(L1=fact(4.5, "low")), ["J2.4"], id="low-at-the-board-only"),
        pytest.param(evidence(C=fact(14.0, "low")), ["BR2", "C2"], id="low-ripple-not-read"),
        pytest.param(
            evidence(C=fact(14.0, "low", noisy=True)), ["BR2", "C2"], id="low-with-ripple"
        ),
        pytest.param(evidence(A=fact(4.2, "low", noisy=False)), ["U1"], id="low-but-quiet"),
        pytest.param(
            evidence(A=fact(8.0, "high")), ["J2.4", "J6.2", "U1"], id="high-load-or-regulator"
        ),
        pytest.param(evidence(E=fact(41.0, "high")), ["J3.8"], id="high-unregulated"),
        pytest.param(evidence(C=fact(17.5, noisy=True)), ["BR2", "C2"], id="good-volts-but-noisy"),
        pytest.param(
            evidence(C=ABSENT, Q=fact(9.0, "low")), ["BR2", "C2"], id="any-volts-clear-it-if-absent"
        ),
        pytest.param(
            evidence(A=fact(4.2, "low", noisy=True)), [], id="good-volts-before-clear-a-noisy-one"
        ),
        pytest.param(
            evidence(A=fact(4.2, "low", noisy=True), B=fact(8.0, "low", noisy=True)),
            ["BR1", "C1"],
            id="low-volts-before-clear-nothing-of-a-noisy-one",
        ),
    ],
)
def test_what_is_suspected_and_in_which_order(orrery, found, parts):
    assert [s.part for s in suggestions(orrery, found)] == parts


def test_a_part_that_two_points_name_stands_under_the_first(orrery):
    """Unless a test confirmed it from the other."""
    noisy = fact(4.2, "low", noisy=True)
    found = suggestions(orrery, evidence(A=noisy, B=fact(8.0, "low", noisy=True)))
    assert {s.part: s.point for s in found}["C1"] == "A"


def test_everything_absent_is_before_the_transformer(orrery):
    found = Evidence(points=dict.fromkeys(("A", "B", "C"), ABSENT), parts={}, seen={})
    assert [s.part for s in suggestions(orrery, found)] == ["X1", "S1", "F1"]
    assert "all 3 points" in suggestions(orrery, found)[0].reason
    assert suggestions(orrery, found)[0].point == "A", "one that was read"


def test_a_set_fed_by_dc_is_suspected_from_its_plug_on(library):
    found = Evidence(points=dict.fromkeys(("P3", "P4", "P5"), ABSENT), parts={}, seen={})
    (first, *others) = suggestions(library.get("varnholt-vx12"), found)
    assert first.suspect == "X1 gives nothing: source, lead or plug"
    assert [s.suspect for s in others[:2]] == ["F1 open, or its holder", "D1 open or shorted"]


def test_two_absent_points_are_not_everything(orrery):
    found = Evidence(points=dict.fromkeys(("A", "C"), ABSENT), parts={}, seen={})
    assert {"F2", "F4"} <= {s.part for s in suggestions(orrery, found)}


def test_an_open_fuse_is_confirmed_and_leads(orrery):
    found = evidence(A=fact(8.0, "high"), C=ABSENT, parts={"F4": "open"})
    first = suggestions(orrery, found)[0]
    assert (first.part, first.is_confirmed) == ("F4", True)
    assert "open by continuity" in first.reason


@pytest.mark.parametrize(
    ("found", "part", "says", "test", "target"),
    [
        (evidence(C=ABSENT), "F4", "C is absent", "tone", "F4"),
        (evidence(C=ABSENT, Q=fact(14.5)), "BR2", "Q before it is there", "look", "BR2"),
        (
            evidence(L1=fact(4.5, "low")),
            "J2.4",
            "0.58 V is dropped between A and L1",
            "look",
            "J2.4",
        ),
        (evidence(C=fact(14.0, "low")), "C2", "ripple not read yet", "ripple", "C"),
        (evidence(C=fact(14.0, "low", noisy=True)), "C2", "with ripple", "look", "C2"),
        (evidence(C=ABSENT, seen={"F4": "corroded"}), "F4", "seen corroded", "tone", "F4"),
    ],
)
def test_every_suggestion_has_its_reason_and_its_test(orrery, found, part, says, test, target):
    item = next(s for s in suggestions(orrery, found) if s.part == part)
    assert says in item.reason.replace("\u202f", " ")
    assert (item.test, item.target) == (test, target)


@pytest.mark.parametrize(
    "profile_id", ["tessenby-orrery-nights", "ardvane-cinder-dunes", "ostrel-8"]
)
def test_any_kind_of_rectifier_is_suspected_behind_a_low_noisy_supply(library, profile_id):
    profile = library.get(profile_id)
    for block in profile.power:
        if isinstance(block, Rectifier):
            net = block_outputs(block)[0]
            low = {p.id: fact(1.0, "low", noisy=True) for p in profile.test_points if p.net == net}
            found = suggestions(profile, Evidence(points=low, parts={}, seen={}))
            assert not low or block.id in {s.part for s in found}, block.kind


def test_a_profile_without_a_tree_suspects_nothing_and_does_not_break(ruskel):
    found = Evidence(points={"TP3": ABSENT, "TP1": fact(48.0)}, parts={}, seen={})
    assert suggestions(ruskel, found) == ()


@pytest.mark.parametrize(
    ("found", "suspect"),
    [
        (evidence(C=ABSENT), "F4 open, or its holder"),
        (evidence(C=ABSENT, Q=fact(14.5)), "BR2 a leg open or shorted"),
        (evidence(A=fact(4.2, "low", noisy=False)), "U1 dead, or not in regulation"),
        (evidence(L1=fact(4.5, "low")), "J2.4, contact or crimp"),
    ],
)
def test_a_suspect_is_said_with_what_fails_in_such_a_part(orrery, found, suspect):
    assert suggestions(orrery, found)[0].suspect == suspect

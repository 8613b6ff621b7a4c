"""The reasoning against whole boards that are integrated in time: a tenth of the report's hunts."""

import numpy as np
import pytest
from benchmarks import truth_visible
from benchmarks.truth.boards import Meter, capacitor, cold_ohms, settle
from benchmarks.truth.building import Setting
from benchmarks.truth.drawing import Layout, draw_board
from benchmarks.truth_hunt import PROFILES, boards, table

from bench_lamp.board.condition import Condition
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.reason.values.tests import OFF


# A converter chain of 26 nets is one part of the tree: its pairs take long.
@pytest.mark.timeout(900)
@pytest.mark.parametrize("name", PROFILES)
def test_what_is_called_is_right_and_few_hunts_are_long(library, name):
    """Of 15 boards with one fault and 10 with two; the whole figures stand in docs/reasoning.md."""
    found = table(library.get(name), share=0.1, first=70_000)
    wrong = sum(not c.is_right for c in found.calls)
    assert len(found.calls) >= 6
    # One in twenty may be wrong by the figures; of so few, two are no surprise.
    assert wrong <= 2
    assert np.mean([h.tests for h in found.singles]) <= 13
    assert max(h.tests for h in found.singles) <= 30
    called = [c for h in found.pairs for c in h.calls]
    assert sum(not c.is_right for c in called) <= max(2, 0.25 * len(called))


def test_a_sound_board_reads_what_its_drawing_says(library):
    """The truth knows nothing of the model; both must agree with the profile's own limits."""
    for name in PROFILES:
        profile = library.get(name)
        shown = settle([Setting(draw_board(profile, seed), Condition()) for seed in range(6)])
        for point in profile.test_points:
            volts = [
                s.ac[point.net] if point.mode == "ac V" else abs(s.dc[point.net]) for s in shown
            ]
            low, high = sorted((abs(point.design.low), abs(point.design.high)))
            assert 0.93 * low <= np.median(volts) <= 1.07 * high, (name, point.id, volts)


def test_a_short_blows_the_fuse_before_it_and_the_same_seed_is_the_same_board(library):
    profile = library.get("tessenby-orrery-nights")
    board = draw_board(profile, 3)
    assert draw_board(profile, 3).values == board.values
    board.faults = {("C2", "shorted"): 0.1}
    (shown,) = settle([Setting(board, Condition())])
    assert board.blown == {"F4"}
    assert shown.dc["lamp18"] < 0.1
    assert shown.dc["logic5"] > 4.8
    one, other = (boards(profile, 9, 4, 2) for _ in range(2))
    assert [b.faults for b in one] == [b.faults for b in other]


def with_fault(profile, seed, *faults):
    board = draw_board(profile, seed)
    board.faults = dict(faults)
    return board


@pytest.mark.parametrize("degree", [0.05, 0.3])
def test_an_adapter_gives_no_more_than_its_limit_and_blows_no_fuse_above_it(library, degree):
    """Larkmoor 24: 3 A from the adapter, a fuse of 4 A slow; a short on the raw rail pulls it down, and no more."""
    profile = library.get("larkmoor-24")
    shorted = [with_fault(profile, seed, (("C1", FaultKind.SHORTED), degree)) for seed in range(4)]
    for board, live in zip(
        shorted, settle([Setting(b, Condition()) for b in shorted]), strict=True
    ):
        assert board.blown == set()
        assert live.dc["vin"] < 0.25 * 24
        assert 0.9 * 3.0 <= live.amps["F1"] <= 1.35 * 3.0


def test_an_adapter_within_its_limit_is_a_voltage_behind_its_ohms(library):
    """What it loses on the way is its current times its ohms, whatever hangs on it."""
    profile = library.get("larkmoor-24")
    whole = [draw_board(profile, seed) for seed in range(5)]
    for board, live in zip(whole, settle([Setting(b, Condition()) for b in whole]), strict=True):
        lost = 24 * board.mains - live.dc["vin"]
        assert lost == pytest.approx(live.amps["F1"] * board.value("X1", "ohms"), abs=0.03)


@pytest.mark.parametrize(
    ("block", "kind", "net", "most"),
    [("U4", FaultKind.SWITCH_SHORTED, "v12", 3.5), ("C1", FaultKind.SHORTED, "raw24", 3.5),
     ("MEM", FaultKind.SHORTED, "mem33", 3.5)],
)  # fmt: skip
def test_a_short_that_shows_live_shows_cold_as_well(library, block, kind, net, most):
    profile = library.get("larkmoor-24")
    sound, bad = draw_board(profile, 3), with_fault(profile, 3, ((block, kind), 0.9))
    off = Condition(is_powered=False)
    assert cold_ohms(bad, off)[net] < most < cold_ohms(sound, off)[net]


@pytest.mark.parametrize(
    ("fault", "shows"),
    [
        ((("U1", FaultKind.DEAD), 0.5), True),
        ((("J1.5", FaultKind.OPEN), 0.5), True),
        ((("C1", FaultKind.HIGH_ESR), 0.6), True),
        ((("U1", FaultKind.OUT_OF_ADJUSTMENT), 0.5), False),
    ],
)
def test_what_can_show_at_all_is_told_from_what_cannot(library, monkeypatch, fault, shows):
    """A dead regulator and an open contact show, and ohms in a capacitor; an adjuster in the middle does not."""
    profile = library.get("varnholt-vx12")
    monkeypatch.setattr(truth_visible, "SOUND", 20)
    monkeypatch.setattr(
        truth_visible, "boards", lambda *_: [with_fault(profile, seed, fault) for seed in (41, 42)]
    )
    assert truth_visible.visible(profile, 2, 0, 1) == ((2 if shows else 0), 2)


def test_a_meter_for_capacitors_sees_the_capacitor_that_is_there(library):
    """Dried out to a seventh, and ESR of some fifty times: nothing else moves either figure much."""
    profile = library.get("varnholt-vx12")

    def shown(kind, *faults):
        board = with_fault(profile, 5, *faults)
        meter = Meter(board, Layout.of(profile))
        return np.median([capacitor(meter, kind, "C1", OFF) for _ in range(9)])

    farads, esr = shown("farads"), shown("esr")
    own = draw_board(profile, 5).values["C1", "farads"]
    assert farads == pytest.approx(own, rel=0.1)
    assert shown("farads", (("C1", "dried out"), 0.4)) == pytest.approx(
        (0.03 + 0.27 * 0.4) * own, rel=0.1
    )
    assert shown("esr", (("C1", "high ESR"), 0.5)) == pytest.approx(15 * 10**0.5 * esr, rel=0.35)
    assert shown("farads", (("C1", "high ESR"), 0.5)) == pytest.approx(farads, rel=0.1)


@pytest.mark.parametrize(
    ("name", "degree", "factor"),
    [("draws too much", 0.5, 1.5 * 2.7**0.5), ("draws too little", 0.5, 0.425)],
)
def test_a_clamp_shows_what_flows_to_a_load(library, name, degree, factor):
    profile = library.get("ardvane-cinder-dunes")

    def amps(*faults):
        board = with_fault(profile, 5, *faults)
        (live,) = settle([Setting(board, Condition())])
        meter = Meter(board, Layout.of(profile))
        return np.median([meter.amps("J1.6", live) for _ in range(9)])

    assert amps((("MEM", name), degree)) / amps() == pytest.approx(factor, rel=0.15)

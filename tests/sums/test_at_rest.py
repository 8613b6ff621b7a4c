"""What hangs around a part, by the circuit: against sums done by hand."""

import math

import pytest

from bench_lamp.board import load_profile
from bench_lamp.circuit import compile_tree
from bench_lamp.sums.at_rest import ohms_beside, range_of_dropper, work_of_dropper

RIG = """\
format: bench-lamp board 1
id: rig
name: rig
grounds:
  gnd: {net: gnd, name: chassis, place: braid}
test_points:
  - {id: R, name: reference, net: ref, black: gnd, mode: dc V, nominal: 5 V}
power:
  - {id: X1, kind: inlet, to: line, volts: 230 V}
  - {id: F1, kind: fuse, from: line, to: mains, rating: 3 A slow}
  - {id: T1, kind: transformer, from: mains, to: {sec: 12 V}}
  - {id: F2, kind: fuse, from: sec, to: ac, rating: 5 A slow}
  - {id: LP, kind: load, net: ac, amps: 2 A}
  - {id: BR1, kind: bridge, from: ac, to: raw}
  - {id: C1, kind: reservoir, net: raw, value: 4700 uF, rating: 35 V}
  - {id: R1, kind: dropper, from: raw, to: ref, ohms: 1k, zener: 5 V}
  - {id: IC1, kind: load, net: ref, amps: 4 mA}
"""


@pytest.fixture
def rig(tmp_path):
    path = tmp_path / "rig.board.yaml"
    path.write_text(RIG)
    return load_profile(path)


def test_across_a_fuse_are_the_winding_and_the_lamps_in_a_row(rig):
    """The winding, and lamps that draw 2 A RMS at 12 V: 6 Ω warm, five times that at a meter's volts."""
    winding = compile_tree(rig).parts[0].winding_ohms
    assert ohms_beside(rig, "F2") == pytest.approx(winding + 5 * 6.0, rel=0.03)


def test_across_a_dropper_is_what_it_feeds_and_the_rectifier_in_a_row(rig):
    """IC1: 1.25 kΩ warm, 6.25 kΩ at a meter's volts; the bridge 2 MΩ backwards beside a leak of 10 MΩ."""
    assert ohms_beside(rig, "R1") == pytest.approx(1 / (1 / 2e6 + 1e-7) + 6.25e3, rel=0.01)
    assert ohms_beside(rig, "R1", frozenset({"BR1"})) == pytest.approx(1e7, rel=0.05)


@pytest.mark.parametrize("part", ["F1", "LP", "C1", "none", "T1"])
def test_of_what_nobody_solves_nothing_is_said(rig, part):
    assert ohms_beside(rig, part) == 0.0
    assert work_of_dropper(rig, part) == (0.0, 0.0)
    assert range_of_dropper(rig, part, (4.8, 5.2)) == (0.0, 0.0)


def test_the_range_of_a_dropper_ends_where_the_load_takes_all_that_it_carries(rig):
    """At 4.8 V IC1 draws 3.84 mA: then R = (raw - 4.8 V) / 3.84 mA; below, the zener holds the rail."""
    volts, amps = work_of_dropper(rig, "R1")
    assert amps == pytest.approx(volts / 1e3)
    raw = volts + 5.0
    low, high = range_of_dropper(rig, "R1", (4.8, 5.2))
    assert low == 0.0
    assert high == pytest.approx((raw - 4.8) / 3.84e-3, rel=0.02)
    assert range_of_dropper(rig, "R1", (8.0, 9.0)) == (0.0, 0.0)


def test_a_load_pulls_a_raw_rail_down_and_a_regulator_holds_until_it_limits(library):
    """Ruskel: 36.2 V up to 2 A; 12 Ω would want 3 A of it, more than its limit of 2.2 A."""
    from bench_lamp.sums.at_rest import under_load

    ruskel = library.get("ruskel-36")
    bare, loaded = under_load(ruskel, "out", 0.0), under_load(ruskel, "out", 18.0)
    assert bare[0] == pytest.approx(36.2, rel=0.01)
    assert loaded[0] == pytest.approx(36.2, rel=0.01)
    assert under_load(ruskel, "out", 12.0)[0] < 30.0
    raw, raw_loaded = under_load(ruskel, "raw", 0.0), under_load(ruskel, "raw", 30.0)
    assert raw_loaded[0] < raw[0] - 2
    assert raw_loaded[1] > raw[1]
    # Two ohms of winding and a few of charging: the drop is of their size at 1.5 A.
    assert 2 < raw[0] - raw_loaded[0] < 12
    assert math.isnan(under_load(ruskel, "nowhere", 10.0)[0])

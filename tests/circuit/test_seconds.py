"""A net that something else feeds as well: a battery behind a diode, dirt between two pins."""

import numpy as np
import pytest

from bench_lamp.board import ProfileError, load_profile
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.circuit import compile_tree
from bench_lamp.circuit.faults import faults_of
from bench_lamp.circuit.solve import solve_part
from bench_lamp.circuit.values import draw_values

HEAD = "format: bench-lamp board 1\nid: rig\nname: rig\ntest_points: []\npower:\n"
BACKED = """\
  - {id: X1, kind: inlet, to: vin, volts: 5 V, supply: adapter, ohms: 0R1}
  - {id: BT1, kind: inlet, to: bat, volts: 3.6 V, supply: battery, ohms: 10R}
  - {id: D1, kind: diode, from: vin, to: vmem, volts: 0.3 V}
  - {id: D2, kind: diode, from: bat, to: vmem, volts: 0.3 V}
  - {id: MEM, kind: load, net: vmem, amps: 10 mA}
"""
#: The load of 10 mA at what the net carries, 4.7 V.
MEM_OHMS = 470.0
LEAKY = """\
  - {id: X1, kind: inlet, to: v12, volts: 12 V, supply: adapter, ohms: 0R1}
  - {id: J1.1, kind: pin, from: v12, to: lamp12}
  - {id: LAMP, kind: load, net: lamp12, amps: 0.5 A}
  - {id: U1, kind: regulator, from: v12, to: v5, volts: 5 V, limit: 1 A}
  - {id: J1.2, kind: pin, from: v5, to: logic5}
  - {id: LOGIC, kind: load, net: logic5, amps: 50 mA}
"""


@pytest.fixture
def tree(tmp_path):
    def make(lines):
        path = tmp_path / "rig.board.yaml"
        path.write_text(HEAD + lines)
        return compile_tree(load_profile(path))

    return make


def solved(part, change=lambda values: None):
    values = draw_values(part, 1, 1)
    for net in part.nets:
        values.shunt[net][:] = 0.0
    change(values)
    found = solve_part(part, values).volts[0]
    return dict(zip(part.nets, found, strict=True))


def dead(values):
    values.open_v[:] = 0.0


def test_the_higher_source_feeds_and_the_battery_takes_over(tree):
    main = tree(BACKED).parts[0]
    assert main.nets == ("vin", "vmem"), "the battery's own net is a part of its own"
    # By hand: 4.7 V behind 0.1 Ω, and 3.3 V behind 10 Ω, on 470 Ω.
    assert solved(main)["vmem"] == pytest.approx(4.7 * MEM_OHMS / (MEM_OHMS + 0.1), rel=1e-3)
    assert solved(main, dead)["vmem"] == pytest.approx(3.3 * MEM_OHMS / (MEM_OHMS + 10), rel=1e-3)


def test_a_battery_in_a_holder_with_a_contact_is_a_second_source_as_well(tree):
    held = BACKED.replace("from: bat, to: vmem", "from: held, to: vmem") + (
        "  - {id: BH.1, kind: pin, from: bat, to: held}\n"
    )
    (second,) = tree(held).parts[0].seconds
    assert (second.block, second.volts, second.ohms) == ("D2", pytest.approx(3.3), 10.0)


def test_an_open_diode_takes_the_battery_away(tree):
    whole = tree(BACKED)
    fault = next(f for f in faults_of(whole) if (f.block, f.kind) == ("D2", FaultKind.OPEN))

    def both(values):
        dead(values)
        fault.change(values, slice(None))

    assert solved(whole.parts[0], both)["vmem"] < 0.01
    assert sum(f.block == "D2" for f in faults_of(whole)) == 1


def test_dirt_between_two_pins_lifts_the_lower_one(tree):
    part = tree(LEAKY).parts[0]
    (second,) = part.seconds
    assert (second.block, second.volts, second.from_net) == ("J1.2", 12.0, "lamp12")

    def off(values):
        values.limit_a["U1"][:] = 1e-6
        values.beside_s["logic5"][:] = 1 / 100.0

    # 100 Ω of dirt into 100 Ω of load: half of 12 V; while the regulator holds, nothing shows.
    assert solved(part, off)["logic5"] == pytest.approx(6.0, rel=2e-3)

    def on(values):
        values.beside_s["logic5"][:] = 1 / 1000.0

    assert solved(part, on)["logic5"] == pytest.approx(5.0, rel=1e-3)


def test_dirt_loads_the_higher_pin(tree):
    whole = tree(LEAKY)
    fault = next(f for f in faults_of(whole) if f.kind is FaultKind.LEAKS_ACROSS)
    values = draw_values(whole.parts[0], 1, 1)
    values.severity[:] = 0.0
    before = values.shunt["lamp12"].copy()
    fault.change(values, slice(None))
    # 5 Ω from 12 V to 5 V draws 1.4 A, as much as 8.57 Ω to ground would.
    assert values.beside_s["logic5"] == pytest.approx(np.array([0.2]))
    assert values.shunt["lamp12"] - before == pytest.approx(np.array([0.2 * 7 / 12]))


def test_a_net_is_fed_twice_through_a_diode_only(tree):
    wired = BACKED.replace(
        "D2, kind: diode, from: bat, to: vmem, volts: 0.3 V",
        "D2, kind: harness, from: bat, to: vmem",
    )
    with pytest.raises(ProfileError, match="feeds the net"):
        tree(wired)

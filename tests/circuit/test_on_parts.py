"""What is read of a part: volts across it, amperes through it, how an indicator looks."""

from itertools import pairwise

import numpy as np
import pytest

from bench_lamp.board import load_profile
from bench_lamp.board.metering import amps_through, is_clamped, is_steady
from bench_lamp.circuit import compile_tree
from bench_lamp.circuit.compile import CONTACT_OHMS
from bench_lamp.circuit.on_parts import across, can_span, flowing, look_of
from bench_lamp.circuit.solve import solve_part
from bench_lamp.circuit.values import FUSE_OHM_A, draw_values

BOARD = """\
format: bench-lamp board 1
id: rig
name: rig
test_points: []
power:
  - {id: X1, kind: inlet, to: vin, volts: 12 V, supply: battery, ohms: 0R1}
  - {id: F1, kind: fuse, from: vin, to: fused, rating: 2 A fast}
  - {id: J1.1, kind: pin, from: fused, to: lamp}
  - {id: LOAD, kind: load, net: lamp, amps: 1 A}
  - {id: D1, kind: indicator, net: lamp, through: R1}
"""
#: By hand: 12 V over 0.1 Ω, the fuse with 0.08 V at 2 A and its holder, a contact, 12 V/1 A of load.
OHMS = 0.1 + (FUSE_OHM_A / 2 + CONTACT_OHMS) + CONTACT_OHMS + 12.0
AMPS = 12.0 / OHMS


@pytest.fixture(scope="module")
def part(tmp_path_factory):
    path = tmp_path_factory.mktemp("rig") / "rig.board.yaml"
    path.write_text(BOARD)
    return compile_tree(load_profile(path)).parts[0]


def nominal(part):
    return draw_values(part, 1, 1)


def test_what_flows_and_what_it_drops_by_hand(part):
    values = nominal(part)
    found = solve_part(part, values)
    amps = dict(zip(part.metered, flowing(part, values, found)[0], strict=True))
    assert amps == pytest.approx({"X1": AMPS, "F1": AMPS, "J1.1": AMPS}, rel=1e-3)
    dropped = {name: across(part, name, found.volts)[0] for name in ("F1", "J1.1")}
    wanted = {"F1": AMPS * (FUSE_OHM_A / 2 + CONTACT_OHMS), "J1.1": AMPS * CONTACT_OHMS}
    assert dropped == pytest.approx(wanted, rel=1e-3)


MAINS = """\
format: bench-lamp board 1
id: rig
name: rig
test_points: []
power:
  - {id: X1, kind: inlet, to: mains, volts: 120 V}
  - {id: S1, kind: switch, from: mains, to: on}
  - {id: T1, kind: transformer, from: on, to: {sec: 6.3 V, raw: 9 V}}
  - {id: F5, kind: fuse, from: sec, to: lit, rating: 10 A slow}
  - {id: J4.1, kind: pin, from: lit, to: lights}
  - {id: LIGHTS, kind: load, net: lights, amps: 5 A}
  - {id: F2, kind: fuse, from: raw, to: ac, rating: 3 A slow}
  - {id: BR1, kind: bridge, from: ac, to: dc}
  - {id: C1, kind: reservoir, net: dc, value: 4700 uF}
  - {id: LOGIC, kind: load, net: dc, amps: 0.2 A}
  - {id: J1.1, kind: pin, from: dc, to: out}
  - {id: IO, kind: load, net: out, amps: 0.15 A}
"""


def test_a_current_is_read_where_it_is_steady_by_what_suits_its_size(tmp_path):
    (path := tmp_path / "rig.board.yaml").write_text(MAINS)
    profile = load_profile(path)
    lights, logic = compile_tree(profile).parts
    # Before a rectifier it comes in pulses, of which each meter shows another figure.
    assert (lights.metered, logic.metered) == (("F5", "J4.1"), ("J1.1",))
    by_id = {b.id: b for b in profile.power}
    steady = {n for n in ("S1", "F5", "J4.1", "F2", "J1.1") if is_steady(profile, by_id[n])}
    assert steady == {"F5", "J4.1", "J1.1"}
    assert amps_through(profile, by_id["F2"]) == pytest.approx(0.35)
    clamped = {n for n in ("F5", "J1.1", "X1") if is_clamped(profile, by_id[n])}
    assert clamped == {"F5"}
    # RMS on AC, though its nets are solved as peaks: about 5 A by the drawing.
    values = nominal(lights)
    found = solve_part(lights, values)
    volts = found.volts[0, lights.index("lights")] / np.sqrt(2)
    wanted = values.amps["LIGHTS"][0] * volts / 6.3
    assert flowing(lights, values, found)[0] == pytest.approx([wanted, wanted], rel=0.02)


@pytest.mark.parametrize("ohms", [0.1, 1.0, 12.0])
def test_a_bad_contact_drops_its_own_ohms_worth(part, ohms):
    values = nominal(part)
    values.series["J1.1"][:] = 1 / ohms
    found = solve_part(part, values)
    amps = 12.0 / (OHMS - CONTACT_OHMS + ohms)
    assert across(part, "J1.1", found.volts)[0] == pytest.approx(amps * ohms, rel=1e-3)


@pytest.mark.parametrize(
    ("share", "look"),
    [(0.0, 0.0), (0.35, 0.0), (0.575, 0.5), (0.8, 1.0), (1.0, 1.0), (1.25, 1.0), (1.5625, 1.25)],
)
def test_an_indicator_goes_by_the_share_of_its_volts(part, share, look):
    volts = np.zeros((1, len(part.nets)))
    volts[0, part.index("lamp")] = share * 12.0
    assert look_of(part, "D1", volts)[0] == pytest.approx(look)


CHAIN = """\
format: bench-lamp board 1
id: rig
name: rig
test_points: []
power:
  - {id: X1, kind: inlet, to: vin, volts: 12 V, supply: battery, ohms: 0R1}
  - {id: LAMP, kind: load, net: vin, amps: 0.1 A}
"""


def test_a_long_way_of_contacts_to_a_regulator_is_solved_in_no_time_and_rightly(tmp_path):
    """Twelve contacts, one crossing behind the other: the ends by hand, and no more work than the way is long."""
    nets = ["vin", *(f"n{i}" for i in range(12))]
    lines = [
        f"  - {{id: J{i}.1, kind: pin, from: {a}, to: {b}}}\n"
        for i, (a, b) in enumerate(pairwise(nets), start=1)
    ]
    lines.append(
        "  - {id: U1, kind: regulator, from: n11, to: five, volts: 5 V, limit: 1 A, dropout: 2 V}\n"
    )
    lines.append("  - {id: LOGIC, kind: load, net: five, amps: 0.5 A}\n")
    path = tmp_path / "chain.board.yaml"
    path.write_text(CHAIN + "".join(lines))
    part = compile_tree(load_profile(path)).parts[0]
    values = nominal(part)
    for i in range(1, 13):
        values.series[f"J{i}.1"][:] = 1 / 0.2
    volts = dict(zip(part.nets, solve_part(part, values).volts[0], strict=True))
    # The regulator takes 0.5 A whatever its input; the lamp 120 Ω of what the battery leaves.
    vin = (12.0 - 0.1 * 0.5) / (1 + 0.1 / 120)
    assert volts["vin"] == pytest.approx(vin, rel=1e-3)
    assert volts["n11"] == pytest.approx(vin - 12 * 0.2 * 0.5, rel=2e-3)
    assert volts["five"] == pytest.approx(5.0, rel=1e-3)


def test_both_leads_go_on_what_a_current_flows_through(part):
    assert [b.id for b in part.blocks if can_span(part, b)] == ["F1", "J1.1"]

"""What a meter for capacitors shows in circuit, against impedances worked by hand."""

import copy

import numpy as np
import pytest

from bench_lamp.board import load_profile
from bench_lamp.circuit import compile_tree
from bench_lamp.circuit.capacitors import capacitors
from bench_lamp.circuit.values import OPEN_S, draw_values

BOARD = """\
format: bench-lamp board 1
id: rig
name: rig
test_points: []
power:
  - {id: X1, kind: inlet, to: vin, volts: 12 V, supply: battery, ohms: 0R1}
  - {id: F1, kind: fuse, from: vin, to: fused, rating: 2 A fast}
  - {id: C1, kind: reservoir, net: fused, value: 2200 uF}
  - {id: U1, kind: regulator, from: fused, to: reg5, volts: 5 V, limit: 1 A, dropout: 2 V}
  - {id: C2, kind: reservoir, net: reg5, value: 470 uF}
  - {id: J1.1, kind: pin, from: reg5, to: main5}
  - {id: C3, kind: reservoir, net: main5, value: 100 uF}
  - {id: LOAD, kind: load, net: main5, amps: 0.1 A}
"""


@pytest.fixture(scope="module")
def part(tmp_path_factory):
    path = tmp_path_factory.mktemp("rig") / "rig.board.yaml"
    path.write_text(BOARD)
    return compile_tree(load_profile(path)).parts[0]


def by_hand(hertz, *branches, siemens=0.0):
    """Return the impedance of series RC branches and a conductance side by side."""
    return 1 / (siemens + sum(1 / (r - 1j / (2 * np.pi * hertz * c)) for c, r in branches))


@pytest.mark.parametrize("is_plugged", [True, False])
def test_what_lies_across_a_capacitor_is_measured_with_it_and_no_more(part, is_plugged):
    values = draw_values(part, 1, 1)
    if not is_plugged:
        values.series["J1.1"][:] = OPEN_S
    c, r = ({n: float(v[n][0]) for n in ("C1", "C2", "C3")} for v in (values.farads, values.esr))
    farads, esr = (
        dict(zip(part.reservoirs, each[0], strict=True)) for each in capacitors(part, values)
    )
    # The regulator's junctions keep C1 apart from what is behind it.
    assert farads["C1"] == pytest.approx(c["C1"], rel=1e-3)
    assert esr["C1"] == pytest.approx(r["C1"], rel=1e-2)
    beside = [(c["C2"], r["C2"]), (c["C3"], r["C3"])] if is_plugged else [(c["C2"], r["C2"])]
    load = 0.2 * float(values.amps["LOAD"][0]) / 5.0 if is_plugged else 0.0
    assert farads["C2"] == pytest.approx(
        -1 / (2 * np.pi * 120 * by_hand(120, *beside, siemens=load).imag), rel=1e-3
    )
    assert esr["C2"] == pytest.approx(by_hand(100e3, *beside, siemens=load).real, rel=1e-3)


def test_a_leak_beside_it_makes_a_capacitor_look_larger_never_smaller(part):
    """A short of 0.5 Ω across 2200 µF at 120 Hz: C · (1 + (G/ωC)²) without ESR, 2.7 times as much."""
    values = draw_values(part, 1, 1)
    c, r = float(values.farads["C1"][0]), float(values.esr["C1"][0])
    values.shunt["fused"] = values.shunt["fused"] + 2.0
    shown = capacitors(part, values)[0][0, 0]
    assert shown == pytest.approx(
        -1 / (2 * np.pi * 120 * by_hand(120, (c, r), siemens=2.0).imag), rel=1e-3
    )
    assert shown / c == pytest.approx(1 + (2.0 / (2 * np.pi * 120 * c)) ** 2, rel=0.08)


def test_one_that_is_dried_out_and_one_with_high_esr_are_told_apart(part):
    values = draw_values(part, 1, 1)
    farads, esr = (each[0, 0] for each in capacitors(part, values))
    dried, lossy = (
        replace_values(values, **{name: {"C1": getattr(values, name)["C1"] * factor}})
        for name, factor in (("farads", 0.1), ("esr", 20.0))
    )
    assert capacitors(part, dried)[0][0, 0] == pytest.approx(0.1 * farads, rel=1e-2)
    assert capacitors(part, lossy)[1][0, 0] == pytest.approx(20 * esr, rel=2e-2)
    assert capacitors(part, lossy)[0][0, 0] == pytest.approx(farads, rel=2e-2)


def replace_values(values, **changed):
    """Return values with some blocks' figures changed."""
    found = copy.deepcopy(values)
    for name, by_block in changed.items():
        getattr(found, name).update(by_block)
    return found

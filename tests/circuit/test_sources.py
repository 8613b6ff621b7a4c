"""What feeds a board: DC inlets, several transformers, the mains at 50 and 60 Hz; and what they lose."""

import numpy as np
import pytest

from bench_lamp.board import load_profile
from bench_lamp.circuit import compile_tree
from bench_lamp.circuit.clipping import clipped_mean
from bench_lamp.circuit.design import PLAIN, PLAN, planned_values
from bench_lamp.circuit.faults import case_values, faults_of, mains_left
from bench_lamp.circuit.solve import solve_part
from bench_lamp.circuit.values import draw_values

HEAD = """\
format: bench-lamp board 1
id: rig
name: rig
test_points: []
power:
"""


@pytest.fixture
def tree_of(tmp_path):
    def make(*lines: str):
        path = tmp_path / "rig.board.yaml"
        path.write_text(HEAD + "".join(f"  - {{{line}}}\n" for line in lines))
        return compile_tree(load_profile(path))

    return make


def volts_of(tree, fault: str = "", part: int = 0) -> dict[str, float]:
    here = tree.parts[part]
    values = draw_values(here, 1, seed=1)
    if fault:
        case_values(values, (next(f for f in faults_of(tree) if f.name == fault),), 1)
    solution = solve_part(here, values)
    assert solution.has_converged.all()
    return {n: float(v) for n, v in zip(here.nets, solution.volts[0], strict=True)}


BATTERY = (
    "id: X1, kind: inlet, to: lead, volts: 12 V, supply: battery, ohms: 0R5",
    "id: F1, kind: fuse, from: lead, to: fused, rating: 4 A fast",
    "id: D1, kind: diode, from: fused, to: rail, volts: 0.5 V",
    "id: L1, kind: load, net: rail, amps: 1.15 A",
)


def test_a_battery_behind_ohms_and_a_diode_by_hand(tree_of):
    """12 V − 0.5 V over 0.5 Ω, 10 mΩ of clips, 20 mΩ of a 4 A wire, and 11.5 V/1.15 A = 10 Ω."""
    found = volts_of(tree_of(*BATTERY))
    amps = 11.5 / (0.53 + 10)
    assert found["rail"] == pytest.approx(10 * amps, rel=1e-4)
    assert found["lead"] == pytest.approx(12 - 0.5 * amps, rel=1e-4)
    assert found["fused"] == pytest.approx(12 - 0.53 * amps, rel=1e-4)


@pytest.mark.parametrize(
    ("limit", "rail", "lead"),
    [
        # 0.6 A through the 10 Ω of the load; the diode's 0.5 V and 0.6 A in 30 mΩ before it.
        ("0.6 A", 6.0, 6.518),
        # A limit above what is drawn changes nothing.
        ("2 A", 10.9212, 11.454),
    ],
)
def test_a_source_gives_no_more_than_its_limit(tree_of, limit, rail, lead):
    found = volts_of(limited(tree_of, limit))
    assert found["rail"] == pytest.approx(rail, abs=0.001)
    assert found["lead"] == pytest.approx(lead, abs=0.001)


def test_a_short_takes_all_that_a_limited_source_gives(tree_of):
    found = volts_of(limited(tree_of, "0.6 A"), "L1: shorted")
    assert 0 < found["rail"] < 0.6
    assert found["lead"] - found["rail"] == pytest.approx(0.518, abs=0.001)


def limited(tree_of, limit: str):
    return tree_of(BATTERY[0].replace("battery", f"adapter, limit: {limit}"), *BATTERY[1:])


@pytest.mark.parametrize(
    ("fault", "lead", "rail"),
    [
        pytest.param("X1: gives nothing", (0, 0.01), (0, 0.01), id="no-supply"),
        pytest.param("X1: supply weak", (6, 11), (5.5, 10.5), id="a-flat-battery"),
        pytest.param("F1: open", (11.99, 12.01), (0, 0.01), id="fuse"),
        pytest.param("D1: open", (11.99, 12.01), (0, 0.01), id="diode-open"),
        pytest.param("D1: shorted", (11.3, 11.5), (11.3, 11.45), id="diode-shorted"),
        pytest.param("F1: resistive", (11.4, 11.8), (9.8, 10.9), id="a-loose-clip"),
    ],
)
def test_faults_of_a_dc_inlet(tree_of, fault, lead, rail):
    found = volts_of(tree_of(*BATTERY), fault)
    assert lead[0] <= found["lead"] <= lead[1]
    assert rail[0] <= found["rail"] <= rail[1]


def test_a_negative_inlet_makes_negative_rails(tree_of):
    tree = tree_of(
        "id: X1, kind: inlet, to: lead, volts: -12 V, supply: adapter",
        "id: L1, kind: load, net: lead, amps: 1 A",
    )
    part = tree.parts[0]
    assert part.sign == (-1,)
    # A usual source loses 2 % at the load of the drawing.
    assert volts_of(tree)["lead"] == pytest.approx(12 / 1.02, rel=1e-3)


MAINS = (
    "id: X1, kind: inlet, to: line, volts: 230 V",
    "id: F1, kind: fuse, from: line, to: mains, rating: 1 A slow",
)


def test_two_transformers_are_both_solved(tree_of):
    tree = tree_of(
        *MAINS,
        "id: T1, kind: transformer, from: mains, to: {one: 10 V}",
        "id: T2, kind: transformer, from: mains, to: {two: 24 V}",
        "id: L1, kind: load, net: one, amps: 1 A",
        "id: L2, kind: load, net: two, amps: 0.5 A",
    )
    assert [part.feeder for part in tree.parts] == ["T1", "T2"]
    assert volts_of(tree, part=1)["two"] / np.sqrt(2) == pytest.approx(24.3, abs=0.6)
    names = {f.name for f in faults_of(tree)}
    assert {"T1: winding one open", "T2: winding two resistive", "F1: open"} <= names


@pytest.mark.parametrize("hertz", [50, 60])
def test_ripple_goes_by_the_mains(tree_of, hertz):
    tree = tree_of(
        MAINS[0] + f", hertz: {hertz}",
        MAINS[1],
        "id: T1, kind: transformer, from: mains, to: {sec: 12 V}",
        "id: BR1, kind: bridge, from: sec, to: raw",
        "id: C1, kind: reservoir, net: raw, value: 4700 uF",
        "id: L1, kind: load, net: raw, amps: 1 A",
    )
    part = tree.parts[0]
    ripple = solve_part(part, draw_values(part, 1, seed=1)).ripple[0, part.index("raw")]
    usual = 1.0 / (2 * hertz * 0.93 * 4700e-6)
    assert 0.6 * usual < ripple < 0.95 * usual


def test_a_winding_gets_the_size_of_its_fuse_and_not_of_its_load_at_rest(tree_of):
    """Behind 5 A it is made for 2.75 A: 0.06 · 25 V · (0.55/2.75 A + 0.45 · 25 V/(25 V · 2.75 A))."""
    tree = tree_of(
        "id: X1, kind: inlet, to: line, volts: 230 V",
        "id: F1, kind: fuse, from: line, to: mains, rating: 1 A slow",
        "id: T1, kind: transformer, from: mains, to: {sec: 25 V}",
        "id: F3, kind: fuse, from: sec, to: ac, rating: 5 A slow",
        "id: BR3, kind: bridge, from: ac, to: raw",
        "id: C3, kind: reservoir, net: raw, value: 4700 uF",
        "id: COILS, kind: load, net: raw, amps: 50 mA",
    )
    # 0.05 of a core of 0.4 · 230 VA is 4.6 VA, and less than that.
    assert tree.parts[0].winding_ohms == pytest.approx(1.5 * (0.55 + 0.45) / 2.75, rel=1e-3)


@pytest.mark.parametrize(
    ("most", "middle", "swing", "mean"),
    [
        (5.0, 8.0, 2.0, 5.0),
        (5.0, 5.0, 2.0, 4.75),
        (5.0, 3.0, 2.0, 3.0),
        (5.0, 0.5, 2.0, 0.5625),
        (5.0, -3.0, 2.0, 0.0),
    ],
)
def test_the_mean_of_a_saw_tooth_that_is_cut_off_by_hand(most, middle, swing, mean):
    found = clipped_mean(np.array([most]), np.array([middle]), np.array([swing]))
    assert found[0] == pytest.approx(mean)


def test_the_plan_holds_each_tolerance_up_in_half_of_its_rows(tree_of):
    """Two values of one part never go together: their covariance over the plan is nothing."""
    tree = tree_of(*BATTERY)
    values = planned_values(tree.parts[0], PLAIN)
    rows = PLAIN.planned[0]
    one, other = np.log(values.amps["L1"][rows]), np.log(values.winding_ohms[rows])
    assert len(one) == PLAN
    assert np.std(one) == pytest.approx(0.12, rel=1e-6)
    assert np.cov(one, other)[0, 1] == pytest.approx(0.0, abs=1e-12)


def test_a_bad_contact_in_the_mains_leaves_97_to_60_percent():
    assert mains_left(np.array([0.0, 1.0])) == pytest.approx([0.97, 0.60])

"""Each kind of block against hand-worked values: converters, foldback, sense lines, conditions."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import brentq

from bench_lamp.board import ProfileError
from bench_lamp.board.condition import Condition
from bench_lamp.circuit.cold import cold_ohms
from bench_lamp.circuit.compile import DIODE_V
from bench_lamp.circuit.elements import rectifier
from bench_lamp.circuit.faults import faults_of
from bench_lamp.circuit.looking_up import sense_of
from bench_lamp.circuit.solve import solve_part
from bench_lamp.circuit.taking_out import take_out
from bench_lamp.circuit.values import draw_values

REG = "id: U1, kind: regulator, from: raw, to: five, volts: 5 V, limit: 3 A, dropout: 2 V"
PIN = "id: J1.1, kind: pin, from: five, to: far"
CPU = "id: CPU, kind: load, net: far, amps: 1 A"


def test_a_step_down_converter_draws_its_power_over_its_efficiency(supply):
    """5 V at 1 A at 80 % take 6.25 W from the raw rail: the charging law must give just that."""
    tree = supply(
        "id: U1, kind: step-down, from: raw, to: five, volts: 5 V, limit: 3 A, efficiency: 0.8",
        "id: CPU, kind: load, net: five, amps: 1 A",
    )
    part = tree.parts[0]
    solution = solve_part(part, draw_values(part, 1, seed=1))
    raw, five = (float(solution.volts[0, part.index(n)]) for n in ("raw", "five"))
    one = np.ones(1)

    # F2 of 5 A: 10 mΩ of clips and 16 mΩ of wire; 30 mΩ of diodes; C1 with 93 % of its value left,
    # and 20 mΩ + 30 µΩF/4700 µF in series.
    esr = 0.02 + 3e-5 / 4700e-6
    ohms = part.winding_ohms + 0.026 + 0.03 + esr

    def at(level: float):
        return rectifier(level * one, (part.open_v - 2 * DIODE_V) * one, ohms * one,
                         0.93 * 4700e-6 * one, one, 50.0, esr)  # fmt: skip

    level = brentq(lambda x: float(at(x).volts[0]) - raw, 5.0, part.open_v - 2 * DIODE_V - 1e-6)
    assert five == pytest.approx(5.0, rel=1e-6)
    assert float(at(level).amps[0]) * raw == pytest.approx(6.25, rel=0.01)


@pytest.mark.parametrize(
    ("kind", "fault", "low", "high"),
    [
        pytest.param("step-down", "", 4.99, 5.01, id="step-down-runs"),
        pytest.param("step-down", "U1: dead", 0.0, 0.01, id="a-dead-step-down-gives-nothing"),
        pytest.param("step-down", "U1: passes its input", 9.0, 16.0, id="a-shorted-switch-passes-the-input"),
        pytest.param("step-down", "U1: inductor fallen in value", 1.5, 4.0, id="a-weak-one-sags"),
        pytest.param("step-up", "", 31.4, 31.6, id="step-up-runs"),
        pytest.param("step-up", "U1: dead", 12.0, 16.0, id="a-dead-step-up-passes-its-input"),
        pytest.param("step-up", "U1: switch shorted, F2 blown", 0.0, 0.01, id="its-short-blows-the-fuse"),
    ],
)  # fmt: skip
def test_converters_and_their_faults(supply, volts_of, kind, fault, low, high):
    volts = "5 V" if kind == "step-down" else "31.5 V"
    tree = supply(
        f"id: U1, kind: {kind}, from: raw, to: out, volts: {volts}, limit: 3 A",
        "id: L1, kind: load, net: out, amps: 0.2 A",
    )
    assert low <= volts_of(tree, fault)["out"] <= high


def test_a_converter_stays_off_on_a_starved_input(supply, volts_of):
    tree = supply(
        "id: J0.1, kind: pin, from: raw, to: in",
        "id: U1, kind: step-down, from: in, to: five, volts: 5 V, limit: 3 A",
        "id: L1, kind: load, net: five, amps: 0.5 A",
    )
    assert volts_of(tree, condition=Condition(out=frozenset({"J0"})))["five"] == 0.0


def test_foldback_settles_where_the_folded_line_meets_the_load(supply, volts_of):
    """Limit 2.2 A at 5 V (a tenth above its figure), 0.5 A into a short; a load of 1.6 Ω.

    V/1.6 = 0.5 + 1.7·V/5, so V = 0.5/(0.625 − 0.34) = 1.754 V.
    """
    tree = supply(
        f"{REG.replace('3 A', '2 A')}, short_amps: 0.5 A",
        "id: L1, kind: load, net: five, amps: 3.125 A",
    )
    assert volts_of(tree)["five"] == pytest.approx(1.754, abs=0.01)


def test_an_unloaded_output_floats_up_through_its_leak(supply, volts_of):
    tree = supply(f"{REG}, leak: 10k", "id: J1.1, kind: pin, from: five, to: far", CPU)
    off = Condition(out=frozenset({"J1"}))
    assert volts_of(tree)["five"] == pytest.approx(5.0, abs=0.01)
    assert volts_of(tree, condition=off)["five"] > 7.5


@pytest.mark.parametrize(
    ("fault", "at_supply", "at_load"),
    [
        pytest.param("", (5.0, 5.1), (4.99, 5.01), id="the-sensed-place-is-right"),
        pytest.param(
            "J1.1: resistive", (5.3, 6.0), (2.7, 5.01), id="a-lossy-contact-drives-the-supply-up"
        ),
        pytest.param("S1: line open", (5.2, 6.0), (5.2, 6.0), id="an-open-line-raises-both"),
    ],
)
def test_sense_lines(supply, volts_of, fault, at_supply, at_load):
    tree = supply(REG, PIN, CPU, "id: S1, kind: sense, net: far, of: U1")
    assert sense_of(tree.parts[0], "U1") is not None
    volts = volts_of(tree, fault)
    assert at_supply[0] <= volts["five"] <= at_supply[1]
    assert at_load[0] <= volts["far"] <= at_load[1]


def test_a_negative_supply_is_solved_as_a_magnitude_with_its_sign(supply, volts_of):
    tree = supply(
        "id: BR2, kind: half-wave, from: ac, to: mraw, negative: true",
        "id: C2, kind: reservoir, net: mraw, value: 2200 uF",
        "id: U2, kind: regulator, from: mraw, to: m5, volts: -5 V, limit: 1 A",
        "id: L2, kind: load, net: m5, amps: 0.2 A",
    )
    part = tree.parts[0]
    assert part.sign[part.index("m5")] == part.sign[part.index("mraw")] == -1
    assert part.sign[part.index("raw")] == 1
    assert volts_of(tree)["m5"] == pytest.approx(5.0, abs=0.01)


@pytest.mark.parametrize(
    ("out", "net", "low", "high"),
    [
        pytest.param({"F2"}, "raw", 0.0, 0.01, id="fuse-out"),
        pytest.param({"J1"}, "far", 0.0, 0.01, id="connector-off"),
        pytest.param({"J1"}, "five", 4.9, 5.1, id="before-the-connector-it-stays"),
        pytest.param({"U1"}, "five", 0.0, 0.01, id="regulator-lifted"),
        pytest.param({"BR1"}, "raw", 0.0, 0.01, id="rectifier-lifted"),
        pytest.param({"C1"}, "raw", 5.0, 10.5, id="without-its-reservoir-the-mean-falls"),
        pytest.param({"CPU"}, "far", 4.99, 5.01, id="load-lifted"),
    ],
)
def test_what_is_out_is_out(supply, volts_of, out, net, low, high):
    tree = supply(REG, PIN, CPU)
    assert low <= volts_of(tree, condition=Condition(out=frozenset(out)))[net] <= high


def test_a_shorted_part_that_is_lifted_harms_no_more_but_its_fuse_stays_blown(supply, volts_of):
    tree = supply(REG, PIN, CPU, "id: C9, kind: decoupling, net: far, value: 10 uF, tech: tantalum")
    lifted = Condition(out=frozenset({"C9"}))
    assert volts_of(tree, "C9: shorted")["far"] < 1.5
    assert volts_of(tree, "C9: shorted", lifted)["far"] == pytest.approx(4.95, abs=0.06)
    gone = Condition(out=frozenset({"C1"}))
    assert volts_of(tree, "C1: shorted, F2 blown", gone)["raw"] == pytest.approx(0.0, abs=0.01)


def test_a_dummy_load_draws_only_when_it_is_hung_on(supply, volts_of):
    """Cold, 12 Ω add just 1/12 S; live, they draw the rail down."""
    tree = supply(
        "id: D1, kind: dummy load, net: raw, ohms: 12", "id: L1, kind: load, net: raw, amps: 1 A"
    )
    bare = volts_of(tree)["raw"]
    assert volts_of(tree, condition=Condition(hung=frozenset({"D1"})))["raw"] < bare - 0.3
    part = tree.parts[0]
    values = draw_values(part, 1, seed=1)
    cold = cold_ohms(part, values)[0, part.index("raw")]
    take_out(values, part, Condition(hung=frozenset({"D1"})), slice(None))
    hung = cold_ohms(part, values)[0, part.index("raw")]
    assert 1 / hung - 1 / cold == pytest.approx(1 / 12, rel=1e-3)


@given(severity=st.floats(0, 1))
def test_every_severity_of_a_short_drags_its_rail_down(severity):
    from bench_lamp.circuit.changes import short

    class Rows:
        shunt = {"net": np.zeros(1)}

    rows = Rows()
    rows.shunt = {"net": np.zeros(1)}
    rows.severity = np.array([severity])
    short("net")(rows, slice(None))
    assert 1 / 5.0001 <= rows.shunt["net"][0] <= 1 / 0.02999


def test_decoupling_shorts_by_what_it_is_made_of(supply):
    tree = supply(
        "id: C8, kind: decoupling, net: raw, value: 10 uF, tech: tantalum",
        "id: C9, kind: decoupling, net: raw, value: 100 nF",
    )
    weights = {f.block: 0.0 for f in faults_of(tree)}
    for fault in faults_of(tree):
        weights[fault.block] += fault.weight
    assert weights["C8"] == pytest.approx(10 * weights["C9"])


@pytest.mark.parametrize(
    ("line", "field", "mend"),
    [
        ("id: S1, kind: sense, net: raw, of: U7", "power[6].of", "no regulator is called “U7”"),
        ("id: W1, kind: harness, from: nowhere, to: x", "power[6].from", "no fed net"),
        ("id: D1, kind: dummy load, net: raw, ohms: many", "power[6]", "many"),
    ],
)
def test_a_wrong_block_is_named_with_its_line(supply, line, field, mend):
    with pytest.raises(ProfileError) as caught:
        supply(line)
    text = str(caught.value)
    assert field in text
    assert mend in text
    assert "line 12" in text


def test_a_sense_line_that_is_open_already_hangs_where_it_hung(supply):
    """With its plug pulled a whole line lets the regulator go 11.5 % up; an open one changes nothing."""
    tree = supply(REG, PIN, CPU, "id: S1, kind: sense, net: far, of: U1")
    part = tree.parts[0]
    values = draw_values(part, 2, 1)
    values.unseen["U1"][1] = 1.07
    take_out(values, part, Condition(out=frozenset({"J1"})), slice(None))
    # The first row is nominal: the middle of 2 to 22 %.
    assert values.unseen["U1"] == pytest.approx([1.115, 1.07])

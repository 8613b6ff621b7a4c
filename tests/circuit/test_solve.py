"""The solver against closed forms, an independent time-domain integration, and itself."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from bench_lamp.circuit import compile_tree
from bench_lamp.circuit.cold import charging_ohms, cold_ohms
from bench_lamp.circuit.compile import DIODE_V
from bench_lamp.circuit.crossing import crossing
from bench_lamp.circuit.design import repeated
from bench_lamp.circuit.elements import rectifier
from bench_lamp.circuit.faults import case_values, faults_of
from bench_lamp.circuit.solve import solve_part
from bench_lamp.circuit.values import draw_values

MAINS_HZ = 50.0
RAW = """\
  - {id: F2, kind: fuse, from: sec, to: ac, rating: 5 A slow}
  - {id: BR1, kind: bridge, from: ac, to: raw}
  - {id: C1, kind: reservoir, net: raw, value: 4700 uF, rating: 35 V}
"""


def solved(tree, fault: str = ""):
    """Return voltages and ripple by net of the first part, nominal, with one fault."""
    part = tree.parts[0]
    values = draw_values(part, 1, seed=1)
    if fault:
        found = next(f for f in faults_of(tree) if f.name == fault)
        case_values(values, (found,), 1)
    solution = solve_part(part, values)
    assert solution.has_converged.all()
    return (
        dict(zip(part.nets, solution.volts[0], strict=True)),
        dict(zip(part.nets, solution.ripple[0], strict=True)),
    )


def test_a_winding_with_a_resistance_is_a_thevenin_source(rig):
    """12 V RMS at 2 A, a load of 6 Ω. Made for 1.3 times that, 2.6 A: 31.2 VA is all of its core.

    6 % regulation: 0.72 V · (0.55/2.6 A + 0.45 · 12 V/31.2 VA) = 0.2769 Ω.
    """
    tree = rig("  - {id: L1, kind: load, net: sec, amps: 2 A}\n")
    volts, _ = solved(tree)
    open_v = 12 * math.sqrt(2) * 1.06
    assert volts["sec"] == pytest.approx(open_v * 6 / (6 + 0.27692), rel=1e-4)


def test_contacts_divide_in_series(rig):
    tree = rig(
        "  - {id: J1.1, kind: pin, from: sec, to: far}\n",
        "  - {id: L1, kind: load, net: far, amps: 2 A}\n",
    )
    volts, _ = solved(tree)
    assert volts["far"] / volts["sec"] == pytest.approx(6 / 6.01, rel=1e-5)
    volts, _ = solved(tree, "J1.1: open")
    assert volts["far"] == pytest.approx(0.0, abs=1e-3)


def met(*, ohms: float, farads: float, k: float, load: float) -> float:
    """Return the mean voltage of a 20 V rectifier on a resistance."""
    one = np.ones(1)

    def at(level):
        return rectifier(level, 20 * one, ohms * one, farads * one, k * one, 50.0)

    level = crossing(lambda u: at(u).amps - at(u).volts / load, 20 * one)
    return float(at(level).volts[0])


@pytest.mark.parametrize(("k", "limit"), [(1, 2 / math.pi), (2, 1 / math.pi)])
def test_without_a_reservoir_the_mean_is_the_published_one(k, limit):
    """Mean of a full-wave rectified sine 2/π of its peak, half-wave 1/π."""
    assert met(ohms=1e-3, farads=1e-12, k=k, load=100) / 20 == pytest.approx(limit, rel=1e-3)


def test_with_a_very_large_reservoir_the_peak_is_held():
    assert met(ohms=1e-4, farads=10.0, k=1, load=20) == pytest.approx(20, rel=2e-3)


def test_between_the_limits_the_published_charging_current_flows():
    """Conduction from 60 to 120 degrees: 20/(π 0.4) (2 cos 60° − (π/3) sin 60°) = 1.4813 A."""
    one = np.ones(1)
    level = 20 * math.sin(math.pi / 3) * one
    supply = rectifier(level, 20 * one, 0.4 * one, 10.0 * one, one, 50.0)
    by_hand = 20 / (math.pi * 0.4) * (1 - math.pi / 3 * math.sqrt(3) / 2)
    assert supply.amps[0] == pytest.approx(by_hand, rel=1e-9)
    assert supply.ripple[0] == pytest.approx(
        by_hand / (2 * 50 * 10) * math.hypot(2 / 3, 0.21), rel=1e-3
    )


@given(
    a=st.floats(0, 20), b=st.floats(0, 20), ohms=st.floats(0.05, 50), farads=st.floats(1e-6, 0.1),
    k=st.sampled_from([1.0, 2.0]),
)  # fmt: skip
def test_a_higher_level_means_less_current_and_the_mean_stays_below_it(a, b, ohms, farads, k):
    low, high = sorted((a, b))
    one = np.ones(1)
    less, more = (
        rectifier(u * one, 20 * one, ohms * one, farads * one, k * one, 50.0) for u in (low, high)
    )
    assert less.amps[0] >= more.amps[0] - 1e-9
    assert more.volts[0] <= high + 1e-9
    assert more.volts[0] >= 2 / (math.pi * k) * 20 - ohms * more.amps[0] - 1e-9


@given(
    load=st.floats(0.5, 5000), ohms=st.floats(0.05, 50), farads=st.floats(1e-7, 0.1),
    k=st.sampled_from([1.0, 2.0]),
)  # fmt: skip
def test_a_crossing_is_always_found(load, ohms, farads, k):
    """The rectifier gives just what a resistance draws, whatever the components."""
    one = np.ones(1)

    def at(level):
        return rectifier(level, 20 * one, ohms * one, farads * one, k * one, 50.0)

    level = crossing(lambda u: at(u).amps - at(u).volts / load, 20 * one)
    found = at(level)
    assert found.amps[0] == pytest.approx(found.volts[0] / load, rel=1e-4, abs=1e-6)


def simulated(open_v: float, ohms: float, farads: float, load_ohms: float) -> tuple[float, float]:
    """Integrate winding, bridge, reservoir and load in time; return mean and ripple.

    An independent reference: each diode pair is a smooth switch behind the winding's
    resistance, and the last of many mains periods is looked at.
    """
    omega, drops = 2 * math.pi * MAINS_HZ, 2 * DIODE_V

    def slope(t, v):
        drive = abs(open_v * math.sin(omega * t)) - drops - v[0]
        return [(max(drive, 0.0) / ohms - v[0] / load_ohms) / farads]

    periods = max(12, int(8 * load_ohms * farads * MAINS_HZ * min(1.0, ohms / load_ohms * 6) + 12))
    end = periods / MAINS_HZ
    times = np.linspace(end - 1 / MAINS_HZ, end, 800)
    run = solve_ivp(slope, (0, end), [0.8 * open_v], t_eval=times, max_step=1 / MAINS_HZ / 150)
    return float(run.y[0].mean()), float(np.ptp(run.y[0]))


@pytest.mark.parametrize("amps", [0.3, 1.0, 2.0])
@pytest.mark.parametrize("microfarads", [2200, 4700, 10000])
def test_the_rectifier_against_integration_in_time(rig, amps, microfarads):
    """Mean within 5 %, ripple within 20 %, for several loads and reservoirs."""
    tree = rig(
        RAW.replace("4700 uF", f"{microfarads} uF"),
        f"  - {{id: L1, kind: load, net: raw, amps: {amps} A}}\n",
    )
    part = tree.parts[0]
    volts, ripple = solved(tree)
    load_ohms = part.nominal_v[part.index("raw")] / amps
    mean, pp = simulated(part.open_v, part.winding_ohms + 0.05, microfarads * 1e-6, load_ohms)
    assert volts["raw"] == pytest.approx(mean, rel=0.05)
    assert ripple["raw"] == pytest.approx(pp, rel=0.20)


REGULATED = (
    RAW
    + "  - {id: U1, kind: regulator, from: raw, to: five, volts: 5 V, limit: 3 A, dropout: 2 V}\n"
    + "  - {id: J1.1, kind: pin, from: five, to: far}\n"
    + "  - {id: CPU, kind: load, net: far, amps: 1 A}\n"
)


@pytest.mark.parametrize(
    ("fault", "net", "low", "high"),
    [
        ("", "far", 4.93, 5.0),
        ("F2: open", "raw", 0.0, 0.01),
        ("C1: dried out", "far", 0.0, 4.995),
        ("U1: dead", "far", 0.0, 0.01),
        ("U1: passes its input", "far", 7.0, 15.0),
        ("U1: low", "far", 3.7, 4.7),
        ("U1: high", "far", 5.3, 6.8),
        ("J1.1: resistive", "far", 2.7, 4.7),
        ("J1.1: resistive", "five", 4.95, 5.05),
        ("CPU: shorted", "five", 0.0, 1.3),
        ("CPU: open", "far", 4.99, 5.01),
        ("C1: shorted, F2 blown", "raw", 0.0, 0.01),
        ("T1: winding sec open", "raw", 0.0, 0.001),
    ],
)
def test_what_each_fault_makes_of_a_regulated_supply(rig, fault, net, low, high):
    volts, _ = solved(rig(REGULATED), fault)
    assert low <= volts[net] <= high


def test_an_open_leg_more_than_doubles_the_ripple(rig):
    _, good = solved(rig(REGULATED))
    _, bad = solved(rig(REGULATED), "BR1: one leg open")
    assert bad["raw"] / good["raw"] == pytest.approx(2.2, rel=0.15)


def test_a_dried_reservoir_lets_ripple_through_the_regulator(rig):
    _, good = solved(rig(REGULATED))
    _, bad = solved(rig(REGULATED), "C1: dried out")
    assert good["far"] < 0.02
    assert bad["far"] > 0.5


def test_a_regulator_behind_a_connector_is_solved_too(rig):
    """Its current flows through the contact: 1 A over 10 mΩ."""
    tree = rig(
        RAW,
        "  - {id: J1.1, kind: pin, from: raw, to: board}\n",
        "  - {id: U1, kind: regulator, from: board, to: five, volts: 5 V, limit: 3 A}\n",
        "  - {id: CPU, kind: load, net: five, amps: 1 A}\n",
    )
    volts, _ = solved(tree)
    assert volts["five"] == pytest.approx(5.0)
    assert volts["raw"] - volts["board"] == pytest.approx(0.01, rel=1e-3)
    volts, _ = solved(tree, "J1.1: open")
    assert volts["five"] < 0.1


def test_currents_meet_at_every_crossing(orrery):
    """Every fault under many draws: the rectifier gives what hangs on it, no case is lost."""
    tree, draws = compile_tree(orrery), 16
    mains = np.exp(0.025 * np.random.default_rng(3).standard_normal(draws))
    lost = total = 0
    for number, part in enumerate(tree.parts):
        own = tuple(f for f in faults_of(tree) if f.part == number)
        values = repeated(draw_values(part, draws, seed=number, mains=mains), len(own))
        case_values(values, own, draws)
        solution = solve_part(part, values)
        lost += int((~solution.has_converged).sum())
        total += len(solution.has_converged)
        assert np.isfinite(solution.volts).all()
        assert (solution.volts >= -1e-9).all()
    assert total > 1000
    assert lost == 0


def test_the_healthy_set_reads_what_its_profile_says(orrery):
    """The profile's practice bands and the model agree at every test point behind the windings."""
    tree = compile_tree(orrery)
    for part in tree.parts:
        solution = solve_part(part, draw_values(part, 1, seed=1))
        for point in orrery.test_points:
            if point.net in part.nets:
                i = part.index(point.net)
                volts = solution.volts[0, i] / (math.sqrt(2) if part.is_ac[i] else 1.0)
                assert point.design.low <= volts <= point.design.high, (point.id, volts)


def test_faults_of_the_orrery_set(orrery):
    names = [f.name for f in faults_of(compile_tree(orrery))]
    assert len(names) == len(set(names)) >= 70
    assert {"F4: open", "BR2: shorted, F4 blown", "J3.5: resistive", "T1: winding sec_coil open",
            "VR1: zener shorted", "X1: no mains"} <= set(names)  # fmt: skip


def test_a_fault_changes_its_own_rows_only(rig):
    tree = rig(REGULATED)
    part = tree.parts[0]
    own = faults_of(tree)
    own = tuple(f for f in own if f.part == 0)
    values = repeated(draw_values(part, 4, seed=2), len(own))
    case_values(values, own, 4)
    together = solve_part(part, values).volts.reshape(len(own), 4, -1)
    for number, fault in enumerate(own):
        alone = draw_values(part, 4, seed=2)
        case_values(alone, (fault,), 4)
        np.testing.assert_allclose(together[number], solve_part(part, alone).volts, atol=1e-7)


def test_cold_ohms_of_a_divider_by_hand(rig):
    """Seen from sec: the winding 0.277 Ω across everything. From far: 10 mΩ more."""
    tree = rig(
        "  - {id: J1.1, kind: pin, from: sec, to: far}\n",
        "  - {id: L1, kind: load, net: far, amps: 2 A}\n",
    )
    part = tree.parts[0]
    ohms = dict(zip(part.nets, cold_ohms(part, draw_values(part, 1, seed=1))[0], strict=True))
    load = 6 * 5
    assert ohms["sec"] == pytest.approx(1 / (1 / 0.27692 + 1 / (load + 0.01)), rel=1e-3)
    assert ohms["far"] == pytest.approx(1 / (1 / load + 1 / 0.28692), rel=1e-3)


def test_a_short_shows_cold_and_polarity_matters(rig):
    tree = rig(REGULATED)
    part = tree.parts[0]
    good = draw_values(part, 1, seed=1)
    red, black = (cold_ohms(part, good, lead=lead)[0] for lead in ("red", "black"))
    far = part.index("far")
    assert red[far] > 1.5 * black[far] > 10
    bad = draw_values(part, 1, seed=1)
    case_values(bad, (next(f for f in faults_of(tree) if f.name == "CPU: shorted"),), 1)
    # The middle severity is the geometric mean of a weld and 5 Ω: √(0.03 · 5) = 0.387 Ω.
    assert cold_ohms(part, bad)[0, far] == pytest.approx(0.387, rel=0.03)


def test_a_charging_reservoir_rises_as_it_should():
    """After one time constant an ohmmeter of R shows (e − 1)·R."""
    shown = charging_ohms(np.array([0.0, 4.7]), 4.7e-3, source_ohms=1000.0)
    assert shown[0] == 0.0
    assert shown[1] == pytest.approx(1000 * (math.e - 1), rel=1e-9)

    # Beside 1 kΩ: τ = C·(R ∥ Rp) = 0.5 s; v = ½(1 − 1/e) = 0.316 V of 1 V; 0.316/0.684 kΩ = 462 Ω.
    shown = charging_ohms(np.array([0.5, 60.0]), 1e-3, source_ohms=1000.0, beside_ohms=1000.0)
    assert shown == pytest.approx([462.1, 1000.0], rel=1e-3)


def test_a_profile_without_a_transformer_has_no_tree(ruskel):
    assert compile_tree(ruskel) is None


@pytest.mark.parametrize(
    ("lead", "rectifier", "regulator"), [("red", 2e6, 5e4), ("black", 2e5, 2e4)]
)
def test_rectifier_and_regulator_read_cold_by_polarity(rig, lead, rectifier, regulator):
    """By hand from the regulator's output: it, then the rectifier, each with 10 MΩ of leak beside."""
    tree = rig(REGULATED)
    part = tree.parts[0]
    values = draw_values(part, 1, seed=1)
    values.amps["CPU"][:] = 1e-12
    beside = 1 / (1e-7 + 1 / rectifier)
    # The output and the far side of its connector leak, both: 5 MΩ.
    expected = 1 / (2e-7 + 1 / (regulator + beside))
    shown = cold_ohms(part, values, lead=lead)[0, part.index("five")]
    assert shown == pytest.approx(expected, rel=1e-3)


@pytest.mark.parametrize(("k", "ceiling"), [(1.0, 1.07), (2.0, 1.34)])
def test_without_a_reservoir_the_ripple_is_the_bare_halves(k, ceiling):
    """Peak to peak of the sine's halves, in peaks: two a cycle for k = 1, one for k = 2."""
    one = np.ones(1)
    made = rectifier(19.9 * one, 20 * one, 0.4 * one, 1e-9 * one, k * one, 50.0)
    assert float(made.ripple[0]) == pytest.approx(ceiling * 20, rel=1e-3)


def test_leaks_are_mostly_small(rig):
    """The cube of an even draw has the mean 1/4: 0.8 % of what the part is rated for, by four."""
    part = rig(REGULATED).parts[0]
    leaks = draw_values(part, 4000, seed=3).shunt["far"]
    at = max(part.nominal_v[part.index("far")], 1.0)
    assert leaks[0] == 0.0
    assert leaks[1:].mean() == pytest.approx(0.008 * 0.25 * part.rated_amps / at, rel=0.08)
    assert leaks.max() <= 0.008 * part.rated_amps / at


def test_contacts_in_line_behind_a_reservoir_cost_no_power_of_their_number(supply):
    """Fuse, wire and pin before the regulator: solved in a moment, the same as one of their ohms."""
    regulator = "id: U1, kind: regulator, from: n3, to: five, volts: 5 V, limit: 1 A, dropout: 2 V"
    load = "id: L, kind: load, net: five, amps: 0.5 A"
    way = [f"id: J{i}.1, kind: pin, from: {a}, to: {b}"
           for i, (a, b) in enumerate((("raw", "n1"), ("n1", "n2"), ("n2", "n3")))]  # fmt: skip
    long = supply(*way, regulator, load).parts[0]
    short = supply("id: J0.1, kind: pin, from: raw, to: n3", regulator, load).parts[0]
    one, other = draw_values(long, 1, 1), draw_values(short, 1, 1)
    for i in range(3):
        one.series[f"J{i}.1"][:] = 1 / 0.5
    other.series["J0.1"][:] = 1 / 1.5
    ends = [
        (float(found.volts[0, part.index("raw")]), float(found.volts[0, part.index("n3")]))
        for part, found in ((long, solve_part(long, one)), (short, solve_part(short, other)))
    ]
    assert ends[0] == pytest.approx(ends[1], rel=2e-3)
    assert ends[0][0] - ends[0][1] == pytest.approx(1.5 * 0.5, rel=0.01), "0.5 A through 1.5 Ω"

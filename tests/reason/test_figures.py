"""The figures of the model: a slip in one shifts every odds a little, and no journey would see it.

Each is written here once more, with its unit; the models say where it comes from.
"""

import numpy as np
import pytest

from bench_lamp.checks import charging, coil, cold, doubt, identify, junction, limiting, verdict
from bench_lamp.circuit import cold as cold_circuit
from bench_lamp.circuit import compile as compiled
from bench_lamp.circuit import elements, faults, hanging, solve, values
from bench_lamp.logic import blinks, capture
from bench_lamp.reason.logic import faults as logic_faults
from bench_lamp.reason.logic import odds
from bench_lamp.reason.logic import tests as logic_tests
from bench_lamp.reason.power import (
    complaint,
    insight_of,
    likelihood,
    outcomes,
    posterior,
    prediction,
    prior,
    reach,
    several,
    shares,
    strangeness,
    tests,
    uncertainty,
)
from bench_lamp.reason.power.posterior import start
from bench_lamp.units import Band

FIGURES = [
    # Checks, in volts, ohms and shares.
    (verdict, {"ABSENT_SHARE": 0.05, "ABSENT_FLOOR_V": 0.05, "WRONG_WAY_SHARE": 0.2}),
    (charging, {"DRIED": 0.45, "TOO_LARGE": 3.0, "LEAK_S": 20.0, "SHORT_OHM": 5.0, "SHORT_S": 0.1}),
    (charging, {"READ_SHARE": 0.05, "MOMENT_S": 0.15, "FITS": 9.2, "MISFIT": 25.0}),
    (doubt, {"SLACK": 0.2, "IMPLAUSIBLE": 3.0, "DIODE_MOST_V": 4.0}),
    (coil, {"COIL_SHORT_OHM": 1.0}),
    (cold, {"RAIL_SHORT_OHM": 12.0, "BARE_SHORT_OHM": 2.0}),
    (junction, {"SHORT_V": 0.08}),
    (identify, {"SAME_V": 0.006, "UNLIKE_V": 0.06, "SECOND_DROP_V": 0.08, "METAL_V": 0.008}),
    (identify, {"SILICON_V": 0.40, "LOW_SILICON_V": 0.55, "HIGH_SILICON_V": 0.80}),
    (identify, {"DARLINGTON_V": 1.4, "CHANNEL_V": 0.35, "REGULATOR_V": 0.9}),
    (limiting, {"FILAMENT": 0.55, "LAMP_V": 12.0, "LAMP_W": 5.0, "SERIES_W": 100.0}),
    # The circuit: volts, ohms, siemens, hertz, and spreads as shares.
    (cold_circuit, {"COLD_LOAD": {"red": 5.0, "black": 2.2}, "COLD_LEAK_S": 1e-7}),
    (compiled, {"DIODE_V": 0.85, "REGULATION": 0.06, "CORE_SHARE": 0.45, "CHARGING_RMS": 1.8}),
    (compiled, {"LOAD_ROOM": 1.3, "FUSE_ROOM": 0.55, "LEAST_OF_CORE": 0.05, "CORE_ROOM": 0.4}),
    (compiled, {"CONTACT_OHMS": 0.01, "SOURCE_SAG": 0.02}),
    (elements, {"CHARGING_LIFT": 1.5, "WAVE_RIPPLE": 0.21}),
    (hanging, {"LEAK_S": 1e-6, "REJECTION": 0.002, "STARTS_AT": 0.6, "PASSED_DROP_V": 0.5}),
    (solve, {"DIODE_OHM": 0.03, "CONVERTER_RIPPLE": 0.0005}),
    (values, {"SENSE_ALONE": 1.115}),
    (values, {"AGED": 0.93, "USUAL_DROPOUT": 0.85, "LIMIT_ROOM": 1.1, "FUSE_OHM_A": 0.08}),
    (values, {"SHORT_OHMS": (0.03, 5.0), "LEAK_SHARE": 0.008, "OPEN_S": 1e-11}),
    # Reasoning: chances, decades, seconds.
    (posterior, {"UNKNOWN_PRIOR": 0.03, "SOUND_PRIOR": 0.02, "SOUND_AFTER_REPAIR": 0.2}),
    (posterior, {"NEW_PART": 0.05, "TYPICAL": 0.5, "SOUND_AFTER_SEVERAL": 0.5}),
    (prior, {"EVEN_KINDS": 0.6}),
    (complaint, {"COMPLAINT_HOLDS": 0.92, "DEAD_LEVEL": 0.75}),
    (likelihood, {"SLIP": 0.01, "OFF_POINT": 0.3, "MOST_PULL": 3.0}),
    (prediction, {"AC_FLOOR_V": 0.003, "LEADS_OHM": 0.3, "GAIN": 0.004}),
    (
        uncertainty,
        {"UNMODELLED": 0.004, "AC_UNMODELLED": 0.012, "OHM_SPREAD": 0.10, "PICKUP_V": 0.02},
    ),
    (
        uncertainty,
        {"CAP_UNMODELLED": 0.04, "ESR_UNMODELLED": 0.08, "ESR_LEADS": 0.012, "CLAMP_ZERO": 0.008},
    ),
    (shares, {"HELD_BACK": 0.02}),
    (likelihood, {"FREEDOM": 15.0, "T_CONSTANT": -0.9355929191691}),
    (reach, {"BLOWS_AT": 1.65, "BLOWS_WIDTH": 0.22, "TOUCHES": 0.04}),
    (several, {"ONE": 0.80, "TWO": 0.16, "THREE": 0.04}),
    (strangeness, {"DOUBT_CHANCE": 0.05, "DOUBT_MISS": 3.0, "STRANGE_CHANCE": 0.005}),
    (strangeness, {"STRANGE_MISS": 3.5, "SURE_TIMES": 2}),
    (outcomes, {"NOTHING_SHARE": 0.06, "LEAST_SHARE": 0.02, "COVERED": 1.9, "LEAST_ODDS": 1e-4}),
    (insight_of, {"LISTED": 12, "TRIES": 8, "LEAST_ODDS": 0.005, "SPLIT_BITS": 0.2}),
    (complaint, {"NAMED": 0.65, "SILENT": 0.06}),
    (tests, {"POINT_S": 8.0, "LUG_S": 12.0, "TONE_S": 45.0, "OHM_S": 15.0, "POWER_S": 30.0}),
    (tests, {"CONNECTOR_S": 90.0, "LIFT_S": 300.0}),
    (odds, {"SLEEPS": 0.06, "MISREAD": 0.012, "NOWHERE": 0.004, "LINE_SHOWS": 0.35}),
    (odds, {"PULL_WRONG": 0.04, "PULL_CURES": 0.05, "RESEAT_CURES": 0.6, "RESEAT_LUCK": 0.03}),
    (odds, {"TESTER_PASSES": 0.3, "TESTER_FAILS": 0.02, "PROBE_SLIP": 0.04, "PROBE_MISSES": 0.1}),
    (odds, {"IMAGE_SLIP": 0.003, "IMAGE_MISSES": 0.2, "KEPT_BY_LUCK": 0.25}),
    (odds, {"LOST_OTHERWISE": 0.03, "SEEN_FACTOR": 6.0, "NEAR_FACTOR": 4.0}),
    (odds, {"STUCK": {"connector": 0.3, "passive": 0.2, "switch": 0.3}, "USUALLY_STUCK": 0.85}),
    (logic_faults, {"USUAL_SHARES": (0.45, 0.42, 0.13), "EXPOSED": 1.8, "OUTER": 5.0}),
    (logic_tests, {"PULL_S": 45.0, "PIN_S": 1.0, "AGAIN_S": 20.0, "TESTER_S": 90.0}),
    (logic_tests, {"PLUG_S": 110.0, "PROBE_S": 16.0}),
    # Logic: pauses in shares of the usual, seconds, volts.
    (blinks, {"GROUP_PAUSE": 2.2, "LONG_PRESS": 2.4, "LEAST_LONG_S": 0.25, "SINGLE_PAUSE_S": 1.4}),
    (capture, {"LOW_V": 0.8, "HIGH_V": 2.0, "FLOATING_SHARE": 0.05}),
]


@pytest.mark.parametrize(
    ("module", "name", "figure"),
    [(module, name, figure) for module, known in FIGURES for name, figure in known.items()],
    ids=lambda x: x if isinstance(x, str) else "",
)
def test_a_figure_is_what_the_model_says(module, name, figure):
    assert getattr(module, name) == figure


@pytest.mark.parametrize(
    ("tech", "low", "high"),
    [
        ("silicon", 0.4, 0.75),
        ("schottky", 0.1, 0.45),
        ("germanium", 0.15, 0.4),
        ("darlington", 0.55, 1.4),
        ("led", 1.4, 3.4),
        ("mosfet body", 0.35, 0.75),
    ],
)
def test_forward_volts_of_a_junction_by_what_it_is_made_of(tech, low, high):
    assert junction.FORWARD[tech] == Band(low, high)


def test_component_values_spread_as_the_model_says():
    assert values.SPREAD == {
        "mains": 0.025,
        "winding": 0.25,
        "level": 0.015,
        "farads": 0.18,
        "esr": 0.5,
        "law": 0.12,
        "load": 0.12,
        "regulator": 0.012,
        "cold": 0.5,
        "zener": 0.02,
        "ohms": 0.03,
        "contact": 0.5,
        "junction": 0.4,
        "dropout": 0.12,
        "leak": 1.4,
        "alone": 0.05,
        "second": 0.05,
    }


@pytest.mark.parametrize(
    ("mark", "kinds"),
    [
        ("bulged", {"dried out": 12.0, "leaky": 8.0, "shorted": 5.0}),
        ("leaking", {"dried out": 12.0, "leaky": 12.0, "shorted": 4.0}),
        (
            "burnt",
            {"shorted": 8.0, "resistive": 8.0, "open": 5.0, "draws too much": 4.0, "dead": 4.0},
        ),
        ("cracked joint", {"resistive": 8.0, "open": 8.0}),
        ("corroded", {"resistive": 6.0, "open": 6.0}),
        ("missing", {"open": 20.0}),
        ("loose connector", {"resistive": 8.0, "open": 10.0}),
    ],
)
def test_what_was_seen_makes_kinds_of_faults_likelier(mark, kinds):
    assert complaint.MARKS[mark] == kinds


@pytest.mark.parametrize(
    ("name", "weight"),
    [
        ("X1: no mains", 3.0),
        ("S1: open", 2.0),
        ("F1: open", 8.0),
        ("F4: open", 10.0),
        ("T1: winding sec_lamp open", 1.0),
        ("BR2: one leg open", 3.0),
        ("BR2: shorted", 3.0),
        ("BR2: shorted, F4 blown", 3.0),
        ("F4: resistive", 5.0),
        ("C2: high ESR", 3.0),
        ("T1: winding sec_lamp resistive", 1.0),
        ("C2: dried out", 6.0),
        ("C2: leaky", 2.0),
        ("C2: shorted, F4 blown", 1.5),
        ("J3.5: open", 4.0),
        ("J3.5: resistive", 6.0),
        ("U1: dead", 3.0),
        ("U1: passes its input", 2.0),
        ("U1: low", 1.5),
        ("U1: high", 1.5),
        ("LAMPS: open", 1.0),
        ("LAMPS: draws too much", 1.0),
        ("LAMPS: draws too little", 0.5),
        ("VR1: dropper open", 2.0),
        ("VR1: zener open", 1.0),
    ],
)
def test_how_often_each_fault_happens(engine, name, weight):
    found = {f.name: f.weight for f in faults.faults_of(engine.dictionary.tree)}
    assert found[name] == pytest.approx(weight)


def test_the_shares_of_each_familys_faults_add_up():
    for family, parts in logic_faults.SHARES.items():
        assert sum(parts) == pytest.approx(1.0), family
    assert sum(logic_faults.USUAL_SHARES) == pytest.approx(1.0)


def test_a_connector_that_was_put_right_has_none_of_its_pins_suspected_as_before(engine):
    """A twentieth of what they had: their own name is the part before the point."""
    before, after = start(engine.dictionary), start(engine.dictionary, mended=("J3",))
    for index, each in enumerate(engine.dictionary.faults):
        change = after.weights[index] - before.weights[index]
        others = change - np.log(posterior.NEW_PART) if each.block.startswith("J3.") else change
        assert np.ptp(others) < 1e-9, each.name
    names = [f.name for f in engine.dictionary.faults]
    pin, fuse = (next(i for i, n in enumerate(names) if n.startswith(w)) for w in ("J3.5", "F4"))
    moved = (after.weights - before.weights).mean(axis=1)
    assert moved[pin] - moved[fuse] == pytest.approx(np.log(posterior.NEW_PART))


def test_ac_readings_are_compared_from_nothing_up():
    assert prediction.as_log(np.array([-1.0, 0.0, 0.997])) == pytest.approx(
        [np.log10(0.003), np.log10(0.003), 0.0]
    )

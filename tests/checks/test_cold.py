"""Junctions, charging electrolytics and coils: tables of hand-worked cases."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from bench_lamp.checks.charging import judge_capacitance, judge_charging
from bench_lamp.checks.coil import judge_coil
from bench_lamp.checks.junction import identify, judge_junction
from bench_lamp.circuit.cold import charging_ohms
from bench_lamp.units import Band

OL = math.inf


@pytest.mark.parametrize(
    ("forward", "reverse", "tech", "word"),
    [
        pytest.param(0.55, OL, "silicon", "good", id="silicon"),
        pytest.param(0.22, OL, "schottky", "good", id="schottky"),
        pytest.param(0.22, OL, "silicon", "leaky", id="schottky-drop-on-a-silicon-part"),
        pytest.param(1.8, OL, "led", "good", id="led"),
        pytest.param(0.02, 0.02, "silicon", "shorted", id="nothing-either-way"),
        pytest.param(OL, OL, "silicon", "open", id="open"),
        pytest.param(OL, 0.55, "silicon", "open", id="leads-swapped-or-open"),
        pytest.param(0.55, 1.9, "silicon", "parallel part", id="a-part-beside-it"),
        pytest.param(0.55, 0.6, "silicon", "leaky", id="conducts-both-ways"),
        pytest.param(0.95, OL, "silicon", "open", id="too-much-forwards"),
        pytest.param(0.55, None, "silicon", "half read", id="one-way-can-fool"),
        pytest.param(None, OL, "silicon", "half read", id="the-other-way-alone-too"),
        pytest.param(-0.55, OL, "silicon", "good", id="a-meter-that-shows-the-sign"),
    ],
)
def test_junctions_by_both_directions(forward, reverse, tech, word):
    assert judge_junction(forward, reverse, tech).word == word


def test_out_of_circuit_nothing_beside_it_explains_a_reading():
    assert judge_junction(0.55, 1.9, in_circuit=False).word == "leaky"
    assert "beside" not in judge_junction(0.3, OL, in_circuit=False).sentence


def six(**conducts: float) -> dict[tuple[int, int], float]:
    """Return six readings; `p12=0.6` conducts from pin 1 to pin 2, the rest shows OL."""
    pairs = [(a, b) for a in (1, 2, 3) for b in (1, 2, 3) if a != b]
    return {(a, b): conducts.get(f"p{a}{b}", OL) for a, b in pairs}


@pytest.mark.parametrize(
    ("readings", "kind", "pins"),
    [
        pytest.param(
            six(p12=0.66, p13=0.62), "NPN transistor", "1 base, 3 collector, 2 emitter", id="npn"
        ),
        pytest.param(
            six(p12=0.63, p32=0.67), "PNP transistor", "2 base, 1 collector, 3 emitter", id="pnp"
        ),
        pytest.param(
            six(p12=0.30, p13=0.301), "NPN transistor or dual diode", "1 common", id="dual-diode"
        ),
        pytest.param(
            six(p32=0.5), "N-channel MOSFET, or one diode", "1 gate, 2 drain, 3 source", id="mosfet"
        ),
        pytest.param(six(p12=0.01, p21=0.01), "shorted", "", id="shorted"),
        pytest.param(six(), "open", "", id="open"),
        pytest.param(six(p12=0.6, p31=0.6), "not known", "", id="in-a-chain"),
        pytest.param({(1, 2): 0.6}, "not known", "", id="not-all-six"),
    ],
)
def test_what_a_part_without_a_marking_probably_is(readings, kind, pins):
    found = identify(readings)
    assert (found.kind, found.pins) == (kind, pins)


@given(st.permutations([1, 2, 3]), st.floats(0.55, 0.7), st.floats(0.01, 0.05), st.booleans())
def test_a_transistor_is_recovered_whatever_the_order_of_its_pins(pins, drop, more, is_pnp):
    """Inject base, collector and emitter anywhere; the pinout comes back."""
    base, collector, emitter = pins
    readings = {(a, b): OL for a in pins for b in pins if a != b}
    for other, volts in ((collector, drop), (emitter, drop + more)):
        readings[(other, base) if is_pnp else (base, other)] = volts
    found = identify(readings)
    assert found.kind == ("PNP transistor" if is_pnp else "NPN transistor")
    assert found.pins == f"{base} base, {collector} collector, {emitter} emitter"


@pytest.mark.parametrize(
    ("ohms", "word"),
    [
        pytest.param([100, 100, 101, 100], "short or leaky", id="steady-and-low"),
        pytest.param([OL, OL, OL], "open", id="open-at-once"),
        pytest.param([5000, 5100, 5050], "unclear", id="steady-and-high"),
        pytest.param([300, 200, 500], "unclear", id="falls-and-rises"),
        pytest.param([120, 270, 440, 630], "charges", id="about-8200-uF"),
        pytest.param([3000, 20000, OL, OL], "much too small", id="dried-out"),
        pytest.param([8, 16, 24, 34], "much too large", id="something-loads-it"),
    ],
)
def test_charging_signatures_of_8200_microfarads(ohms, word):
    """By hand: C = t / (R ln(1 + Ω/R)); 120 Ω after 1 s is 1/(1000 · 0.1133) = 8.8 mF."""
    found = judge_charging(range(1, len(ohms) + 1), ohms, 8.2e-3)
    assert found.word == word
    assert found.is_good is (word == "charges")


@given(farads=st.floats(1e-4, 3e-2))
def test_the_charging_of_a_capacitor_gives_back_its_value(farads):
    """The circuit's own ramp, judged, gives the capacitance that made it."""
    seconds = np.arange(1.0, 6.0)
    ohms = charging_ohms(seconds, farads, source_ohms=1000.0)
    found = judge_charging(list(seconds), [float(o) if o < 2e7 else OL for o in ohms], farads)
    assert found.word in {"charges", "open"}
    if found.farads is not None:
        assert found.farads == pytest.approx(farads, rel=1e-6)


def test_what_is_beside_a_capacitor_adds():
    ohms = [60, 125, 195, 270]
    assert judge_charging(range(1, 5), ohms, 4.7e-3).word == "much too large"
    assert judge_charging(range(1, 5), ohms, 4.7e-3, in_parallel=8e-3).word == "charges"


@pytest.mark.parametrize(
    ("seconds", "ohms"),
    [([1, 2], [1, 2]), ([1, 2, 2], [1, 2, 3]), ([0, 1, 2], [1, 2, 3]), ([1, 2, 3], [1, 2])],
)
def test_a_series_that_makes_no_sense_is_refused(seconds, ohms):
    with pytest.raises(ValueError, match=r"needed|rise"):
        judge_charging(seconds, ohms, 1e-3)


@pytest.mark.parametrize(
    ("found", "beside", "word"),
    [(8.2e-3, 0, "charges"), (5e-3, 0, "much too small"), (5e-3, 1e-2, "much too small"),
     (15e-3, 0, "much too large"), (15e-3, 8e-3, "charges")],
)  # fmt: skip
def test_capacitance_in_circuit_is_judged_with_what_is_in_parallel(found, beside, word):
    assert judge_capacitance(found, 8.2e-3, in_parallel=beside).word == word


@pytest.mark.parametrize(
    ("ohms", "band", "word"),
    [
        (9.1, Band(8, 12), "good"), (8.0, Band(8, 12), "good"), (6.0, Band(8, 12), "low"),
        (3.0, Band(8, 12), "short"), (0.4, None, "short"), (1.0, None, "good"), (900.0, None, "good"),
        (14.0, Band(8, 12), "high"), (math.inf, Band(8, 12), "open"), (4.0, Band(3.6, 4.8), "good"),
    ],
)  # fmt: skip
def test_coils(ohms, band, word):
    verdict = judge_coil(ohms, band, "Q3")
    assert verdict.word == word
    assert ("Q3" in verdict.sentence) is (word in {"short", "low"})

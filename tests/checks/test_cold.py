"""Junctions, charging electrolytics and coils: tables of hand-worked cases."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from bench_lamp.checks import cold
from bench_lamp.checks.charging import Source, charging_curve, judge_capacitance, judge_charging
from bench_lamp.checks.coil import judge_coil
from bench_lamp.checks.identify import identify
from bench_lamp.checks.junction import judge_junction
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
        pytest.param(0.7, OL, "mosfet body", "good", id="mosfet"),
        pytest.param(0.8, OL, "mosfet body", "open", id="too-much-for-a-body-diode"),
        pytest.param(0.34, OL, "mosfet body", "leaky", id="too-little-for-a-body-diode"),
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


HELD = Source(1800.0, 600.0)


@pytest.mark.parametrize(
    ("ohms", "beside", "word"),
    [
        pytest.param([3, 3, 3, 3], None, "short or leaky", id="steady-and-low"),
        pytest.param([100, 100, 101, 100], None, "unclear", id="a-load-may-be-beside-it"),
        pytest.param(
            [100, 100, 101, 100], 1000.0, "short or leaky", id="nothing-that-low-is-beside-it"
        ),
        pytest.param([100, 100, 101, 100], 80.0, "unclear", id="as-low-as-what-is-beside-it"),
        pytest.param([OL, OL, OL], None, "unclear", id="over-the-range-at-once"),
        pytest.param([300, 200, 500], None, "unclear", id="falls-and-rises"),
        pytest.param([0, OL, OL], None, "unclear", id="nothing-then-overload"),
        pytest.param([0, 0, 0], None, "short or leaky", id="nothing-at-all"),
        pytest.param([125, 260, 401, 551], None, "charges", id="about-8200-uF"),
        pytest.param(
            [113, 231, 355, 483, 600], None, "charges", id="half-as-much-again-by-tolerance"
        ),
        pytest.param([8, 16, 24, 34], None, "much too large", id="something-loads-it"),
    ],
)
def test_charging_signatures_of_8200_microfarads(ohms, beside, word):
    """By hand: Ω = R (e^(t/RC) − 1), 1800 (e^(1/14.76) − 1) = 126 Ω after a second."""
    found = judge_charging(range(1, len(ohms) + 1), ohms, 8.2e-3, source=HELD, beside_ohms=beside)
    assert found.word == word
    assert found.is_good is (word == "charges")


def test_a_dried_one_shows_on_the_range_that_is_named():
    """A tenth of 8200 µF on 6 kΩ: 18000 (e^(1/14.8) − 1) = 1.26 kΩ after a second, not 123 Ω."""
    found = judge_charging(
        (1, 2, 3, 4), (1260, 2600, 4040, 5570), 8.2e-3, source=Source(1.8e4, 6e3)
    )
    assert (found.word, round(found.farads * 1e4)) == ("much too small", 8)


def test_a_good_one_over_the_range_is_not_condemned():
    """100 µF gives 10 kΩ after a second: over a range of 600 Ω at once, and that says nothing."""
    found = judge_charging((1, 2, 3), (OL, OL, OL), 1e-4, source=HELD)
    assert found.word == "unclear"
    assert "hold a higher range" in found.sentence
    assert judge_charging((1, 2, 3), (OL, OL, OL), 1e-4, source=Source(1.8e7, 6e6)).word == "open"


@pytest.mark.parametrize(
    ("ohms", "fits"),
    [
        pytest.param((126, 261, 406, 560), True, id="exact"),
        pytest.param((126, 522, 522, 560), True, id="one-misread"),
        pytest.param((30, 400, 410, 560), False, id="a-jump-and-a-rest"),
        pytest.param((60, 560, 570, 580), False, id="a-jump"),
    ],
)
def test_a_rise_no_capacitor_makes_is_told_by_its_misfit_for_each_reading(ohms, fits):
    """Two readings set capacitance and leak; what is left over is shared by the others."""
    found = judge_charging((1, 2, 3, 4), ohms, 8.2e-3, source=HELD)
    assert ("No capacitor rises like this" not in found.sentence) is fits


@given(farads=st.floats(1e-4, 3e-2))
def test_the_charging_of_a_capacitor_gives_back_its_value(farads):
    """The circuit's own ramp, judged, gives the capacitance that made it."""
    seconds = np.arange(1.0, 6.0)
    held = Source(3 * 6 / farads, 6 / farads)
    ohms = charging_ohms(seconds, farads, source_ohms=held.ohms)
    found = judge_charging(
        list(seconds), [float(o) if o < held.full_scale else OL for o in ohms], farads, source=held
    )
    assert found.word == "charges"
    assert found.farads == pytest.approx(farads, rel=0.15)


@given(
    farads=st.floats(1e-4, 3e-2),
    source=st.floats(200, 1e5),
    leak=st.one_of(st.none(), st.floats(10, 1e5)),
)
def test_the_curve_is_the_circuits_own(farads, source, leak):
    """Two derivations of one circuit agree: this one, and that of the simulated bench."""
    seconds = (0.5, 1.0, 2.0, 4.0)
    mine = charging_curve(seconds, farads, source, leak or math.inf)
    theirs = charging_ohms(np.array(seconds), farads, source_ohms=source, beside_ohms=leak or 1e12)
    for one, other in zip(mine, theirs, strict=True):
        assert one == pytest.approx(other, rel=1e-3) or min(one, other) > 1e6


def test_what_is_beside_a_capacitor_adds():
    ohms = [80, 165, 252, 343]
    alone = judge_charging(range(1, 5), ohms, 2e-3, source=HELD)
    assert alone.word == "much too large"
    assert judge_charging(range(1, 5), ohms, 8e-3, source=HELD).word == "charges"
    assert (
        judge_charging(range(1, 5), ohms, 4.7e-3, source=HELD, in_parallel=12e-3).word == "unclear"
    )


def test_how_often_it_is_right_over_a_thousand_parts():
    """The claim of the docs, measured: no good one condemned, nine of ten bad ones found."""
    from benchmarks.charging import tally

    counts = tally(1000, seed=7)
    good = counts["good"]
    assert good["condemned"] <= 0.01 * good["all"]
    bad = counts["dried"]["condemned"] + counts["shorted"]["condemned"]
    assert bad >= 0.9 * (counts["dried"]["all"] + counts["shorted"]["all"])
    assert sum(c["unclear"] for c in counts.values()) <= 200


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
    ("ohms", "u", "word"),
    [(7.95, 0.54, "edge"), (7.40, 0.54, "low"), (12.3, 0.54, "edge"), (12.6, 0.54, "high"),
     (10.0, 0.54, "good"), (4.2, 0.54, "low"), (3.4, 0.54, "short")],
)  # fmt: skip
def test_a_coil_at_its_limit_is_judged_with_the_meters_uncertainty(ohms, u, word):
    assert judge_coil(ohms, Band(8, 12), uncertainty=u).word == word


LOGIC = ((2.6, 28.2), (1.6, 17.6))


@pytest.mark.parametrize(
    ("read", "band", "verdict", "is_bad"),
    [
        pytest.param((10.0, 6.0), LOGIC, "within", False, id="ten-ohms-is-sound-here"),
        pytest.param((2.0, 1.0), LOGIC, "absent", True, id="below-the-models-limit"),
        pytest.param((10.0, 0.5), LOGIC, "absent", True, id="short-one-way"),
        pytest.param((2.5, 1.8), LOGIC, "within", False, id="within-the-meters-uncertainty"),
        pytest.param((10.0, 6.0), None, "edge", False, id="nothing-to-compare-with"),
        pytest.param((0.6, 0.6), None, "absent", True, id="a-short-wherever-it-is"),
        pytest.param((40.0, 60.0), ((60, 300), (20, 90)), "low", False, id="low-and-no-short"),
        pytest.param((900.0, 60.0), ((60, 300), (20, 90)), "high", False, id="high"),
    ],
)
def test_a_rails_ohms_by_the_models_limits(read, band, verdict, is_bad):
    word = cold.ohms_word(read, "x", band, (0.2, 0.2))
    assert (word.verdict, word.is_bad, word.is_harmful) == (verdict, is_bad, is_bad)


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

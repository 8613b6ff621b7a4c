"""Verdicts, ripple, tone, meter accuracy and doubts, against values worked by hand."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from bench_lamp.checks import Meter, doubt_about, judge, judge_ripple, judge_tone, load_meters
from bench_lamp.checks.doubt import doubt_about_diode, doubt_about_ripple, doubt_about_thousands
from bench_lamp.checks.verdict import ripple_from_rms
from bench_lamp.units import Band

FIVE = {"nominal": 5.0, "design": Band(4.75, 5.25)}
MINUS = {"nominal": -5.0, "design": Band(-5.25, -4.75)}


@pytest.mark.parametrize(
    ("point", "value", "u", "verdict", "remark"),
    [
        pytest.param(FIVE, 5.0, 0.0625, "within", "", id="in-the-middle"),
        pytest.param(FIVE, 4.8125, 0.0625, "edge", "inside", id="just-the-uncertainty-away"),
        pytest.param(FIVE, 4.82, 0.0625, "within", "", id="clear-of-the-uncertainty"),
        pytest.param(FIVE, 4.70, 0.0625, "edge", "outside", id="outside-but-not-clear"),
        pytest.param(FIVE, 4.75, 0.0, "edge", "inside", id="on-the-limit"),
        pytest.param(FIVE, 4.60, 0.0625, "low", "", id="low"),
        pytest.param(FIVE, 5.40, 0.0625, "high", "", id="high"),
        pytest.param(FIVE, 0.24, 0.0625, "absent", "", id="below-five-percent"),
        pytest.param(FIVE, 0.26, 0.0625, "low", "", id="above-five-percent"),
        pytest.param(FIVE, -5.0, 0.0625, "low", "leads swapped", id="leads-swapped"),
        pytest.param(FIVE, math.inf, 0.0, "high", "beyond the meter", id="overload"),
        pytest.param(MINUS, -5.0, 0.0625, "within", "", id="negative-rail"),
        pytest.param(MINUS, -4.2, 0.0625, "low", "low in magnitude", id="negative-rail-sagging"),
        pytest.param(MINUS, -5.6, 0.0625, "high", "high in magnitude", id="negative-rail-too-much"),
        pytest.param(MINUS, 0.1, 0.0625, "absent", "", id="negative-rail-near-zero"),
        pytest.param(MINUS, 0.4, 0.0625, "absent", "", id="negative-rail-a-little-positive"),
        pytest.param(MINUS, 0.99, 0.0625, "absent", "", id="wrong-way-below-a-fifth"),
        pytest.param(MINUS, 1.01, 0.0625, "low", "the sign is wrong", id="wrong-way-above-a-fifth"),
        pytest.param(FIVE, -0.99, 0.0625, "absent", "", id="below-zero-below-a-fifth"),
        pytest.param(MINUS, math.inf, 0.0, "high", "beyond the meter", id="overload-on-a-negative-rail"),
        pytest.param(FIVE, -math.inf, 0.0, "high", "beyond the meter", id="overload-with-a-minus"),
        pytest.param(MINUS, 5.0, 0.0625, "low", "the sign is wrong", id="negative-rail-positive"),
        pytest.param({"nominal": 0.5, "design": Band(0.4, 0.6)}, 0.045, 0.001, "absent", "", id="floor-of-50-mV"),
        pytest.param({"nominal": 0.0, "design": Band(-0.1, 0.1)}, 0.0, 0.001, "within", "", id="nominal-zero"),
    ],
)  # fmt: skip
def test_judge(point, value, u, verdict, remark):
    found = judge(value, uncertainty=u, **point)
    assert found.verdict == verdict
    assert remark in found.remark
    assert found.is_good is (verdict in {"within", "edge"})


@pytest.mark.parametrize(
    ("value", "says"),
    [
        (35.0, "usual"),
        (36.5, "usual here, although outside the drawing"),
        (30.0, "unusual but inside"),
        (20.0, ""),
    ],
)
def test_practice_is_judged_beside_the_drawing(value, says):
    found = judge(value, nominal=32, design=Band(28, 36), practice=Band(34, 37), uncertainty=0.1)
    assert found.practice == says


@given(
    value=st.floats(-400, 400), low=st.floats(1, 100), width=st.floats(0.1, 50), u=st.floats(0, 2)
)
def test_a_mirrored_rail_gets_the_same_verdict(value, low, width, u):
    up, down = Band(low, low + width), Band(-low - width, -low)
    plain = judge(value, nominal=low + width / 2, design=up, uncertainty=u)
    mirrored = judge(-value, nominal=-(low + width / 2), design=down, uncertainty=u)
    assert plain.verdict == mirrored.verdict


@given(value=st.floats(4, 6), u=st.floats(0, 1), more=st.floats(0, 1))
def test_a_worse_meter_never_makes_a_verdict_surer(value, u, more):
    """Within and low may become edge with a worse meter, never the other way round."""
    better = judge(value, uncertainty=u, **FIVE).verdict
    worse = judge(value, uncertainty=u + more, **FIVE).verdict
    assert worse in {better, "edge"}


@pytest.mark.parametrize(
    ("meter", "mode", "value", "resolution", "expected"),
    [
        # 0.5 % of 5.08 V and 3 counts of 1 mV: bound 28.4 mV; times 2/sqrt(3).
        pytest.param("hearthwell-60", "dc V", 5.08, 0.001, 0.032794, id="good-meter"),
        # 0.8 % of 5.08 V and 3 counts of 10 mV: bound 70.64 mV.
        pytest.param("dabbin-2", "dc V", 5.08, 0.01, 0.081568, id="cheap-meter"),
        # Written with one decimal: half of 0.1 V more.
        pytest.param("hearthwell-60", "dc V", 5.1, 0.1, 0.090644, id="coarsely-written"),
        # 1 % of 7.2 V~ and 5 counts of 10 mV: bound 122 mV.
        pytest.param("hearthwell-60", "ac V", 7.2, 0.01, 0.140873, id="ac"),
        pytest.param("hearthwell-60", "dc V", -5.08, 0.001, 0.032794, id="sign-does-not-matter"),
        pytest.param("hearthwell-60", "dc V", math.inf, 0.0, 0.0, id="overload"),
        pytest.param("dabbin-2", "temperature", 20.0, 0.1, 0.0, id="unknown-function"),
    ],
)
def test_expanded_uncertainty_by_hand(meter, mode, value, resolution, expected):
    found = load_meters()[meter].expanded_uncertainty(mode, value, resolution=resolution)
    assert found == pytest.approx(expected, abs=1e-6)


def test_the_lowest_range_that_holds_the_value_is_used():
    meter: Meter = load_meters()["hearthwell-60"]
    assert [meter.range_for("dc V", v).full_scale for v in (0.5, -5.0, 6.0, 6.1, 140)] == [
        0.6,
        6,
        6,
        60,
        600,
    ]
    assert meter.range_for("dc V", 5000) is None


@pytest.mark.parametrize(
    ("rms", "verdict", "word"),
    [
        (0.001, "within", "quiet"),
        (0.0144, "edge", "edge"),
        (0.02, "noisy", "noisy"),
        (math.inf, "noisy", "noisy"),
    ],
)
def test_ripple_is_judged_peak_to_peak(rms, verdict, word):
    """50 mV peak to peak is 14.43 mV RMS of a sawtooth: 50 / (2 sqrt 3)."""
    found = judge_ripple(rms, limit_pp=0.05, uncertainty=0.0005)
    assert (found.verdict, found.word) == (verdict, word)


def test_sawtooth_rms_against_a_sampled_one():
    n = 20001
    ramp = [i / (n - 1) - 0.5 for i in range(n)]
    rms = math.sqrt(sum(x * x for x in ramp) / n)
    assert ripple_from_rms(rms) == pytest.approx(1.0, rel=1e-3)


def test_tone():
    assert (judge_tone(is_open=True).word, judge_tone(is_open=False).word) == ("open", "beeps")


@pytest.mark.parametrize(
    ("value", "point", "meant"),
    [
        pytest.param(5080.0, FIVE, 5.08, id="thousand-too-much"),
        pytest.param(0.00508, FIVE, 5.08, id="mV-for-V"),
        pytest.param(-5.08, FIVE, 5.08, id="sign"),
        pytest.param(5.1, MINUS, -5.1, id="sign-of-a-negative-rail"),
        pytest.param(-4900.0, MINUS, -4.9, id="thousand-and-negative"),
    ],
)
def test_a_doubt_says_what_was_probably_meant(value, point, meant):
    doubt = doubt_about(value, unit="V", **point)
    assert doubt is not None
    assert doubt.meant == pytest.approx(meant)
    assert doubt.meant_text


@pytest.mark.parametrize(
    ("value", "point"),
    [
        (5.0, FIVE),
        (4.2, FIVE),
        (0.0, FIVE),
        (0.3, FIVE),
        (11.0, FIVE),
        (math.inf, FIVE),
        (-0.2, MINUS),
    ],
)
def test_a_plain_fault_is_not_questioned(value, point):
    assert doubt_about(value, unit="V", **point) is None


def test_far_beyond_the_point_is_asked_without_a_guess():
    doubt = doubt_about(31.6, unit="V", **FIVE)
    assert doubt is not None
    assert doubt.meant is None


@pytest.mark.parametrize(
    ("rms", "is_asked"), [(5.0, True), (4.2, True), (1.2, False), (0.02, False)]
)
def test_the_rails_own_volts_are_no_ripple(rms, is_asked):
    assert (doubt_about_ripple(rms, nominal=5.0) is not None) is is_asked


def test_a_ripple_limit_below_what_the_meter_resolves_is_not_judged():
    """14 mV~ on a 200 V range: ± 1.2 V~ says nothing of a limit of 48 mV peak to peak."""
    found = judge_ripple(0.0, limit_pp=0.05, uncertainty=1.2)
    assert (found.verdict, found.word) == ("edge", "cannot tell")
    assert "use one that reads 14\u202fmV~" in found.remark
    assert judge_ripple(3.0, limit_pp=0.05, uncertainty=1.2).verdict == "noisy", "beyond all doubt"


@pytest.mark.parametrize(
    ("typed", "meant"), [(550.0, 0.55), (0.55, None), (math.inf, None), (9000.0, None)]
)
def test_a_diode_test_in_millivolts_is_asked_about(typed, meant):
    doubt = doubt_about_diode(typed)
    assert (doubt is None) is (typed in {0.55, math.inf})
    assert (doubt.meant if doubt else None) == meant


@pytest.mark.parametrize(("value", "meant"), [(1.0, 1000.0), (900.0, None), (5.0, None)])
def test_a_comma_of_thousands_is_asked_about_where_the_thousands_fit(value, meant):
    doubt = doubt_about_thousands(value, unit="Ω", band=Band(800, 1200))
    assert (doubt.meant if doubt else None) == meant

"""The sums of things that are set, against values worked by hand and other arithmetic."""

import math
import random
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats
from scipy.optimize import curve_fit

from bench_lamp.errors import BenchLampError
from bench_lamp.trim.channels import Injection, channel_of, common_ppm, deviation, expected_hz
from bench_lamp.trim.coupled import Aim, Knob, TurnMade
from bench_lamp.trim.duty import heat, left_s, rest_left_s
from bench_lamp.trim.panel import panel_line, shown_at, true_of
from bench_lamp.trim.sender import ScaleMark, contact_volts, shown_share
from bench_lamp.trim.signs import signs_of
from bench_lamp.trim.steady import forecast, is_steady, set_aside, trend
from bench_lamp.trim.transfer import loaded, target, unloaded
from bench_lamp.units.turns import as_said, parse_turn, turn_text, turn_words


@pytest.mark.parametrize(
    ("text", "turns"),
    [
        ("+1/6", 1 / 6), ("-30°", -1 / 12), ("1/4 ccw", -0.25), ("1/12 back", -1 / 12), ("0.25", 0.25),
        ("\u22121/8 turn", -0.125), ("2 turns", 2.0), ("90 deg cw", 0.25), ("0,5", 0.5), ("-1/4 back", 0.25),
    ],
)  # fmt: skip
def test_a_turn_is_read_as_it_is_said(text, turns):
    assert parse_turn(text) == pytest.approx(turns)


@pytest.mark.parametrize("text", ["", "1/0", "a bit", "17.42 V", "99", "1/6/2", "--1/6"])
def test_what_is_no_turn_is_refused(text):
    with pytest.raises(BenchLampError):
        parse_turn(text)


@given(st.floats(-40, 40))
def test_what_is_said_of_a_turn_is_what_is_drawn_and_never_finer_than_a_hand(turns):
    said = as_said(turns)
    assert said == 0 or said * Fraction(turns) > 0
    assert abs(float(said) - turns) <= max(0.34 * abs(turns), 1 / 192)
    assert bool(said) == (turn_text(turns) != "0") == (turn_words(turns) != "next to nothing")


def test_the_line_through_readings_is_that_of_least_squares_with_its_standard_error():
    """Against SciPy's own regression."""
    times = [0.0, 7.0, 11.0, 20.0, 33.0, 41.0]
    values = [8.0, 8.3, 8.2, 8.9, 9.0, 9.6]
    found, theirs = trend(times, values), stats.linregress(times, values)
    assert found.slope == pytest.approx(theirs.slope)
    assert found.slope_se == pytest.approx(theirs.stderr)
    assert found.level == pytest.approx(theirs.intercept + 41 * theirs.slope)
    assert trend([1.0, 2.0], [1.0, 2.0]) is None


@pytest.mark.parametrize(
    ("values", "room", "is_still"),
    [
        ([8.0, 8.01, 7.99, 8.0], 0.2, True),
        ([8.0, 8.1, 8.2, 8.3], 0.2, False),
        ([7.6, 8.4, 7.6, 8.4], 0.2, False),
        ([8.0, 8.0], 0.2, False),
        ([8.0, 8.0, 8.0], 0.0, True),
    ],
)
def test_steady_is_what_neither_moves_nor_wanders(values, room, is_still):
    times = [10.0 * i for i in range(len(values))]
    assert is_steady(times, values, room=room, resolution=0.01) is is_still


def test_a_drift_ends_where_an_independent_fit_says():
    """SciPy's own curve fit of a + b·exp(-t/τ) agrees within the interval; the truth is 8."""
    chance = np.random.default_rng(4)
    t = np.linspace(0, 300, 25)
    y = 8.0 - 2.0 * np.exp(-t / 120) + 0.01 * chance.standard_normal(25)
    found = forecast(t, y, resolution=0.001)
    (end, _, tau), _ = curve_fit(
        lambda t, a, b, tau: a + b * np.exp(-t / tau), t, y, p0=(8, -2, 100)
    )
    assert abs(found.end - end) < 0.6 * found.half
    assert found.tau == pytest.approx(tau, rel=0.1)
    assert abs(found.end - 8.0) < found.half < 0.15
    assert found.seconds == pytest.approx(
        found.tau * math.log(abs(found.end - y[-3:].mean()) / found.half), rel=0.05
    )


@pytest.mark.parametrize(
    "values",
    [
        pytest.param([8.0] * 12, id="nothing-moves"),
        pytest.param([8 + 0.1 * i for i in range(12)], id="a-straight-line-has-no-end"),
        pytest.param([8.0, 9.0, 9.3], id="too-few"),
        pytest.param([8 + math.sin(2.2 * i) for i in range(12)], id="noise"),
        pytest.param([], id="none"),
    ],
)
def test_without_an_end_in_sight_none_is_given(values):
    assert forecast([10.0 * i for i in range(len(values))], values, resolution=0.01) is None


def test_a_jump_that_came_back_is_set_aside_and_a_slope_or_a_step_is_not():
    slope = [8 + 0.1 * i for i in range(12)]
    assert not any(set_aside(slope, 0.01))
    jumped = [*slope[:5], slope[5] + 3, *slope[6:]]
    assert [i for i, out in enumerate(set_aside(jumped, 0.01)) if out] == [5]
    assert not any(set_aside([8.0] * 6 + [9.0] * 6, 0.01)[:5])


def test_ten_thousand_channels_against_exact_arithmetic():
    """Worked again with fractions of whole hertz, from the definition."""
    chance = random.Random(9)
    for _ in range(10_000):
        side, n = chance.choice(["low", "high"]), chance.randint(1, 18)
        channel, if_hz = (
            chance.randrange(100_000_000, 500_000_000),
            chance.randrange(455_000, 45_000_000),
        )
        plan = Injection(if_hz=if_hz, side=side, multiplier=n)
        exact = Fraction(channel - if_hz if side == "low" else channel + if_hz, n)
        assert expected_hz(plan, channel) == exact
        reading = round(float(exact)) + chance.randint(-3000, 3000)
        off = (Fraction(reading) - exact) * n
        found = deviation(plan, channel, reading, allowed_hz=1000, counter_ppm=1, digit_hz=10)
        assert found.hertz == pytest.approx(float(off), abs=1e-3)
        assert found.ppm == pytest.approx(
            float((Fraction(reading) - exact) / exact * 10**6), abs=1e-6
        )
        doubt = (reading * 1e-6 + 5) * n
        inside, beyond = abs(off) <= 1000 - doubt, abs(off) > 1000 + doubt
        word = "within" if inside else ("low" if off < 0 else "high") if beyond else "edge"
        assert found.word == word
        assert channel_of(plan, float(exact)) == pytest.approx(channel, abs=1e-3)


@pytest.mark.parametrize(
    ("ppm", "common"),
    [
        ([6.0, 6.1, 5.9, 6.0, 6.2], 6.0),
        ([6.0, 6.1, 5.9, 6.0, 30.0], 6.0),
        ([6.0, -5.0, 1.0, 12.0], None),
        ([6.0, 6.0, 6.0], None),
        ([0.0, 0.0, 0.0, 0.0], None),
    ],
)
def test_all_off_alike_is_the_counter(ppm, common):
    assert common_ppm(ppm) == (pytest.approx(common, abs=0.2) if common else None)


def test_a_panel_line_is_that_of_least_squares_and_its_interval_students():
    """Against SciPy's regression and t distribution: 5 pairs, 3 degrees of freedom."""
    pairs = [(10.0, 9.1), (20.0, 17.0), (28.0, 23.4), (35.0, 28.6), (42.0, 35.2)]
    line = panel_line(pairs)
    x, y = (np.array(c) for c in zip(*pairs, strict=True))
    theirs = stats.linregress(x, y)
    assert (line.slope, line.offset) == (
        pytest.approx(theirs.slope),
        pytest.approx(theirs.intercept),
    )
    rest = y - theirs.intercept - theirs.slope * x
    spread = math.sqrt((rest**2).sum() / 3)
    half = (
        stats.t.ppf(0.975, 3)
        * spread
        * math.sqrt(1 + 1 / 5 + (28 - x.mean()) ** 2 / ((x - x.mean()) ** 2).sum())
    )
    shown, found = shown_at(line, 28.0)
    assert (shown, found) == (
        pytest.approx(theirs.intercept + theirs.slope * 28),
        pytest.approx(half),
    )
    true, wide = true_of(line, shown)
    assert (true, wide) == (pytest.approx(28.0), pytest.approx(half / theirs.slope))


def test_a_panel_line_is_not_carried_beyond_its_pairs_and_two_pairs_are_none():
    line = panel_line([(10.0, 9.0), (20.0, 17.0), (30.0, 25.0)])
    assert shown_at(line, 31.0) is not None
    assert shown_at(line, 31.1) is None
    assert shown_at(line, 8.0) is None
    assert true_of(line, 40.0) is None
    assert panel_line([(10.0, 9.0), (20.0, 17.0), (20.0, 17.4)]) is None


def test_a_setting_is_carried_by_the_line_through_its_references_and_by_no_more():
    """850 mV read 1.96 V through 100 kΩ on 10 MΩ: bare 1.9796 V; a meter of 1 MΩ shows 1.7996 V."""
    assert target([(0.85, 1.96)], 0.85) == 1.96
    assert target([(0.85, 1.96)], 0.9) is None
    assert target([(0.8, 1.90), (0.9, 2.02)], 0.85) == pytest.approx(1.96)
    bare = unloaded(1.96, 100e3, 10e6)
    assert bare == pytest.approx(1.9796)
    assert loaded(bare, 100e3, 1e6) == pytest.approx(1.79964, abs=1e-4)


SCALE = [ScaleMark(name="empty", ohms=240, share=0), ScaleMark(name="half", ohms=100, share=0.5),
         ScaleMark(name="full", ohms=30, share=1)]  # fmt: skip


@pytest.mark.parametrize(
    ("ohms", "supply", "share"),
    [
        (100.0, 10.0, 0.5),
        (240.0, 10.0, 0.0),
        (30.0, 10.0, 1.0),
        # A fifth more: 12/200 = 60 mA; half is at 50 mA, full at 76.9: 0.5 + 0.5·10/26.9.
        (100.0, 12.0, 0.5 + 0.5 * 10 / (1000 * 10 / 130 - 50)),
        (30.0, 12.0, 1.0),
        (1e6, 10.0, 0.0),
    ],
)
def test_a_gauge_shows_what_its_current_says(ohms, supply, share):
    assert shown_share(SCALE, ohms, fixed_ohms=100, supply=supply, nominal=10) == pytest.approx(
        share
    )


def test_a_contact_takes_its_part_of_the_loop():
    """10 V over 100 + 100 + 50 Ω: 40 mA, 2 V over the contact."""
    assert contact_volts(100, 50, fixed_ohms=100, supply=10) == pytest.approx(2.0)


@pytest.mark.parametrize(
    ("pulls", "now", "warm"),
    [
        ([], 0.0, 0.0),
        ([(0.0, 4.0)], 4.0, 0.5),
        ([(0.0, 8.0)], 8.0, 1.0),
        ([(0.0, 8.0)], 30.5, 0.5),
        ([(0.0, 8.0)], 100.0, 0.0),
        ([(0.0, 4.0), (26.5, 30.5)], 30.5, 0.5),
        ([(0.0, 8.0), (17.0, 21.0)], 21.0, 1.3),
    ],
)
def test_heat_fills_while_it_is_on_and_empties_while_it_rests(pulls, now, warm):
    """8 s on, 45 s of rest: each pull adds its share, each pause takes one."""
    found = heat(pulls, now, on_s=8.0, rest_s=45.0)
    assert found == pytest.approx(warm)
    assert left_s(found, 8.0) == pytest.approx(max(1 - warm, 0) * 8)
    assert rest_left_s(found, 45.0) == pytest.approx(45 * warm)


@pytest.mark.parametrize(
    ("turns", "signs"),
    [
        # A twelfth of 12 mA a turn is 1 mA, a third of that ten doubts: it should have shown.
        (1 / 12, [(0, "does nothing")]),
        # A forty-eighth is 0.25 mA: a third of it is two doubts, and proves nothing.
        (1 / 48, []),
    ],
)
def test_an_adjuster_does_nothing_only_where_it_should_have_shown(turns, signs):
    """Volts and milliamperes each against their own doubt: 1 V of doubt hides the first reading altogether."""
    aims = [
        Aim(name="volts", low=10, high=20, doubt=1.0),
        Aim(name="amps", low=7, high=9, doubt=0.033),
    ]
    still = [TurnMade(adjuster=0, turns=turns, before=(15.0, 5.0), after=(15.0, 5.0))] * 2
    found = signs_of(np.array([[1.0], [12.0]]), [Knob(name="RV")], aims, still).found
    assert [(j, str(sign)) for j, sign in found] == signs

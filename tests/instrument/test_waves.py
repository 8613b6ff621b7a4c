"""Ripple by its waveform, contacts that are moved, and a supply's current: against values worked out by hand."""

import math

import pytest

from bench_lamp.instrument.charging_stream import ChargingWatch
from bench_lamp.instrument.guard import CurrentGuard
from bench_lamp.instrument.sample import DeviceError, Sample
from bench_lamp.instrument.waveform import analysed, wave_words
from bench_lamp.instrument.wiggle import WiggleWatch

MEAN, STEP = 10.9, 1e-4


def sawtooth(hertz, peak_to_peak, seconds, step=STEP):
    """A reservoir that is charged at once and discharged evenly."""
    return [
        MEAN + peak_to_peak * (0.5 - (n * step * hertz) % 1.0) for n in range(round(seconds / step))
    ]


@pytest.mark.parametrize("mains", [50.0, 60.0])
@pytest.mark.parametrize("is_half", [False, True])
@pytest.mark.parametrize("periods", [2.0, 3.7, 10.0])
def test_an_open_leg_halves_the_frequency(mains, is_half, periods):
    hertz = mains if is_half else 2 * mains
    found = analysed(sawtooth(hertz, 0.9, periods / mains), STEP, mains)
    assert found.mean == pytest.approx(MEAN, abs=0.02)
    assert found.peak_to_peak == pytest.approx(0.9, abs=0.02)
    # The RMS of a sawtooth is its peak to peak over the root of twelve.
    assert found.rms == pytest.approx(0.9 / math.sqrt(12), rel=0.03)
    assert (found.hertz, found.is_half_wave) == (hertz, is_half)
    assert ("an open leg" in wave_words(found)) is is_half


def test_a_little_unevenness_of_the_halves_is_no_open_leg():
    both = sawtooth(100.0, 0.9, 0.1)
    uneven = [v + 0.05 * math.sin(2 * math.pi * 50 * n * STEP) for n, v in enumerate(both)]
    assert not analysed(uneven, STEP, 50.0).is_half_wave


def test_a_smooth_rail_has_no_ripple_of_the_mains():
    found = analysed([5.0] * 1000, STEP, 50.0)
    assert (found.hertz, found.peak_to_peak) == (0.0, 0.0)
    assert "no ripple" in wave_words(found)


@pytest.mark.parametrize(("count", "step"), [(0, STEP), (100, STEP), (1000, 0.0), (50, 5e-3)])
def test_too_short_or_too_coarse_is_a_message(count, step):
    with pytest.raises(DeviceError, match="too short"):
        analysed([5.0] * count, step, 50.0)


def watched(values, digit=0.001):
    watch = WiggleWatch()
    found = [
        watch.take(Sample(at=n / 10, mode="dc V", value=v, resolution=digit))
        for n, v in enumerate(values)
    ]
    return [f for f in found if f is not None]


@pytest.mark.parametrize(
    ("values", "told"),
    [
        ([5.0] * 10 + [4.6], [True]),
        ([5.0] * 100, [False]),
        ([5.0, 5.001] * 60, [False]),
        ([5.0, 4.9, 5.0, 4.9, 5.0] + [4.95] * 90, [False]),
        ([5.0] * 40, []),
        ([5.0] * 5 + [4.94] * 3, [True]),
        ([5.0] * 5 + [4.96] * 90, [False]),
        ([5.0] * 10 + [4.6, 5.0, 4.6], [True]),
    ],
    ids=["a dropout", "still", "noise", "it moved before", "not yet", "1.2 %", "0.8 %", "once"],
)
def test_a_contact_shows_when_it_is_moved_or_it_does_not(values, told):
    assert watched(values) == told


def test_inrush_and_idle_of_a_board():
    guard = CurrentGuard(limit=2.0)
    guard.switched_on(10.0)
    for n in range(100):
        assert not guard.take(3.0 if n == 1 else 0.8 if n < 5 else 0.35, 10.0 + n / 10)
    assert guard.drawn.inrush == 3.0
    assert guard.drawn.idle == 0.35
    guard.switched_on(30.0)
    assert (guard.drawn.inrush, guard.drawn.idle) == (-1.0, -1.0)


@pytest.mark.parametrize(
    ("limit", "amps", "trips"),
    [
        (1.0, [1.1, 1.2], True),
        (1.0, [1.1, 0.9, 1.1], False),
        (0.0, [9.0] * 9, False),
        (1.0, [1.0] * 9, False),
    ],
)
def test_the_limit_trips_on_two_in_a_row(limit, amps, trips):
    guard = CurrentGuard(limit=limit)
    assert any(guard.take(a, n / 10) for n, a in enumerate(amps)) is trips


OPEN = math.inf


@pytest.mark.parametrize(
    ("values", "series"),
    [
        ([OPEN] * 3 + [200.0 * n for n in range(40)], (2000.0, 4000.0, 6000.0)),
        ([OPEN] * 3 + [100.0] * 4 + [OPEN] * 3 + [200.0 * n for n in range(40)], (2000.0, 4000.0, 6000.0)),
        ([200.0 * n for n in range(40)], None),
        ([OPEN] * 3 + [500.0] * 15 + [OPEN] * 30, (500.0, OPEN, OPEN)),
        ([OPEN] * 60, None),
    ],
    ids=["a touch", "lifted at first", "on it before", "beyond the range", "never"],
)  # fmt: skip
def test_a_charging_series_is_taken_from_the_stream(values, series):
    watch = ChargingWatch((1.0, 2.0, 3.0))
    taken = [
        watch.take(Sample(at=n / 10, mode="ohm", value=v, resolution=1.0))
        for n, v in enumerate(values)
    ]
    assert next((t for t in taken if t), None) == series

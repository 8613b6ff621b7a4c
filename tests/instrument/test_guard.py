"""What a supply's current is watched for: inrush, idle, how long it was held, and the trip."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from bench_lamp.checks import load_meters
from bench_lamp.instrument.device import Address
from bench_lamp.instrument.guard import IDLE_S, INRUSH_S, TRIP_SAMPLES, CurrentGuard, Drawn
from bench_lamp.instrument.linked import Linked
from bench_lamp.views.instruments import instrument_row

SUPPLY = Linked(address=Address(kind="scpi", place="here", family="standard-supply"), trip_amps=0.6)


def watched(samples, limit=0.0):
    """Return a guard that took samples of (seconds, amperes) since it was switched on, and when it tripped."""
    guard = CurrentGuard(limit)
    guard.switched_on(100.0)
    tripped = [at for at, amps in samples if guard.take(amps, 100.0 + at)]
    return guard, tripped


@given(
    inrush=st.floats(0.2, 5.0),
    share=st.floats(0.05, 0.7),
    held=st.floats(0.0, 1.5),
    step=st.sampled_from([0.02, 0.1, 0.2]),
)
def test_a_current_that_falls_once_is_held_as_long_as_it_stands(inrush, share, held, step):
    """Above half way between inrush and idle until a moment, at idle from then on: that moment, to a sample."""
    idle = share * inrush
    times = [step * n for n in range(int(4.0 / step))]
    guard, _ = watched([(t, inrush if t <= held else idle) for t in times])
    drawn = guard.drawn
    assert drawn.inrush == inrush
    assert drawn.idle == pytest.approx(idle)
    assert held - step <= drawn.held <= held + 1e-9


@given(amps=st.lists(st.floats(0.0, 10.0), min_size=1, max_size=40), limit=st.floats(0.1, 9.0))
def test_it_trips_at_the_second_sample_above_its_limit_and_never_at_one(amps, limit):
    _, tripped = watched([(0.1 * n, a) for n, a in enumerate(amps)], limit)
    above = [a > limit for a in amps]
    runs = [
        n
        for n in range(len(above))
        if n + 1 >= TRIP_SAMPLES and all(above[n + 1 - TRIP_SAMPLES : n + 1])
    ]
    assert [round(at / 0.1) for at in tripped] == runs


def test_before_it_idles_nothing_is_said_of_idle_and_a_new_start_forgets_the_old_one():
    guard, _ = watched([(0.1, 2.0), (INRUSH_S + 0.2, 1.0), (IDLE_S - 0.1, 0.4)])
    assert guard.drawn == Drawn(inrush=2.0)
    guard.take(0.3, 100.0 + IDLE_S)
    assert guard.drawn == Drawn(inrush=2.0, idle=0.3, held=pytest.approx(0.1))
    guard.switched_on(200.0)
    assert guard.drawn == Drawn()
    guard.take(0.7, 200.1)
    assert guard.drawn == Drawn(inrush=0.7)


@pytest.mark.parametrize(
    ("drawn", "against", "words"),
    [
        (Drawn(), "", "output ON · off above 0.6 A"),
        (Drawn(inrush=0.9), "", "output ON · inrush 0.900 A · off above 0.6 A"),
        (Drawn(inrush=0.9, idle=0.4, held=0.1), "", "output ON · inrush 0.900 A · idle 0.400 A"),
        (Drawn(inrush=0.9, idle=0.4, held=0.1), "X1: idle 0.400 A: within", "output ON · X1: idle 0.400 A: within"),
    ],
)  # fmt: skip
def test_the_row_of_a_supply_says_what_was_drawn_or_how_that_compares(drawn, against, words):
    meter = load_meters()["hearthwell-60"]
    row = instrument_row(SUPPLY, "PS-3", "", None, meter, (True, drawn), against)
    assert row.sure.replace("\u202f", " ").startswith(words)
    if against:
        assert "inrush" not in row.sure

"""A reading counts when it stands still and is new; against simulated probes, and case by case."""

import math

import pytest
from tests.instrument.touches import digit_of, samples, touches

from bench_lamp.instrument.sample import Flag, Sample
from bench_lamp.instrument.settle import Happening, Settler

COUNT = 1000


def run(values, *, mode="dc V", digit=0.001, rate=10.0, flags=frozenset(), settler=None, begin=0.0):
    """Return what happened, as (word, value)."""
    settler = settler or Settler()
    found = []
    for number, value in enumerate(values):
        sample = Sample(
            at=begin + number / rate, mode=mode, value=value, resolution=digit, flags=flags
        )
        found += [(n.what.value, round(n.sample.value, 4)) for n in settler.take(sample)]
    return found


AIR = [0.0, 0.001, 0.0, -0.001, 0.0, 0.0]
ON = [5.081, 5.08, 5.081, 5.081, 5.08, 5.081]


@pytest.mark.parametrize("seed", range(3))
def test_of_a_thousand_touches_nearly_all_are_logged_once_and_hardly_one_is_wrong(seed):
    made, settler = touches(COUNT, seed), Settler()
    logged: dict[int, list[bool]] = {id(t): [] for t in made}
    row, fifth, waited = 0, 0.0, []
    touched = None
    for sample, touch in samples(made, seed):
        if touch is not touched:
            touched, row, fifth = touch, 0, 0.0
        if touch is not None:
            digits = max(1.0, 3 * touch.noise) * digit_of(touch.volts)
            row = row + 1 if abs(sample.value - touch.volts) <= digits else 0
            fifth = fifth or (sample.at if row == 5 else 0.0)
        for noticed in settler.take(sample):
            if noticed.what is Happening.SETTLED:
                assert touch is not None, "logged while the leads were in the air"
                off = abs(noticed.sample.value - touch.volts)
                is_right = off <= max(5 * digit_of(touch.volts), 0.005 * abs(touch.volts))
                logged[id(touch)].append(is_right)
                waited.append(sample.at - (fifth or sample.at))
    once = sum(rights == [True] for rights in logged.values())
    wrong = sum(rights.count(False) + max(len(rights) - 1, 0) for rights in logged.values())
    assert once >= 0.99 * COUNT
    assert wrong <= 0.005 * COUNT
    assert sum(w <= 0.3 + 1e-9 for w in waited) >= 0.98 * len(waited)


@pytest.mark.parametrize(
    ("values", "told"),
    [
        (AIR + ON, [("open", 0.0), ("settled", 5.081)]),
        (ON + ON, [("settled", 5.081)]),
        (ON + AIR + ON, [("settled", 5.081), ("lifted", 0.0), ("open", 0.0), ("settled", 5.081)]),
        (ON + [3.3] * 8, [("settled", 5.081)]),
        (ON + [0.0] * 3 + [3.3] * 6, [("settled", 5.081), ("lifted", 0.0), ("settled", 3.3)]),
        ([5.0, 0.0, 4.0, 1.0, 5.0, 2.0], []),
        ([5.0 * (1 - math.exp(-n / 50)) for n in range(60)], []),
        ([1.0 + n / 100 for n in range(100)], [("drifts", 1.81)]),
        ([12.0, 12.01, 11.99, 12.01, 12.0, 11.99], [("settled", 12.0)]),
    ],
    ids=["touch", "one contact", "again", "a jump without a lift", "the next point", "bounce", "charging",
         "rising", "noise"],
)  # fmt: skip
def test_what_happens_at_the_probe(values, told):
    assert run(values) == told


def test_open_leads_are_proposed_and_never_logged():
    assert [w for w, _ in run([0.0] * 100)] == ["open"]
    assert [w for w, _ in run([math.inf] * 30, mode="ohm")] == ["open"]
    assert [w for w, _ in run([0.2] * 30, mode="ac V", digit=0.01)] == ["open"], "hum on open leads"


def test_a_figure_that_is_held_by_a_key_is_none():
    assert run(ON * 3, flags=frozenset({Flag.HOLD})) == []


def test_ohms_of_a_short_settle_and_the_lift_is_the_over_range():
    found = run([math.inf] * 6 + [0.3] * 8 + [math.inf] * 3 + [470.0] * 6, mode="ohm", digit=0.1)
    assert found == [("open", math.inf), ("settled", 0.3), ("lifted", math.inf), ("settled", 470.0)]


TAPPED = ON + [0.0] * 2 + [5.08] * 2 + [0.0] * 2 + [5.08] * 2


@pytest.mark.parametrize(
    ("values", "rate", "taps"),
    [(TAPPED, 10.0, 1), (TAPPED, 5.0, 0), (ON + [0.0] * 2 + [3.3] * 2 + [0.0] * 2 + [3.3] * 2, 10.0, 0),
     (ON + [0.0] * 9 + [5.08] * 9 + [0.0] * 9 + [5.08] * 2, 10.0, 0), (ON + AIR + ON, 10.0, 0)],
    ids=["tapped", "a slow meter", "another point", "slowly", "once"],
)  # fmt: skip
def test_two_taps_where_it_was_logged(values, rate, taps):
    assert [w for w, _ in run(values, rate=rate)].count("double tap") == taps


def test_a_tap_that_is_held_is_no_new_reading():
    found = [w for w, _ in run([*TAPPED, *([5.08] * 20)])]
    assert found.count("settled") == 1


def test_another_mode_begins_anew():
    settler = Settler()
    run(ON, settler=settler)
    settler.forget()
    assert run(ON, settler=settler, begin=2.0) == [], "the probe was not lifted"
    found = run(AIR + ON, settler=settler, begin=4.0)
    assert [w for w, _ in found] == ["lifted", "open", "settled"]

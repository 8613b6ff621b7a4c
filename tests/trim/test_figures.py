"""A fifth of the reported figures: what the cards promise of coupled adjusters, drifts and panel meters."""

import numpy as np
import pytest
from benchmarks.trim_figures import by_hand, drifts, pairs, panels, singles

SEEDS = range(30_000, 30_100)


def test_two_that_pull_on_each_other_take_five_turns_and_rarely_nine():
    """Slopes off by up to three, one sign unknown, play of 5°, drift: test turns counted."""
    found = pairs(SEEDS)
    turns = [s.turns for s in found]
    assert np.median(turns) <= 5
    assert np.quantile(turns, 0.95) <= 9
    assert np.mean([s.is_right for s in found]) >= 0.97
    assert np.quantile([s.turns for s in pairs(SEEDS, by_hand)], 0.95) > np.quantile(turns, 0.95)


def test_one_adjuster_takes_three_turns():
    found = singles(SEEDS)
    assert np.median([s.turns for s in found]) <= 3
    assert np.mean([s.is_right for s in found]) >= 0.97


def test_forecasts_hold_are_narrow_and_are_rarely_declined():
    found = drifts(range(30_000, 30_300))
    assert found.held >= 0.90
    assert found.declined <= 0.30
    assert found.width <= 0.20


def test_panel_intervals_hold_what_they_say():
    assert panels(range(30_000, 32_000)) == pytest.approx(0.95, abs=0.02)

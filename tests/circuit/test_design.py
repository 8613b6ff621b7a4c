"""The plan of tolerances: none of a part's own values goes along with another."""

import numpy as np
import pytest

from bench_lamp.board.library import ProfileLibrary
from bench_lamp.circuit import compile_tree
from bench_lamp.circuit.design import COLD_ONLY, LIVE_ONLY, PLAIN, PLAN, planned_values
from bench_lamp.circuit.values import SPREAD

#: Which tolerance each field of the values has.
LIVE = ("open_v", "winding_ohms", "amps", "farads", "esr", "set_v", "dropout", "series")
COLD = ("winding_ohms", "amps", "cold", "junction", "series")


def signs(values, names):
    """Return how each tolerance goes over the plan's rows: (tolerances, rows), ±1."""
    where = PLAIN.planned[0]
    each = []
    for name in names:
        found = getattr(values, name)
        for array in found.values() if isinstance(found, dict) else (found,):
            logs = np.log(array[where])
            away = logs - logs.mean()
            if np.abs(away).max() > 1e-9:
                each.append(np.sign(away))
    return np.array(each)


@pytest.mark.parametrize(
    "board", ["tessenby-orrery-nights", "ardvane-cinder-dunes", "ostrel-8", "varnholt-vx12"]
)
@pytest.mark.parametrize(("is_cold", "names"), [(False, LIVE), (True, COLD)])
def test_no_tolerance_goes_along_with_another(board, is_cold, names):
    """Sixteen rows held fifteen values; the leak of a net went along with its winding's level."""
    for part in compile_tree(ProfileLibrary().get(board)).parts:
        found = signs(planned_values(part, PLAIN, is_cold=is_cold), names)
        together = found @ found.T / PLAN
        assert together == pytest.approx(np.eye(len(found)), abs=1e-9), part.root


def test_what_a_reading_does_not_show_takes_no_row_of_its_plan():
    part = compile_tree(ProfileLibrary().get("tessenby-orrery-nights")).parts[0]
    live, cold = (planned_values(part, PLAIN, is_cold=is_cold) for is_cold in (False, True))
    assert np.ptp(live.cold["CPU"]) == 0
    assert np.ptp(cold.farads["C1"]) == 0
    assert np.log(cold.cold["CPU"]).max() == pytest.approx(SPREAD["cold"])
    assert not LIVE_ONLY & COLD_ONLY

"""A resistor for a full load, and where the limit goes; by hand from R = V/I and P = V²/R."""

import pytest

from bench_lamp.checks.full_load import limit_above, load_resistor


@pytest.mark.parametrize(
    ("volts", "amps", "ohms", "heat", "rating"),
    [
        (36.0, 2.0, 18.0, 72.0, 150),
        (36.0, 0.5, 75.0, 17.28, 50),
        (5.0, 1.1, 4.7, 5.319, 15),
        (12.0, 1.0, 12.0, 12.0, 25),
        (140.0, 0.03, 4700.0, 4.170, 10),
        (5.0, 0.01, 510.0, 0.0490, 0.25),
        (200.0, 3.0, 68.0, 588.2, 1176.5),
    ],
)
def test_the_nearest_of_e24_made_for_twice_its_heat(volts, amps, ohms, heat, rating):
    found = load_resistor(volts, amps)
    assert found.ohms == pytest.approx(ohms)
    assert found.heat == pytest.approx(heat, rel=1e-3)
    assert found.rating == pytest.approx(rating, rel=1e-3)
    assert found.amps == pytest.approx(volts / ohms)


@pytest.mark.parametrize(("volts", "amps"), [(0.0, 1.0), (5.0, 0.0), (-5.0, 1.0), (5.0, -1.0)])
def test_nothing_is_no_load(volts, amps):
    with pytest.raises(ValueError, match="above 0"):
        load_resistor(volts, amps)


@pytest.mark.parametrize(
    ("amps", "meter", "limit"),
    [(2.0, 0.03, 2.09), (0.1, 0.0, 0.13), (1.0, 0.0, 1.04), (5.0, 0.1, 5.22)],
)
def test_the_limit_is_above_the_load_by_both_instruments(amps, meter, limit):
    assert limit_above(amps, meter) == pytest.approx(limit)
    assert limit_above(amps, meter) >= amps * 1.02 + 0.02 + meter

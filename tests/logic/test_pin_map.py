"""Pin-to-ground maps: the three patterns, and that an injected burn is recovered."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from bench_lamp.logic import judge_pins


@pytest.mark.parametrize(
    ("found", "word", "extra", "missing"),
    [
        pytest.param([8], "as expected", (), (), id="as-expected-is-no-proof"),
        pytest.param([3, 8], "burnt through", (3,), (), id="one-extra"),
        pytest.param([3, 5], "burnt through", (3, 5), (8,), id="extras-lead"),
        pytest.param([], "wrong reference", (), (8,), id="nothing-beeps"),
    ],
)
def test_the_patterns_of_a_sixteen_pin_driver(found, word, extra, missing):
    verdict = judge_pins(16, [8], found)
    assert (verdict.word, verdict.extra, verdict.missing) == (word, extra, missing)
    assert verdict.is_good is (word == "as expected")
    assert ("not proof" in verdict.sentence) is (word == "as expected")


def test_one_of_two_grounds_missing_is_a_broken_joint():
    assert judge_pins(20, [1, 10], [10]).word == "pin not grounded"


@given(st.sets(st.integers(1, 16), min_size=1, max_size=4), st.sets(st.integers(1, 16), max_size=4))
def test_an_injected_burn_is_recovered(low, burnt):
    verdict = judge_pins(16, low, low | burnt)
    assert set(verdict.extra) == burnt - low
    assert verdict.missing == ()


@pytest.mark.parametrize(("low", "found"), [([8], [17]), ([0], []), ([8], [-1])])
def test_a_pin_that_is_not_there_is_named(low, found):
    with pytest.raises(ValueError, match="not on a package of 16"):
        judge_pins(16, low, found)


@pytest.mark.parametrize(
    ("found", "word", "says"),
    [
        pytest.param([9], "wrong reference", "Its own ground pin 8 is silent", id="another-beeps"),
        pytest.param(range(1, 17), "wrong reference", "Every pin beeps", id="all-beep"),
        pytest.param([], "wrong reference", "Nothing beeps", id="none"),
        pytest.param([8, 3, 5], "burnt through", "Pins 3, 5", id="some-more"),
        pytest.param(range(2, 17), "burnt through", "burnt through", id="all-but-one"),
        pytest.param([8], "as expected", "not proof", id="as-expected"),
    ],
)
def test_a_wrong_reference_or_pin_one_is_told_from_a_burnt_part(found, word, says):
    verdict = judge_pins(16, [8], found, ground=8)
    assert verdict.word == word
    assert says in verdict.sentence


def test_every_chip_counted_from_the_other_end_is_a_wrong_reference(library):
    for name in ("tessenby-orrery-nights", "ardvane-cinder-dunes"):
        for chip in library.get(name).pin_maps:
            turned = [(p + chip.pins // 2 - 1) % chip.pins + 1 for p in chip.low]
            if chip.ground not in turned:
                assert (
                    judge_pins(chip.pins, chip.low, turned, ground=chip.ground).word
                    == "wrong reference"
                )

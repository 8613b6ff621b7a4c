"""Numbers as a bench writes them, both ways."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from bench_lamp.units import (
    Band,
    FuseRating,
    UnitError,
    band_text,
    engineering,
    exact,
    parse_quantity,
)


@pytest.mark.parametrize(
    ("text", "unit", "value", "found", "resolution"),
    [
        pytest.param("5.08", "V", 5.08, "V", 0.01, id="plain"),
        pytest.param("5.080", "V", 5.08, "V", 0.001, id="trailing-zero-is-a-digit"),
        pytest.param("-5.1", "V", -5.1, "V", 0.1, id="minus"),
        pytest.param("−5.1", "V", -5.1, "V", 0.1, id="real-minus"),
        pytest.param("+12", "V", 12, "V", 1, id="plus"),
        pytest.param("31,6 V", "V", 31.6, "V", 0.1, id="comma-and-unit"),
        pytest.param(".5", "V", 0.5, "V", 0.1, id="no-leading-zero"),
        pytest.param("4k7", "Ω", 4700, "Ω", 100, id="letter-for-the-point"),
        pytest.param("0R22", "Ω", 0.22, "Ω", 0.01, id="R-for-the-point"),
        pytest.param("1R0", "", 1.0, "Ω", 0.1, id="R-names-ohms"),
        pytest.param("12m", "V", 0.012, "V", 0.001, id="milli"),
        pytest.param("1.2 M", "Ω", 1.2e6, "Ω", 1e5, id="mega"),
        pytest.param("12 mV", "V", 0.012, "V", 0.001, id="milli-with-unit"),
        pytest.param("12000 uF", "F", 0.012, "F", 1e-6, id="u"),
        pytest.param("12000 µF", "F", 0.012, "F", 1e-6, id="micro-sign"),
        pytest.param("12000 μF", "F", 0.012, "F", 1e-6, id="greek-mu"),
        pytest.param("470n", "F", 4.7e-7, "F", 1e-9, id="nano"),
        pytest.param("4K7", "Ω", 4700, "Ω", 100, id="capital-K"),
        pytest.param("5V1", "V", 5.1, "V", 0.1, id="V-for-the-point"),
        pytest.param("5v1", "V", 5.1, "V", 0.1, id="small-v-for-the-point"),
        pytest.param("R22", "Ω", 0.22, "Ω", 0.01, id="nothing-before-the-R"),
        pytest.param("2200mfd", "F", 2.2e-3, "F", 1e-6, id="mfd-is-microfarad"),
        pytest.param("10 MFD", "F", 1e-5, "F", 1e-6, id="capital-mfd"),
        pytest.param("8.1 mF", "F", 8.1e-3, "F", 1e-4, id="millifarad"),
        pytest.param("470 mmfd", "F", 4.7e-10, "F", 1e-12, id="mmfd-is-picofarad"),
        pytest.param("1.2 meg", "Ω", 1.2e6, "Ω", 1e5, id="meg-is-mega"),
        pytest.param("4 megohm", "Ω", 4e6, "Ω", 1e6, id="megohm"),
        pytest.param("- 5.1", "V", -5.1, "V", 0.1, id="space-after-the-sign"),
        pytest.param("~12.4", "V", 12.4, "V~", 0.1, id="wave-before"),
        pytest.param("12 000", "F", 12000, "F", 1, id="thousands-by-a-space"),
        pytest.param("1'250.5", "V", 1250.5, "V", 0.1, id="thousands-by-an-apostrophe"),
        pytest.param("1.234,5", "V", 1234.5, "V", 0.1, id="thousands-by-points"),
        pytest.param("1,234.5 V", "V", 1234.5, "V", 0.1, id="thousands-by-commas"),
        pytest.param("1,000,000", "Ω", 1e6, "Ω", 1, id="millions"),
        pytest.param("1,250", "V", 1.25, "V", 0.001, id="one-comma-is-a-decimal-comma"),
        pytest.param("7.2 V~", "V", 7.2, "V~", 0.1, id="ac-sign"),
        pytest.param("7.2 ac", "V", 7.2, "V~", 0.1, id="ac-word"),
        pytest.param("7.2 dc", "V~", 7.2, "V", 0.1, id="dc-word"),
        pytest.param("12 ohms", "Ω", 12, "Ω", 1, id="ohms-in-words"),
        pytest.param("47 k Ω", "Ω", 47000, "Ω", 1000, id="spaces-anywhere"),
    ],
)  # fmt: skip
def test_parsing(text, unit, value, found, resolution):
    quantity = parse_quantity(text, unit)
    assert quantity.value == pytest.approx(value, rel=1e-12)
    assert quantity.unit == found
    assert quantity.resolution == pytest.approx(resolution, rel=1e-12)


@pytest.mark.parametrize(
    "text", ["OL", "0L", "ol", "O.L", "0.L", "-OL", "over", "open", "o/l", "∞", "inf"]
)
def test_every_overload_is_infinite(text):
    assert parse_quantity(text, "Ω").is_overload


@pytest.mark.parametrize(
    ("text", "unit", "says"),
    [
        ("", "V", "not a reading"),
        ("abc", "V", "not a reading"),
        ("5.0.8", "V", "not a reading"),
        ("5 volts each", "V", "not a reading"),
        ("1,20.5", "V", "not a reading"),
        ("12 Ω", "V", "Ω where V was expected"),
        ("5 V", "Ω", "V where Ω was expected"),
    ],
)
def test_nonsense_is_refused_with_what_was_expected(text, unit, says):
    with pytest.raises(UnitError, match=says) as caught:
        parse_quantity(text, unit)
    assert caught.value.hint


@pytest.mark.parametrize(
    ("value", "unit", "resolution", "text"),
    [
        (5.08, "V", 0.001, "5.080 V"),
        (0.1, "V", 0.1, "0.1 V"),
        (0.012, "V", 0.001, "12 mV"),
        (-4.2, "V", 0.1, "−4.2 V"),
        (4700, "Ω", 100, "4.7 kΩ"),
        (1.2e6, "Ω", 1e5, "1.2 MΩ"),
        (4.7e-7, "F", 1e-9, "470 nF"),
        (36.2, "V~", 0.1, "36.2 V~"),
        (0.0, "V", 0.01, "0.00 V"),
        (math.inf, "Ω", 0.0, "OL"),
    ],
)
def test_engineering_notation_keeps_the_true_digits(value, unit, resolution, text):
    assert engineering(value, unit, resolution=resolution).replace("\u202f", " ") == text


@given(
    digits=st.integers(min_value=1, max_value=99999),
    places=st.integers(min_value=0, max_value=4),
    prefix=st.sampled_from(["", "m", "k", "M", "u", "n"]),
)
def test_what_is_written_is_read_back(digits, places, prefix):
    text = f"{digits / 10**places:.{places}f}{prefix}"
    read = parse_quantity(text, "Ω")
    written = engineering(read.value, "Ω", resolution=read.resolution)
    again = parse_quantity(written.replace("\u202f", " "), "Ω")
    assert again.value == pytest.approx(read.value, rel=1e-9)


@given(st.text(max_size=30))
def test_any_text_is_a_quantity_or_a_refusal(text):
    try:
        quantity = parse_quantity(text, "V")
    except UnitError:
        return
    assert quantity.is_overload or math.isfinite(quantity.value)


@pytest.mark.parametrize(
    ("text", "amps", "speed", "shown"),
    [
        ("3 A slow", 3.0, "slow", "3 A slow"),
        ("T1.6A", 1.6, "slow", "1.6 A slow"),
        ("F 500 mA", 0.5, "fast", "0.5 A fast"),
        ("6.3A fast", 6.3, "fast", "6.3 A fast"),
        ("0,5 A quick", 0.5, "fast", "0.5 A fast"),
    ],
)
def test_fuse_ratings(text, amps, speed, shown):
    rating = FuseRating.parse(text)
    assert (rating.amps, rating.speed) == (amps, speed)
    assert str(rating).replace("\u202f", " ") == shown


@pytest.mark.parametrize("text", ["3 A", "slow", "0 A slow", "big fuse", "3 V slow"])
def test_half_a_fuse_rating_is_refused(text):
    with pytest.raises(UnitError):
        FuseRating.parse(text)


def test_bands_are_read_written_and_held_upright():
    assert Band.parse("4.75..5.25 V") == Band(4.75, 5.25)
    assert str(Band.parse("1.7M..2M")) == "1700000..2000000", "it can be read again"
    assert str(Band.parse("1k2..OL")) == "1200..OL"
    assert str(Band.parse("0.00001..0.0002")) == "0.00001..0.0002"
    assert Band.parse("-5.3..-4.7").middle == -5.0
    assert band_text(Band(-5.3, -4.7), "V").replace("\u202f", " ") == "−5.3 to −4.7 V"
    assert exact(12e-3, "F").replace("\u202f", " ") == "12 mF"
    with pytest.raises(UnitError, match="wrong order"):
        Band.parse("5.25..4.75")
    with pytest.raises(UnitError, match="not a band"):
        Band.parse("4.75-5.25")

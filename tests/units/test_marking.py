"""Markings: what each code says, what it cannot say, and every preferred value there and back."""

import math
import random
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from bench_lamp.units.marking import MarkingCode, MarkingError, PartClass, read_marking
from bench_lamp.units.marking.colours import bands_of
from bench_lamp.units.marking.digits import written_96, written_digits
from bench_lamp.units.marking.letters import written
from bench_lamp.units.marking.tolerances import VOLT_CODES
from bench_lamp.units.series import SIZES, finest_series, is_preferred, nearest, neighbours, series

R, C, L = PartClass.RESISTOR, PartClass.CAPACITOR, PartClass.INDUCTOR

#: As IEC 60062 and the parts themselves have them, worked out by hand.
READ = [
    ("4k7", R, [4.7e3]), ("4K7J", R, [4.7e3]), ("0R22", R, [0.22]), ("R47", R, [0.47]), ("1R0", R, [1.0]),
    ("4R70", R, [4.7]), ("M47", R, [0.47e6]), ("1M2", R, [1.2e6]), ("47E", R, [47, 3.01e6]), ("5L0", R, [0.005]),
    ("472", R, [4.7e3]), ("470", R, [47, 470]), ("471", R, [470]), ("4701", R, [4.7e3]),
    ("1002", R, [10e3]), ("1000", R, [100]), ("68X", R, [49.9]), ("01C", R, [10e3]), ("96A", R, [976]),
    ("100K", R, [100e3, 10, 100]), ("10K", R, [10e3]), ("47", R, [47]),
    ("470n", C, [470e-9]), ("4n7", C, [4.7e-9]), ("p47", C, [0.47e-12]), ("2u2", C, [2.2e-6]),
    ("104", C, [100e-9]), ("229", C, [2.2e-12]), ("104K", C, [100e-9]), ("22", C, [22e-12]),
    ("470", C, [47e-12, 470e-12]), ("1m5", C, [1.5e-3]), ("473M 50V", C, [47e-9]),
    ("106C", C, [10e-6]), ("A226", C, [22e-6]), ("22 16", C, [22e-6]), ("16 22", C, [22e-6]),
    ("2200 25", C, [2200e-6]), ("2200uF 25V", C, [2200e-6]), ("4.7/35", C, [4.7e-6]),
    ("4R7", L, [4.7e-6]), ("101", L, [100e-6]), ("R47", L, [0.47e-6]), ("47N", L, [47e-9]), ("100 uH", L, [100e-6]),
    ("1R0K", L, [1e-6]), ("0.022 630V", C, [22e-9]), ("4n7 1kV", C, [4.7e-9]), ("2n2K100", C, [2.2e-9]),
    ("4.7", C, [4.7e-6, 4.7e-12]), ("150G", R, [15, 150e9, 150]),
    ("brown black red gold", R, [1e3]), ("br bk bk rd bn", R, [10e3, 120]),
    ("yellow violet gold gold", R, [4.7]), ("gold red violet yellow", R, [4.7e3]),
    ("brown black brown gold", L, [100e-6]), ("orange orange brown", R, [330, 13e3]),
]  # fmt: skip


@pytest.mark.parametrize(("text", "part", "values"), READ, ids=lambda x: str(x)[:20])
def test_a_marking_has_these_readings(text, part, values):
    found = [m.value for m in read_marking(text, part)]
    assert sorted(found) == pytest.approx(sorted(values))
    if text not in {"100K", "47E"}:
        assert found[0] == pytest.approx(values[0]), "the likeliest first"


@pytest.mark.parametrize(
    ("text", "tolerance", "volts"),
    [
        ("4K7J", (0.05, 0.05), 0.0),
        ("104K 50V", (0.10, 0.10), 50.0),
        ("104Z", (0.20, 0.80), 0.0),
        ("2A472J", (0.05, 0.05), 100.0),
        ("1H104M", (0.20, 0.20), 50.0),
        ("104K X7R 50V", (0.10, 0.10), 50.0),
        ("5p0C", (0.05, 0.05), 0.0),
        ("106C", None, 16.0),
        ("22 16", None, 16.0),
        ("4n7 1kV", None, 1000.0),
        ("2n2K100", (0.10, 0.10), 100.0),
        ("brown black red silver", (0.10, 0.10), 0.0),
        ("brown black black red green", (0.005, 0.005), 0.0),
        ("68X", (0.01, 0.01), 0.0),
    ],
)
def test_a_marking_says_tolerance_and_volts(text, tolerance, volts):
    part = R if text[0] in "b6" or text == "4K7J" else C
    first = read_marking(text, part)[0]
    assert first.tolerance == (pytest.approx(tolerance) if tolerance else None)
    assert first.volts == volts
    if tolerance:
        low, high = first.limits
        assert low < first.value < high


@pytest.mark.parametrize(
    ("text", "part", "says"),
    [
        ("97A", None, "01 to 96"),
        ("00C", R, "01 to 96"),
        ("022", R, "does not begin with 0"),
        ("198401", None, "a date or a type"),
        ("resistor", None, "no figure"),
        ("4k7k7", R, "carries"),
        ("", None, "Type what stands"),
        ("brown black", R, "three to six"),
        ("gold brown gold", R, "no value begins with gold"),
        ("brown gold red", R, "Look again"),
        ("black", R, "wire"),
        ("yellow violet red", C, "Measure it"),
        ("000", R, "link"),
        ("0R", R, "link"),
        ("br bl gr rd", R, "two colours"),
        ("x" * 70, None, "Type what stands"),
    ],
)
def test_what_no_part_carries_is_refused_with_what_it_misses(text, part, says):
    with pytest.raises(MarkingError) as caught:
        read_marking(text, part)
    assert says in f"{caught.value} {caught.value.hint}"


def test_an_ambiguous_marking_gives_both_and_by_which_code():
    found = {m.value: m.code for m in read_marking("470", R)}
    assert found == {47.0: MarkingCode.THREE_DIGITS, 470.0: MarkingCode.PLAIN}
    both = read_marking("brown red orange brown", R)
    assert [m.code for m in both] == [MarkingCode.COLOURS, MarkingCode.COLOURS_REVERSED]
    without = read_marking("470")
    assert {m.part for m in without} == set(PartClass)


def test_the_series_are_those_of_the_standard():
    """IEC 60063, read off its tables by hand at some places."""
    assert series(12) == (1.0, 1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 3.9, 4.7, 5.6, 6.8, 8.2)
    assert series(96)[:5] == (1.0, 1.02, 1.05, 1.07, 1.1)
    assert 9.20 in series(192)
    assert 9.19 not in series(192)
    assert all(
        set(series(a)) <= set(series(b))
        for a, b in ((3, 6), (6, 12), (12, 24), (48, 96), (96, 192))
    )
    assert neighbours(5000, 12) == pytest.approx((4700, 5600))
    assert nearest(1.0e-7, 3) == pytest.approx(1e-7)


EVERY = [(size, value) for size in SIZES[1:] for value in series(size)]


@pytest.mark.parametrize("power", range(-1, 7))
def test_every_preferred_resistor_is_written_and_read_again(power):
    """Each value of E6 to E192 in each code that can carry it: more than a thousand a decade."""
    for size, mantissa in EVERY:
        value = float(f"{mantissa}e{power}")
        codes = [written(value, R)]
        codes += [
            c
            for c in (_or_none(written_digits, value, R, 2), _or_none(written_digits, value, R, 3))
            if c
        ]
        codes += [c for c in (_or_none(written_96, value),) if c]
        assert size != 96 or codes[-1][-1].isalpha() or not power >= -2
        for code in codes:
            assert any(math.isclose(m.value, value, rel_tol=1e-9) for m in read_marking(code, R)), (
                code
            )
        bands = _or_none(bands_of, value, 0.05 if size <= 24 else 0.01)
        assert bands is not None
        found = read_marking(" ".join(bands), R)
        assert any(math.isclose(m.value, value, rel_tol=1e-9) for m in found), bands
        assert found[0].is_preferred


@pytest.mark.parametrize("power", range(-11, -2))
def test_every_preferred_capacitor_and_inductor_is_written_and_read_again(power):
    for size, mantissa in EVERY:
        if size > 24:
            continue
        value = float(f"{mantissa}e{power}")
        codes = [written(value, C), _or_none(written_digits, value, C, 2)]
        assert all(
            any(math.isclose(m.value, value, rel_tol=1e-9) for m in read_marking(c, C))
            for c in codes
            if c
        )
        if -8 <= power <= -3:
            codes = [written(value, L), _or_none(written_digits, value, L, 2)]
            assert all(
                any(math.isclose(m.value, value, rel_tol=1e-9) for m in read_marking(c, L))
                for c in codes
                if c
            )


#: For the thousand cases: written here by hand, and by nothing of the program.
TWO = (
    10,
    11,
    12,
    13,
    15,
    16,
    18,
    20,
    22,
    24,
    27,
    30,
    33,
    36,
    39,
    43,
    47,
    51,
    56,
    62,
    68,
    75,
    82,
    91,
)
THREE = (100, 105, 121, 147, 178, 205, 249, 332, 402, 499, 604, 715, 806, 953)
NAMES = ["black", "brown", "red", "orange", "yellow", "green", "blue", "violet", "grey", "white"]


def _wet(chance: random.Random):
    micro = chance.choice((1, 10, 22, 47, 100, 220, 470, 1000, 2200, 4700))
    return f"{micro} {chance.choice((16, 25, 35, 50, 63))}", C, Fraction(micro, 10**6)


def _letters(chance: random.Random):
    two = chance.choice(TWO)
    letter, unit = chance.choice((("R", 1), ("k", 1000), ("M", 10**6)))
    return f"{two // 10}{letter}{two % 10}", R, Fraction(two * unit, 10)


def _bands(chance: random.Random):
    if chance.random() < 0.5:
        two, power = chance.choice(TWO), chance.randrange(6)
        digits, last = (two // 10, two % 10, power), chance.choice(("gold", "silver"))
        return " ".join([*(NAMES[d] for d in digits), last]), R, Fraction(two * 10**power)
    three, power = chance.choice(THREE), chance.randrange(6)
    digits = (three // 100, three // 10 % 10, three % 10, power)
    return " ".join([*(NAMES[d] for d in digits), "brown"]), R, Fraction(three * 10**power)


def _digits(chance: random.Random):
    """Draw three digits, four, or a small capacitor in nanofarads."""
    two, three, power = chance.choice(TWO), chance.choice(THREE), chance.randrange(6)
    return chance.choice(
        (
            (f"{two}{power}", R, Fraction(two * 10**power)),
            (f"{three}{power}", R, Fraction(three * 10**power)),
            (f"{two}{power}{chance.choice('JKM')}", C, Fraction(two * 10**power, 10**12)),
            (f"{two}{power}", L, Fraction(two * 10**power, 10**6)),
            (f"{two // 10}n{two % 10}", C, Fraction(two, 10**10)),
        )
    )


def test_a_thousand_markings_say_what_they_say_by_hand():
    chance = random.Random(60062)
    for _ in range(1000):
        text, part, value = chance.choice((_wet, _letters, _bands, _digits))(chance)
        found = [m.value for m in read_marking(text, part)]
        assert any(math.isclose(x, float(value), rel_tol=1e-9) for x in found), (text, part, found)


def _or_none(write, *arguments):
    try:
        return write(*arguments)
    except MarkingError:
        return None


@given(st.text(max_size=40))
def test_any_text_is_read_or_refused(text):
    try:
        found = read_marking(text)
    except MarkingError:
        return
    assert found
    assert all(0 < m.value < math.inf for m in found)


def test_volt_codes_are_those_on_capacitors():
    assert [VOLT_CODES[x] for x in ("0J", "1C", "1E", "1H", "2A", "2G")] == [
        6.3,
        16,
        25,
        50,
        100,
        400,
    ]


def test_how_fine_a_value_is():
    assert [finest_series(x) for x in (4700, 120, 5.1, 49.9, 9.20, 5.11)] == [
        3,
        12,
        24,
        96,
        192,
        48,
    ]
    assert not is_preferred(0.0, 6)

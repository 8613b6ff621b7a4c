"""The bench sums: each against a value worked by hand or published, and any text that is typed."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bench_lamp.sums import SUMS, find_sums, sum_called, worked
from bench_lamp.sums.codes import combined
from bench_lamp.sums.supply import reservoir_at
from bench_lamp.units.marking import PartClass

#: Sum, what is typed, label, value in base units; worked on paper.
CASES = [
    ("divider", {"volts": "12", "top": "10k", "low": "10k"}, "without load", 6.0),
    ("divider", {"volts": "12", "top": "1M", "low": "1M", "meter": "1M"}, "the meter shows", 4.0),
    ("divider", {"volts": "12", "top": "10k", "low": "10k", "load": "10k"}, "loaded", 4.0),
    ("divider", {"volts": "10", "top": "4k7", "low": "4k7"}, "source resistance", 2350.0),
    ("dropper", {"have": "12", "want": "5", "amps": "0.35"}, "resistor", 20.0),
    ("dropper", {"have": "12", "want": "5", "amps": "350m"}, "heat", 2.45),
    ("zener", {"least": "8", "most": "12", "zener": "5", "load": "25m"}, "resistor, at most", 100.0),
    ("zener", {"least": "8", "most": "12", "zener": "5", "load": "25m"}, "heat of the zener, unloaded", 0.35),
    ("network", {"values": "4k7 4k7"}, "in parallel", 2350.0),
    ("network", {"values": "100n 47n"}, "in parallel", 147e-9),
    ("network", {"values": "100n 100n"}, "in series", 50e-9),
    ("network", {"values": "1k 2k2 3k3"}, "in series", 6500.0),
    ("charge", {"ohms": "10k", "farads": "100u", "start": "0", "end": "5", "after": "1"}, "then it has", 3.1606),
    ("charge", {"ohms": "10k", "farads": "100u", "start": "5", "reach": "2.5"}, "reached after", math.log(2)),
    ("charge", {"ohms": "1k", "farads": "2200u", "start": "40"}, "energy at the start", 1.76),
    ("bleed", {"farads": "10000u", "volts": "40"}, "time", 10 * math.log(40 / 30)),
    ("bleed", {"farads": "10000u", "volts": "40"}, "heat at first", 1.6),
    ("load", {"volts": "5", "amps": "2.5"}, "resistor", 2.0),
    ("load", {"volts": "5", "amps": "2.5"}, "heat", 12.5),
    ("led", {"volts": "5"}, "resistor", 300.0),
    ("lamp", {"volts": "6.3", "watts": "1.89"}, "current", 0.3),
    ("lamp", {"volts": "6.3", "watts": "1.89"}, "hot", 21.0),
    ("reactance", {"hertz": "1k", "farads": "1u"}, "of the capacitor", 159.155),
    ("reactance", {"hertz": "1k", "henries": "100m"}, "of the coil", 628.319),
    ("reactance", {"hertz": "1k", "farads": "100p", "henries": "100u"}, "they resonate at", 1.59155e6),
    ("rectifier", {"winding": "9"}, "peak, no load", 11.728),
    ("rectifier", {"winding": "9", "kind": "half"}, "unsmoothed mean", 9 * math.sqrt(2) / math.pi - 0.9),
    ("rectifier", {"winding": "9", "kind": "centre"}, "a diode must stand", 25.456),
    ("transformer", {"primary": "230", "open": "23"}, "turns ratio", 10.0),
    ("transformer", {"primary": "230", "open": "11.5", "loaded": "10", "amps": "2"}, "regulation", 15.0),
    ("transformer", {"primary": "230", "open": "11.5", "loaded": "10", "amps": "2"}, "its ohms", 0.75),
    ("transformer", {"primary": "230", "open": "23", "amps": "2"}, "primary carries", 0.2),
    ("windings", {"fed": "6", "read": "0.6"}, "at the mains this winding gives", 23.0),
    ("mains", {"winding": "12", "is_now": "230"}, "the core’s flux", 120.0),
    ("mains", {"winding": "12", "rated": "220", "is_now": "242"}, "a winding of it reads", 13.2),
    ("duty", {"have": "12", "want": "5", "drop": "0.4"}, "duty", 100 * 5.4 / 12.4),
    ("duty", {"have": "12", "want": "31.5", "drop": "0.5"}, "duty", 62.5),
    ("duty", {"have": "12", "want": "-12", "drop": "0"}, None, None),
    ("duty", {"have": "12", "want": "24", "amps": "1", "efficiency": "100"}, "its input draws", 2.0),
    ("fuse", {"amps": "1"}, "rating, at least", 1.6),
    ("fuse", {"amps": "1", "peak": "20", "tau": "5m"}, "inrush, I²t", 1.0),
    ("regulator", {"have": "10", "want": "5", "amps": "1"}, "heat", 5.0),
    ("regulator", {"have": "10", "want": "5", "amps": "1"}, "fin, at most", (110 - 40) / 5 - 4 - 0.5),
    ("coil", {"volts": "24", "ohms": "12"}, "heat", 48.0),
    ("coil", {"volts": "24", "ohms": "12", "grams": "50", "rise": "60"}, "on for, at most", 0.05 * 385 * 60 / 48),
    # IEC 60034-1: 20 % more ohms from 20 °C are 50.9 K.
    ("winding", {"cold": "10", "hot": "12"}, "rise", 50.9),
    ("wire", {"metres": "1", "square": "1", "amps": "10"}, "drop", 10 * 2 / 58),
    ("wire", {"metres": "1", "square": "1", "amps": "10", "celsius": "70"}, "it has", 2 / 58 * 1.1965),
    # IPC-2221: 1 mm of 35 µm carries about 3.2 A for 20 K.
    ("track", {"width": "1", "long": "100", "amps": "1"}, "carries, for 20 K more", 3.244),
    ("track", {"width": "1", "long": "100", "amps": "1"}, "it has", 0.1 / 58 / 0.035),
    ("db", {"first": "1", "second": "2"}, "of volts", 6.0206),
    ("db", {"ratio": "20"}, "as volts", 10.0),
    ("db", {"ratio": "-3"}, "as power", 0.501187),
    ("ppm", {"wanted": "10M", "read": "10000050"}, "that is", 5.0),
    ("crystal", {"channel": "145.5M", "middle": "10.7M", "times": "3"}, "injection low, crystal", 44.9333e6),
    ("crystal", {"channel": "145.5M", "middle": "10.7M"}, "injection low, image at", 124.1e6),
    ("channel", {"crystal": "44.9333333M", "middle": "10.7M", "times": "3"}, "injection low, channel", 145.5e6),
    ("preferred", {"value": "5k"}, "E24", 5100.0),
]  # fmt: skip


@pytest.mark.parametrize(("name", "typed", "label", "value"), CASES)
def test_a_sum_gives_what_paper_gives(name, typed, label, value):
    found = worked(sum_called(name), typed)
    assert not found.error
    assert not found.errors
    if label is None:
        assert found.outcomes
        return
    by_label = {o.label: o for o in found.outcomes}
    assert by_label[label].value == pytest.approx(value, rel=2e-3)
    assert by_label[label].unit in by_label[label].text


@pytest.mark.parametrize(
    ("name", "typed", "label", "text"),
    [
        ("number", {"number": "$A5"}, "binary", "1010 0101"),
        ("number", {"number": "165"}, "lines high", "D0 D2 D5 D7"),
        ("number", {"number": "A5h"}, "turned over", "5A, as inverting drivers show it"),
        ("checksum", {"bytes": "31 32 33 34 35 36 37 38 39"}, "CRC-16", "29B1"),
        ("checksum", {"bytes": "31 32 33 34 35 36 37 38 39"}, "CRC-32", "CBF43926"),
        ("checksum", {"bytes": "FF 01"}, "sum, 8 bits", "00"),
        ("codes", {"value": "4k7"}, "bands, 5\u202f%", "yellow violet red gold"),
        ("codes", {"value": "100n"}, "three digits", "104"),
        ("codes", {"value": "4.75k"}, "96-value code", "66B"),
        ("marking", {"marking": "470"}, "tell them apart", "measure it: 47\u202fΩ or 470\u202fΩ"),
        ("duty", {"have": "12", "want": "5"}, "it is", "step-down"),
        (
            "mains",
            {"winding": "12", "is_now": "230"},
            "so",
            "the core saturates: it hums and heats",
        ),
    ],
)
def test_a_sum_says_this(name, typed, label, text):
    by_label = {o.label: o.text for o in worked(sum_called(name), typed).outcomes}
    assert by_label[label] == text


@pytest.mark.parametrize(
    ("winding", "amps", "farads", "ohms", "k"),
    [(12, 1.0, 4.7e-3, 0.8, 1.0), (9, 0.5, 10e-3, 0.5, 1.0), (25, 0.5, 4.7e-3, 1.0, 2.0)],
)
def test_the_reservoir_agrees_with_steps_in_time(winding, amps, farads, ohms, k):
    """Charged through ohms from half sines, emptied by a steady load: in steps of 10 µs over 1 s."""
    peak = math.sqrt(2) * winding - 0.9 * (2 if k == 1 else 1)
    step, volts, seen = 1e-5, peak, []
    for n in range(100_000):
        wave = math.sin(2 * math.pi * 50 * n * step)
        source = peak * (abs(wave) if k == 1 else max(wave, 0.0))
        volts += step / farads * (max((source - volts) / ohms, 0.0) - amps)
        if n >= 80_000:
            seen.append(volts)
    mean, ripple, share = reservoir_at(
        winding, amps, farads, ohms, diodes=2 if k == 1 else 1, k=k, hertz=50
    )
    assert mean == pytest.approx(sum(seen) / len(seen), rel=0.03)
    assert ripple == pytest.approx(max(seen) - min(seen), rel=0.08)
    assert 0.05 < share < 0.6


@pytest.mark.parametrize(
    ("name", "typed", "says"),
    [
        ("dropper", {"have": "5", "want": "12", "amps": "1"}, "drop volts"),
        ("zener", {"least": "4", "most": "12", "zener": "5", "load": "1m"}, "above the zener"),
        ("charge", {"ohms": "1k", "farads": "1u", "start": "0", "end": "5", "reach": "6"}, "never gets there"),
        ("bleed", {"farads": "1u", "volts": "20"}, "below that"),
        ("network", {"values": "4k7"}, "two or more"),
        ("network", {"values": "4k7 100n"}, "of one kind"),
        ("reservoir", {"winding": "9", "amps": "900", "farads": "1m", "ohms": "1"}, "cannot give"),
        ("rectifier", {"winding": "9", "kind": "triple"}, "no rectifier"),
        ("regulator", {"have": "5", "want": "8", "amps": "1"}, "takes away"),
        ("fuse", {"amps": "100"}, "No fuse"),
        ("checksum", {"bytes": "3E0"}, "two hex digits"),
        ("number", {"number": "xyz"}, "no whole number"),
        ("marking", {"marking": "97A"}, "01 to 96"),
        ("combine", {"value": "15u", "have": "10 4k7"}, "same kind"),
        ("db", {}, "two levels"),
    ],
)  # fmt: skip
def test_values_that_make_no_sense_are_refused_with_the_mend(name, typed, says):
    found = worked(sum_called(name), typed)
    assert says in found.error
    assert not found.outcomes


def test_what_is_missing_or_wrong_is_said_by_given():
    divider = sum_called("divider")
    assert worked(divider, {"volts": "12"}).missing == ("upper", "lower")
    found = worked(divider, {"volts": "12 A", "top": "x", "low": "-4"})
    assert set(found.errors) == {"volts", "top", "low"}


@pytest.mark.parametrize(
    ("value", "part", "made"),
    [
        (5000, PartClass.RESISTOR, 5000),
        (15e-6, PartClass.CAPACITOR, 15e-6),
        (777, PartClass.RESISTOR, 777),
    ],
)
def test_two_parts_make_a_value(value, part, made):
    best = combined(value, part)
    assert best[0][3] == pytest.approx(made, rel=0.01)
    for one, other, is_series, total in best:
        adds = is_series != (part is PartClass.CAPACITOR)
        assert total == pytest.approx(one + other if adds else one * other / (one + other))


def test_two_parts_from_the_drawer_only():
    assert combined(5000, PartClass.RESISTOR, have=(10_000.0, 4700.0))[0][:3] == (
        10_000.0,
        10_000.0,
        False,
    )


def test_every_sum_has_its_formula_source_and_a_name_that_is_found():
    assert len({s.id for s in SUMS}) == len(SUMS)
    for one in SUMS:
        assert one.formula, one.id
        assert one.source, one.id
        assert one in find_sums(one.title)
    assert find_sums("ripple")[0].id == "reservoir"
    assert not find_sums("no such thing")


def test_a_sum_that_is_given_too_little_says_what_else():
    reactance = next(s for s in SUMS if s.id == "reactance")
    assert (
        worked(reactance, {"hertz": "1k"}).error == "Too little is given. Give capacitor or coil."
    )


@settings(max_examples=300)
@given(st.sampled_from(SUMS), st.data())
def test_whatever_is_typed_a_sum_answers(one, data):
    some = st.one_of(
        st.text(max_size=8),
        st.sampled_from(["0", "1", "-5", "1e9", "4k7", "1e-12", "OL", "9" * 30, "brown red red"]),
    )
    typed = {g.key: data.draw(some) for g in one.givens}
    found = worked(one, typed)
    assert found.outcomes or found.error or found.errors or found.missing

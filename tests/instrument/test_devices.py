"""Linked instruments against their stand-ins, and a program that is really installed: values, flags, and faults."""

import itertools
import math
import struct

import pytest

from bench_lamp.bench.standins.faults import ALL
from bench_lamp.bench.standins.scpi_server import Connected, StandIn
from bench_lamp.bench.standins.streaming import StreamingMeter
from bench_lamp.instrument import sigrok
from bench_lamp.instrument.device import Address, open_device, stream
from bench_lamp.instrument.display import sample_of
from bench_lamp.instrument.families import load_families, read_family
from bench_lamp.instrument.kinds import KINDS
from bench_lamp.instrument.sample import DeviceError, Flag
from bench_lamp.instrument.taught import TaughtLines, teach


@pytest.fixture
def linked():
    """Open stand-ins and what speaks to them; close both."""
    opened = []

    def _open(kind: str, bench: Connected | None = None):
        stand_in = StandIn(kind, bench)
        device = open_device(
            Address(kind="scpi", place=stand_in.place, family=f"standard-{kind}"), KINDS
        )
        opened.extend((device, stand_in))
        return device, stand_in

    yield _open
    for each in opened:
        each.close()


@pytest.mark.parametrize(
    ("mode", "value"),
    [("dc V", -12.034), ("ac V", 6.31), ("ohm", 4700.0), ("diode", 0.612), ("F", 4.7e-6), ("Hz", 120.0), ("A", 0.25)],
)  # fmt: skip
def test_a_bench_meter_in_each_mode(linked, mode, value):
    device, _ = linked("meter", Connected(values={mode: value}))
    found = device.read(mode)
    assert found.mode == mode
    assert found.value == pytest.approx(value, rel=1e-4)
    assert 0 < found.resolution <= abs(value) * 1e-5


def test_what_it_is_and_what_it_can(linked):
    device, _ = linked("meter", Connected(values={}))
    assert device.identify().name == "Quillet BM-6 stand-in"
    assert device.identify().serial == "0001"
    over = device.read("ohm")
    assert over.is_over
    assert over.flags == {Flag.OVER}
    with pytest.raises(DeviceError, match="cannot measure peak"):
        device.read("peak to peak")


def test_a_range_is_held_until_it_is_let_go(linked):
    device, _ = linked("meter", Connected(values={"dc V": 12.0, "ohm": 4700.0}))
    device.hold_range("dc V", 2.0)
    assert device.read("dc V").is_over
    assert device.read("ohm").value == pytest.approx(4700, rel=1e-3), "of that mode alone"
    assert device.read("dc V").is_over, "still, after another mode was read"
    device.hold_range("dc V", 20.0)
    assert device.read("dc V").value == pytest.approx(12, rel=1e-3)
    device.hold_range("dc V", 0.0)
    assert device.read("dc V").value == pytest.approx(12, rel=1e-3)
    with pytest.raises(DeviceError, match="cannot be held"):
        device.hold_range("diode", 2.0)
    with pytest.raises(DeviceError, match="refuses"):
        device.hold_range("ohm", 1e12)
    assert device.read("ohm").value == pytest.approx(4700, rel=1e-3), "what it refused is not held"


def test_a_supply_is_set_read_and_switched_off_at_once(linked):
    device, stand_in = linked("supply", Connected(load_ohms=10.0, noise=0.0))
    device.set_output(5.0, 2.0)
    device.switch(on=True)
    assert device.sense() == (pytest.approx(5.0), pytest.approx(0.5))
    device.set_output(5.0, 0.2)
    assert device.sense() == (pytest.approx(2.0), pytest.approx(0.2)), "at its limit"
    device.switch(on=False)
    assert not stand_in.is_on
    assert device.sense() == (0.0, 0.0)
    with pytest.raises(DeviceError, match="refuses"):
        device.set_output(500.0, 1.0)
    assert stand_in.volts == 5.0


def test_a_scope_gives_figures_its_screen_and_its_waveform(linked):
    hertz, step = 100.0, 1e-4
    wave = tuple(5.0 + 0.2 * math.sin(2 * math.pi * hertz * n * step) for n in range(2000))
    device, _ = linked("scope", Connected(wave=wave, step=step, noise=0.0))
    assert device.read("peak to peak").value == pytest.approx(0.4, rel=1e-3)
    assert device.read("mean").value == pytest.approx(5.0, rel=1e-3)
    assert device.read("Hz").value == pytest.approx(hertz, rel=0.06)
    picture = device.screen()
    assert struct.unpack(">II", picture[16:24]) == (64, 48)
    samples, seconds = device.wave(1)
    assert seconds == pytest.approx(step)
    assert samples == pytest.approx(wave, abs=1e-4)


@pytest.mark.parametrize("what", ALL)
@pytest.mark.parametrize("value", [5.08, math.inf])
def test_nothing_that_goes_wrong_on_the_line_is_a_reading(linked, monkeypatch, what, value):
    monkeypatch.setattr("bench_lamp.instrument.scpi.ANSWER_S", 0.2)
    device, stand_in = linked("meter", Connected(values={"dc V": value}))
    stand_in.bench.fault.what = what
    with pytest.raises(DeviceError):
        device.read("dc V")
    device.close()
    again = KINDS["scpi"](Address(kind="scpi", place=stand_in.place, family="standard-meter"))
    assert again.read("dc V").value == pytest.approx(value, rel=1e-3)
    again.close()


def test_a_late_answer_is_not_the_next_ones(linked, monkeypatch):
    monkeypatch.setattr("bench_lamp.instrument.scpi.ANSWER_S", 0.1)
    device, stand_in = linked("meter", Connected(values={"dc V": 5.0, "ohm": 470.0}))
    stand_in.bench.fault.what = "late"
    with pytest.raises(DeviceError) as caught:
        device.read("dc V")
    assert caught.value.is_lost
    with pytest.raises(DeviceError):
        device.read("ohm")


@pytest.mark.parametrize(
    "place", ["TCPIP::127.0.0.1::1::SOCKET", "nonsense", "ASRL/dev/none::INSTR"]
)
def test_where_nothing_is_there_is_a_message(place):
    with pytest.raises(DeviceError):
        KINDS["scpi"](Address(kind="scpi", place=place)).identify()


def test_families_are_data_and_checked():
    assert set(load_families()) >= {"standard-meter", "standard-counter", "standard-scope",
                                    "standard-supply", "standard-load"}  # fmt: skip
    for data in (b"{", b'{"id": 1}', b'{"id": "x", "name": "y", "run": "rm"}', b" " * 60_000):
        with pytest.raises(DeviceError):
            read_family(data)


@pytest.mark.parametrize(
    ("text", "mode", "value", "resolution"),
    [
        ("5.081 V DC", "dc V", 5.081, 0.001), ("-450.1 mV", "dc V", -0.4501, 0.0001),
        ("12.3 V AC RMS", "ac V", 12.3, 0.1), ("0.612 V DIODE", "diode", 0.612, 0.001),
        ("4.70 kΩ AUTO", "ohm", 4700.0, 10.0), ("1 MOhm", "ohm", 1e6, 1e6),
        ("47.3 µF", "F", 47.3e-6, 1e-7), ("-.5 A", "A", -0.5, 0.1), ("119.9 Hz", "Hz", 119.9, 0.1),
        ("OL MΩ", "ohm", math.inf, 0.0),
    ],
)  # fmt: skip
def test_displays_are_read_with_their_digits(text, mode, value, resolution):
    found = sample_of(text, 0.0)
    assert (found.mode, found.value, found.resolution) == (mode, value, pytest.approx(resolution))


@pytest.mark.parametrize("text", ["", "5.081", "V", "5,081 V", "5.081 V DC 3", "five V", "1e9 V", "5.0.1 V", "5 V\n6 V",
                                  "nan V", "5 kk V", "x" * 500, "5 V DC; rm", "--5 V"])  # fmt: skip
def test_what_is_no_display_is_refused(text):
    with pytest.raises(DeviceError):
        sample_of(text, 0.0)


def test_the_words_beside_the_figure_are_flags():
    assert sample_of("5.081 V DC HOLD", 0.0).flags == {Flag.HOLD}
    assert sample_of("5.081 V DC LOWBATT", 0.0).flags == {Flag.LOW_BATTERY}


THREE = [
    ("DC V 05.081 A", "5.081 V"),
    ("DC V 12.000 A", "12.000 V"),
    ("DC mV 450.10 A", "450.10 mV"),
]


@pytest.mark.parametrize(
    ("samples", "line", "mode", "value"),
    [
        (THREE, "DC V -3.300 A", "dc V", -3.3),
        (THREE, "DC mV 001.50 A", "dc V", 0.0015),
        ([*THREE, ("OHM k OL A", "OL kΩ")], "OHM k OL A", "ohm", math.inf),
        ([("$1;0470;R", "470 Ω"), ("$1;0033;R", "33 Ω"), ("$1;1000;R", "1000 Ω")], "$1;0005;R", "ohm", 5.0),
    ],
)  # fmt: skip
def test_a_pattern_is_taught_from_three_lines(samples, line, mode, value):
    pattern = TaughtLines.from_text(teach(samples).to_text())
    found = pattern.read(line, 0.0)
    assert (found.mode, found.value) == (mode, pytest.approx(value))


@pytest.mark.parametrize("line", ["AC V 05.081 A", "DC V 05.081 B", "DC V 05.081", "DC V A 05.081", "DC kV 5.081 A", "",
                                  "DC V 05.081 A A", "x" * 300, "DC V OK A"])  # fmt: skip
def test_another_line_than_was_taught_is_refused(line):
    with pytest.raises(DeviceError):
        teach(THREE).read(line, 0.0)


@pytest.mark.parametrize(
    ("samples", "words"),
    [
        (THREE[:2], "three"),
        ([*THREE[:2], ("DC V 1.000", "1.000 V")], "differ"),
        ([("V 1.0", "7 V"), ("V 2.0", "8 V"), ("V 3.0", "9 V")], "None of the figures"),
        ([("V 1.0", "1.0 V"), ("V 2.0", "2.0 mV"), ("V 3.0", "3.0 V")], "shown differently"),
    ],
)
def test_what_cannot_be_taught_says_why(samples, words):
    with pytest.raises(DeviceError, match=words):
        teach(samples)


def test_a_hand_held_meter_streams_through_a_line():
    meter = StreamingMeter(rate=50)
    meter.value = 5.081
    device = open_device(Address(kind="serial", place=meter.place), KINDS)
    values = [next(stream(device, "dc V")).value for _ in range(5)]
    assert values[-1] == 5.081
    meter.mode, meter.value = "ac V", 6.3
    assert any(device.read("dc V").mode == "ac V" for _ in range(5)), "its dial is a switch"
    device.close()
    meter.close()


@pytest.mark.parametrize("what", ["garbage", "half", "another device", "two at once"])
def test_a_spoilt_line_of_a_stream_is_passed_over(what):
    meter = StreamingMeter(rate=50)
    meter.value = 5.081
    device = KINDS["serial"](Address(kind="serial", place=meter.place))
    seen = []
    for _ in range(12):
        meter.fault.what = what
        seen.append(device.read("dc V").value)
    assert set(seen) <= {5.081}
    device.close()
    meter.close()


def test_a_pulled_cable_is_lost(monkeypatch):
    monkeypatch.setattr("bench_lamp.instrument.serial_line.ANSWER_S", 0.3)
    meter = StreamingMeter(rate=50)
    device = KINDS["serial"](Address(kind="serial", place=meter.place))
    device.read("dc V")
    meter.close()
    with pytest.raises(DeviceError):
        list(itertools.islice(stream(device, "dc V"), 50))
    device.close()
    with pytest.raises(DeviceError, match="cannot be opened"):
        KINDS["serial"](Address(kind="serial", place=meter.place))


needs_sigrok = pytest.mark.skipif(not sigrok.program(), reason="no sigrok-cli here")


@needs_sigrok
def test_the_program_for_hand_held_meters_is_asked_for_real():
    assert "demo" in sigrok.drivers()
    device = KINDS["sigrok"](Address(kind="sigrok", place="demo#A1"))
    found = [device.read("dc V") for _ in range(20)]
    assert {s.mode for s in found} == {"dc V"}
    assert max(s.value for s in found) == pytest.approx(9.51, abs=0.6)
    device.close()


@needs_sigrok
def test_a_driver_that_finds_nothing_is_lost():
    device = KINDS["sigrok"](Address(kind="sigrok", place="nothing-there:conn=/dev/none"))
    with pytest.raises(DeviceError, match="ended"):
        device.read("dc V")
    device.close()


@pytest.mark.parametrize("place", ["", "demo; rm", "--help", "demo --x", "demo#a b", "x" * 300])
def test_a_place_that_is_no_driver_starts_nothing(place, monkeypatch):
    monkeypatch.setattr("bench_lamp.instrument.sigrok.program", lambda: "/bin/false")
    with pytest.raises(DeviceError, match="is no driver"):
        KINDS["sigrok"](Address(kind="sigrok", place=place))


def test_without_the_program_it_is_said_what_to_install(monkeypatch):
    monkeypatch.setattr("shutil.which", lambda _: None)
    assert sigrok.drivers() == {}
    with pytest.raises(DeviceError, match="not installed"):
        KINDS["sigrok"](Address(kind="sigrok", place="demo"))
    with pytest.raises(DeviceError, match="no kind"):
        open_device(Address(kind="telepathy", place="x"), KINDS)

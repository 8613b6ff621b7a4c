"""Hands stay on the probes: a linked meter logs its own readings through the real window."""

import math

import pytest

from bench_lamp.bench.standins.scpi_server import Connected, StandIn
from bench_lamp.bench.standins.streaming import StreamingMeter
from bench_lamp.instrument.device import Address

JOB = "QH-021/1"


@pytest.fixture
def probing(open_bench):
    """Open the demo on rails with a streaming meter linked; both are let go of."""
    meters = []

    def _open(job: str = "QH-017/1", stage: str = "rails"):
        hands, meter = open_bench(), StreamingMeter(rate=40)
        meters.append(meter)
        link = hands.window.hands.link(Address(kind="serial", place=meter.place))
        hands.wait(lambda: link.is_there)
        hands.open(job, stage)
        return hands, meter, link

    yield _open
    for meter in meters:
        meter.close()


def touch(hands, meter, value: float) -> None:
    """Lift the probe, and put it where it reads so, until something comes of it."""
    meter.value = math.nan
    hands.qtbot.wait(250)
    meter.value = value


def lit(hands) -> str:
    return hands.card.card.entry.target


def tape(hands) -> list[tuple[str, float]]:
    return [(r.target, r.value) for r in hands.state.readings]


def test_a_reading_logs_itself_when_it_stands_still_and_the_next_point_is_lit(probing):
    hands, meter, _ = probing()
    count, point = len(tape(hands)), lit(hands)
    value = hands.session.case.profile.point(point)
    band = value.practice or value.design
    if value.mode == "ac V":
        meter.mode = "ac V"
    touch(hands, meter, band.middle)
    hands.wait(lambda: len(tape(hands)) == count + 1)
    assert tape(hands)[-1] == (point, pytest.approx(band.middle, abs=1e-3))
    hands.wait(lambda: lit(hands) != point)
    hands.qtbot.wait(600)
    assert len(tape(hands)) == count + 1, "the probe was not lifted"
    assert hands.state.readings[-1].meter.startswith("meter on ")


def test_a_meter_on_another_mode_logs_nothing_and_is_told(probing):
    hands, meter, _ = probing("QH-012/1")
    hands.session.look_at("A")
    meter.mode = "ac V"
    count = len(tape(hands))
    touch(hands, meter, 5.0)
    hands.wait(lambda: hands.said.startswith("The meter is on AC volts"))
    assert len(tape(hands)) == count


def test_open_leads_log_nothing_until_a_key_takes_them(probing):
    hands, meter, _ = probing("QH-012/1")
    hands.session.look_at("A")
    count = len(tape(hands))
    meter.value = math.nan
    hands.qtbot.wait(900)
    assert len(tape(hands)) == count
    hands.shortcut("F8")
    hands.settle()
    if hands.session.is_asking:
        hands.type("y")
        hands.settle()
    hands.wait(lambda: len(tape(hands)) == count + 1)
    assert abs(tape(hands)[-1][1]) < 0.01


def test_a_value_that_fits_another_point_is_asked_about(probing):
    hands, meter, _ = probing("QH-012/1")
    hands.session.look_at("C")
    count = len(tape(hands))
    touch(hands, meter, 10.4)
    hands.wait(lambda: hands.session.is_asking)
    assert len(tape(hands)) == count
    hands.type("o")
    hands.settle()
    hands.wait(lambda: tape(hands)[-1] == ("B", 10.4))


def test_two_taps_take_the_last_reading_back(probing):
    hands, meter, _ = probing("QH-012/1")
    hands.session.look_at("A")
    count = len(tape(hands))
    touch(hands, meter, 5.08)
    hands.wait(lambda: len(tape(hands)) == count + 1)
    hands.qtbot.wait(300)
    for value in (math.nan, 5.08, math.nan, 5.08):
        meter.value = value
        hands.qtbot.wait(120)
    hands.wait(lambda: len(tape(hands)) == count)


def test_a_cable_that_is_pulled_and_put_back_needs_no_restart(open_bench):
    stand_in = StandIn("meter", Connected(values={"dc V": 5.08}))
    hands = open_bench()
    link = hands.window.hands.link(
        Address(kind="scpi", place=stand_in.place, family="standard-meter")
    )
    hands.wait(lambda: link.live is not None)
    assert link.name == "Quillet BM-6 stand-in"
    port = stand_in.port
    stand_in.bench.fault.what = "pulled"
    stand_in.close()
    hands.wait(lambda: bool(link.trouble))
    again = StandIn("meter", Connected(values={"dc V": 3.3}), port=port)
    hands.wait(lambda: link.live is not None and abs(link.live.value - 3.3) < 0.01)
    assert link.is_there
    hands.window.hands.let_go(link)
    assert not hands.session.is_metered
    again.close()

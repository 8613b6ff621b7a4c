"""Hands stay on the probes: a linked meter logs its own readings through the real window."""

import math
from datetime import timedelta

import pytest
from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QApplication

from bench_lamp.bench.standins.scpi_server import Connected, StandIn
from bench_lamp.bench.standins.streaming import StreamingMeter
from bench_lamp.case.gates import current_gate
from bench_lamp.desktop.settings import Settings
from bench_lamp.desktop.workers.speech import Speaker
from bench_lamp.errors import BenchLampError
from bench_lamp.instrument.device import Address
from bench_lamp.instrument.protocol import Request

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
    assert abs(float(hands.card.entry.field.placeholderText())) < 0.01, (
        "it stands there to be taken"
    )
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
    stand_in = StandIn("meter", Connected(values={"dc V": 5.08, "ac V": 5.08}))
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
    again = StandIn("meter", Connected(values={"dc V": 3.3, "ac V": 3.3}), port=port)
    hands.wait(lambda: link.live is not None and abs(link.live.value - 3.3) < 0.01)
    assert link.is_there
    hands.window.hands.let_go(link)
    assert not hands.session.is_metered
    again.close()


def page(hands):
    hands.shortcut("Ctrl+Shift+I")
    hands.wait(lambda: hands.window.instruments.is_open)
    return hands.window.instruments


def say(hands, shown, text: str) -> None:
    shown.card.take_keys()
    hands.type(text)
    hands.press(Qt.Key.Key_Return)


def test_the_page_links_says_what_it_is_good_for_and_lets_go(open_bench):
    meter = StreamingMeter(rate=40)
    meter.value = 140.0
    hands = open_bench()
    shown = page(hands)
    assert shown.rows.accessibleName() == ""
    say(hands, shown, "limits CAT II 60 V")
    assert shown.card.verdict.text().startswith("Nothing is linked yet")
    shown.card.entry.field.clear()
    say(hands, shown, f"serial {meter.place}")
    hands.wait(lambda: "140.000" in shown.rows.accessibleName().replace("\u202f", " "))
    say(hands, shown, "limits CAT II 60 V")
    say(hands, shown, "leads 0.2")
    say(hands, shown, "calibrated 2026-03")
    (link,) = hands.window.hands.links
    assert link.linked.limits.words.startswith("CAT II 60")
    assert (link.linked.leads_ohms, link.linked.calibrated) == (0.2, "2026-03")
    say(hands, shown, "accuracy dabbin")
    assert hands.session.meter.id == link.linked.accuracy == "dabbin-2"
    assert "as Dabbin 2" in shown.rows.rows[0].sure
    for text in ("limits none", "leads 900", "dance", "accuracy nobody"):
        say(hands, shown, text)
        assert shown.card.verdict.text(), text
        shown.card.entry.field.clear()
    hands.press(Qt.Key.Key_Escape)
    hands.wait(lambda: not shown.is_open)
    hands.open("QH-012/1", "rails")
    hands.session.look_at("H")
    assert any("good for 60" in c for c in hands.card.card.cautions)
    page(hands)
    hands.window.instruments.card.take_key(
        QKeyEvent(QEvent.Type.KeyPress, Qt.Key.Key_X, Qt.KeyboardModifier.AltModifier, "x")
    )
    hands.wait(lambda: not hands.window.hands.links)
    assert not any("good for 60" in c for c in hands.session.card().cautions)
    meter.close()


def test_lines_are_taught_by_three_readings(open_bench):
    meter = StreamingMeter(rate=40, write_line=lambda m: f"DC;{m.value:07.3f};A")
    meter.value = 5.081
    hands = open_bench()
    shown = page(hands)
    say(hands, shown, f"serial {meter.place}")
    (link,) = hands.window.hands.links
    hands.wait(lambda: bool(link.name))
    for value in (5.081, 12.5, 33.25):
        meter.value = value
        hands.qtbot.wait(200)
        before = shown.card.verdict.text()
        say(hands, shown, f"teach {value:.3f} V")
        hands.wait(lambda before=before: shown.card.verdict.text() != before)
    meter.value = 3.3
    hands.wait(lambda: link.live is not None and link.live.value == 3.3)
    assert link.linked.address.family
    meter.close()


def test_what_an_instrument_answers_is_shown(open_bench):
    stand_in = StandIn("meter", Connected(values={"dc V": 5.08, "ac V": 5.08}))
    hands = open_bench()
    shown = page(hands)
    say(hands, shown, f"scpi {stand_in.place} standard-meter")
    (link,) = hands.window.hands.links
    hands.wait(lambda: link.is_there)
    say(hands, shown, "send *IDN?")
    hands.wait(lambda: "Quillet" in shown.card.verdict.text())
    hands.window.hands.let_go(link)
    stand_in.close()


def test_instruments_are_linked_again_at_the_next_start(open_bench, tmp_path):
    meter = StreamingMeter(rate=40)
    meter.value = 5.0
    for is_first in (True, False):
        hands = open_bench(demo=False)
        bench = hands.bench
        settings = Settings(tmp_path / "settings.ini", bench.session, hands.window.look)
        settings.link(hands.window.hands)
        if is_first:
            hands.window.hands.link(Address(kind="serial", place=meter.place))
            hands.window.hands.say(0, "leads 0.3")
        hands.wait(lambda hands=hands: hands.window.hands.live is not None)
        assert hands.window.hands.links[0].linked.leads_ohms == 0.3
        hands.window.close()
        bench.stop()
    meter.close()


def test_the_large_view_shows_point_value_and_verdict(probing):
    hands, meter, _ = probing("QH-012/1")
    hands.session.look_at("A")
    hands.window.hands.hold()
    meter.value = 5.08
    hands.shortcut("F12")
    sheet = hands.window.large.sheet
    hands.wait(lambda: sheet.accessibleName().startswith("A +5 V logic: 5.080 V within"))
    meter.mode = "ac V"
    hands.wait(lambda: "The meter is on AC volts" in sheet.accessibleName())
    hands.press(Qt.Key.Key_Escape)
    assert not sheet.isVisible()


def test_the_demos_hand_goes_from_point_to_point(open_bench):
    hands = open_bench()
    hands.open("QH-017/1", "rails")
    count = len(tape(hands))
    shown = page(hands)
    shown.card.take_key(
        QKeyEvent(QEvent.Type.KeyPress, Qt.Key.Key_D, Qt.KeyboardModifier.AltModifier, "d")
    )
    hands.shortcut("Ctrl+Shift+I")
    hands.wait(lambda: len(tape(hands)) >= count + 2)


def test_what_was_logged_is_said_and_then_the_next_point(probing, monkeypatch):
    said = []
    monkeypatch.setattr(Speaker, "say", lambda self, words: said.append(words))
    monkeypatch.setattr(Speaker, "play", lambda self, verdict: said.append(f"sound {verdict}"))
    hands, meter, _ = probing("QH-012/1")
    hands.session.look_at("A")
    hands.window.run_command("speech")
    assert "A" in said
    touch(hands, meter, 5.08)
    hands.wait(lambda: any(words.startswith("A 5.080 volts, within") for words in said))
    assert "sound within" in said


def test_a_probe_that_rests_through_a_burn_in_is_read_each_time_it_is_due(probing):
    hands, meter, _ = probing("QH-004/2", "prove")
    meter.value = math.nan
    minutes = [0.0]
    begun = hands.session.clock()
    hands.session.clock = lambda: begun + timedelta(minutes=minutes[0])
    hands.session.look_at("part:burn")
    hands.enter("1 h every 30: A")
    assert hands.title.startswith("Read A when it is due, 1 of 3")
    count = len(tape(hands))
    meter.value = 5.08
    hands.wait(lambda: len(tape(hands)) == count + 1)
    hands.qtbot.wait(1200)
    assert len(tape(hands)) == count + 1, "not due yet, and the probe rests"
    for number in (2, 3):
        minutes[0] += 30.0
        hands.session.age()
        hands.wait(lambda number=number: len(tape(hands)) == count + number)
    hands.wait(lambda: "Did it hold?" in hands.title)


def test_a_supply_is_set_trips_and_is_switched_off_at_once(open_bench):
    stand_in = StandIn("supply", Connected(load_ohms=10.0, noise=0.0))
    hands = open_bench()
    shown = page(hands)
    say(hands, shown, f"scpi {stand_in.place} standard-supply")
    (link,) = hands.window.hands.links
    hands.wait(lambda: link.is_there)
    say(hands, shown, "set 5 V 2 A")
    hands.wait(lambda: stand_in.volts == 5.0)
    say(hands, shown, "trip 0.6 A")
    say(hands, shown, "on")
    hands.wait(lambda: stand_in.is_on and link.is_on)
    hands.wait(lambda: link.drawn.idle == pytest.approx(0.5))
    assert shown.rows.rows[0].sure.replace("\u202f", " ").startswith("output ON · inrush 0.5")
    stand_in.bench.load_ohms = 2.0
    hands.wait(lambda: not stand_in.is_on)
    hands.wait(lambda: "Tripped: 2 A, the limit is 0.6 A" in shown.card.verdict.text())
    stand_in.bench.load_ohms = 10.0
    say(hands, shown, "on")
    hands.wait(lambda: link.is_on)
    hands.shortcut("Ctrl+Shift+X")
    hands.wait(lambda: not stand_in.is_on)
    for text in ("set 5000 V 1 A", "trip -1", "set 5 V"):
        say(hands, shown, text)
        assert shown.card.verdict.text(), text
        shown.card.entry.field.clear()
    stand_in.close()


def test_a_supplys_current_is_logged_at_its_gate_and_held_against_the_model(open_bench):
    """Varnholt VX-12 on a linked supply: idle fits, is logged by itself; a short's current stops the gate."""
    stand_in = StandIn("supply", Connected(load_ohms=13.8 / 0.47, noise=0.0))
    hands = open_bench()
    hands.session.open_job("QH-053/1", "wake")
    hands.settle()
    hands.wait(lambda: hands.session.case.insight is not None)
    gate = lambda: current_gate(hands.seen.case)  # noqa: E731
    to_the_gate(hands, "audio")
    hands.window.hands.link(Address(kind="scpi", place=stand_in.place, family="standard-supply"))
    (link,) = hands.window.hands.links
    hands.wait(lambda: link.is_there)
    link.set_output(13.8, 1.0)
    link.switch_requested.emit(True)
    hands.wait(lambda: "X1: inrush" in hands.said and "expected: within" in hands.said)
    hands.wait(lambda: gate().currents[0].reading is not None)
    assert gate().currents[0].text.replace("\u202f", " ").startswith("0.47")
    assert gate().status == "here"
    assert "idle 0.470" in hands.window.hands.links[0].against
    link.switch_requested.emit(False)
    hands.wait(lambda: not link.is_on)
    stand_in.close()


def to_the_gate(hands, name):
    """Go to a gate by what the card asks for; the current of earlier gates is typed."""
    for _ in range(60):
        at = current_gate(hands.seen.case)
        card = hands.card.card
        if at is not None and at.gate.id == name and card.title.startswith("Current at"):
            return
        if card.title.startswith("Current at"):
            hands.enter("0.01")
        elif card.entry is not None:
            hands.measure()
        else:
            hands.type("1")
            hands.settle()
    raise AssertionError(hands.title)


def test_a_meter_has_no_output_to_switch(probing):
    hands, _, _ = probing()
    hands.window.hands.say(0, "on")
    hands.wait(lambda: hands.said.startswith("It has no output"))


def test_a_range_is_held_from_the_page(open_bench):
    stand_in = StandIn("meter", Connected(values={"dc V": 12.0, "ac V": 12.0}, noise=0.0))
    hands = open_bench()
    shown = page(hands)
    say(hands, shown, f"scpi {stand_in.place}")
    (link,) = hands.window.hands.links
    hands.wait(lambda: link.live is not None and link.live.value == pytest.approx(12.0))
    say(hands, shown, "range 2 V")
    hands.wait(lambda: link.live.is_over)
    hands.wait(lambda: "held up to 2" in shown.card.verdict.text())
    say(hands, shown, "range auto")
    hands.wait(lambda: not link.live.is_over)
    for text in ("range -3", "range 5 kites"):
        say(hands, shown, text)
        assert shown.card.verdict.text(), text
        shown.card.entry.field.clear()
    stand_in.close()


def test_a_hand_held_meters_range_is_turned_by_hand(probing):
    hands, _, _ = probing()
    hands.window.hands.say(0, "range 20 V")
    hands.wait(lambda: hands.said.startswith("Its range is set by hand"))


def test_a_scopes_waveform_says_whether_a_leg_is_open(open_bench):
    wave = tuple(10.9 + 0.9 * (0.5 - (n * 1e-4 * 50) % 1.0) for n in range(1000))
    stand_in = StandIn("scope", Connected(wave=wave, step=1e-4, noise=0.0))
    hands = open_bench()
    shown = page(hands)
    say(hands, shown, f"scpi {stand_in.place} standard-scope")
    (link,) = hands.window.hands.links
    hands.wait(lambda: bool(link.name))
    say(hands, shown, "wave 1")
    hands.wait(lambda: "an open leg" in shown.card.verdict.text())
    stand_in.close()


def test_a_contact_that_moves_the_reading_is_logged_so(probing, monkeypatch):
    request = Request(kind="wiggle", target="J3.5")
    monkeypatch.setattr("bench_lamp.cards.settled.request_for", lambda case, card: request)
    hands, meter, _ = probing("QH-012/1", "handback")
    count = len(tape(hands))
    meter.value = 5.0
    hands.wait(lambda: hands.said.startswith("Move J3.5"))
    hands.qtbot.wait(600)
    meter.value = 4.4
    hands.wait(lambda: len(tape(hands)) > count)
    reading = hands.state.readings[-1]
    assert (reading.target, reading.mode, reading.value) == ("J3.5", "wiggle", 1.0)


def test_what_it_shows_is_drawn_over_the_last_minute(open_bench):
    meter = StreamingMeter(rate=40)
    meter.value = 2.0
    hands = open_bench()
    shown = page(hands)
    say(hands, shown, f"serial {meter.place}")
    hands.wait(lambda: shown.plot.isVisible())
    meter.value = 4.5
    hands.wait(lambda: shown.plot.accessibleName().endswith("2 to 4.5 V"))
    meter.mode, meter.value = "ohm", 470.0
    hands.wait(lambda: shown.plot.accessibleName().endswith("470 to 470 Ω"))
    meter.close()


def pedal(hands, seconds: float = 0.05) -> None:
    """Press the foot switch, wherever the keyboard is."""
    handle = hands.window.windowHandle()
    for kind in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
        event = QKeyEvent(kind, Qt.Key.Key_F19, Qt.KeyboardModifier.NoModifier)
        QApplication.sendEvent(handle, event)
        hands.qtbot.wait(round(1000 * seconds) if kind == QEvent.Type.KeyPress else 20)


def test_a_foot_switch_takes_takes_back_and_holds(probing):
    hands, meter, _ = probing("QH-012/1")
    hands.session.look_at("A")
    hands.window.hands.hold()
    meter.value = 5.08
    hands.wait(
        lambda: hands.window.hands.live is not None and hands.window.hands.live.value == 5.08
    )
    hands.qtbot.wait(200)
    hands.window.hands.say(0, "pedal F19")
    count = len(tape(hands))
    pedal(hands)
    hands.wait(lambda: len(tape(hands)) == count + 1)
    hands.settle()
    pedal(hands)
    pedal(hands)
    hands.wait(lambda: len(tape(hands)) == count)
    assert hands.window.hands._is_held
    pedal(hands, 0.8)
    hands.wait(lambda: not hands.window.hands._is_held)
    with pytest.raises(BenchLampError, match="is no key"):
        hands.window.hands.say(0, "pedal Ctrl+F19")
    hands.window.hands.say(0, "pedal off")
    pedal(hands)
    hands.qtbot.wait(500)
    assert len(tape(hands)) == count


def test_a_scopes_screen_becomes_a_photograph_of_the_job(open_bench):
    stand_in = StandIn("scope", Connected(wave=(5.0,) * 100))
    hands = open_bench()
    hands.open("QH-012/1", "rails")
    link = hands.window.hands.link(
        Address(kind="scpi", place=stand_in.place, family="standard-scope")
    )
    hands.wait(lambda: bool(link.name))
    hands.window.hands.say(0, "screen")
    hands.wait(lambda: bool(hands.session.photos))
    assert hands.session.photos[0][1].name == "screen.png"
    stand_in.close()

"""The proof through the real window: full load by F8, a burn-in with its clock, the strip, and what stays open."""

import pytest
from PySide6.QtCore import QPoint, Qt

from bench_lamp.journal.open_events import OpenEnd
from bench_lamp.journal.proof_events import BurnBegun, BurnEnded, FirstMinuteWatched

ALT = Qt.KeyboardModifier.AltModifier


def power(hands, key):
    hands.shortcut("Ctrl+P")
    hands.type(key)
    hands.settle()


def pick(hands, letter):
    hands.press(getattr(Qt.Key, f"Key_{letter.upper()}"), ALT, letter)
    hands.settle()


@pytest.fixture
def ruskel(open_bench):
    hands = open_bench()
    hands.open("QH-023/1", "prove", "live")
    hands.settle()
    return hands


def test_a_full_load_by_f8_from_no_load_to_two_amperes(ruskel):
    hands = ruskel
    pick(hands, "f")
    assert hands.title == "Read OUT, without the test load"
    hands.measure()
    hands.settle()
    readings = []
    for ohms in ("75 Ω", "36 Ω", "18 Ω"):
        assert hands.title.replace("\u202f", " ").startswith(f"Hang {ohms}"), hands.title
        power(hands, "2")
        hands.type("1")
        hands.settle()
        power(hands, "3")
        hands.measure()
        hands.settle()
        readings.append(hands.state.proving[-1].body.volts)
        if ohms != "18 Ω":
            power(hands, "2")
            hands.type("1")
            hands.settle()
    assert all(35.0 < v < 37.0 for v in readings), readings
    assert hands.title == "Ripple on OUT at full load"
    hands.measure()
    hands.settle()
    hands.enter("71")
    hands.enter("44")
    assert hands.title == "Switch off, and take the load off"
    power(hands, "2")
    hands.type("1")
    hands.settle()
    assert not hands.state.hung
    strip = hands.page.surface("prove").strip
    assert next(p for p in strip.parts if p.id == "load").verdict == "within"


def test_a_load_on_a_board_that_is_marked_live_is_refused_by_the_card(ruskel):
    hands = ruskel
    pick(hands, "f")
    hands.measure()
    hands.settle()
    assert hands.card.card.choices[0].text == "Confirm that it is off"


def test_a_burn_in_counts_down_on_the_card_and_ends_with_a_reason(open_bench):
    hands = open_bench()
    hands.open("QH-004/2", "prove", "live")
    pick(hands, "b")
    hands.enter("1 h every 30: A C")
    body = hands.state.proving[-1].body
    assert isinstance(body, BurnBegun)
    assert body.points == ("A", "C")
    assert hands.title == "Read A when it is due, 1 of 3"
    assert hands.card.clock.isVisible()
    hands.measure()
    hands.settle()
    hands.enter("end: customer waits")
    assert isinstance(hands.state.proving[-1].body, BurnEnded)
    assert "Burn-in cut short: customer waits." in " ".join(
        u for u in hands.session.case.memory.get("bench_lamp.case.proof.unproved", ())
    )


def test_the_strip_is_clicked_and_paged_through(open_bench, qtbot):
    hands = open_bench()
    hands.open("QH-004/2", "prove", "live")
    strip = hands.page.surface("prove").strip
    strip.grab()
    box = strip.targets["part:run"]
    qtbot.mouseClick(
        strip, Qt.MouseButton.LeftButton, pos=QPoint(int(box.center().x()), int(box.center().y()))
    )
    assert hands.title == "Use it as the customer does"
    hands.press(Qt.Key.Key_PageDown)
    assert hands.session.hand.focus == "part:load"
    hands.press(Qt.Key.Key_PageUp)
    assert hands.session.hand.focus == "part:run"
    assert hands.page.surface("prove").second.isVisible()
    hands.press(Qt.Key.Key_Escape)
    assert hands.session.hand.focus == ""


def test_open_ends_come_first_and_what_stays_is_on_the_sheet(open_bench):
    hands = open_bench()
    hands.open("QH-004/2", "prove", "discharged")
    hands.session.say((OpenEnd(what="temporary part", target="C2", text="10000 µF for now"),))
    hands.settle()
    assert hands.title == "C2: 10000 µF for now"
    hands.type("2")
    hands.settle()
    assert hands.session.stage == "handback"
    paper = hands.page.surface("handback").picture
    hands.press(Qt.Key.Key_F9)
    hands.settle()
    assert "C2 is a stand-in for now" in paper.accessibleName()


def test_smoke_in_the_first_minute_switches_off_and_goes_to_trace(open_bench):
    hands = open_bench()
    hands.open("QH-012/1", "swap", "discharged")
    from bench_lamp.journal.events import ActionDone

    hands.session.say((ActionDone(action="reseated", target="J2"),))
    hands.settle()
    hands.shortcut("Alt+9")
    assert hands.title == "Watch the first minute, finger on the switch"
    power(hands, "3")
    smoke = next(c for c in hands.card.card.choices if c.text == "Smoke")
    hands.type(smoke.key)
    hands.settle()
    assert hands.session.stage == "trace"
    assert not hands.state.power.is_live
    told = [t.body for t in hands.state.proving]
    assert told == [FirstMinuteWatched(word="smoke")]


@pytest.mark.parametrize("scale", [1.0, 1.5])
@pytest.mark.parametrize("theme", ["lamp", "daylight"])
def test_every_part_is_drawn_in_both_themes_and_large(open_bench, scale, theme):
    hands = open_bench()
    hands.window.look.set_theme(theme)
    hands.window.look.set_scale(scale)
    hands.open("QH-004/2", "prove", "live")
    for letter in "omgsrfbu":
        pick(hands, letter)
        assert not hands.window.grab().isNull()
        assert "cannot be drawn" not in hands.page.surface("prove").subtitle.text()

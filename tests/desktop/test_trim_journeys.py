"""Trim in the real window: by F8 and Enter to the end, by arrow keys, a coil's clock, the round after a journey."""

from datetime import timedelta

import pytest
from PySide6.QtCore import Qt

from bench_lamp.case.trims.items import trim_items


@pytest.fixture
def bench_of(open_bench):
    """Return a maker of benches on which each thing that is said takes twenty seconds."""

    def make():
        hands = open_bench()
        begin, count = hands.session.clock(), iter(range(10_000))
        hands.session.clock = lambda: begin + timedelta(seconds=20 * next(count))
        return hands

    return make


def power(hands, what):
    """Confirm the power as the window asks for it."""
    hands.open(hands.session.job, "trim", what)


def item(hands, trim):
    return next(i for i in trim_items(hands.session.case) if i.trim.id == trim)


def go_on(hands, trim, most=60):
    """Do what each card says until the thing is ended: F8 where something is read, else the lit answer."""
    titles = []
    while item(hands, trim).status not in {"right", "left"}:
        card = hands.card.card
        titles.append(card.title)
        assert len(titles) < most, titles
        if card.asks is not None and not card.choices:
            hands.measure()
        elif card.choices and card.choices[0].command is not None:
            power(hands, "discharged" if hands.state.power.is_live else "live")
            hands.session.look_at(trim)
        elif card.title.endswith("jumps"):
            # The demo's RV9 has a dirty track: it is cleaned, and set again.
            hands.session.choose(card.choices[1])
        elif card.entry is None:
            hands.type("1")
        else:
            hands.enter()
        hands.settle()
    return titles


def test_one_adjuster_with_one_reading_is_set_by_f8_and_enter(bench_of):
    hands = bench_of()
    hands.open("QH-056/1", "trim", "live")
    hands.session.look_at("five")
    titles = go_on(hands, "five")
    assert item(hands, "five").status == "right"
    assert any(t.startswith("RV9 ") for t in titles)


def test_two_that_pull_on_each_other_come_right_and_nothing_stays_open(bench_of):
    hands = bench_of()
    hands.open("QH-052/1", "trim", "live")
    titles = go_on(hands, "bias", most=120)
    assert "Read midpoint and idle current" in titles
    assert not [e for e in hands.state.open_ends if e.target in {"LK2", "input", "speaker"}]


def test_arrow_keys_turn_the_dial_and_enter_logs_it(bench_of):
    hands = bench_of()
    hands.open("QH-052/1", "trim", "live")
    hands.enter("16.9 60")
    for _ in range(4):
        hands.press(Qt.Key.Key_Right)
    assert hands.title.endswith("+1/6")
    before = len(hands.state.tape)
    hands.enter()
    assert len(hands.state.tape) == before + 1
    assert hands.state.tape[-1].event.body.kind == "turned"


def test_channels_are_pasted_judged_and_picked_in_the_table(bench_of):
    hands = bench_of()
    hands.open("QH-053/1", "trim", "live")
    hands.enter("13 135.2502 14 135.3001 67 134.9750 72 135.225 77 135.475")
    assert hands.title.startswith(("CT", "Count channel 16"))
    hands.press(Qt.Key.Key_Down)
    assert hands.session.hand.cell


def test_a_coil_is_counted_down_on_the_surface(bench_of):
    hands = bench_of()
    hands.open("QH-055/1", "trim", "live")
    hands.session.look_at("grip")
    while hands.card.card.entry is None:
        hands.type("1")
        hands.settle()
    hands.press(Qt.Key.Key_C, Qt.KeyboardModifier.AltModifier, "c")
    hands.settle()
    surface = hands.page.surface("trim")
    assert surface._tick.isActive()
    assert hands.card.card.clock.is_on
    assert hands.card.clock.isVisible()
    assert hands.card.clock.text().startswith(("grip coil on: let go within", "grip coil: LET GO"))
    hands.press(Qt.Key.Key_C, Qt.KeyboardModifier.AltModifier, "c")
    hands.settle()
    assert hands.state.tape[-1].event.body.kind == "coil held"


def test_after_a_journey_the_round_goes_on_by_one_key_each(bench_of):
    hands = bench_of()
    hands.open("QH-054/1", "intake", "off")
    count = 0
    while hands.card.card.id == "intake:transport":
        hands.type("1")
        hands.settle()
        count += 1
    assert count == 6
    assert hands.card.card.id == "intake:look"

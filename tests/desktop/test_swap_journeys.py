"""Swap in the real window: from Trace's call to the re-read rail, and the shop's parts."""

from PySide6.QtCore import Qt
from tests.desktop.test_trace_journeys import hunt, power

ALT = Qt.KeyboardModifier.AltModifier
JOB = "QH-017/1"


def test_a_fuse_goes_from_the_call_to_the_read_rail_in_twelve_keys(open_bench):
    """Power off is said, the fuse replaced as drawn, power on said, and the point read by F8."""
    hands = open_bench()
    hands.shortcut("Alt+6")
    hands.settle()
    hunt(hands)
    assert hands.title.startswith("Replace F4")
    if hands.state.power.is_live:
        power(hands, "2")
    keys = 0
    for key in ("1", "1", "", ""):
        hands.enter() if not key else hands.type(key)
        hands.settle()
        keys += 1
    assert any(r.part == "F4" for r in hands.state.replaced)
    power(hands, "3")
    keys += 2
    count = len(hands.state.tape)
    hands.measure()
    keys += 1
    assert len(hands.state.tape) == count + 1
    assert keys <= 12


def test_a_capacitor_goes_in_within_twenty_keys_with_what_it_must_keep(open_bench):
    hands = open_bench()
    hands.open(JOB, "swap", "discharged")
    hands.enter("c4")
    keys = 3
    hands.type("1")
    hands.settle()
    hands.enter()
    keys += 2
    surface = hands.page.surface("swap")
    assert "250\u202fV at least" in surface.picture.accessibleName()
    assert len(surface.canvases) == 2
    assert surface.canvases[1].accessibleName() == "power-solder, solder side: part on C4"
    hands.enter()
    keys += 1
    assert hands.title == "C4 is in. Before power:"
    hands.type("1")
    hands.settle()
    keys += 1
    power(hands, "3")
    keys += 2
    assert hands.session.stage == "rails"
    hands.measure()
    assert keys + 1 <= 20


def left(hands, place: str) -> int:
    return sum(x.count for x in hands.session.case.stock if x.place == place)


def test_the_shops_parts_are_said_dropped_used_and_saved(open_bench, tmp_path):
    hands = open_bench()
    hands.open(JOB, "swap", "discharged")
    said = "100 uF 350 V 105C 18x35 pitch 7.5 ripple 1 A esr 0.5"
    hands.enter(f"stock 3 x {said} in drawer 77")
    assert left(hands, "drawer 77") == 3
    table = tmp_path / "stock.csv"
    table.write_text("part,place,count\n47 uF 350 V,drawer 9,2\n", encoding="utf-8")
    hands.session.take_dropped(table)
    hands.wait(lambda: left(hands, "drawer 9") == 2)
    table.write_text("part,place,count\n47 uF,drawer 9\n", encoding="utf-8")
    hands.session.take_dropped(table)
    hands.wait(lambda: "line 2" in hands.said)
    hands.enter("C4")
    hands.type("1")
    hands.settle()
    hands.enter()
    number = next(i for i, c in enumerate(hands.card.card.choices) if "drawer 77" in c.text)
    key = "ab"[number]
    hands.press(Qt.Key(ord(key.upper())), ALT, key)
    hands.settle()
    last = hands.state.replaced[-1]
    assert (last.part, last.fitted, last.source) == ("C4", said, "drawer 77")
    assert left(hands, "drawer 77") == 2
    hands.shortcut("Ctrl+Z")
    hands.settle()
    assert left(hands, "drawer 77") == 3
    hands.session.begin_with({})
    hands.press(Qt.Key.Key_S, ALT, "s")
    hands.wait(lambda: bool(list(tmp_path.rglob("*.stock.csv"))))
    (saved,) = tmp_path.rglob("*.stock.csv")
    assert f"{said},drawer 77,3" in saved.read_text(encoding="utf-8")
    hands.session.go_shelf()
    hands.session.take_dropped(table)
    hands.wait(lambda: "The stock was not taken" in hands.said)


def test_a_part_that_does_not_fit_is_shown_why_and_may_stay_for_now(open_bench):
    hands = open_bench()
    hands.open(JOB, "swap", "discharged")
    hands.enter("C4")
    hands.type("1")
    hands.settle()
    hands.enter()
    hands.card.entry.field.selectAll()
    hands.enter("100 uF 200 V")
    assert hands.title == "100 uF 200 V does not fit C4"
    assert "not met: volts" in hands.page.surface("swap").picture.accessibleName()
    hands.type("2")
    hands.settle()
    assert [e.what for e in hands.state.open_ends] == ["temporary part"]


def test_a_part_is_tested_before_it_is_taken_out(open_bench):
    hands = open_bench()
    hands.open(JOB, "swap", "discharged")
    hands.enter("C112")
    hands.press(Qt.Key.Key_T, ALT, "t")
    hands.type("1")
    hands.settle()
    assert "C203" in " ".join(hands.card.card.why)
    hands.enter("banana")
    assert "is not a reading" in hands.said
    hands.clear()
    hands.enter("40 uF")
    assert hands.state.measured["C112"].verdict == "small"
    assert "too small" in hands.card.card.why[0]

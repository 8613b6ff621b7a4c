"""The pocket sheet in the real window: opened from anywhere, by keys alone."""

from PySide6.QtCore import Qt

JOB = "QH-017/1"
CTRL = Qt.KeyboardModifier.ControlModifier


def test_a_sum_is_found_worked_noted_and_sent_to_the_entry(open_bench):
    hands = open_bench()
    hands.open(JOB, "rails")
    count = len(hands.state.tape)
    hands.shortcut("F2")
    sheet = hands.window.pocket.sheet
    assert sheet.isVisible()
    assert sheet.x() >= hands.window.width() // 2 - 20, "the right half"
    hands.type("load")
    hands.press(Qt.Key.Key_Return)
    assert sheet.view.id == "load"
    hands.window.focusWidget().selectAll()
    hands.type("5")
    hands.press(Qt.Key.Key_Return)
    hands.window.focusWidget().selectAll()
    hands.type("2.5")
    assert "resistor 2\u202fΩ" in sheet.results.accessibleName()
    hands.press(Qt.Key.Key_Return, CTRL)
    hands.settle()
    assert len(hands.state.tape) == count + 1
    assert "Load resistor" in hands.state.notes[-1]
    hands.press(Qt.Key.Key_1, CTRL)
    assert not sheet.isVisible()
    assert hands.card.entry.field.text() == "2 Ω"
    hands.shortcut("F2")
    assert sheet.view.id == "load", "what was typed is still there"
    assert sheet.rows[1].field.text() == "2.5"
    hands.press(Qt.Key.Key_Escape)
    hands.press(Qt.Key.Key_Escape)
    assert not sheet.isVisible()
    assert hands.window.focusWidget() is hands.card.entry.field


def test_the_sheet_opens_on_the_shelf_and_in_the_workshop_and_says_what_is_wrong(open_bench):
    hands = open_bench()
    hands.shortcut("F2")
    sheet = hands.window.pocket.sheet
    hands.type("marking")
    hands.press(Qt.Key.Key_Return)
    hands.type("97A")
    assert "01 to 96" in sheet.message.text()
    assert not sheet.results.isVisible()
    hands.press(Qt.Key.Key_Return, CTRL)
    hands.shortcut("F2")
    assert not sheet.isVisible()
    hands.open(JOB, "rails")
    hands.shortcut("Ctrl+E")
    hands.shortcut("F2")
    assert sheet.isVisible()
    hands.press(Qt.Key.Key_Escape)
    hands.press(Qt.Key.Key_Down)
    hands.press(Qt.Key.Key_Return)
    assert sheet.view.id == "codes"
    hands.window.resize(1100, 720)
    assert sheet.geometry().right() < 1100


def test_closed_over_the_house_rules_the_keys_go_back_to_them(open_bench):
    hands = open_bench()
    hands.open(JOB, "rails")
    hands.shortcut("Ctrl+R")
    hands.shortcut("F2")
    hands.press(Qt.Key.Key_Escape)
    page = hands.window.rules_page
    focus = hands.window.focusWidget()
    assert focus is page.card or page.card.isAncestorOf(focus)

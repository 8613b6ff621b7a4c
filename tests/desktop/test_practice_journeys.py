"""The practice bench through the real window: a lesson of its own bench, scored when the board is handed back."""

import pytest
from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QKeyEvent

from bench_lamp.board import ProfileLibrary
from bench_lamp.desktop import asking
from bench_lamp.desktop.app import build
from bench_lamp.desktop.practising import make_practice, named_drill
from bench_lamp.errors import BenchLampError
from bench_lamp.journal.events import JobClosed, PartReplaced, PowerConfirmed
from bench_lamp.practice.drill import board_of, first_events
from bench_lamp.practice.lessons import LESSONS, read_progress


@pytest.fixture
def open_drill(open_bench, profile_cache, tmp_path):
    """Open the window of a drill; the shop's progress is in a folder of its own."""

    def _open(text: str):
        drill = named_drill(text, ProfileLibrary())

        def made(folder, **more):
            events = first_events(ProfileLibrary(), drill, more["clock"]())
            bench = build(folder, cache=profile_cache, first=events, clock=more["clock"])
            make_practice(bench, drill, tmp_path / "shop")
            return bench

        return open_bench(demo=False, folder=tmp_path / "drill", made=made)

    return _open


def test_the_lessons_are_begun_on_a_bench_of_their_own(open_bench, monkeypatch):
    begun = []
    monkeypatch.setattr(asking, "open_practice", lambda text, folder: begun.append(text))
    hands = open_bench(demo=False)
    hands.shortcut("Ctrl+Shift+P")
    page = hands.window.practice
    assert page.is_open
    assert page.rows.accessibleName().count(";") == len(LESSONS) - 1
    page.card.take_keys()
    for text in ("nobody 7", "orrery hard 7 alone"):
        hands.type(text)
        hands.press(Qt.Key.Key_Return)
        page.card.entry.field.clear()
    assert begun == ["tessenby-orrery-nights hard 7 alone"]
    key = QKeyEvent(QEvent.Type.KeyPress, Qt.Key.Key_B, Qt.KeyboardModifier.AltModifier, "b")
    page.card.take_key(key)
    assert begun[-1] == "lesson 1"
    hands.window.resize(1024, 700)
    page.rows.grab()
    for _ in LESSONS:
        page.step(1)
    page.card.take_key(key)
    assert begun[-1] == "lesson 12"
    last = page.rows.targets["11"]
    seen = page.headed.area.viewport().rect()
    assert seen.contains(
        0, page.rows.mapTo(page.headed.area.viewport(), last.center().toPoint()).y()
    )
    hands.press(Qt.Key.Key_Escape)
    assert not page.is_open


def test_a_lesson_is_worked_with_f8_and_scored_at_hand_back(open_drill, tmp_path):
    hands = open_drill("lesson 1")
    assert hands.session.job == "PR-90001/1"
    assert hands.state.complaint
    hands.session.say((PowerConfirmed(power="live"),))
    hands.settle()
    hands.session.go("rails")
    hands.session.look_at("C")
    hands.measure()
    assert abs(hands.state.readings[-1].value) < 1.0
    hands.session.say((PowerConfirmed(power="discharged", below=1.0),))
    hands.settle()
    hands.session.say((PartReplaced(part="F4", out="10 A", fitted="10 A slow"),))
    hands.settle()
    hands.session.say((JobClosed(),))
    page = hands.window.practice
    hands.wait(lambda: "the fixed order" in page.rows.accessibleName())
    assert page.rows.accessibleName().startswith("What was hidden F4: open; you 1 test ·")
    assert read_progress(tmp_path / "shop").wrong == {LESSONS[0].title: 0}
    assert not (tmp_path / "shop" / "journal.sqlite").exists(), "nothing of the shop is touched"


def test_alone_the_advice_stays_away(open_drill):
    hands = open_drill("lesson 1 alone")
    hands.session.say((PowerConfirmed(power="live"),))
    hands.settle()
    hands.session.go("trace")
    hands.settle()
    assert hands.session.case.insight is None
    assert hands.title


@pytest.mark.parametrize("text", ["lesson 99", "lesson", "nobody 3"])
def test_a_drill_that_is_none_is_a_message(text):
    with pytest.raises(BenchLampError):
        named_drill(text, ProfileLibrary())


def test_a_board_with_a_bad_part_of_the_logic_is_worked_with_its_own_tests(open_drill):
    """Ostrel 8, a fault of the logic: self-tests run on the practice bench, and the part that is put right is found."""
    hands = open_drill("ostrel easy 1 logic")
    profile = ProfileLibrary().get("ostrel-8")
    (fault,) = board_of(profile, hands.window.drill)[1].faults
    (part,) = fault.cures
    assert fault.name not in hands.state.complaint
    hands.session.say((PowerConfirmed(power="live"),))
    hands.settle()
    hands.shortcut("Alt+5")
    for _ in range(40):
        if hands.state.logic.codes or hands.state.logic.cells:
            break
        if hands.card.card.asks is not None:
            count = len(hands.state.tape)
            hands.press(Qt.Key.Key_F8)
            hands.wait(lambda count=count: len(hands.state.tape) > count)
        else:
            hands.type("1")
            hands.settle()
    assert hands.state.logic.codes or hands.state.logic.cells
    hands.session.say((PowerConfirmed(power="discharged", below=1.0),))
    hands.settle()
    hands.session.say((PartReplaced(part=part, out="x", fitted="y"),))
    hands.settle()
    hands.session.say((JobClosed(),))
    hands.wait(lambda: "found" in repr(hands.window.practice.rows.rows))
    rows = hands.window.practice.rows.rows
    assert rows[0].sub == fault.name
    assert rows[1].title == "you"
    assert rows[1].right == "found"
    assert any(r.title.startswith("run ") for r in rows), "the rivals ran the board's tests, too"

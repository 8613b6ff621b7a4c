"""Whole jobs through the real window, by keyboard."""

import csv
import json
import os
import shutil
import subprocess
import sys

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtWidgets import QApplication, QLabel

from bench_lamp import stages
from bench_lamp.cards.card import Card
from bench_lamp.cards.stage import PathState, Stage
from bench_lamp.desktop import loading, navigation, window
from bench_lamp.desktop.surfaces import SURFACES
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.journal.reader import JournalReader
from bench_lamp.views import find, path

HEALTHY = {"P": "9.4", "L1": "5.01", "D1": "5.02", "Q": "14.6", "D": "18.0", "E": "35.2", "D2": "35.1",
           "G": "7.1", "G1": "6.9", "H": "140.2", "K": "8.2"}  # fmt: skip


def test_the_demo_job_from_three_readings_to_the_sheet(open_bench, tmp_path):
    """Read on, trace the open fuse, replace it, meet the second fault, mend it, prove, hand back."""
    hands = open_bench()
    assert (hands.session.job, hands.session.stage) == ("QH-017/1", "rails")
    assert len(hands.state.readings) == 3
    hands.read(P="9.4", L1="5.01", D1="5.02", Q="0.0", D="0.0", E="35.2", D2="35.1")
    hands.read(G="7.1", G1="6.9", H="140.2", K="8.2")
    assert hands.title == "All read: go to Trace"
    hands.enter()
    hands.settle()
    assert hands.session.stage == "trace"
    assert hands.title == "AC volts before F4"
    hands.enter("15.8")
    assert hands.title == "Switch off, then ohms on C"
    hands.type("1")
    assert hands.title == "Power state?"
    hands.type("2")
    hands.settle()
    assert hands.state.power.power == "discharged"
    hands.enter("52")
    assert hands.title.replace("\u202f", " ") == "Replace F4, 10 A slow"
    hands.type("1")
    assert hands.title == "What was done to F4?"
    hands.type("1")
    hands.enter()
    hands.enter()
    assert hands.state.replaced[0].fitted.replace("\u202f", " ") == "10 A slow"

    assert hands.title == "Read C, +18 V lamps"
    hands.type("18.0")
    hands.press(Qt.Key.Key_Return)
    hands.type("y")
    hands.settle()
    assert hands.state.power.is_live
    assert hands.state.latest("C", "dc V").value == 18.0
    hands.read(Q="14.6", D="13.4")
    assert "4.6 V lost in J3.5" in _rung_note(hands, "D")

    hands.shortcut("Alt+6")
    hands.settle()
    assert hands.title == "Look at J3.5: pull, clean, re-seat"
    hands.type("1")
    hands.type("2")
    hands.settle()
    hands.type("1")
    hands.settle()
    assert (hands.state.actions[0].target, hands.session.stage) == ("J3.5", "rails")
    hands.shortcut("Ctrl+P")
    hands.type("3")
    hands.settle()
    hands.read(D="17.9")

    hands.shortcut("Alt+9")
    assert hands.title == "Read C, +18 V lamps", "what was bad is read first"
    hands.prove(**HEALTHY, A="5.08", B="10.4", C="18.0")
    assert hands.state.complaint_where == "machine"
    assert hands.title == "All points read again, all good"
    hands.enter()
    hands.settle()

    assert hands.session.stage == "handback"
    for key in "1234":
        hands.type(key)
        assert hands.said.startswith("Saved"), hands.said
    papers = tmp_path / "papers"
    assert (papers / "QH-017_1.pdf").read_bytes().startswith(b"%PDF")
    assert "F4" in (papers / "QH-017_1.html").read_text()
    rows = list(csv.reader((papers / "QH-017_1.csv").read_text().splitlines()))
    assert len(rows) > 30
    assert json.loads((papers / "QH-017_1.json").read_text())["job"] == "QH-017/1"
    hands.type("5")
    hands.enter("watch J3")
    assert hands.state.advice == ("watch J3",)
    hands.type("0")
    hands.settle()
    assert hands.session.job == ""
    closed = hands.session.shelf("QH-017")[0]
    assert (closed.is_closed, closed.next_step) == (True, "handed back")


def _rung_note(hands, point: str) -> str:
    ladder = hands.page.surface("rails").ladder
    return next(r.note for r in ladder.rungs() if r.point.id == point).replace("\u202f", " ")


def test_a_new_job_by_keyboard_in_few_keys(open_bench):
    hands = open_bench(demo=False)
    assert hands.title == "Put a board on the bench"
    hands.shortcut("Ctrl+N")
    hands.enter("bad tag")
    assert "is no tag" in hands.said
    hands.card.entry.field.clear()
    hands.enter("qh-031")
    assert hands.title == "QH-031: what kind of board?"
    hands.press(Qt.Key.Key_D, Qt.KeyboardModifier.AltModifier, "d")
    hands.enter("orrery")
    hands.settle()
    assert hands.session.job == "QH-031/1"
    hands.enter("dead")
    hands.enter("one key")
    for _ in range(2):
        hands.type("1")
        hands.settle()
    hands.enter("T3A")
    hands.enter("2 c1")
    hands.enter()
    assert hands.title == "Intake done"
    assert hands.state.findings[0].place == "C1"
    assert hands.state.mains == {"selector": "230 V", "sticker": "230 V", "fuse": "3\u202fA slow"}


def test_what_was_entered_is_there_after_a_restart(open_bench, tmp_path):
    hands = open_bench()
    hands.read(P="9.4", L1="4.77")
    hands.shortcut("Ctrl+Z")
    hands.settle()
    hands.bench.stop()
    again = open_bench(demo=False)
    again.session.open_job("QH-017/1")
    readings = {r.target: r.value for r in again.state.readings}
    assert readings["P"] == 9.4
    assert "L1" not in readings
    assert len(again.session.shelf()) == 16


def test_the_screen_says_logged_only_after_the_disk(open_bench, tmp_path):
    """Each reading that the tape shows can be read from the file by another reader."""
    hands = open_bench()
    seen: list[tuple[int, int]] = []
    reader = JournalReader(tmp_path / "journal.sqlite")
    hands.session.changed.connect(
        lambda: seen.append((len(hands.state.tape), len(reader.events("QH-017/1").events)))
    )
    hands.read(P="9.4", L1="5.0", D1="5.0")
    assert len(seen) >= 3
    assert all(shown <= stored for shown, stored in seen)


def test_what_is_typed_before_the_disk_has_answered_is_kept_and_nothing_is_logged_twice(open_bench):
    hands = open_bench()
    hands.type("9.4")
    hands.press(Qt.Key.Key_Return)
    assert hands.session.is_waiting
    hands.press(Qt.Key.Key_Return)
    hands.type("5.0")
    hands.settle()
    assert hands.title.startswith("Read L1")
    assert hands.card.entry.field.text() == "5.0"
    assert len(hands.state.readings) == 4
    hands.press(Qt.Key.Key_Return)
    hands.settle()
    assert hands.state.latest("L1", "dc V").value == 5.0


def test_digits_go_to_the_entry_from_anywhere(open_bench):
    hands = open_bench()
    hands.page.tape.setFocus()
    hands.type("9.4")
    assert hands.card.entry.field.text() == "9.4"
    assert hands.said == "within: usual"
    hands.enter()
    assert hands.state.latest("P", "ac V").value == 9.4


@pytest.mark.parametrize(
    ("typed", "says", "key", "value"),
    [
        ("5080", "5.08 kV at a 5.05 V point?", "m", 5.08),
        ("-5.08", "leads swapped", "m", 5.08),
        ("-5.08", "leads swapped", "y", -5.08),
    ],
)
def test_a_doubtful_entry_is_questioned_in_place(open_bench, typed, says, key, value):
    hands = open_bench()
    hands.session.look_at("A")
    hands.type(typed)
    hands.press(Qt.Key.Key_Return)
    cautions = [w.text for w in hands.card.findChildren(object) if type(w).__name__ == "CautionRow"]
    assert any(says in text.replace("\u202f", " ") for text in cautions)
    before = len(hands.state.readings)
    hands.type(key)
    hands.settle()
    assert len(hands.state.readings) == before + 1
    assert hands.state.readings[-1].value == pytest.approx(value)


def test_a_question_can_be_left_and_the_entry_mended(open_bench):
    hands = open_bench()
    hands.session.look_at("A")
    hands.type("5080")
    hands.press(Qt.Key.Key_Return)
    hands.press(Qt.Key.Key_Escape)
    assert hands.card.entry.field.text() == "5080"
    assert len(hands.state.readings) == 3


def test_ohms_on_a_live_board_are_refused_with_the_reason(open_bench):
    hands = open_bench()
    hands.type("12 ohm")
    hands.press(Qt.Key.Key_Return)
    assert "ohms reading on a live board" in hands.said
    assert hands.card.entry.field.text() == "12 ohm"
    assert len(hands.state.readings) == 3


def test_the_power_state_has_a_key_and_a_face(open_bench):
    hands = open_bench()
    pill = hands.page.header.power
    assert pill.accessibleName().startswith("POWER ON, confirmed")
    hands.shortcut("Ctrl+P")
    hands.type("1")
    hands.settle()
    assert pill.accessibleName().startswith("POWER OFF, confirmed")
    hands.type("9.4")
    hands.press(Qt.Key.Key_Return)
    hands.type("o")
    hands.settle()
    assert hands.state.readings[-1].power == "off"


def test_undo_and_redo_append_and_say_when_there_is_nothing(open_bench):
    hands = open_bench()
    hands.read(P="9.4", L1="5.0")
    count = len(hands.state.tape)
    for _ in range(2):
        hands.shortcut("Ctrl+Z")
        hands.settle()
    assert {r.target for r in hands.state.readings} == {"A", "B", "C"}
    hands.shortcut("Ctrl+Shift+Z")
    hands.settle()
    assert {r.target for r in hands.state.readings} == {"A", "B", "C", "P"}
    assert len(hands.state.tape) == count + 3
    for _ in range(30):
        hands.shortcut("Ctrl+Z")
        hands.settle()
    assert hands.said == "Nothing to undo"


def test_a_tile_is_opened_and_struck_with_a_reason(open_bench):
    hands = open_bench()
    hands.read(P="9.4")
    hands.shortcut("Ctrl+L")
    hands.press(Qt.Key.Key_Left)
    hands.press(Qt.Key.Key_Return)
    popover = hands.page.popover
    assert popover.isVisible()
    assert "+18 V lamps" in popover._lines.text()
    hands.enter("probe slipped")
    assert not popover.isVisible()
    assert hands.state.latest("C", "dc V") is None
    tape = hands.page.tape
    struck = [t for t in map(tape.tile_at, range(len(tape._entries))) if t.is_struck]
    assert struck[0].detail == "struck: probe slipped"


def test_find_anything_reaches_points_parts_boards_and_commands(open_bench):
    hands = open_bench()

    def find(words: str) -> None:
        hands.shortcut("Ctrl+K")
        hands.type(words)
        hands.press(Qt.Key.Key_Return)

    find("h")
    assert hands.title == "Read H, +140 V displays"
    find("f4")
    assert hands.title == "What was done to F4?"
    find("prove")
    assert hands.session.stage == "prove"
    find("dabbin")
    assert hands.session.meter.id == "dabbin-2"
    find("daylight")
    assert hands.window.look.theme == "daylight"
    find("qh-012")
    assert (hands.session.job, hands.session.stage) == ("QH-012/1", "trace")
    hands.shortcut("Ctrl+K")
    hands.type("zzzz")
    hands.press(Qt.Key.Key_Return)
    hands.press(Qt.Key.Key_Escape)
    assert hands.session.job == "QH-012/1"


def test_suggestions_are_skipped_and_picked_by_key(open_bench):
    hands = open_bench()
    assert hands.title.startswith("Read P")
    hands.press(Qt.Key.Key_Escape)
    assert hands.title.startswith("Read L1")
    hands.press(Qt.Key.Key_Up)
    assert hands.title.startswith("Read P")
    hands.press(Qt.Key.Key_Escape)
    hands.shortcut("Alt+6")
    hands.settle()
    first = hands.title
    hands.press(Qt.Key.Key_Escape)
    assert hands.title != first
    hands.press(Qt.Key.Key_O, Qt.KeyboardModifier.AltModifier, "o")
    hands.press(Qt.Key.Key_B, Qt.KeyboardModifier.AltModifier, "b")
    assert hands.session.hand.focus in {t.test.name for t in hands.session.case.insight.tries}


def test_the_ripple_key_puts_the_meter_on_ac(open_bench):
    hands = open_bench()
    hands.session.look_at("A")
    hands.shortcut("F7")
    assert hands.title == "Ripple on A, +5 V logic"
    hands.enter("3 mV")
    assert hands.state.latest("A", "ac V").value == pytest.approx(0.003)


def test_everything_can_be_done_with_the_mouse(open_bench, qtbot):
    hands = open_bench()
    hands.session.go_shelf()
    rows = hands.window.shelf.rows
    rows.grab()
    job, box = next(iter(rows.targets.items()))
    qtbot.mouseClick(rows, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    assert hands.session.job == job
    path = hands.page.path
    for index, stage in enumerate(
        (
            "intake",
            "cold",
            "wake",
            "rails",
            "selftest",
            "trace",
            "swap",
            "trim",
            "prove",
            "handback",
        )
    ):
        spot = QPoint(34, 12 + path._row_height() * index + 20)
        qtbot.mouseClick(path, Qt.MouseButton.LeftButton, pos=spot)
        assert hands.session.stage == stage
    hands.session.go("rails")
    ladder = hands.page.surface("rails").ladder
    box = next(b for r, b in ladder.boxes() if r.point.id == "E")
    qtbot.mouseClick(ladder, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    assert hands.title.startswith("Read E")
    hands.session.go("trace")
    hands.settle()
    surface = hands.page.surface("trace")
    surface.tree.grab()
    spot = surface.tree.targets["BR2"].center().toPoint()
    qtbot.mouseClick(surface.tree, Qt.MouseButton.LeftButton, pos=spot)
    assert hands.session.hand.focus == "BR2"
    surface.list.grab()
    key, box = list(surface.list.targets.items())[1]
    qtbot.mouseClick(surface.list, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    assert hands.session.hand.focus == key
    spot = QPoint(int(surface.strip._x(1)), 16)
    qtbot.mouseClick(surface.strip, Qt.MouseButton.LeftButton, pos=spot)
    assert hands.session.hand.replay == 1
    hands.press(Qt.Key.Key_Escape)
    assert hands.session.hand.replay is None
    qtbot.mouseClick(hands.page.header.power, Qt.MouseButton.LeftButton)
    row = hands.page.card._rows[0]
    qtbot.mouseClick(row, Qt.MouseButton.LeftButton)
    hands.settle()
    assert hands.state.power.power == "off"
    tape = hands.page.tape
    index, box = tape._shown()[-1]
    qtbot.mouseClick(tape, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    assert hands.page.popover.isVisible()
    first = tape._shown()[0][0]
    wheel = QWheelEvent(
        box.center(), box.center(), QPoint(), QPoint(0, 120), Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
    )  # fmt: skip
    QApplication.sendEvent(tape, wheel)
    assert tape._shown()[0][0] == max(first - 1, 0)


def test_a_wrong_mains_fuse_stops_the_power_card(open_bench):
    hands = open_bench()
    hands.session.open_job("QH-009/1", "rails")
    hands.shortcut("Ctrl+P")
    assert any("Do not switch on" in c for c in hands.card.card.cautions)
    hands.type("3")
    assert hands.session.asks_power
    hands.type("9")
    hands.settle()
    assert "6.3" in hands.state.power.against


def test_a_full_disk_keeps_what_was_typed(open_bench):
    hands = open_bench()
    store = hands.bench.worker._store
    from sqlalchemy import text

    with store.engine.connect() as connection:
        pages = connection.scalar(text("PRAGMA page_count"))
        connection.execute(text(f"PRAGMA max_page_count = {pages}"))
    for _ in range(200):
        hands.enter("9.4")
        if "full" in hands.said:
            break
        hands.session.look_at("P")
    assert "is full" in hands.said
    assert hands.card.entry.field.text() == "9.4"


def test_text_from_outside_is_never_markup(open_bench):
    hands = open_bench()
    from bench_lamp.journal.events import Complaint

    nasty = "<b>bold</b> <img src=x> & “quotes”"
    hands.session.say((Complaint(text=nasty),))
    hands.settle()
    label = hands.page.header._complaint
    assert nasty in label.text()
    # Words are drawn as they stand: as wide as all of their characters, the signs too.
    label.setText(nasty)
    assert label.sizeHint().width() >= label.fontMetrics().horizontalAdvance(nasty) - 2
    assert not hands.window.findChildren(QLabel), "nothing that could take words for markup"


@pytest.mark.skipif(shutil.which("Xvfb") is None, reason="no Xvfb on this machine")
def test_the_journey_holds_on_a_real_x_display(tmp_path):
    """The first journey once more, in a process of its own under Xvfb."""
    server = subprocess.Popen(
        ["Xvfb", "-displayfd", "1", "-screen", "0", "1280x800x24"],
        stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True,
    )  # fmt: skip
    with server:
        try:
            assert server.stdout is not None
            display = f":{server.stdout.readline().strip()}"
            environment = {**os.environ, "DISPLAY": display, "QT_QPA_PLATFORM": "xcb"}
            name = f"{__file__}::test_the_demo_job_from_three_readings_to_the_sheet"
            done = subprocess.run(
                [sys.executable, "-m", "pytest", "-q", "-p", "no:cacheprovider", name],
                env=environment, capture_output=True, text=True, timeout=100, check=False,
            )  # fmt: skip
        finally:
            server.terminate()
    assert done.returncode == 0, done.stdout[-3000:]


def test_an_eleventh_stage_has_its_key(monkeypatch, open_bench):
    """A stage is its record and its surface: the window finds both, and gives it a key."""
    more = [
        Stage(
            id=name,
            name=name.title(),
            surface=name,
            card=lambda case, hand, name=name: Card(id=name, title=f"The {name}"),
            state=lambda case: PathState("not begun"),
        )
        for name in ("eleventh",)
    ]
    every = (*stages.STAGES, *more)
    for module in (stages, window, navigation, loading, path, find):
        monkeypatch.setattr(module, "STAGES", every)
    for stage in more:
        monkeypatch.setitem(stages._BY_ID, stage.id, stage)
        monkeypatch.setitem(SURFACES, stage.surface, lambda: lambda look: Headed(look, "More"))
    hands = open_bench()
    hands.shortcut("Alt+-")
    assert hands.session.stage == more[0].id
    assert hands.title == f"The {more[0].id}"
    assert "Eleventh: not begun" in hands.page.path.accessibleName()
    # The stage goes when the test ends; nothing that still waits to be drawn may ask for it.
    hands.session.go("rails")
    hands.settle()


def test_a_jobs_kind_is_corrected_and_a_mistaken_job_withdrawn(open_bench):
    hands = open_bench(demo=False)
    hands.shortcut("Ctrl+N")
    hands.enter("qh-090")
    hands.press(Qt.Key.Key_D, Qt.KeyboardModifier.AltModifier, "d")
    hands.enter("ostrel")
    hands.settle()
    assert hands.session.case.profile.id == "ostrel-8"
    hands.press(Qt.Key.Key_K, Qt.KeyboardModifier.AltModifier, "k")
    assert hands.title == "QH-090: what kind of board?"
    hands.press(Qt.Key.Key_D, Qt.KeyboardModifier.AltModifier, "d")
    hands.enter("cinder")
    hands.settle()
    assert (hands.session.job, hands.session.case.profile.id) == (
        "QH-090/1",
        "ardvane-cinder-dunes",
    )
    hands.shortcut("Ctrl+Z")
    hands.settle()
    assert hands.session.case.profile.id == "ostrel-8", "undone like any entry"
    hands.session.open_job("QH-090/1", "intake")
    hands.press(Qt.Key.Key_W, Qt.KeyboardModifier.AltModifier, "w")
    hands.settle()
    assert hands.session.job == ""
    (found,) = hands.session.shelf()
    assert found.next_step == "withdrawn: opened by mistake"
    hands.session.open_job("QH-090/1")
    assert hands.title == "Withdrawn: opened by mistake"
    hands.type("1")
    hands.settle()
    assert not hands.state.is_withdrawn

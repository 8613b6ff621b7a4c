"""Self-test through the real window: taps, grids, lanes, files, and on to the repaired part."""

import time

import pytest
from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QApplication

from bench_lamp.plan.selftest.files import wanted_of
from bench_lamp.plan.selftest.items import items
from bench_lamp.plan.selftest.standing import cells_now, code_now


@pytest.fixture
def at(open_bench):
    """Open the demo on one job's self-test."""

    def go(job, item=""):
        hands = open_bench()
        hands.session.open_job(job, "selftest")
        if item:
            hands.session.look_at(item)
        hands.settle()
        return hands

    return go


def item(hands, name):
    return next(i for i in items(hands.session.situation) if i.id == name)


def tap(hands, count, *, gap=0.03, hold=0.005):
    """Press and release the space bar, as one counts along."""
    for _ in range(count):
        target = hands.window.focusWidget()
        for kind in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
            QApplication.sendEvent(
                target, QKeyEvent(kind, Qt.Key.Key_Space, Qt.KeyboardModifier.NoModifier, " ")
            )
            time.sleep(hold if kind == QEvent.Type.KeyPress else gap)


def test_a_stuck_bit_from_the_lane_to_the_swapped_chip(at):
    hands = at("QH-041/1")
    surface = hands.page.surface("selftest")
    assert "Port A, keyboard rows: bit 3 stuck low" in surface.strip.accessibleName()
    hands.session.look_at("lane:PA")
    assert hands.title == "PA: bit 3 stuck low"
    hands.enter("00>00 FF>F7 08>00")
    assert item(hands, "lane:PA").words == "bit 3 stuck low"
    hands.press(Qt.Key.Key_T, Qt.KeyboardModifier.AltModifier, "t")
    hands.settle()
    assert hands.session.stage == "trace"
    trace = hands.page.surface("trace")
    assert trace.told.isVisible()
    assert not trace.tree.isVisible()
    first = hands.session.situation.insight.suspects[0]
    assert first.block == "U7"
    for _ in range(6):
        if hands.session.situation.insight.called:
            break
        if hands.title.startswith("U7 pin 1,"):
            hands.type("l")
        elif hands.title.startswith("Switch off"):
            hands.type("12")
        elif "donor" in hands.title:
            hands.type("2")
        else:
            hands.press(Qt.Key.Key_Escape)
        hands.settle()
    assert hands.session.situation.insight.called.block == "U7"
    assert hands.title == "Replace U7"


def test_a_letter_marks_its_chip_and_trace_calls_it(at):
    hands = at("QH-033/1", "memory")
    hands.enter("x9")
    assert "names no chip" in hands.said
    hands.clear()
    hands.enter("m")
    assert cells_now(hands.session.situation, "memory")["2.3"].mark == "dead"
    assert hands.card.card.why[0] == "M23: bit 3 of bank 2 alone, so that chip."
    hands.type("1")
    hands.settle()
    assert hands.session.situation.insight.suspects[0].block == "M23"


def test_blinks_are_tapped_in_time_and_logged_by_enter(at):
    hands = at("QH-036/1", "blinks")
    assert hands.title == "5 blinks"
    hands.type("2")
    hands.settle()
    assert hands.title == "Before Boot blinks"
    hands.type("1")
    hands.settle()
    assert hands.title == "Count the blinks"
    tap(hands, 3)
    assert hands.title == "Tapped: 3"
    assert hands.card.entry.field.text() == "3"
    hands.press(Qt.Key.Key_Return)
    hands.settle()
    assert code_now(hands.session.situation, "blinks") == "3"
    assert hands.title == "3 blinks"
    hands.shortcut("Ctrl+Z")
    hands.settle()
    assert code_now(hands.session.situation, "blinks") != "3"


def test_walking_the_switches_by_letters_arrows_and_mouse(at, qtbot):
    hands = at("QH-036/1", "switches")
    assert hands.title == "Before Switch matrix"
    hands.type("1")
    hands.settle()
    for _ in range(3):
        hands.type("c")
        hands.settle()
    assert hands.title == "Work 1.4 right coin"
    hands.press(Qt.Key.Key_Down)
    hands.press(Qt.Key.Key_Left)
    assert hands.title == "Work 2.3 left bumper"
    hands.type("n")
    hands.settle()
    canvas = hands.page.surface("selftest").canvas
    canvas.grab()
    spot = canvas.targets["switches@3.3"].center().toPoint()
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=spot)
    hands.type("n")
    hands.settle()
    for cell in ("4.3", "5.3", "6.3", "7.3"):
        hands.session.look_at(f"switches@{cell}")
        hands.type("n")
        hands.settle()
    hands.session.look_at("switches@1.3")
    hands.type("n")
    hands.settle()
    canvas.grab()
    assert "Column 3 dead: drive IC8, connector J8.12, line SC3." in canvas.accessibleName()
    hands.press(Qt.Key.Key_PageDown)
    assert hands.title.startswith("Watch 1.1 Mercury")
    hands.shortcut("Alt+6")
    hands.settle()
    assert hands.session.situation.insight.suspects[0].block in {"IC8", "J8"}


def test_a_coil_that_stays_in_puts_the_power_card_first(at):
    hands = at("QH-036/1", "coils")
    hands.type("1")
    hands.settle()
    hands.type("f")
    hands.settle()
    hands.type("l")
    hands.settle()
    assert hands.title == "Switch off now"
    assert "burns in seconds" in hands.card.card.cautions[0]
    hands.type("1")
    hands.settle()
    assert hands.state.power.power == "off"
    assert hands.title.startswith("Watch K03")


def test_digits_by_typing_what_is_dark(at):
    hands = at("QH-036/1", "displays")
    hands.enter()
    hands.enter("g")
    hands.enter("q")
    assert "names no segment" in hands.said
    hands.clear()
    hands.enter("=0")
    marks = {c: m.mark for c, m in cells_now(hands.session.situation, "displays").items()}
    assert marks == {"P1.0": "good", "P1.1": "dark g", "P1.2": "dark g"}
    hands.page.surface("selftest").canvas.grab()
    assert "displays@P4.6" in hands.page.surface("selftest").canvas.targets


# Files.


def test_an_image_file_is_read_judged_and_never_changed(at, tmp_path):
    hands = at("QH-033/1", "images")
    image = hands.session.situation.profile.images[0]
    data = wanted_of(image).data
    path = tmp_path / "dump r1.bin"
    path.write_bytes(data)
    tape = len(hands.state.tape)
    hands.enter(str(path))
    hands.wait(lambda: len(hands.state.tape) > tape)
    assert hands.state.logic.images["R1"][1].verdict == "good"
    assert path.read_bytes() == data
    hands.settle()
    assert hands.title == "Open the image of R2"
    path.write_bytes(b"\xff" * 2048)
    tape = len(hands.state.tape)
    hands.enter(str(path))
    hands.wait(lambda: len(hands.state.tape) > tape)
    assert "all one" in hands.state.logic.images["R2"][1].text


@pytest.mark.parametrize(
    ("raw", "says"),
    [
        pytest.param(None, "cannot be read", id="no-such-file"),
        pytest.param(b"", "is empty", id="empty"),
        pytest.param(b":0400000001020304F1\n", "dump.hex", id="damaged-hex"),
    ],
)
def test_a_bad_image_file_says_so_and_changes_nothing(at, tmp_path, raw, says):
    hands = at("QH-033/1", "images")
    path = tmp_path / "dump.hex"
    if raw is not None:
        path.write_bytes(raw)
    tape = len(hands.state.tape)
    hands.enter(str(path))
    hands.wait(lambda: says in hands.said)
    assert len(hands.state.tape) == tape


def test_a_capture_is_read_with_progress_and_can_be_stopped(at, tmp_path):
    hands = at("QH-041/1", "lane:PB")
    path = tmp_path / "probe.csv"
    head = "time," + ",".join(f"PB{i}" for i in range(8))
    rows = (
        f"{t}," + ",".join(str(t >> i & 1) if i != 6 else "1" for i in range(8))
        for t in range(4000)
    )
    path.write_text("\n".join([head, *rows]))
    hands.enter(str(path))
    hands.wait(lambda: "PB" in hands.state.logic.lanes)
    hands.settle()
    assert item(hands, "lane:PB").words == "bit 6 stuck high"
    bad = tmp_path / "bad.csv"
    bad.write_text(head + "\n1,2\n")
    hands.enter(str(bad))
    hands.wait(lambda: "row 2 has 2 columns" in hands.said)
    hands.clear()
    big = tmp_path / "big.csv"
    big.write_text("\n".join([head, *(f"{t},0,1,0,1,0,1,0,1" for t in range(700_000))]))
    shares = []
    hands.window.files.progressed.connect(shares.append)
    read = len(hands.state.logic.lanes["PB"])
    hands.enter(str(big))
    hands.wait(lambda: bool(shares))
    hands.press(Qt.Key.Key_Escape)
    hands.wait(lambda: "Stopped" in hands.said)
    assert 0 < shares[-1] < 1
    assert len(hands.state.logic.lanes["PB"]) == read


def test_a_file_is_chosen_in_a_dialog(at, tmp_path, monkeypatch):
    hands = at("QH-033/1", "images")
    path = tmp_path / "r1.bin"
    path.write_bytes(b"\x00" * 2048)
    monkeypatch.setattr(
        "bench_lamp.desktop.file_reader.QFileDialog.getOpenFileName", lambda *_: (str(path), "")
    )
    hands.press(Qt.Key.Key_F, Qt.KeyboardModifier.AltModifier, "f")
    hands.wait(lambda: "R1" in hands.state.logic.images)
    assert "all zero" in hands.state.logic.images["R1"][1].text


def test_a_profile_without_self_tests_teaches(at):
    hands = at("QH-023/1")
    assert "no self-tests" in hands.title
    assert not hands.page.surface("selftest").below.isVisible()
    hands.window.grab()


@pytest.mark.parametrize("scale", [1.0, 1.5])
@pytest.mark.parametrize("job", ["QH-041/1", "QH-033/1", "QH-036/1"])
def test_every_test_is_drawn_in_both_themes_and_large(at, job, scale):
    hands = at(job)
    hands.window.look.set_scale(scale)
    hands.window.look.set_theme("daylight" if scale > 1 else "lamp")
    surface = hands.page.surface("selftest")
    for found in items(hands.session.situation):
        hands.session.look_at(found.id)
        QApplication.processEvents()
        hands.window.grab()
        QApplication.processEvents()
        assert surface.canvas.accessibleName()
        assert found.id in surface.strip.targets
        assert surface.strip.height() >= surface.strip.content_height

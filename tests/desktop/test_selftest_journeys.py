"""Self-test through the real window: taps, grids, lanes, files, and on to the repaired part."""

import time

import pytest
from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QApplication

from bench_lamp.case.results import cells_now, code_now
from bench_lamp.case.selftest_list import selftest_items
from bench_lamp.journal.events import ActionDone
from bench_lamp.stages.selftest.image_files import wanted_of


@pytest.fixture
def at(open_bench):
    """Open the demo on one job's self-test."""

    def go(job, item=""):
        hands = open_bench()
        hands.open(job, "selftest")
        if item:
            hands.session.look_at(item)
        hands.settle()
        return hands

    return go


def item(hands, name):
    return next(i for i in selftest_items(hands.seen.case) if i.id == name)


def tap(hands, count, *, gap=0.12, hold=0.01):
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
    assert "Port A, keyboard rows: bit 3 stuck low" in surface.list.accessibleName()
    hands.session.look_at("lane:PA")
    assert hands.title == "PA: bit 3 stuck low"
    hands.type("2")
    hands.settle()
    hands.enter("00>00 FF>F7 08>00")
    assert item(hands, "lane:PA").words == "bit 3 stuck low"
    assert hands.card.card.why == ("PA3: wrong in 3 of 5 words.",)
    hands.press(Qt.Key.Key_Return)
    hands.settle()
    assert hands.session.stage == "trace"
    trace = hands.page.surface("trace")
    assert trace.test.isVisible()
    assert not trace.tree.isVisible()
    first = hands.session.case.insight.suspects[0]
    assert first.block == "U7"
    for _ in range(6):
        if hands.session.case.insight.called:
            break
        if hands.title.startswith("Probe U7 pin 1,"):
            hands.type("l")
        elif hands.title.startswith("Switch off"):
            hands.type("12")
        elif "donor" in hands.title:
            hands.type("3")
        else:
            hands.press(Qt.Key.Key_Escape)
        hands.settle()
    assert hands.session.case.insight.called.block == "U7"
    assert hands.title == "Replace U7"


def test_a_letter_marks_its_chip_and_trace_calls_it(at):
    hands = at("QH-033/1", "memory")
    hands.enter("x9")
    assert "names no chip" in hands.said
    hands.clear()
    hands.enter("m")
    assert cells_now(hands.seen.case, "memory")["2.3"].mark == "dead"
    assert hands.card.card.why[0] == "M23: bit 3 of bank 2 alone, so that chip."
    hands.type("1")
    hands.settle()
    assert hands.session.case.insight.suspects[0].block == "M23"


def test_blinks_are_tapped_in_time_and_logged_by_enter(at):
    hands = at("QH-036/1", "blinks")
    assert hands.title == "5 blinks"
    hands.type("2")
    hands.settle()
    assert hands.title == "Make ready for Boot blinks"
    hands.type("1")
    hands.settle()
    assert hands.title == "Count the blinks"
    tap(hands, 3)
    assert hands.title == "Tapped: 3"
    assert hands.card.entry.field.text() == "3"
    hands.press(Qt.Key.Key_Return)
    hands.settle()
    assert code_now(hands.seen.case, "blinks") == "3"
    assert hands.title == "3 blinks"
    hands.shortcut("Ctrl+Z")
    hands.settle()
    assert code_now(hands.seen.case, "blinks") != "3"


def test_walking_the_switches_by_letters_arrows_and_mouse(at, qtbot):
    hands = at("QH-036/1", "switches")
    assert hands.title == "Make ready for Switch matrix"
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
    spot = canvas.targets["3.3"].center().toPoint()
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=spot)
    hands.type("n")
    hands.settle()
    for cell in ("4.3", "5.3", "6.3", "7.3"):
        hands.session.look_at("switches", cell)
        hands.type("n")
        hands.settle()
    hands.session.look_at("switches", "1.3")
    hands.type("n")
    hands.settle()
    canvas.grab()
    assert "Column 3 dead: drive IC8, connector J8.12, line SC3." in canvas.accessibleName()
    hands.press(Qt.Key.Key_PageDown)
    assert hands.title.startswith("Watch 1.1 Mercury")
    hands.shortcut("Alt+6")
    hands.settle()
    assert hands.session.case.insight.suspects[0].block in {"IC8", "J8"}


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
    assert hands.title == "Switch on for Coils, one by one"
    assert "K02 left kicker stayed in. Take F3, the coil fuse, out" in hands.card.card.cautions[0]
    hands.type("13")
    hands.settle()
    assert hands.state.power.power == "off", "the coil fuse is still in"
    hands.session.say((ActionDone(action="removed for test", target="F3"),))
    hands.settle()
    hands.type("3")
    hands.settle()
    assert hands.state.power.power == "live"
    assert hands.title.startswith("Watch K03")


def test_digits_by_typing_what_is_dark(at):
    hands = at("QH-036/1", "displays")
    hands.enter()
    hands.enter("g")
    hands.enter("q")
    assert "names no segment" in hands.said
    hands.clear()
    hands.enter("=0")
    marks = {c: m.mark for c, m in cells_now(hands.seen.case, "displays").items()}
    assert marks == {"P1.0": "good", "P1.1": "dark g", "P1.2": "dark g"}
    hands.page.surface("selftest").canvas.grab()
    assert "P4.6" in hands.page.surface("selftest").canvas.targets


# Files.


def test_an_image_file_is_read_judged_and_never_changed(at, tmp_path):
    hands = at("QH-033/1", "images")
    image = hands.session.case.profile.images[0]
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
        pytest.param(None, "is not there", id="no-such-file"),
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
    hands.type("2")
    hands.settle()
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


def test_what_is_read_goes_to_the_job_it_was_read_for(at, tmp_path):
    hands = at("QH-033/1", "images")
    path = tmp_path / "r1.bin"
    path.write_bytes(wanted_of(hands.session.case.profile.images[0]).data)
    hands.type(str(path))
    hands.press(Qt.Key.Key_Return)
    hands.open("QH-041/1", "selftest")
    hands.wait(lambda: not hands.window.files.is_reading)
    hands.settle()
    assert hands.state.logic.images == {}
    hands.open("QH-033/1", "selftest")
    hands.wait(lambda: "R1" in hands.state.logic.images)


def test_a_file_is_chosen_in_a_dialog(at, tmp_path, monkeypatch):
    hands = at("QH-033/1", "images")
    path = tmp_path / "r1.bin"
    path.write_bytes(b"\x00" * 2048)
    monkeypatch.setattr(
        "bench_lamp.desktop.workers.file_reader.QFileDialog.getOpenFileNames",
        lambda *_: ([str(path)], ""),
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
    for found in selftest_items(hands.seen.case):
        hands.session.look_at(found.id)
        QApplication.processEvents()
        hands.window.grab()
        QApplication.processEvents()
        assert surface.canvas.accessibleName()
        assert found.id in surface.list.targets
        assert surface.list.height() >= surface.list.content_height


# The rest of the stage, and what follows from it.


def test_a_harness_before_and_after_the_repair_side_by_side(at):
    hands = at("QH-041/1", "harness")
    for key in "ppfpppppp":
        hands.type(key)
        hands.settle()
    assert hands.title == "H3 bad"
    hands.type("2")
    hands.settle()
    for _ in range(9):
        hands.type("p")
        hands.settle()
    assert hands.title == "All marked: none bad"
    canvas = hands.page.surface("selftest").canvas
    drawn = {c.id: (c.before, c.word) for c in canvas._picture.cells}
    assert drawn["H3"] == ("fails", "passes")
    assert drawn["H4"] == ("passes", "passes")


def test_settings_that_are_lost_and_the_list_of_what_to_set_again(at):
    hands = at("QH-036/1", "settings")
    hands.type("1")
    hands.settle()
    assert hands.title == "Are the settings still there after a start?"
    hands.type("1")
    hands.settle()
    titles = []
    while hands.card.card.kind == "To be set again":
        titles.append(hands.title)
        hands.type("1")
        hands.settle()
    assert titles[0] == "Free play: setting 09 to 1"
    assert len(titles) == 4
    assert item(hands, "settings").words == "kept, 4 of 4 set"


def test_a_dead_board_leads_to_the_processors_pins_and_to_the_crystal(at):
    hands = at("QH-041/1", "beeps")
    hands.type("2")
    hands.settle()
    hands.enter("off")
    assert hands.title == "Stays off"
    hands.press(Qt.Key.Key_Escape)
    assert hands.title == "Probe U1 pin 11, supply"
    for key in "hlh":
        hands.type(key)
        hands.settle()
    hands.shortcut("Alt+6")
    hands.settle()
    suspects = [s.block for s in hands.session.case.insight.suspects[:2]]
    assert "Y1" in suspects


def test_what_was_done_unasked_is_taken_on_trace(at):
    hands = at("QH-041/1")
    hands.shortcut("Alt+6")
    hands.settle()
    before = hands.session.case.insight.by_block["U7"]
    hands.press(Qt.Key.Key_S, Qt.KeyboardModifier.AltModifier, "s")
    hands.enter("U7 swapped same")
    after = hands.session.case.insight.by_block["U7"]
    assert after < 0.3 * before
    hands.shortcut("Ctrl+Z")
    hands.settle()
    assert hands.session.case.insight.by_block["U7"] == pytest.approx(before)


def test_a_repaired_port_is_proved_by_the_lane_that_failed(at):
    hands = at("QH-041/1")
    hands.session.go("swap")
    hands.session.begin_with({"part": "U7"})
    hands.type("1")
    hands.enter("the old one")
    hands.enter("from the donor board")
    assert hands.state.replaced[0].part == "U7"
    assert item(hands, "lane:PA").status == "again"
    for point, volts in (
        ("P5", "5.0"),
        ("M5", "4.95"),
        ("R5", "10.4"),
        ("P12", "12.0"),
        ("N12", "-12.0"),
    ):
        hands.session.go("prove")
        hands.session.look_at(point)
        hands.enter(volts)
        if hands.card._is_asking:
            hands.type("y")
            hands.settle()
    hands.shortcut("Alt+9")
    assert hands.title.startswith("Repeat the self-test:")
    hands.session.go("selftest")
    hands.session.look_at("lane:PA")
    hands.enter("00>00 FF>FF 55>55 AA>AA")
    assert item(hands, "lane:PA").words == "every bit as written"
    hands.session.look_at("beeps")
    hands.enter("2")
    hands.shortcut("Alt+9")
    assert hands.title == "Gone, as the customer would see it?"
    hands.prove()
    assert hands.title == "All points read again, all good"


def test_a_test_is_found_by_its_name(at):
    hands = at("QH-036/1")
    hands.shortcut("Ctrl+K")
    hands.type("lamp matrix")
    hands.press(Qt.Key.Key_Return)
    assert hands.session.stage == "selftest"
    assert hands.title.startswith(("Make ready for Lamp", "Watch 1.1"))


def test_enough_told_goes_on_and_the_sheet_says_what_it_told(at, tmp_path):
    hands = at("QH-036/1")
    assert "Alt+e" in [c.key for c in hands.card.card.runners]
    hands.press(Qt.Key.Key_E, Qt.KeyboardModifier.AltModifier, "e")
    hands.settle()
    assert hands.session.stage == "prove"
    assert hands.state.marks["selftest"] == "done"
    hands.shortcut("Alt+0")
    hands.type("2")
    hands.wait(lambda: bool(list((tmp_path / "papers").glob("*.html"))))
    (paper,) = (tmp_path / "papers").glob("*.html")
    assert "Boot blinks: 5 blinks" in paper.read_text(encoding="utf-8")


def test_looking_back_shows_the_odds_before_the_lane_was_read(at):
    hands = at("QH-041/1")
    hands.shortcut("Alt+6")
    hands.settle()
    hands.shortcut("Ctrl+H")
    assert hands.session.hand.replay is not None
    hands.press(Qt.Key.Key_Left)
    moment = hands.session.case.moments[hands.session.hand.replay]
    assert {k: o for k, _, o in moment.odds}.get("U7: logic", 0.0) < 0.3
    hands.press(Qt.Key.Key_Escape)
    assert hands.session.hand.replay is None


def test_a_bad_memory_chip_is_found_and_mended_with_the_simulated_bench_alone(at):
    hands = at("QH-033/1", "memory")
    assert "F8 run on the board" in hands.card._keys.text().replace("\u00a0", " ")
    hands.measure()
    assert hands.title == "M23 bad"
    hands.press(Qt.Key.Key_Return)
    hands.settle()
    assert hands.title == "Replace M23"
    hands.shortcut("Ctrl+P")
    hands.type("2")
    hands.settle()
    hands.type("1")
    hands.settle()
    hands.type("1")
    hands.enter("the old one")
    hands.enter("from the drawer")
    assert hands.state.renewed == {"M23"}
    hands.shortcut("Ctrl+P")
    hands.type("3")
    hands.settle()
    hands.session.go("selftest")
    hands.session.look_at("memory")
    hands.measure()
    assert item(hands, "memory").status == "good"


def test_the_bench_is_not_asked_while_the_board_is_marked_off(at):
    hands = at("QH-041/1", "beeps")
    hands.type("2")
    hands.settle()
    hands.shortcut("Ctrl+P")
    hands.type("2")
    hands.settle()
    hands.session.look_at("beeps")
    count = len(hands.state.tape)
    hands.shortcut("F8")
    hands.settle()
    assert "marked off" in hands.said
    assert hands.title == "Power state?"
    assert len(hands.state.tape) == count
    hands.type("3")
    hands.settle()
    hands.measure()
    assert item(hands, "beeps").words == "2 beeps"

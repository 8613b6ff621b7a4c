"""How the self-test is drawn: nothing overlaps or leaves the room, states have shapes, keys go where they should."""

from itertools import combinations

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication

from bench_lamp.cards.marks import BALL_CHOICES, MARK_CHOICES
from bench_lamp.case.selftest_list import selftest_items
from bench_lamp.desktop.widgets.glyphs import _SHAPES
from bench_lamp.journal.logic_events import CellsMarked, LaneRead, PinProbed, SelfTestSeen
from bench_lamp.stages.selftest.kinds import cards_of
from bench_lamp.stages.selftest.picture import SHAPES, DigitPicture, GridPicture, LanePicture

JOBS = ("QH-041/1", "QH-033/1", "QH-036/1")
#: What makes every kind of picture busy.
TOLD = {
    "QH-041/1": (
        CellsMarked(test="harness", cells=("H1", "H2"), mark="good"),
        CellsMarked(test="keyboard", cells=("1.1",), mark="another", showed="2.1"),
        LaneRead(lane="D", wrote=(0, 255) * 12, came=(1, 255) * 12),
        PinProbed(part="U1", pin=6, level="low"),
    ),
    "QH-033/1": (
        CellsMarked(test="memory", cells=("1.0", "1.5", "2.5"), mark="dead"),
        SelfTestSeen(test="test-rom", code="L"),
    ),
    "QH-036/1": (
        CellsMarked(test="switches", cells=("1.1", "1.4", "3.1", "3.4"), mark="stuck"),
        CellsMarked(test="lamps", cells=("2.1", "2.2"), mark="dead"),
        CellsMarked(test="displays", cells=("P1.0", "P4.6", "CR.3"), mark="dark abcdefg"),
        CellsMarked(test="coils", cells=("K01", "K22"), mark="weak"),
    ),
}


@pytest.fixture
def told(open_bench):
    """Open a demo job's self-test, with something told of each kind."""

    def go(job):
        hands = open_bench()
        hands.open(job, "selftest")
        hands.session.say(TOLD[job])
        hands.settle()
        return hands

    return go


def drawn(hands, name):
    """Put a test under the lamp, and let it be laid out and painted."""
    hands.session.look_at(name)
    for _ in range(2):
        QApplication.processEvents()
        hands.window.grab()
    return hands.page.surface("selftest").canvas


@pytest.mark.parametrize(
    ("size", "scale"), [((1280, 800), 1.0), ((1024, 700), 1.0), ((1280, 800), 1.5)]
)
@pytest.mark.parametrize("job", JOBS)
def test_nothing_overlaps_and_nothing_leaves_the_room(told, job, size, scale):
    hands = told(job)
    hands.window.resize(*size)
    hands.window.look.set_scale(scale)
    for found in selftest_items(hands.seen.case):
        canvas = drawn(hands, found.id)
        boxes = list(canvas.targets.values())
        assert all(b.left() >= 0 and b.right() <= canvas.width() + 1 for b in boxes), found.id
        assert all(b.bottom() <= canvas.content_height + 1 for b in boxes), found.id
        for one, other in combinations(boxes, 2):
            shared = one.intersected(other)
            assert shared.width() * shared.height() < 2.0, found.id
        strip = hands.page.surface("selftest").list
        assert len(strip.targets) == len(selftest_items(hands.seen.case))


@pytest.mark.parametrize("job", JOBS)
def test_every_cell_that_can_be_marked_can_be_pressed(told, job):
    hands = told(job)
    for found in selftest_items(hands.seen.case):
        canvas = drawn(hands, found.id)
        shown = cards_of(found).picture(*hands.seen, found)
        if isinstance(shown, GridPicture | DigitPicture) or (
            found.cells and found.kind != "settings"
        ):
            assert set(found.cells) <= set(canvas.targets), found.id
        if isinstance(shown, LanePicture):
            assert canvas.targets == {}


def test_every_mark_has_a_shape_of_its_own_kind_and_a_key_that_is_free():
    for marks in (*MARK_CHOICES.values(), BALL_CHOICES):
        keys = [m.key for m in marks]
        assert len(set(keys)) == len(keys)
        assert all(m.word == "good" or SHAPES[m.word] in _SHAPES for m in marks)
        assert all(m.text for m in marks)


ARROWS = {"↑": Qt.Key.Key_Up, "↓": Qt.Key.Key_Down, "←": Qt.Key.Key_Left, "→": Qt.Key.Key_Right}


@pytest.mark.parametrize(
    ("job", "start", "keys", "there"),
    [
        pytest.param("QH-036/1", "lamps@2.2", "↓→", "lamps@3.3", id="matrix"),
        pytest.param(
            "QH-036/1", "lamps@8.4", "→→", "lamps@8.4", id="edge-beside-what-is-not-fitted"
        ),
        pytest.param("QH-036/1", "displays@P1.6", "↓↓↓↓", "displays@CR.3", id="a-shorter-display"),
        pytest.param(
            "QH-036/1", "coils@K15", "↓", "coils@K19", id="over-three-coils-that-are-not-there"
        ),
        pytest.param("QH-033/1", "memory@1.7", "↓←←", "memory@2.5", id="memory"),
        pytest.param("QH-033/1", "images@R2", "↑", "images@R1", id="list"),
        pytest.param("QH-041/1", "keyboard@1.1", "←↑", "keyboard@1.1", id="corner"),
    ],
)
def test_arrows_walk_the_picture(told, job, start, keys, there):
    hands = told(job)
    test = start.partition("@")[0]
    hands.session.look_at(test)
    if hands.title.startswith("Before"):
        hands.type("1")
        hands.settle()
    hands.session.look_at(*start.split("@"))
    for key in keys:
        hands.press(ARROWS[key])
    hand = hands.session.hand
    assert f"{hand.focus}@{hand.cell}" == there


@pytest.mark.parametrize("job", JOBS)
def test_page_up_and_down_go_through_every_test_and_stop_at_the_ends(told, job):
    hands = told(job)
    names = [i.id for i in selftest_items(hands.seen.case)]
    hands.session.look_at(names[0])
    seen = [names[0]]
    for _ in names:
        hands.press(Qt.Key.Key_PageDown)
        seen.append(hands.session.hand.focus)
    assert seen[:-1] == names
    assert seen[-1] == names[-1]
    hands.press(Qt.Key.Key_PageUp)
    assert hands.session.hand.focus == names[-2]


def test_keys_of_the_stage_leave_the_other_stages_alone(open_bench):
    hands = open_bench()
    before = hands.session.hand.focus
    hands.press(Qt.Key.Key_PageDown)
    hands.press(Qt.Key.Key_Space, text=" ")
    assert hands.session.stage == "rails"
    assert hands.session.hand.focus == before
    assert "taps" not in hands.session.hand.draft

"""The workshop by keys: a board is described from nothing, each change is on disk and can be undone."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication

from bench_lamp.board import FeedTree, load_profile
from bench_lamp.journal.events import ReadingTaken

ALT = Qt.KeyboardModifier.AltModifier


class Workshop:
    """Hands in the workshop; counts the keys."""

    def __init__(self, hands) -> None:
        self.hands, self.keys = hands, 0

    @property
    def card(self):
        return self.hands.window.workshop.card

    @property
    def profile(self):
        return self.hands.session.workshop_case.profile

    @property
    def said(self) -> str:
        return self.card.verdict.text().replace("\u202f", " ")

    def begin(self, name: str) -> None:
        self.hands.shortcut("Ctrl+E")
        self.say(name)
        self.key("n")

    def say(self, text: str) -> None:
        self.keys += len(text) + 1
        self.hands.enter(text)

    def key(self, name: str, modifier=Qt.KeyboardModifier.NoModifier) -> None:
        self.keys += 1
        self.hands.press(Qt.Key(ord(name.upper())), modifier, name)
        self.hands.settle()

    def supply(self, key: str, text: str) -> None:
        self.key("s", ALT)
        self.key(key)
        self.say(text)

    def pick(self, name: str) -> None:
        """A click on a block or point counts as one key."""
        self.keys += 1
        self.hands.session.look_at(name)


@pytest.fixture
def workshop(open_bench):
    hands = open_bench(demo=False)
    return Workshop(hands)


def test_a_bench_supply_with_converters_is_described_in_five_minutes(workshop, tmp_path):
    """Mains, 48 V raw, 12 V house, step-up to 31.5 V, −5 V: from nothing, at 0.3 s a key."""
    workshop.begin("Bench 36")
    workshop.supply("b", "230V 1.6A slow, 115V 3.15A slow")
    workshop.supply("4", "48V 2A from 38V~")
    workshop.supply("1", "12V 0.5A")
    workshop.supply("8", "31.5V 50mA from 12V")
    workshop.supply("2", "-5V 50mA")
    workshop.pick("U2")
    workshop.say("at beside the heat sink")
    assert workshop.keys * 0.3 < 300
    written = load_profile(tmp_path / "profiles" / "bench-36.board.yaml")
    assert {p.id for p in written.test_points} == {"48V", "12V", "31.5V", "-5V"}
    way = [b.id for b in FeedTree.of(written).upstream(written.point("31.5V").net)]
    assert way[0] == "X1"
    assert "T1" in way
    assert written.has_suspects


def test_each_change_is_undone_and_made_again(workshop, tmp_path):
    workshop.begin("k2")
    workshop.say("5V 5")
    workshop.supply("1", "5V 3A")
    blocks = len(workshop.profile.power)
    workshop.hands.shortcut("Ctrl+Z")
    workshop.hands.settle()
    assert not workshop.profile.power
    assert workshop.profile.point("5V").net == "5V"
    workshop.hands.shortcut("Ctrl+Shift+Z")
    workshop.hands.settle()
    assert len(workshop.profile.power) == blocks
    log = tmp_path / "profiles" / "k2.changes.txt"
    lines = [line.split(" ", 2)[2] for line in log.read_text().splitlines()]
    assert lines[0] == "gnd, 5V"
    assert lines[-2:] == ["the last change taken back", "the same once more"]
    for _ in range(3):
        workshop.hands.shortcut("Ctrl+Z")
        workshop.hands.settle()
    assert "Nothing to undo" in workshop.said
    assert not load_profile(tmp_path / "profiles" / "k2.board.yaml").test_points


def test_a_table_is_pasted_seen_and_taken(workshop):
    workshop.begin("k2")
    QGuiApplication.clipboard().setText("TP1 | 5 V | | J2\nTP2 | banana\n")
    workshop.hands.press(Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert workshop.card.card.title == "1 point in what was pasted"
    workshop.hands.enter()
    assert [p.id for p in workshop.profile.test_points] == ["TP1"]


def test_the_job_goes_on_with_what_was_described(open_bench):
    hands = open_bench(demo=False)
    hands.shortcut("Ctrl+N")
    hands.enter("b1")
    hands.enter("k2")
    hands.type("y")
    hands.settle()
    hands.shortcut("Alt+4")
    hands.enter("5V 0.1")
    hands.type("y")
    hands.settle()
    workshop = Workshop(hands)
    hands.shortcut("Ctrl+E")
    workshop.supply("1", "5V 3A")
    hands.press(Qt.Key.Key_Escape)
    assert hands.session.job == "B1/1"
    hands.shortcut("Alt+6")
    hands.settle()
    hands.wait(lambda: hands.session.case.insight is not None)
    assert hands.session.case.insight.suspects, "the tree reasons over the reading that was there"


def test_esc_leaves_step_by_step_and_a_question_first(workshop):
    workshop.begin("k2")
    workshop.key("s", ALT)
    workshop.key("1")
    workshop.hands.press(Qt.Key.Key_Escape)
    assert workshop.card.card.id == "workshop"
    workshop.say("banana")
    assert "says nothing" in workshop.said
    workshop.hands.press(Qt.Key.Key_Escape)
    assert not workshop.hands.session.describing


def test_a_profile_proves_itself_and_takes_what_fits_when_it_is_told_to(workshop):
    workshop.begin("k2")
    workshop.supply("4", "50V 2A from 30V~")
    workshop.key("p", ALT)
    hands = workshop.hands
    hands.wait(lambda: hands.session.proved is not None)
    assert workshop.card.card.title == "1 of 1 points are missed"
    assert "winding" in workshop.hands.window.workshop.rows.accessibleName()
    before = workshop.profile.block("T1").to["w30"]
    assert before == 30.0
    workshop.key("1")
    hands.settle()
    assert workshop.profile.block("T1").to["w30"] > 33
    workshop.key("p", ALT)
    hands.wait(lambda: hands.session.proved is not None and not hands.session.proved.proof.misses)
    assert workshop.card.card.title == "All 1 points are met"


def test_a_good_board_s_readings_become_practice(workshop):
    workshop.begin("k2")
    workshop.supply("1", "5V 1A")
    workshop.key("g", ALT)
    workshop.say("5V 5.06")
    point = workshop.profile.point("5V")
    assert str(point.practice) == "4.959..5.161"
    assert point.boards_read == 1
    workshop.say("5V 4.90")
    assert str(workshop.profile.point("5V").practice) == "4.802..5.161"
    assert workshop.profile.point("5V").boards_read == 2
    workshop.say("banana 5")
    assert "Which point" in workshop.said


def test_a_good_board_s_ohms_are_what_the_cold_checks_expect(workshop):
    workshop.begin("k2")
    workshop.say("TP1 4.75..5.25")
    workshop.key("g", ALT)
    workshop.say("TP1 140Ω")
    workshop.say("TP1 70Ω swapped")
    point = workshop.profile.point("TP1")
    assert (str(point.cold), str(point.cold_swapped)) == ("100..196", "50..98")
    assert point.practice is None
    workshop.say("TP1 1.4kΩ")
    assert str(workshop.profile.point("TP1").cold) == "100..1960"
    workshop.say("TP1 0.3Ω")
    assert "no ohms of a good rail" in workshop.said
    workshop.hands.clear()
    workshop.pick("TP1")
    workshop.say("cold 1.2k..1.8k")
    workshop.say("swapped 700")
    point = workshop.profile.point("TP1")
    assert (str(point.cold), str(point.cold_swapped)) == ("1200..1800", "500..980")
    workshop.say("cold -5..5")
    assert "takes a short for good" in workshop.said
    workshop.hands.clear()
    workshop.say("cold 0..5")
    assert "takes a short for good" in workshop.said
    workshop.hands.clear()
    workshop.say("cold 1M..OL")
    assert str(workshop.profile.point("TP1").cold) == "1000000..OL"


def test_an_open_job_gives_its_ohms_as_well(open_bench):
    hands = open_bench()
    hands.open("QH-017/1", "cold", power="discharged")
    hands.session.look_at("ohms:C")
    hands.enter("61")
    hands.enter("21")
    hands.shortcut("Ctrl+E")
    workshop = Workshop(hands)
    workshop.key("g", ALT)
    hands.press(Qt.Key.Key_T, ALT, "t")
    hands.settle()
    point = workshop.profile.point("C")
    assert (str(point.cold), str(point.cold_swapped)) == ("43.6..85.4", "15..29.4")


def test_the_open_job_can_be_the_good_board(open_bench):
    hands = open_bench()
    hands.session.open_job("QH-017/1", "rails")
    hands.shortcut("Ctrl+E")
    workshop = Workshop(hands)
    workshop.key("g", ALT)
    hands.wait(lambda: hands.session.proved is not None)
    before = {p.id: p.practice for p in workshop.profile.test_points}
    hands.press(Qt.Key.Key_T, ALT, "t")
    hands.settle()
    read = [p for p in workshop.profile.test_points if p.boards_read]
    assert read
    assert all(p.practice.low <= before[p.id].low for p in read)


def test_a_load_is_solved_from_a_clamp_on_the_good_board_and_taken_when_one_says_so(open_bench):
    hands = open_bench()
    hands.open("QH-017/1", "trace")
    hands.session.say(
        [ReadingTaken(target="J2.4", mode="A", value=2.2, resolution=0.01, power="live")]
    )
    hands.settle()
    hands.shortcut("Ctrl+E")
    workshop = Workshop(hands)
    workshop.key("g", ALT)
    hands.wait(lambda: hands.session.proved is not None)
    why = " ".join(workshop.card.card.why)
    assert "CPU: 1.1\u202fA is written, 2.2" in why
    hands.press(Qt.Key.Key_L, ALT, "l")
    hands.settle()
    assert workshop.profile.block("CPU").amps == pytest.approx(2.2, rel=0.03)


def test_a_bundle_goes_out_and_comes_in_beside_what_is_here(open_bench, tmp_path):
    hands = open_bench(demo=False)
    workshop = Workshop(hands)
    workshop.begin("k2")
    workshop.say("TP1 4.75..5.25")
    workshop.key("b", ALT)
    workshop.say("The other bench, CC BY 4.0")
    path = tmp_path / "bundles" / "k2.benchboard"
    hands.wait(path.exists)
    workshop.say("TP1 4.9..5.1")
    hands.session.bring_in(path)
    hands.wait(lambda: hands.session.bundling.looked is not None)
    assert workshop.card.card.title == "k2"
    why = " ".join(workshop.card.card.why)
    assert "The other bench" in why
    assert "TP1: name not described" in why or "gnd, TP1" in why, "what was changed, and when"
    assert "4.9..5.1" in hands.window.workshop.rows.accessibleName()
    workshop.key("1")
    hands.wait(lambda: hands.session.describing == "k2-2")
    assert str(workshop.profile.point("TP1").design) == "4.75..5.25"
    assert str(hands.session.library.get("k2").point("TP1").design) == "4.9..5.1"


def test_a_damaged_bundle_changes_nothing_and_says_so(open_bench, tmp_path):
    hands = open_bench(demo=False)
    bad = tmp_path / "bad.benchboard"
    bad.write_bytes(b"PK\x03\x04 nothing")
    hands.session.bring_in(bad)
    hands.wait(lambda: "no bundle" in hands.said)
    assert not hands.session.describing


def test_an_empty_shelf_says_what_there_is_to_do(open_bench, monkeypatch):
    started = []
    monkeypatch.setattr("bench_lamp.desktop.asking.open_demo", lambda: started.append("demo"))
    monkeypatch.setattr("bench_lamp.desktop.asking.ask_for_profile", lambda parent: None)
    hands = open_bench(demo=False)
    assert [c.key for c in hands.card.card.choices] == ["Ctrl+N", "Ctrl+T", "Ctrl+E", "Ctrl+O"]
    hands.shortcut("Ctrl+T")
    assert started == ["demo"]
    hands.shortcut("Ctrl+O")
    hands.shortcut("Ctrl+E")
    assert hands.window.workshop.card.card.title == "Which kind of board?"
    hands.press(Qt.Key.Key_Escape)
    hands.shortcut("Ctrl+N")
    assert hands.title == "Which board is it?"


def test_a_parts_list_is_dropped_and_the_tree_goes_out_as_spice(workshop, tmp_path):
    workshop.begin("k2")
    sheet = tmp_path / "parts.csv"
    sheet.write_text("Reference,Value\nF7,fuse 8 A slow\nU9,5 V regulator\n")
    workshop.hands.session.take_dropped(sheet)
    workshop.hands.wait(lambda: "2 parts" in workshop.card.card.title)
    workshop.hands.enter()
    assert {p.id for p in workshop.profile.parts} == {"F7", "U9"}
    workshop.supply("1", "5V 1A")
    assert workshop.profile.block("F7") is not None, "a fuse that was listed takes its place"
    workshop.key("x", ALT)
    target = tmp_path / "exports" / "k2.cir"
    workshop.hands.wait(target.exists)
    assert "BU9" in target.read_text()

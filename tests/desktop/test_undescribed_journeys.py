"""A board that nobody has described: on the bench in a few keys, and known better with each reading."""

from PySide6.QtCore import Qt

from bench_lamp.board import load_profile

ALT = Qt.KeyboardModifier.AltModifier


def begin(hands, tag: str = "b1", name: str = "k2") -> int:
    """Put an undescribed board on the bench; return how many keys that took."""
    hands.shortcut("Ctrl+N")
    hands.enter(tag)
    hands.enter(name)
    hands.type("y")
    hands.settle()
    return 1 + len(tag) + 1 + len(name) + 1 + 1


def test_the_first_reading_takes_twelve_keys(open_bench, tmp_path):
    hands = open_bench(demo=False)
    keys = begin(hands)
    assert hands.session.job == "B1/1"
    hands.shortcut("Alt+4")
    hands.enter("5V 5.08")
    hands.type("y")
    hands.settle()
    assert keys + 1 + 1 + 1 <= 12, "Alt+4, Enter, y"
    assert [(r.target, r.value) for r in hands.state.readings] == [("5V", 5.08)]
    written = load_profile(tmp_path / "profiles" / "k2.board.yaml")
    assert written.point("5V").assumed


def test_a_profile_grows_out_of_the_work_and_is_there_after_a_restart(open_bench, tmp_path):
    hands = open_bench(demo=False)
    begin(hands)
    hands.shortcut("Alt+4")
    hands.enter("5V 0.1")
    hands.type("y")
    hands.settle()
    hands.enter("C14+ 31.6 gnd")
    hands.enter("F1 fuse 8 A slow")
    assert "F1" in hands.said
    hands.enter("C14+ 28..36")
    assert hands.session.case.profile.point("C14+").design.low == 28
    hands.shortcut("Alt+6")
    hands.settle()
    assert hands.title == "DC volts across the reservoir of 5V"
    hands.enter("9.7")
    assert hands.title == "DC volts at the output of the regulator of 5V"
    assert hands.session.case.profile.point("5V-raw").supply
    hands.enter("4,,7")
    assert "is not a reading" in hands.said
    hands.bench.stop()
    again = open_bench(demo=False)
    again.session.open_job("B1/1")
    assert {p.id for p in again.session.case.profile.test_points} == {"5V", "C14+", "5V-raw"}
    assert again.session.case.profile.parts[0].feeds == "5V"


def test_assumed_limits_are_confirmed_by_a_key_or_replaced_by_others(open_bench):
    hands = open_bench(demo=False)
    begin(hands)
    hands.shortcut("Alt+4")
    hands.enter("5V 5.08")
    hands.type("y")
    hands.settle()
    hands.session.look_at("5V")
    assert "assumed" in hands.card.card.expect_notes[0]
    hands.press(Qt.Key.Key_C, ALT, "c")
    hands.settle()
    assert not hands.session.case.profile.point("5V").assumed
    hands.enter("4.9..5.1")
    assert str(hands.session.case.profile.point("5V").design) == "4.9..5.1"


def test_a_change_that_cannot_be_written_keeps_what_was_typed(open_bench, tmp_path):
    hands = open_bench(demo=False)
    begin(hands)
    hands.shortcut("Alt+4")
    folder = tmp_path / "profiles"
    (folder / "k2.board.yaml").write_text("format: [\n")
    hands.enter("5V 5.08")
    hands.type("y")
    hands.settle()
    assert "k2.board.yaml" in hands.said
    assert not hands.state.readings
    assert (folder / "k2.board.yaml").read_text() == "format: [\n"


def test_on_a_shop_s_own_shelf_the_made_up_kinds_are_shown_only_when_asked_for(open_bench):
    hands = open_bench(demo=False)
    hands.shortcut("Ctrl+N")
    hands.enter("b2")
    assert not hands.card.card.choices
    hands.press(Qt.Key.Key_D, ALT, "d")
    assert {c.text for c in hands.card.card.choices} >= {"Orrery Nights", "Cinder Dunes"}
    hands.press(Qt.Key.Key_N, ALT, "n")
    hands.enter("orrery nights")
    assert "described already" in hands.said

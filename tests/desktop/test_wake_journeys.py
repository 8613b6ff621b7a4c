"""Cold round, gates and house rules through the real window."""

from PySide6.QtCore import Qt

from bench_lamp.case.cold_list import cold_items
from bench_lamp.case.gates import gates, is_awake
from bench_lamp.desktop.app import build
from bench_lamp.desktop.look import load_fonts


def test_a_board_from_the_cold_round_to_awake_and_traced(open_bench):
    """Cinder Dunes with an open J7: the cold round by keys, the gates by F8, the last one stops."""
    hands = open_bench()
    hands.open("QH-030/1", power="discharged")
    assert hands.session.stage == "cold"
    for _ in range(5):
        assert ": continuity" in hands.title, hands.title
        hands.type("1")
        hands.settle()
    hands.enter("none")
    hands.enter("1 10")
    assert hands.title.startswith("BR1:")
    for text in ("0.55", "OL") * 4:
        hands.enter(text)
    done = hands.page.path
    assert "8 of" in done.accessibleName() or hands.page.surface("cold").subtitle.text().startswith(
        "8 of"
    )
    wake_up(hands)
    stopped = [(g.gate.id, g.status) for g in gates(hands.seen.case)]
    assert stopped == [
        ("supply", "passed"), ("load", "passed"), ("game", "passed"), ("audio", "failed"),
        ("machine", "waiting"),
    ]  # fmt: skip
    assert hands.title == "Gate failed: switch off"
    hands.type("1")
    hands.settle()
    assert hands.session.stage == "trace"
    assert not hands.state.power.is_live
    suspects = hands.session.case.insight.suspects
    assert any(fault.block == "J7.1" for fault, _ in suspects[0].members), suspects[0]
    hands.shortcut("Alt+7")
    hands.enter("J7.1")
    hands.type("2")
    hands.settle()
    hands.shortcut("Alt+3")
    assert hands.title == "Gate failed: switch off", (
        "A5 lies before J7: its reading stands until it is read anew"
    )
    hands.type("2")
    hands.settle()
    wake_up(hands)
    assert is_awake(hands.seen.case), hands.title
    assert not hands.state.out


def wake_up(hands) -> None:
    """Go through the gates by the meter, until they are all passed or one stops."""
    hands.shortcut("Alt+3")
    hands.settle()
    for _ in range(90):
        if hands.title == "Gate failed: switch off" or is_awake(hands.seen.case):
            return
        if hands.card.card.entry is not None:
            hands.measure()
        else:
            hands.type("1")
            hands.settle()


def test_a_wrong_fuse_stops_the_wake_up_until_it_is_mended(open_bench):
    hands = open_bench()
    hands.session.open_job("QH-009/1", "wake")
    assert hands.title == "Do not switch on"
    hands.type("1")
    assert hands.session.stage == "swap"
    hands.enter("F1")
    hands.type("1")
    hands.enter("6.3 A slow")
    hands.enter("5 A slow")
    assert "must be 3" in hands.said
    hands.card.entry.field.clear()
    hands.enter("3 A slow")
    hands.shortcut("Alt+3")
    assert hands.title == "Safety check before power"


def test_an_electrolytic_is_watched_by_the_linked_meter(open_bench):
    hands = open_bench()
    hands.open("QH-030/1", "cold", "discharged")
    hands.settle()
    hands.session.look_at("capacitor:C1")
    assert hands.title == "Watch C1 charge"
    assert hands.measure() == "C1"
    logged = hands.state.series["C1"]
    assert logged.meter == "simulated bench"
    assert list(logged.values) == sorted(logged.values)
    word = next(i.word for i in cold_items(hands.seen.case) if i.target == "C1")
    assert word.is_done
    assert not word.is_bad, word.text


def test_pins_are_tapped_and_the_chip_turned_over(open_bench, qtbot):
    hands = open_bench()
    hands.open("QH-021/1", "cold", "discharged")
    hands.session.look_at("chip:U14")
    hands.settle()
    surface = hands.page.surface("cold")
    surface.canvas.grab()
    left = surface.canvas.targets["1"].left()
    for pin in ("3", "8"):
        surface.canvas.grab()
        spot = surface.canvas.targets[pin].center().toPoint()
        qtbot.mouseClick(surface.canvas, Qt.MouseButton.LeftButton, pos=spot)
    assert hands.card.entry.field.text() == "3 8"
    hands.shortcut("F9")
    surface.canvas.grab()
    assert surface.canvas.targets["1"].left() > left
    hands.press(Qt.Key.Key_Return)
    hands.settle()
    assert hands.state.swept["U14"] == ("3", "8")
    for _ in range(3):
        hands.press(Qt.Key.Key_Down)
    assert hands.session.hand.focus.partition(":")[0] in {"chip", "switch", "fuse", "junction"}


def test_house_rules_are_chosen_by_keys_and_change_the_plan(open_bench):
    hands = open_bench()
    hands.session.open_job("QH-009/1", "wake")
    hands.shortcut("Ctrl+R")
    page = hands.window.rules_page
    assert page.card.card.title == "What comes first?"
    hands.press(Qt.Key.Key_Down)
    assert page.card.card.title == "How is a set powered up?"
    hands.type("2")
    assert hands.session.rules["wake-up"] == "straight on"
    assert "chosen" in page.card.card.choices[1].text
    hands.press(Qt.Key.Key_Escape)
    assert hands.page.surface("wake").picture._gates[0].gate.name == "Straight on"


def test_house_rules_are_there_after_a_restart(qapp, tmp_path):
    from bench_lamp.desktop.settings import Settings

    load_fonts()
    for expected in ({}, {"electrolytics": "on sight"}):
        bench = build(tmp_path)
        bench.settings = Settings(tmp_path / "settings.ini", bench.session, bench.window.look)
        assert bench.session.rules == expected
        bench.session.set_rules({"electrolytics": "on sight"})
        bench.stop()
        bench.window.close()
    (tmp_path / "settings.ini").write_text("[rules]\nelectrolytics=by magic\n")
    bench = build(tmp_path)
    Settings(tmp_path / "settings.ini", bench.session, bench.window.look)
    bench.session.toggle_rules()
    assert "by test" in bench.window.rules_page.rows.accessibleName()
    bench.stop()
    bench.window.close()

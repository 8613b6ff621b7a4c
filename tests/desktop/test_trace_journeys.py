"""Tracing through the real window: with the simulated meter, by hand, and looking back."""

import pytest
from PySide6.QtCore import Qt

from bench_lamp.case.proof import is_proved
from bench_lamp.desktop.workers.reasoning import ReasoningWorker
from bench_lamp.journal.events import Finding, ReadingTaken
from bench_lamp.reason import insight_of
from bench_lamp.reason.values.clues import Facts

ALT = Qt.KeyboardModifier.AltModifier


def power(hands, key: str) -> None:
    hands.shortcut("Ctrl+P")
    hands.type(key)
    hands.settle()


def hunt(hands) -> None:
    """Do what the card says until it calls a part: F8 where it wants a reading, else its answer."""
    for _ in range(14):
        card = hands.card.card
        if card.id == "trace-called":
            return
        if card.id == "rails-done":
            hands.enter()
        elif card.entry is not None or card.tone:
            if hands.state.power.is_live is (card.entry is None or card.entry.mode == "ohm"):
                power(hands, "2" if hands.state.power.is_live else "3")
            hands.measure()
        else:
            hands.type("1")
            hands.settle()
            if hands.session.asks_power:
                hands.type("2")
                hands.settle()
    pytest.fail(f"nothing was called: {hands.title}")


def replace_called(hands) -> str:
    """Log the replacement that the card asks for, as it stands."""
    if hands.state.power.is_live:
        power(hands, "2")
    part = hands.session.case.insight.called.block
    hands.type("1")
    hands.settle()
    if hands.session.stage == "swap":
        hands.type("1")
        hands.enter()
        hands.enter()
        if hands.title.endswith("Before power:"):
            hands.type("1")
            hands.settle()
    return part


def test_the_whole_demo_job_by_f8(open_bench):
    """Two hidden faults are found, mended and proved with the simulated meter alone."""
    hands = open_bench()
    hands.shortcut("Alt+6")
    hands.settle()
    mended = []
    for _ in range(3):
        hunt(hands)
        mended.append(replace_called(hands))
        power(hands, "3")
        hands.shortcut("Alt+9")
        hands.prove()
        if hands.title == "All points read again, all good":
            assert is_proved(hands.seen.case)
            break
        hands.shortcut("Alt+6")
        hands.settle()
    assert mended == ["F4", "J3.5"]
    assert hands.title == "All points read again, all good"
    readings = [r for r in hands.state.readings if r.target == "D"]
    assert readings[-1].meter == "simulated bench"


def test_a_short_is_hunted_to_the_part_and_nothing_stays_off(open_bench):
    hands = open_bench()
    hands.open("QH-021/1", "trace", "discharged")
    hands.settle()
    assert hands.title in {"Unplug J2, then ohms on A", "Unplug J6, then ohms on A"}
    hunt(hands)
    assert hands.title == "Replace C203"
    out = hands.state.out
    assert out <= {"J2", "J6", "C112", "C203"}
    assert out
    assert any("is off for the test" in c for c in hands.card.card.cautions)
    assert replace_called(hands) == "C203"
    hands.shortcut("Alt+9")
    while hands.state.out:
        assert hands.title.endswith("back first")
        hands.type("1")
        hands.settle()
    power(hands, "3")
    hands.prove()
    assert is_proved(hands.seen.case)


def test_an_isolation_step_of_ones_own_is_evidence(open_bench):
    """`J3 off` and a reading, typed as one says them; what was typed wrong changes nothing."""
    hands = open_bench()
    hands.shortcut("Alt+6")
    hands.settle()
    hands.press(Qt.Key.Key_S, ALT, "s")
    assert hands.title == "What did you do?"
    hands.enter("J99 off")
    assert "names no test" in hands.said
    hands.card.entry.field.clear()
    count = len(hands.state.tape)
    hands.enter("J3 off")
    assert hands.state.out == {"J3"}
    assert len(hands.state.tape) == count + 1
    assert "off now: J3" in hands.page.surface("trace").subtitle.text()
    hands.press(Qt.Key.Key_S, ALT, "s")
    hands.enter("C 0.1")
    clue = hands.session.case.insight.facts.clues[-1]
    assert (clue.target, clue.out) == ("lamp18", {"J3"})
    hands.press(Qt.Key.Key_S, ALT, "s")
    hands.enter("twin E 37.8")
    assert hands.session.case.insight.facts.twins == {"coil32": 37.8}
    low, high = hands.session.case.insight.expected["coil32"]
    assert low < 37.8 < high


def test_looking_back_and_coming_back(open_bench):
    hands = open_bench()
    hands.shortcut("Ctrl+H")
    hands.settle()
    assert hands.session.stage == "trace"
    now = hands.page.surface("trace").list.accessibleName()
    hands.shortcut("Ctrl+H")
    assert hands.session.hand.replay == len(hands.session.case.moments) - 1
    for _ in range(2):
        hands.press(Qt.Key.Key_Left)
    surface = hands.page.surface("trace")
    assert surface.subtitle.text() == "looking back; nothing is changed"
    assert "as it stood after" in surface.note.text()
    assert surface.list.accessibleName() != now
    hands.press(Qt.Key.Key_Right)
    hands.press(Qt.Key.Key_Escape)
    assert hands.session.hand.replay is None
    assert surface.list.accessibleName() == now


def test_the_tree_and_the_suspects_by_keyboard(open_bench):
    hands = open_bench()
    hands.shortcut("Alt+6")
    hands.settle()
    hands.press(Qt.Key.Key_Down)
    hands.press(Qt.Key.Key_Up)
    row = next(r for r in hands.page.surface("trace").list._view.rows if r.is_picked)
    assert row.details[0][0] == "for"
    hands.press(Qt.Key.Key_Right)
    first = hands.session.hand.focus
    hands.press(Qt.Key.Key_Right)
    assert hands.session.hand.focus != first
    assert hands.session.case.profile.block(hands.session.hand.focus) is not None


@pytest.mark.parametrize(("stage", "says"), [("handback", "Nothing to measure"), ("rails", "")])
def test_f8_where_nothing_can_be_measured_says_so(open_bench, stage, says):
    hands = open_bench()
    hands.session.go(stage)
    hands.shortcut("F8")
    if says:
        assert says in hands.said
    else:
        hands.wait(lambda: len(hands.state.readings) == 4)


def test_f8_on_a_board_that_is_off_asks_for_the_power(open_bench):
    hands = open_bench()
    power(hands, "1")
    hands.session.go("rails")
    hands.shortcut("F8")
    assert hands.title == "Power state?"
    assert "marked off" in hands.said


def test_without_an_instrument_f8_says_so(open_bench):
    hands = open_bench(demo=False)
    hands.shortcut("Ctrl+N")
    hands.enter("qh-031")
    hands.press(Qt.Key.Key_D, Qt.KeyboardModifier.AltModifier, "d")
    hands.enter("cinder")
    hands.settle()
    hands.session.go("rails")
    hands.shortcut("F8")
    assert "No instrument is linked" in hands.said


def test_figures_typed_while_it_thinks_go_to_the_next_card(open_bench):
    hands = open_bench()
    hands.open("QH-033/1")
    hands.shortcut("Alt+6")
    hands.settle()
    assert hands.title == "AC volts at C6 +"
    hands.type("0.24")
    hands.press(Qt.Key.Key_Return)
    hands.type("7")
    hands.settle()
    assert hands.title not in {"AC volts at C6 +", ""}
    assert hands.card.card.entry is not None
    assert hands.card.entry.field.text() == "7"


def test_reasoning_can_be_stopped_and_older_questions_are_passed_over(qtbot, orrery):
    worker = ReasoningWorker(None)
    answers = []
    worker.reasoned.connect(lambda token, insight: answers.append((token, insight)))
    worker.wanted = 2
    worker.reason((1, orrery, Facts()))
    assert answers == []
    worker.progressed.connect(lambda share: setattr(worker, "stopped_at", 2))
    worker.reason((2, orrery, Facts()))
    assert answers == []
    worker.progressed.disconnect()
    worker.wanted = 3
    worker.reason((3, orrery, Facts()))
    assert answers[-1][1].suspects


@pytest.mark.parametrize("where", ["weigh", "history"])
def test_an_exception_in_the_reasoning_ends_in_a_message_and_the_fuse_map(
    open_bench, monkeypatch, where
):
    def broken(*args, **more):
        raise ZeroDivisionError("no such odds")

    hands = open_bench()
    hands.session.go("trace")
    hands.settle()
    monkeypatch.setattr(insight_of, where, broken)
    hands.session.say((Finding(seen="burnt", place="F4"),))
    hands.settle()
    assert hands.title.startswith("Pull F4")
    assert "The reasoning failed (ZeroDivisionError: no such odds)" in hands.said
    assert "fuse map" in hands.said


def test_what_is_asked_of_the_worker_is_answered_even_when_it_fails(orrery, monkeypatch):
    def broken(*args, **more):
        raise RuntimeError("x")

    monkeypatch.setattr(insight_of, "weigh", broken)
    worker = ReasoningWorker(None)
    failures = []
    worker.failed.connect(lambda token, what: failures.append((token, what)))
    worker.wanted = 7
    worker.reason((7, orrery, Facts()))
    assert failures == [(7, "RuntimeError: x")]


def test_escape_before_the_work_begins_counts(open_bench, orrery):
    """The request is stopped while it waits; the worker passes it over when it comes to it."""
    hands = open_bench()
    hands.settle()
    hands.session.go("trace")
    client = hands.session.reasoning
    client._token += 1
    client.is_reasoning = True
    client._pause.start()
    client.changed.emit()
    assert hands.title == "Weighing what was read"
    hands.press(Qt.Key.Key_Escape)
    assert not client.is_reasoning
    assert not client._pause.isActive()
    assert hands.title.startswith("Pull F4")
    worker = ReasoningWorker(None)
    answers = []
    worker.reasoned.connect(lambda *answer: answers.append(answer))
    worker.wanted = worker.stopped_at = 3
    worker.reason((3, orrery, Facts()))
    assert answers == []


def test_a_stopped_calculation_falls_back_to_the_fuse_map(open_bench):
    hands = open_bench()
    hands.settle()
    hands.session.reasoning._token += 1
    hands.session.reasoning.is_reasoning = True
    hands.session.reasoning.changed.emit()
    hands.session.go("trace")
    assert hands.title == "Weighing what was read"
    hands.session.reasoning.on_progressed(0.4)
    assert hands.page.surface("trace").subtitle.text() == "weighing … 40%  ·  Esc stops"
    hands.session.reasoning.on_reasoned(hands.session.reasoning._token, None)
    assert hands.title.startswith("Pull F4")


def test_a_set_fed_by_dc_is_traced_to_the_part(open_bench):
    """No winding and no chip: the suspects, the tests and the call are there all the same."""
    hands = open_bench()
    hands.shortcut("Ctrl+N")
    hands.enter("VX-001")
    hands.enter("varnholt")
    power(hands, "3")
    hands.session.say([reading("P8", 0.02), reading("P3", 13.2)])
    hands.settle()
    hands.shortcut("Alt+6")
    hands.settle()
    assert {"J3.2", "U2"} <= set(hands.session.case.insight.by_block)
    # A look is quicker than a reading: the LED hangs on the same rail.
    assert hands.card.card.id == "trace:look D9"
    hands.press(Qt.Key.Key_1)
    hands.settle()
    assert hands.session.case.insight.suspects[0].block == "J3.2"
    # The supply's own display is quicker still: the display's current is missing.
    assert hands.card.card.id == "trace:amps X1"
    hands.enter("0.62")
    hands.settle()
    if hands.session.case.insight.called is None:
        assert hands.card.card.id == "trace:drop J3.2"
        hands.enter("4.9")
    assert hands.session.case.insight.called.block == "J3.2"


def reading(point: str, volts: float) -> ReadingTaken:
    return ReadingTaken(
        target=point, mode="dc V", value=volts, resolution=0.01, power="live", meter="hearthwell-60"
    )

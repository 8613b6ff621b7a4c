"""Any keys and clicks, in any order, through the real window: nothing breaks, nobody is hurt."""

import os
import random

import pytest
from msgspec.structs import replace
from PySide6.QtCore import QPointF, Qt

from bench_lamp.case.gates import gates
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.journal import fold
from bench_lamp.journal.logic_events import CellsMarked, LaneRead, PinProbed, SelfTestSeen
from bench_lamp.journal.reader import JournalReader
from bench_lamp.stages import STAGES

WORDS = (
    "5.05", "-5.1", "OL", "0", "12k", "none", "3 8", "1 10", "0.55", "R22", "F4", "C1", "J2 off",
    "1:1.2k 3:7k 5:9k", "3 A slow", "bridged", "2 C1", "twin E 37.8", "lamp_drv 4.1 ohm", "Ω?",
    "99999999", "J3 on", "power off", "bulged C2", "8.1 mF", "red key, two screws",
    "55>57 AA>AA", "00 00 FF F7", "M", "c l", "ok", "g", "=0", "d*", "2.3", "flicker", "2-1",
    "/nowhere/r1.bin", "/nowhere/probe.csv", "100 uF 350 V", "kit", "Q1 Q3", "twin 470", "40 uF esr 3",
    "fail", "stock 2 x 100 uF 350 V in drawer 3", "10 A slow", "470", "brown black red gold", "divider",
    "17.4 80", "+1/6", "RV3 stop", "panel 23", "16 135.4001", "1/4", "leave: later",
)  # fmt: skip
KEYS = (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Escape,
        Qt.Key.Key_Space, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown)  # fmt: skip
SHORTCUTS = (
    *(f"Alt+{n}" for n in range(10)), "Ctrl+P", "Ctrl+Z", "Ctrl+Shift+Z", "Ctrl+H", "Ctrl+L",
    "F2", "F2", "F3",
    "Ctrl+R", "Ctrl+D", "F5", "F6", "F7", "F8", "F9", "Alt+O", "Alt+S", "Alt+T", "Alt+A", "Ctrl+1", "Ctrl++", "Ctrl+-",
)  # fmt: skip
COLD = {"ohm", "diode", "tone"}


def act(hands, chance: random.Random, qtbot) -> str:
    """Do one thing that a hand can do, and return what it was."""
    what = chance.choice(["digit", "digit", "words", "key", "shortcut", "shortcut", "click"])
    if what == "digit":
        digit = chance.choice("1234569cnswlfpdgh")
        hands.type(digit)
        return digit
    if what == "words":
        words = chance.choice(WORDS)
        for character in words:
            hands.press(Qt.Key.Key_unknown, text=character)
        hands.press(Qt.Key.Key_Return)
        return words
    if what == "key":
        key = chance.choice(KEYS)
        hands.press(key)
        return key.name
    if what == "shortcut":
        sequence = chance.choice(SHORTCUTS)
        hands.shortcut(sequence)
        return sequence
    return click(hands, chance, qtbot)


def click(hands, chance: random.Random, qtbot) -> str:
    """Press on anything that a picture of the stage lets one press on."""
    seen = [w for w in hands.page.findChildren(Painted) if w.isVisible() and w.targets]
    if not seen:
        return "nothing to click"
    canvas = chance.choice(sorted(seen, key=lambda w: type(w).__name__))
    name = chance.choice(sorted(canvas.targets))
    box = canvas.targets[name]
    spot: QPointF = box.center()
    qtbot.mouseClick(canvas, Qt.MouseButton.LeftButton, pos=spot.toPoint())
    return f"{type(canvas).__name__} {name}"


def unsafe(hands) -> str:
    """Say what is wrong with the journal or with what any stage would ask for now."""
    seen = hands.seen
    state = seen.case.state
    for reading in state.readings:
        if reading.mode in COLD and reading.power == "live":
            return f"{reading.mode} on {reading.target} taken live"
    is_live = state.power.is_live
    for stage in STAGES if is_live else ():
        entry = stage.card(*seen).entry
        if entry is not None and entry.kind == "reading" and entry.mode in COLD:
            return f"{stage.name} asks for {entry.mode} on a live board"
    behind = False
    for gate in gates(seen.case):
        if behind and gate.status in {"here", "failed"}:
            return f"gate {gate.number} is under way behind one that is not passed"
        behind = behind or gate.status not in {"passed", "overridden"}
    return ""


def told_while_off(before, after) -> list[str]:
    """Return results of self-tests that were logged although the board was marked off."""
    if before.power.is_live or after is None:
        return []
    new = [logged.event.body for logged in after.tape[len(before.tape) :]]
    return [b.kind for b in new if isinstance(b, (SelfTestSeen, CellsMarked, PinProbed, LaneRead))]


JOBS = (
    "QH-017/1",
    "QH-021/1",
    "QH-030/1",
    "QH-009/1",
    "QH-023/1",
    "QH-041/1",
    "QH-033/1",
    "QH-036/1",
)
#: First seed, and how many: a long run asks for others.
FIRST, COUNT = (int(n) for n in os.environ.get("BENCH_LAMP_SEEDS", "1:8").split(":"))


@pytest.mark.parametrize("seed", range(FIRST, FIRST + COUNT))
def test_any_keys_and_clicks_break_nothing_and_hurt_nobody(
    open_bench, qtbot, tmp_path, seed, monkeypatch
):
    monkeypatch.setattr("bench_lamp.desktop.asking.ask_for_printer", lambda parent: None)
    hands, chance, done = open_bench(), random.Random(seed), []
    job = JOBS[(seed - 1) % len(JOBS)]
    stage = "selftest" if job in JOBS[5:] else None
    hands.session.open_job(job, stage)
    hands.settle()
    for _ in range(90):
        before = hands.state
        done.append(act(hands, chance, qtbot))
        hands.settle()
        if hands.session.job and done[-1] != "Ctrl+Shift+Z":
            assert not told_while_off(before, hands.state), done[-12:]
        hands.window.grab()
        if not hands.session.job:
            hands.session.open_job(job, stage)
        assert not unsafe(hands), (unsafe(hands), done[-12:])
    on_disk = JournalReader(tmp_path / "journal.sqlite").events(job).events
    again = fold(hands.session.case.profile, on_disk)
    power = hands.state.power if not hands.state.power.is_known else again.power
    assert replace(again, power=power) == hands.state, "what is shown is what stands on the disk"

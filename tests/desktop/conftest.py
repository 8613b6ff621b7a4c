"""The real window: only clock and folder are the test's own."""

import gc
from collections.abc import Callable
from datetime import UTC, datetime

import pytest
from PySide6.QtCore import QEvent, Qt, QTimer
from PySide6.QtGui import QKeyEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from tests.seen import Seen

from bench_lamp.cards.commands import AskPower
from bench_lamp.case.next_stage import suggested
from bench_lamp.desktop.app import Bench, build
from bench_lamp.desktop.look import load_fonts
from bench_lamp.journal.events import PowerConfirmed
from bench_lamp.views.guard import FAILED

#: Longest wait for the disk, the reasoning, the window: long, so that a busy machine fails no test.
WAIT_MS = 25_000
MOMENT = datetime(2026, 11, 17, 12, 41, tzinfo=UTC)


@pytest.fixture(autouse=True)
def no_forgotten_modal(qapp):
    """Close a modal dialog that a test left open, and fail the test."""
    forgotten = []

    def look() -> None:
        widget = QApplication.activeModalWidget()
        if widget is not None:
            forgotten.append(type(widget).__name__)
            widget.close()

    timer = QTimer()
    timer.timeout.connect(look)
    timer.start(200)
    yield
    timer.stop()
    assert not forgotten, f"a modal dialog stood open: {forgotten}"


@pytest.fixture(autouse=True)
def nothing_broken(request):
    """No stage failed behind its message, unless the test is about that."""
    FAILED.clear()
    yield
    if "breaks" not in request.keywords:
        assert not FAILED, list(FAILED)


@pytest.fixture(scope="session")
def profile_cache(tmp_path_factory):
    return tmp_path_factory.mktemp("cache")


@pytest.fixture
def open_bench(qapp, qtbot, tmp_path, profile_cache):
    """Open the program on a folder of the test's own; the fixture owns and stops it."""
    load_fonts()
    opened: list[Bench] = []

    def _open(
        *, demo: bool = True, folder=tmp_path, waits: bool = True, winters: bool = False, made=build
    ) -> "Hands":
        bench = made(
            folder,
            cache=profile_cache,
            demo_at=MOMENT if demo else None,
            winters=winters,
            clock=lambda: MOMENT,
        )
        opened.append(bench)
        bench.window.look.moves = False
        # Before the journal's thread starts: it may open faster than one can listen.
        hands = Hands(bench, qtbot)
        bench.window.show()
        bench.window.activateWindow()
        qtbot.waitUntil(bench.window.isActiveWindow, timeout=WAIT_MS)
        qtbot.waitUntil(lambda: bench.thread.isRunning(), timeout=WAIT_MS)
        if waits:
            qtbot.waitUntil(lambda: bench.session.journal.is_loaded, timeout=WAIT_MS)
        return hands

    yield _open
    for bench in opened:
        bench.window.close()
        bench.stop()
        bench.window.deleteLater()
    opened.clear()
    QApplication.processEvents()
    gc.collect()


class Hands:
    """What a technician does: types, presses keys, clicks; and reads what is shown."""

    def __init__(self, bench: Bench, qtbot) -> None:
        self.bench, self.window, self.session, self.qtbot = (
            bench,
            bench.window,
            bench.session,
            qtbot,
        )
        self.page = bench.window.page
        self.is_open = False
        bench.worker.opened.connect(self._on_opened)

    def _on_opened(self, _: str) -> None:
        self.is_open = True

    @property
    def card(self):
        return self.page.card if self.session.job else self.window.shelf.card

    def press(self, key: Qt.Key, modifier=Qt.KeyboardModifier.NoModifier, text: str = "") -> None:
        """Send one key to whatever has the keyboard."""
        target = self.window.focusWidget() or self.window
        for kind in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):
            QApplication.sendEvent(target, QKeyEvent(kind, key, modifier, text))

    def type(self, text: str) -> None:
        """Type characters one by one, as keys."""
        for character in text:
            upper = ord(character.upper())
            key = Qt.Key(upper) if upper < 128 else Qt.Key.Key_unknown
            self.press(key, text=character)
        # Papers are written in a thread of their own; their tests read them at once.
        self.wait(lambda: not self.session.growing.is_busy)

    def shortcut(self, sequence: str) -> None:
        QTest.keySequence(self.window, sequence)

    def enter(self, text: str = "") -> None:
        """Type and press Enter, then wait until nothing is on its way to the disk."""
        self.type(text)
        self.press(Qt.Key.Key_Return)
        self.settle()

    def clear(self) -> None:
        """Take a refused entry away, as one would before typing another."""
        self.card.entry.field.clear()

    def settle(self) -> None:
        """Wait until nothing is on its way to the disk, and nothing is being thought over."""
        session, reasoning = self.session, self.session.reasoning
        self.wait(
            lambda: not session.is_waiting and not reasoning.is_busy,
            lambda: (
                f"to the disk {session.is_waiting}, {reasoning.is_reasoning=}, {reasoning.is_busy=}"
            ),
        )

    def wait(self, claim: Callable[[], bool], words: Callable[[], str] = lambda: "") -> None:
        def holds() -> None:
            assert claim(), words()

        self.qtbot.waitUntil(holds, timeout=WAIT_MS)

    def open(self, job: str, stage: str = "", power: str = "live") -> None:
        """Open a job and say in which state its board is."""
        self.session.open_job(job, stage)
        below = 1.0 if power == "discharged" else None
        self.session.say((PowerConfirmed(power=power, below=below),))
        self.settle()
        self.session.go(stage or suggested(self.session.case))
        self.settle()

    def measure(self) -> str:
        """Press F8 and wait until what was measured is on disk; return the point, if it was one."""
        count = len(self.state.tape)
        self.shortcut("F8")
        self.wait(lambda: len(self.state.tape) > count)
        self.settle()
        return getattr(self.state.tape[-1].event.body, "target", "")

    def read(self, **values: str) -> None:
        """Enter readings in the card's own order; each must be the point under the lamp."""
        for point, text in values.items():
            assert self.title.startswith((f"Read {point},", f"Ripple on {point},")), self.title
            self.enter(text)

    def prove(self, **values: str) -> None:
        """Go through the proof: open ends made good, points read by hand or F8, all of it works."""
        for _ in range(80):
            card = self.card.card
            if card.id == "prove-done" or card.id == "prove-bad":
                return
            if card.entry is not None and card.entry.is_reading:
                text = values.get(card.entry.target)
                if text:
                    self.enter(text)
                else:
                    assert self.measure() == card.entry.target
                self.settle()
            elif card.id == "prove-run":
                self.press(Qt.Key.Key_A, Qt.KeyboardModifier.AltModifier, "a")
                self.settle()
            elif card.choices[0].command == AskPower():
                self.shortcut("Ctrl+P")
                self.type("2" if self.state.power.is_live else "3")
                self.settle()
            else:
                self.type("1")
                self.settle()
        raise AssertionError(f"the proof does not end: {self.title}")

    @property
    def title(self) -> str:
        return self.card.card.title if self.card.card else ""

    @property
    def said(self) -> str:
        return self.card.verdict.text().replace("\u202f", " ")

    @property
    def state(self):
        return self.session.case.state

    @property
    def seen(self) -> Seen:
        """The open job's case, and where the hand is."""
        return Seen(self.session.case, self.session.hand)

"""The practice bench: its lessons in the shop's window; and, on a bench of its own, the score of the drill."""

from pathlib import Path

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QKeyEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from bench_lamp.cards.card import Card, Choice
from bench_lamp.cards.commands import BeginDrill
from bench_lamp.desktop import asking
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.session import Session
from bench_lamp.desktop.widgets.card import LitCard
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.lamp import SHINE, Backdrop
from bench_lamp.desktop.widgets.practice_rows import PracticeRows
from bench_lamp.errors import BenchLampError
from bench_lamp.practice.drill import Drill, drill_of
from bench_lamp.practice.lessons import LESSONS, keep_progress, read_progress, with_run
from bench_lamp.views.practice import LessonLine, PracticeRow, lesson_rows, practice_card


class PracticePage(QWidget):
    """The page; with a drill it shows that drill's score once the board is handed back."""

    def __init__(
        self, look: Look, session: Session, folder: Path, drill: Drill | None = None
    ) -> None:
        super().__init__()
        self._look, self._session, self.drill = look, session, drill
        #: Where progress is kept.
        self.folder = folder
        self._picked, self.is_open, self._is_scored = 0, False, False
        self._score: tuple[PracticeRow, ...] = ()
        self._ground = Backdrop()
        self.rows, self.card = PracticeRows(look), LitCard(look)
        self.headed = Headed(look, "Practice")
        self.headed.hold(self.rows)
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 12, 0, 12)
        row.addWidget(self.headed, 1)
        right = QVBoxLayout()
        right.addWidget(self.card)
        row.addLayout(right)
        self.rows.picked.connect(self._on_picked)
        self.card.entered.connect(self._begin)
        self.card.chosen.connect(self._on_chosen)
        self.card.passed_on.connect(self._on_key)
        session.changed.connect(self._on_changed)
        look.changed.connect(self._apply)
        self._apply()

    def toggle(self) -> None:
        """Open the page, or go back to where one was."""
        self.is_open = not self.is_open
        self._session.changed.emit()

    def refresh(self) -> None:
        """Show the lessons, or the score."""
        if self.drill is not None:
            self.headed.subtitle.setText("the score of this drill")
            self.rows.show_rows(self._score or _WAITING, -1)
            self.card.show_card(_score_card(self.drill, is_scored=bool(self._score)), "Esc back")
            return
        progress = read_progress(self.folder)
        lines = [
            LessonLine(x.title, x.idea, progress.minutes.get(x.title, -1.0), progress.wrong.get(x.title, 0))
            for x in LESSONS
        ]  # fmt: skip
        done = sum(line.minutes >= 0 for line in lines)
        self.headed.subtitle.setText(f"{done} of {len(lines)} lessons done")
        self.rows.show_rows(lesson_rows(lines), self._picked)
        self.card.show_card(practice_card(lines, self._picked), "↑ ↓ another lesson  ·  Esc done")

    def _on_changed(self) -> None:
        """Score the drill, once the board is handed back."""
        case = self._session.case if self.drill is not None else None
        if case is None or self._is_scored or case.state.closed_at is None:
            return
        self._is_scored = True
        self.is_open = True
        state, profile, drill = case.state, case.profile, self.drill
        assert drill is not None

        def work() -> object:
            from bench_lamp.practice.outcome import outcome

            found, rows = outcome(state, profile, drill)
            if drill.lesson and found.is_found:
                known = read_progress(self.folder)
                kept = with_run(known, drill.lesson, found.minutes, len(found.wrong))
                keep_progress(self.folder, kept)
            return rows

        self._session.growing.do(work, self._on_scored)

    def _on_scored(self, rows: object) -> None:
        if isinstance(rows, tuple):
            self._score = rows
            self._session.changed.emit()

    def _on_picked(self, name: str) -> None:
        self._picked = min(int(name), len(LESSONS) - 1)
        self.refresh()

    def _begin(self, text: str) -> None:
        kinds = tuple(p.id for p in self._session.library.all() if p.power)
        try:
            words = text if text.startswith("lesson") else ""
            drill = None if words else drill_of(text, kinds)
        except BenchLampError as exc:
            self.card.refuse(str(exc), exc.hint)
            return
        said = words or _as_text(drill)
        asking.open_practice(said, self.folder)
        self.card.tell("", "A practice bench opens beside", said)

    def _on_chosen(self, choice: Choice) -> None:
        if isinstance(choice.command, BeginDrill):
            self._begin(choice.command.text)

    def _on_key(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.toggle()
        elif event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.drill is None:
            step = -1 if event.key() == Qt.Key.Key_Up else 1
            self._picked = min(max(self._picked + step, 0), len(LESSONS) - 1)
            self.refresh()
        elif event.modifiers() & Qt.KeyboardModifier.AltModifier:
            self.card.take_key(event)

    def _apply(self) -> None:
        self.card.setFixedWidth(self._look.wide(380) + 2 * SHINE - 12)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the bench, and the spill of the lamp around the card."""
        light = QPointF(self.card.geometry().center())
        self._ground.draw(QPainter(self), self._look, self, light)


_WAITING = (PracticeRow(title="Hand the board back: then it is scored", is_head=True),)


def _as_text(drill: Drill | None) -> str:
    if drill is None:
        return ""
    return f"{drill.kind} {drill.hard} {drill.seed}{' alone' if drill.alone else ''}"


def _score_card(drill: Drill, *, is_scored: bool) -> Card:
    return Card(
        id="practice-score",
        kind="Practice",
        title=drill.lesson or f"A {drill.hard} board, number {drill.seed}",
        why_heading="Scored by",
        why=(
            "What was found, parts for nothing, minutes of hands, power on a short, slips of safety.",
            "The advice and the fixed order worked the same board." if is_scored else "Working …",
        ),
        can_skip=False,
    )

"""The practice bench: its lessons in the shop's window; and, on a bench of its own, the score of the drill."""

from pathlib import Path

from bench_lamp.cards.card import Card, Choice
from bench_lamp.cards.commands import BeginDrill
from bench_lamp.desktop import asking
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.session import Session
from bench_lamp.desktop.widgets.card import LitCard
from bench_lamp.desktop.widgets.practice_rows import PracticeRows
from bench_lamp.desktop.widgets.side_page import SidePage
from bench_lamp.errors import BenchLampError
from bench_lamp.practice.drill import drill_of
from bench_lamp.practice.lessons import LESSONS, keep_progress, read_progress, with_run
from bench_lamp.practice.values import Drill
from bench_lamp.views.practice import LessonLine, PracticeRow, lesson_rows, practice_card


class PracticePage(SidePage):
    """The page; with a drill it shows that drill's score once the board is handed back."""

    def __init__(
        self, look: Look, session: Session, folder: Path, drill: Drill | None = None
    ) -> None:
        self._session, self.drill = session, drill
        #: Where progress is kept.
        self.folder = folder
        self._picked, self.is_open, self._is_scored = 0, False, False
        self._score: tuple[PracticeRow, ...] = ()
        self.rows = PracticeRows(look)
        super().__init__(look, "Practice", self.rows, LitCard(look), card_px=380)
        self.rows.picked.connect(self._on_picked)
        self.card.entered.connect(self._begin)
        self.card.chosen.connect(self._on_chosen)
        session.changed.connect(self._on_changed)

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

    def leave(self) -> None:
        """Go back to where one was."""
        self.toggle()

    def step(self, by: int) -> None:
        """Pick another lesson."""
        if self.drill is None:
            self._picked = min(max(self._picked + by, 0), len(LESSONS) - 1)
            self.refresh()
            box = self.rows.targets.get(str(self._picked))
            if box is not None:
                middle = int(box.center().y())
                self.headed.area.ensureVisible(0, middle, 0, int(box.height()))


_WAITING = (PracticeRow(title="Hand the board back: then it is scored", is_head=True),)


def _as_text(drill: Drill | None) -> str:
    if drill is None:
        return ""
    words = [drill.kind, drill.hard, str(drill.seed)]
    words += ["logic"] * drill.is_logic + ["alone"] * drill.alone
    return " ".join(words)


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

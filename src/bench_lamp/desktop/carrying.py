"""What a card asks of the window: it is done here, by the command's own kind."""

from collections.abc import Callable, Mapping
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QWidget

from bench_lamp.cards import commands
from bench_lamp.cards.commands import Command, Paper
from bench_lamp.case.case import Case
from bench_lamp.desktop.session import Session

if TYPE_CHECKING:
    from bench_lamp.desktop.keeping import Keeping
    from bench_lamp.desktop.workers.file_reader import FileReader


class Carrying:
    """Does what cards ask of a window."""

    def __init__(
        self,
        window: QWidget,
        session: Session,
        more: Mapping[type, Callable[[], None]],
        *,
        files: "Callable[[], FileReader]",
        keeping: "Callable[[], Keeping]",
        papers: Path,
    ) -> None:
        self._window, self._session, self._files, self._papers = window, session, files, papers
        self._keeping = keeping
        self._moves: Mapping[type, Callable[[], None]] = {
            commands.BeginJob: session.begin_job,
            commands.CorrectKind: session.correct_kind,
            commands.GoToShelf: session.go_shelf,
            commands.Describe: session.describe,
            **more,
        }

    def out(self, command: Command) -> None:
        """Do one command."""
        case = self._session.case
        match command:
            case commands.OpenJob(job):
                self._session.open_job(job)
            case _ if type(command) in self._moves:
                self._moves[type(command)]()
            case commands.SavePaper(paper) if case is not None:
                self._save(paper, case)
            case commands.ChooseFile():
                chosen = self._files().choose(command, self._window)
                if chosen is not None:
                    self.out(chosen)
            case commands.ReadFiles() if case is not None:
                self._files().read(command, self._session.job, case.profile)
            case _:
                self._keep(command)

    def _keep(self, command: Command) -> None:
        """Put a backup in place, take events in, or take who works here."""
        match command:
            case commands.RestoreFrom(path):
                self._keeping().restore(path)
            case commands.TakeFrom(path):
                self._keeping().take(path)
            case commands.PrintSheet() if (case := self._session.case) is not None:
                self._print(case)
            case commands.KeepPhoto(path):
                self._session.photo_brought.emit(Path(path))
            case commands.CompareBoard(path):
                self._session.board_pictured.emit(Path(path))
            case commands.SetBusiness(text):
                self._session.set_business(text)
            case commands.SetWho(who):
                self._session.work_as(who)

    def _print(self, case: Case) -> None:
        from bench_lamp.desktop import asking, papers

        printer = asking.ask_for_printer(self._window)
        if printer is None:
            return

        def then(images: object) -> None:
            assert isinstance(images, dict)
            papers.print_sheet(case, printer, images)
            self._session.notified.emit("Printed", case.state.job, False)

        # Printers belong to the window's thread; photographs are what takes long.
        self._session.growing.do(lambda: papers.photo_images(case, self._papers.parent), then)

    def _save(self, paper: Paper, case: Case) -> None:
        """Write a paper away from the window's thread; what went wrong is said by who did it."""
        profiles = self._session.library.paths()

        def work() -> Path:
            from bench_lamp.desktop import papers

            if paper is Paper.BUNDLE:
                return papers.save_bundle(case, self._papers, profiles)
            return papers.save(paper, case, self._papers)

        self._session.growing.do(
            work, lambda path: self._session.notified.emit("Saved", str(path), False)
        )

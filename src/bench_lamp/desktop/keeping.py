"""Backups and other benches: asked of the store's thread, and what came of it, in words."""

from pathlib import Path

from PySide6.QtCore import QObject, Signal, Slot

from bench_lamp.cards.card import Asked, Choice
from bench_lamp.cards.commands import RestoreFrom, TakeFrom
from bench_lamp.desktop.session import Session
from bench_lamp.journal.backup import Inside
from bench_lamp.journal.merging import BACKUP_SUFFIX, TakenIn


class Keeping(QObject):
    """Has backups made and put back, and other benches' events taken in."""

    #: For the store's thread.
    backup_requested = Signal()
    look_requested = Signal(object)
    take_requested = Signal(object)
    restore_requested = Signal(object)

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self._session = session
        session.journal_brought.connect(self.bring)

    @Slot(object)
    def bring(self, path: Path) -> None:
        """Look into a backup, or take a job's bundle or a whole journal in."""
        if path.suffix == BACKUP_SUFFIX:
            self.look_requested.emit(path)
        else:
            self.take_requested.emit(path)

    def restore(self, path: str) -> None:
        """Put a backup in place."""
        self.restore_requested.emit(Path(path))

    def take(self, path: str) -> None:
        """Take the events of a file in."""
        self.take_requested.emit(Path(path))

    @Slot(object, object)
    def on_looked(self, path: Path, inside: Inside) -> None:
        """Say what a backup holds, and ask what is done with it."""
        self._session.ask(
            Asked(
                question=f"{path.name}: {inside.words}. Put it in place of what is here?",
                choices=(
                    Choice(
                        key="y",
                        text="Yes; what is here is kept beside it",
                        command=RestoreFrom(str(path)),
                    ),
                    Choice(
                        key="m",
                        text="No, take its events in beside what is here",
                        command=TakeFrom(str(path)),
                    ),
                ),
            )
        )

    @Slot(object)
    def on_taken(self, found: TakenIn) -> None:
        """Show what is new, and say what came of it."""
        self._session.fetch(found.jobs)
        jobs = ", ".join(found.jobs[:3]) + (" …" if len(found.jobs) > 3 else "")
        words = f"{len(found.added)} events taken in" + (f" ({jobs})" if jobs else "")
        more = [f"{found.known} were here already"] if found.known else []
        more += [f"{len(found.conflicts)} say something else here and stay as they are"] * bool(
            found.conflicts
        )
        more += [f"{len(found.aside)} cannot be read"] * bool(found.aside)
        self._session.refresh_case()
        self._session.notified.emit(words, ". ".join(more), False)

    @Slot(str, str, bool)
    def on_told(self, what: str, mend: str, is_refusal: bool) -> None:
        """Say what came of it."""
        self._session.notified.emit(what, mend, is_refusal)

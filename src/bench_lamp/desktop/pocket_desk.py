"""Opens the pocket sheet over the window, with what the job knows, and takes what comes out."""

from collections.abc import Callable, Mapping
from functools import cached_property
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QRectF
from PySide6.QtWidgets import QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.session import Session
from bench_lamp.journal.events import Note

if TYPE_CHECKING:
    from bench_lamp.desktop.widgets.pocket import PocketSheet


class PocketDesk(QObject):
    """The one pocket sheet of the window."""

    def __init__(
        self,
        window: QWidget,
        look: Look,
        session: Session,
        *,
        back: Callable[[], None],
        enter: Callable[[str], None],
    ) -> None:
        super().__init__(window)
        self._window, self._look, self._session = window, look, session
        self._back, self._enter = back, enter

    @cached_property
    def sheet(self) -> "PocketSheet":
        """The sheet, made when it is first opened."""
        from bench_lamp.desktop.widgets.pocket import PocketSheet

        made = PocketSheet(self._look, self._filled, self._window)
        made.closed.connect(self._back)
        made.sent.connect(self._enter)
        made.noted.connect(self._note)
        # Whatever is drawn anew behind an open sheet must not take the keyboard from it.
        self._session.changed.connect(self._keep_keys)
        return made

    def toggle(self) -> None:
        """Open the sheet over the right half, or put it away."""
        if "sheet" in self.__dict__ and self.sheet.isVisible():
            self.sheet.hide()
            self._back()
            return
        self.fit()
        self.sheet.open_over(self._room())

    def _keep_keys(self) -> None:
        if self.sheet.isVisible():
            self.sheet.take_keys()

    def fit(self) -> None:
        """Keep an open sheet on the right half of the window."""
        if "sheet" in self.__dict__ and self.sheet.isVisible():
            self.sheet.setGeometry(self._room().toRect())

    def _room(self) -> QRectF:
        width, height = self._window.width(), self._window.height()
        own = max(width // 2, min(self._look.wide(560), width - 40))
        return QRectF(width - own - 12, 12, own, height - 24)

    def _filled(self, sum_id: str) -> Mapping[str, str]:
        from bench_lamp.views.pocket_fill import filled

        return filled(self._session.case, self._session.hand, sum_id)

    def _note(self, text: str) -> None:
        if self._session.job:
            self._session.say((Note(text=text),))
        else:
            self._session.notified.emit(
                "No job is open", "Open one to put a sum on its tape.", True
            )

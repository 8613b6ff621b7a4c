"""What comes in from outside: files that are chosen or dropped, and the demo beside."""

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QObject
from PySide6.QtGui import QDragEnterEvent, QDropEvent
from PySide6.QtWidgets import QWidget

from bench_lamp.desktop.session import Session

if TYPE_CHECKING:
    from bench_lamp.desktop.photographs import Photographs


class Bringing(QObject):
    """Asks for files, and takes those that are dropped on the window."""

    def __init__(self, window: QWidget, session: Session) -> None:
        super().__init__(window)
        self._window, self._session = window, session
        window.setAcceptDrops(True)
        window.installEventFilter(self)
        session.picture_asked.connect(self.add_picture)

    def bring_in(self) -> None:
        """Ask for a profile or bundle, and look into it."""
        from bench_lamp.desktop import asking

        if path := asking.ask_for_profile(self._window):
            self._session.bring_in(path)

    def add_picture(self, side: str) -> None:
        """Ask for a picture of a side of the board."""
        from bench_lamp.desktop import asking

        if path := asking.ask_for_picture(self._window):
            self._session.mapping.add(path, "solder" if side == "solder" else "parts")

    def add_photo(self) -> None:
        """Ask for a photograph of the job."""
        from bench_lamp.desktop import asking

        if self._session.job and (path := asking.ask_for_picture(self._window)):
            self._session.photo_brought.emit(path)

    def watch_folder(self, photographs: "Photographs") -> None:
        """Ask for a folder whose new pictures are photographs of the open job; one that is watched is left."""
        from bench_lamp.desktop import asking

        if self._session.watched:
            left = self._session.watched
            photographs.watch_no_more()
            self._session.notified.emit("No folder is watched any more", left, False)
        elif path := asking.ask_for_folder(self._window):
            self._session.notified.emit(
                "New pictures there are photographs of the open job", str(path), False
            )
            photographs.watch(path)

    def compare(self) -> None:
        """Ask for a picture of the very board that is on the bench."""
        from bench_lamp.desktop import asking

        if path := asking.ask_for_picture(self._window):
            self._session.board_pictured.emit(path)

    def open_demo(self) -> None:
        """Start the demo beside, on a copy of its own."""
        from bench_lamp.desktop import asking

        asking.open_demo()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Look into what is dropped: a bundle, a profile, or a picture for the map."""
        if isinstance(event, QDropEvent) and event.type() == QEvent.Type.Drop:
            for url in event.mimeData().urls()[:1]:
                self._session.take_dropped(Path(url.toLocalFile()))
            return True
        if isinstance(event, QDragEnterEvent) and event.mimeData().hasUrls():
            event.acceptProposedAction()
            return True
        return False

"""Photographs of the job: brought by file, drop, paste or a folder that is watched; small ones for the tape."""

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtGui import QGuiApplication, QImage, QPixmap

from bench_lamp.desktop.paper import as_file
from bench_lamp.desktop.session import Session
from bench_lamp.desktop.watching import FolderWatch
from bench_lamp.files import read_bytes
from bench_lamp.journal.photos import MOST_PHOTO, KeptPhoto, keep_photo, photo_place

#: Longer side of a small one, in pixels; and how many are kept.
SMALL, MOST_SMALL = 240, 150


class Photographs(QObject):
    """Keeps photographs in the data folder, each under its sum; decoding is the thread's."""

    #: A small one is there now.
    came = Signal()

    def __init__(self, session: Session, folder: Path) -> None:
        super().__init__(session)
        self._session, self._folder = session, folder
        self._small: dict[str, QPixmap | None] = {}
        self._watch: FolderWatch | None = None
        #: Whether what comes into the watched folder is taken already.
        self.is_watching = False
        session.photo_brought.connect(self.add)
        if session.watched:
            self.watch(Path(session.watched))

    def add(self, path: Path) -> None:
        """Keep a file as a photograph of the open job, then ask what it shows."""
        self._keep(lambda: self._kept(read_bytes(path, most=MOST_PHOTO), path.name))

    def add_screen(self, data: bytes) -> None:
        """Keep an instrument's screen as a photograph of the open job."""
        self._keep(lambda: self._kept(data, "screen.png"))

    def paste(self) -> bool:
        """Keep the picture of the clipboard; say whether there was one."""
        image = QGuiApplication.clipboard().image()
        if image.isNull() or not self._session.job:
            return False
        self._keep(lambda: self._kept(as_file(image, b"png"), "pasted.png"))
        return True

    def watch(self, folder: Path) -> None:
        """Take what a folder gets from now on, while a job is open: a telephone that syncs."""
        self.watch_no_more()
        self._watch = FolderWatch(folder, self._session.growing.do, self)
        self._watch.came.connect(self.add)
        self._watch.ready.connect(lambda: setattr(self, "is_watching", True))
        self._session.watched = str(folder)
        if not self._watch.is_there:
            mend = f"{folder}: choose it anew with Ctrl+K, watch; or put it back and start again."
            self._session.notified.emit("The watched folder is not there", mend, True)

    def watch_no_more(self) -> None:
        """Leave the watched folder alone."""
        if self._watch is not None:
            self._watch.deleteLater()
        self._watch, self.is_watching, self._session.watched = None, False, ""

    def _kept(self, data: bytes, name: str) -> KeptPhoto:
        from bench_lamp.desktop.decoding import decoded

        # What cannot be decoded is no photograph: nothing of it is kept.
        decoded(data, name)
        return keep_photo(self._folder, data, name)

    def _keep(self, work: Callable[[], KeptPhoto]) -> None:
        job = self._session.job

        def then(kept: object) -> None:
            if isinstance(kept, KeptPhoto) and self._session.job == job:
                self._session.ask_about(kept)

        if job:
            self._session.growing.do(work, then)

    def image(self, sha256: str, suffix: str) -> QImage:
        """Return a photograph upright, not large; a null image where it is not here. Not for the window's thread."""
        from bench_lamp.desktop.decoding import decoded

        place = photo_place(self._folder, sha256, suffix)
        if place is None or not place.exists():
            return QImage()
        return decoded(read_bytes(place, most=MOST_PHOTO), place.name, 2 * SMALL)

    def small(self, sha256: str, suffix: str) -> QPixmap | None:
        """Return a small one for the tape; None while it is decoded, or where it is not here."""
        if sha256 not in self._small:
            if len(self._small) > MOST_SMALL:
                self._small.clear()
            self._small[sha256] = None

            def work() -> object:
                image = self.image(sha256, suffix)
                size = Qt.TransformationMode.SmoothTransformation
                return image.scaled(SMALL, SMALL, Qt.AspectRatioMode.KeepAspectRatio, size)

            def then(image: object) -> None:
                if isinstance(image, QImage) and not image.isNull():
                    self._small[sha256] = QPixmap.fromImage(image)
                    self.came.emit()

            self._session.growing.do(work, then)
        return self._small[sha256]

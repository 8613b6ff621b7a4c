"""A folder that is watched for new pictures: a telephone that syncs writes slowly, and several at once."""

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QFileSystemWatcher, QObject, QTimer, Signal

from bench_lamp.journal.photos import SUFFIXES

#: A picture is whole when its size is the same after this time, in milliseconds; and how often one looks.
STEADY_MS, MOST_LOOKS = 400, 150

#: Has the first done away from the window's thread, and hands what came of it to the second.
Do = Callable[[Callable[[], object], Callable[[object], None]], None]


class FolderWatch(QObject):
    """Says each picture that a folder gets from now on, once it is whole."""

    came = Signal(object)
    #: What is in the folder is known: whatever comes now is new.
    ready = Signal()

    def __init__(self, folder: Path, do: Do, parent: QObject) -> None:
        super().__init__(parent)
        self._folder, self._do = folder, do
        self._seen: set[Path] | None = None
        self._sizes: dict[Path, int] = {}
        self._looks = 0
        self._timer = QTimer(self, singleShot=True, interval=STEADY_MS)
        self._timer.timeout.connect(self._look)
        self._watcher = QFileSystemWatcher([str(folder)], self)
        self._watcher.directoryChanged.connect(self._begin)
        self._look()

    @property
    def is_there(self) -> bool:
        """Whether the folder is there to be watched."""
        return bool(self._watcher.directories())

    def _begin(self) -> None:
        self._looks = 0
        self._timer.start()

    def _look(self) -> None:
        self._do(lambda: pictures_in(self._folder), self._take)

    def _take(self, found: object) -> None:
        sizes = found if isinstance(found, dict) else {}
        if self._seen is None:
            self._seen = set(sizes)
            self.ready.emit()
            return
        new = {path: size for path, size in sizes.items() if path not in self._seen}
        whole = [path for path, size in new.items() if size and self._sizes.get(path) == size]
        self._sizes = new
        self._seen.update(whole)
        for path in whole:
            self.came.emit(path)
        self._looks += 1
        if len(whole) < len(new) and self._looks < MOST_LOOKS:
            self._timer.start()


def pictures_in(folder: Path) -> dict[Path, int]:
    """Return the pictures of a folder with their sizes in bytes, the newest last; none where it is not there."""
    try:
        found = [p for p in folder.iterdir() if p.suffix.lower() in SUFFIXES and p.is_file()]
        stats = {path: path.stat() for path in found}
    except OSError:
        return {}
    return {path: stats[path].st_size for path in sorted(found, key=lambda p: stats[p].st_mtime)}

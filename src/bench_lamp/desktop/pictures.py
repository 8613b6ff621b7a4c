"""Pictures for drawing: decoded in a thread, each as a row of ever smaller ones."""

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtGui import QImage

from bench_lamp.board import ProfileLibrary
from bench_lamp.board.pictures import picture_place, read_picture
from bench_lamp.desktop.decoding import Pictures, decoded, smaller_ones

if TYPE_CHECKING:
    from bench_lamp.desktop.growing import Growing

#: Bytes of decoded pictures that are kept at a time: one of 24 million pixels, or several small ones.
MOST_KEPT = 150_000_000


class PictureStore(Pictures):
    """Gives the pictures that are kept beside the profiles."""

    def __init__(self, library: ProfileLibrary, growing: "Growing") -> None:
        super().__init__()
        self._library, self._growing = library, growing
        self._kept: dict[str, tuple[QImage, ...]] = {}
        self._wanted: set[str] = set()

    def get(self, file: str) -> tuple[QImage, ...]:
        """Return a picture's row of sizes; empty while it is decoded, or where it cannot be."""
        if file in self._kept:
            return self._kept[file]
        place = picture_place(self._library.own, file, self._library.shared())
        if place is not None and file not in self._wanted:
            self._wanted.add(file)
            self._growing.do(_loader(place), lambda found: self._take(file, found))
        return ()

    def _take(self, file: str, found: object) -> None:
        assert isinstance(found, tuple)
        self._wanted.discard(file)
        self._kept[file] = found
        while len(self._kept) > 1 and sum(map(_size, self._kept.values())) > MOST_KEPT:
            self._kept.pop(next(iter(self._kept)))
        self.came.emit(file)


def _size(row: tuple[QImage, ...]) -> int:
    return sum(image.sizeInBytes() for image in row)


def _loader(place: Path) -> Callable[[], object]:
    return lambda: smaller_ones(decoded(read_picture(place), place.name))

"""A picture of this very board beside the profile's: one zoom for both, or one after the other in one place."""

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QHideEvent, QImage
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from bench_lamp.board.map import Pair, Picture
from bench_lamp.board.pictures import read_picture
from bench_lamp.checks.board_map import Lit, LitMap
from bench_lamp.desktop.decoding import Pictures, decoded, smaller_ones, straightened
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.map_canvas import MapCanvas
from bench_lamp.desktop.widgets.words import Words

#: How long each picture stands while they blink, in milliseconds.
BLINK_MS = 450
#: The name under which the picture of this very board is shown.
THIS = "this board"
_CORNERS = ("top left", "top right", "bottom right", "bottom left")
#: Has work done in a thread; the second gets what came of it.
Do = Callable[[Callable[[], object], Callable[[object], None]], None]


class OnePicture(Pictures):
    """Gives one picture that is kept nowhere: this board as it lies on the bench."""

    def __init__(self, do: Do) -> None:
        super().__init__()
        self._do = do
        self._sizes: tuple[QImage, ...] = ()

    def get(self, file: str) -> tuple[QImage, ...]:
        """Return the picture's sizes; empty while it is read."""
        return self._sizes

    def read(self, path: Path, then: Callable[[], None]) -> None:
        """Read a file in the thread."""
        self._have(lambda: smaller_ones(decoded(read_picture(path), path.name)), then)

    def straighten(self, corners: tuple[Pair, ...], like: QImage, then: Callable[[], None]) -> None:
        """Cut it to four corners, and lay it on the other picture pixel by pixel."""
        whole, size = self._sizes[0], like.size()

        def work() -> tuple[QImage, ...]:
            square = straightened(whole, corners)
            how = Qt.AspectRatioMode.IgnoreAspectRatio
            smooth = Qt.TransformationMode.SmoothTransformation
            return smaller_ones(square.scaled(size, how, smooth))

        self._have(work, then)

    def _have(self, work: Callable[[], object], then: Callable[[], None]) -> None:
        def take(found: object) -> None:
            assert isinstance(found, tuple)
            self._sizes = found
            then()
            self.came.emit(THIS)

        self._do(work, take)


class CompareSurface(Headed):
    """Two pictures to compare by eye."""

    def __init__(self, look: Look, store: Pictures, do: Do, parent: QWidget | None = None) -> None:
        super().__init__(look, "Compare", parent)
        self._store, self._this = store, OnePicture(do)
        self._corners: tuple[Pair, ...] = ()
        self.is_straight = False
        self._good: Picture | None = None
        self.good, self.mine = MapCanvas(look, store), MapCanvas(look, self._this)
        self.good.moved.connect(self.mine.look_at)
        self.mine.moved.connect(self.good.look_at)
        self.mine.clicked.connect(self._on_click)
        self.note = Words(look, 14, 500, "text", wrap=True)
        self.area.setVisible(False)
        row = QHBoxLayout()
        row.addWidget(self.good, 1)
        row.addWidget(self.mine, 1)
        layout = self.layout()
        assert isinstance(layout, QVBoxLayout)
        layout.addLayout(row, 1)
        layout.addWidget(self.note, 0, Qt.AlignmentFlag.AlignTop)
        self._blink = QTimer(self, interval=BLINK_MS)
        self._blink.timeout.connect(self._swap)

    @property
    def is_blinking(self) -> bool:
        """Whether the pictures stand one after the other in one place."""
        return self._blink.isActive()

    def compare(self, path: Path, good: Picture, then: Callable[[], None]) -> None:
        """Read a picture of this board and lay it beside a picture of the profile; then call `then`."""

        def show() -> None:
            self._good, self._corners, self.is_straight = good, (), False
            self._show()
            then()

        self._this.read(path, show)

    def toggle_blink(self) -> None:
        """Show one after the other in one place, or both again; before that, begin the corners again."""
        if self.is_blinking or not self.is_straight:
            self._corners = ()
            self._show()
        else:
            self._blink.start()
            self._swap()

    def _show(self) -> None:
        """Show both, side by side."""
        self._blink.stop()
        self.good.setVisible(True)
        self.mine.setVisible(True)
        assert self._good is not None
        clicked = tuple(
            Lit(name=_CORNERS[n], kind="part", at=at) for n, at in enumerate(self._corners)
        )
        mine = Picture(id=THIS, file=THIS, side=self._good.side)
        self.good.show_map(_plain(self._good, ()))
        self.mine.show_map(_plain(mine, clicked))
        self.subtitle.setText("left: the profile’s picture, right: this board  ·  F3 back")
        again = "  ·  Shift+F3: from the first again" if self._corners else ""
        self.note.setText(
            "Shift+F3: one after the other  ·  drag and wheel move both"
            if self.is_straight
            else f"Click the {_CORNERS[len(self._corners) % 4]} corner of this board{again}."
        )

    def _on_click(self, x: float, y: float) -> None:
        sizes = self._store.get(self._good.file) if self._good is not None else ()
        if self.is_straight or not sizes:
            return
        self._corners = (*self._corners, (x, y))
        if len(self._corners) == len(_CORNERS):
            corners, self._corners = self._corners, ()
            self._this.straighten(corners, sizes[0], self._set_straight)
        self._show()

    def _set_straight(self) -> None:
        self.is_straight = True
        self._show()

    def _swap(self) -> None:
        is_good = not self.good.isVisibleTo(self)
        self.good.setVisible(is_good)
        self.mine.setVisible(not is_good)
        self.subtitle.setText("the profile’s picture" if is_good else "this board")
        self.note.setText("Shift+F3: both beside each other")

    def hideEvent(self, event: QHideEvent) -> None:
        """Blink no more when one looks at something else."""
        if self.is_blinking:
            self._show()


def _plain(picture: Picture, lit: tuple[Lit, ...]) -> LitMap:
    return LitMap(picture=picture, lit=lit, others={}, has_other_side=False, is_dark=False)

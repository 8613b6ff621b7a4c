"""The stage Trim: what is under the lamp, with its dials, needles, channels or coil."""

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QWidget

from bench_lamp.cards.clock import is_ticking
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.picture_canvas import PictureCanvas
from bench_lamp.stages.trim.cards import trim_picture

#: How often a coil's clock is drawn anew, in milliseconds.
TICK_MS = 250


class TrimSurface(Headed):
    """The surface of the stage Trim."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, "Trim", parent)
        self.canvas = PictureCanvas(look)
        self.canvas.picked.connect(self._on_pick)
        self._focus = ""
        self.hold(self.canvas)
        self._tick = QTimer(self, interval=TICK_MS)
        self._tick.timeout.connect(self.canvas.update)

    def show_case(self, case: Case, hand: Hand) -> None:
        """Show what is under the lamp."""
        from bench_lamp.stages.trim.cards import current

        picture = trim_picture(case, hand)
        trim = current(case, hand)
        self._focus = trim.id if trim is not None else ""
        self.subtitle.setText(" · ".join(x for x in (picture.title, picture.sub) if x))
        self.canvas.show_picture(picture)
        if is_ticking(picture.coil):
            self._tick.start()
        else:
            self._tick.stop()

    def _on_pick(self, name: str) -> None:
        kind, _, what = name.partition(":")
        if not self._focus and kind == "row":
            self.picked.emit(what)
        elif kind == "row":
            self.cell_picked.emit(self._focus, what)
        else:
            self.cell_picked.emit(self._focus, f"{what} 0")

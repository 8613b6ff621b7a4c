"""A painted picture with a height of its own, and rows that can be clicked."""

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFontMetrics, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from bench_lamp.desktop.look import Look

LEFT = int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft)
WRAP = int(Qt.TextFlag.TextWordWrap)


class Painted(QWidget):
    """Base of the surfaces' pictures."""

    #: Name of the row that was clicked.
    picked = Signal(str)
    #: The content became higher or lower.
    grown = Signal()

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.look = look
        self.content_height = 300
        #: Places that can be clicked, by name; filled while painting.
        self.targets: dict[str, QRectF] = {}
        #: Where what lies under the lamp is; None for nowhere.
        self.here: QRectF | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Minimum)
        look.changed.connect(self.update)

    def sizeHint(self) -> QSize:
        """Return the height that the last painting used."""
        return QSize(300, self.content_height)

    def minimumSizeHint(self) -> QSize:
        """As high as the content."""
        return self.sizeHint()

    def keep_height(self, height: float) -> None:
        """Remember how high the content is, so that it can be scrolled to."""
        if int(height) != self.content_height:
            self.content_height = int(height)
            self.updateGeometry()
            self.grown.emit()

    def line(
        self,
        painter: QPainter,
        box: QRectF,
        text: str,
        step: tuple[float, int],
        token: str,
        *,
        names: bool = False,
        flags: int = LEFT,
    ) -> None:
        """Draw one line, ended by an ellipsis where the room ends."""
        painter.setFont(self.look.font(*step, names=names))
        painter.setPen(self.look.colour(token))
        shown = painter.fontMetrics().elidedText(
            text, Qt.TextElideMode.ElideRight, int(box.width())
        )
        painter.drawText(box, flags, shown)

    def wrapped(
        self, painter: QPainter, box: QRectF, text: str, step: tuple[float, int], token: str
    ) -> float:
        """Draw wrapped words and return how high they are."""
        font = self.look.font(*step)
        bounds = QFontMetrics(font).boundingRect(box.toRect(), WRAP, text)
        painter.setFont(font)
        painter.setPen(self.look.colour(token))
        painter.drawText(box, WRAP, text)
        return float(bounds.height())

    def teach(self, painter: QPainter, text: str) -> None:
        """Say what belongs in an empty picture."""
        room = QRectF(8, self.look.px(20), min(self.width() - 40, self.look.px(520)), 300)
        self.wrapped(painter, room, text, (16, 400), "dim")

    def lit(self, painter: QPainter, box: QRectF) -> None:
        """Draw the amber frame of what is under the lamp."""
        painter.setPen(QPen(self.look.colour("lamp"), 1.6))
        painter.setBrush(self.look.colour("lamp", 26))
        painter.drawRoundedRect(box, 6, 6)

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Tell which row was clicked."""
        for name, box in self.targets.items():
            if box.contains(event.position()):
                self.picked.emit(name)
                return

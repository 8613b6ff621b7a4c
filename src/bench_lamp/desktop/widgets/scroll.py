"""A scrolling place without a ground of its own, and a thin bar that only shows when needed."""

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QPalette, QResizeEvent
from PySide6.QtWidgets import QFrame, QScrollArea, QScrollBar, QWidget

from bench_lamp.desktop.look import Look


class ClearScroll(QScrollArea):
    """Scrolls upright only; what lies behind shines through."""

    #: The height that can be seen has changed.
    resized = Signal(int)

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._look = look
        # Parts of our own: asking Qt for the ones that it made itself has PySide go through
        # every class there is, which costs a twentieth of a second at the start.
        self._view = QWidget()
        self._upright, self._along = (
            QScrollBar(Qt.Orientation.Vertical),
            QScrollBar(Qt.Orientation.Horizontal),
        )
        self.setViewport(self._view)
        self.setVerticalScrollBar(self._upright)
        self.setHorizontalScrollBar(self._along)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setCornerWidget(QWidget())
        look.changed.connect(self._apply)
        self._apply()

    def setWidget(self, widget: QWidget) -> None:
        """Hold a widget, without the ground that Qt would give it."""
        super().setWidget(widget)
        widget.setAutoFillBackground(False)
        self._view.setAutoFillBackground(False)
        self._view.setBackgroundRole(QPalette.ColorRole.NoRole)

    def _apply(self) -> None:
        bar = self._look.colour("faint").name()
        # On the bars alone: a sheet on the area would restyle every widget that it holds.
        for scroll, side, along in (
            (self._upright, "width", "height"),
            (self._along, "height", "width"),
        ):
            scroll.setStyleSheet(
                f"QScrollBar {{ background: transparent; {side}: 6px; margin: 0; }}"
                f"QScrollBar::handle {{ background: {bar}; border-radius: 3px; min-{along}: 24px; }}"
                f"QScrollBar::add-line, QScrollBar::sub-line {{ {along}: 0; }}"
                "QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }"
            )

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Tell how much can be seen."""
        super().resizeEvent(event)
        self.resized.emit(self._view.height() - 6)

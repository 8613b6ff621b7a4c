"""The header: which board, what is wrong, the power state, the time at the bench."""

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFontMetrics, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QHBoxLayout, QSizePolicy, QWidget

from bench_lamp.cards.power import power_words
from bench_lamp.case.case import Case
from bench_lamp.case.clock import local
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.words import Words
from bench_lamp.journal import PowerState

POWER_KEY = "Ctrl+P"


class PowerPill(QWidget):
    """The power state: filled and worded when live, so that nobody misses it."""

    pressed = Signal()

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._look, self._live = look, False
        self._word, self._note = "", ""
        self._power: PowerState | None = None
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        look.changed.connect(self.updateGeometry)

    def show_power(self, case: Case) -> None:
        """Show the state that was last confirmed."""
        power = case.state.power
        if power == self._power:
            return
        self._power = power
        self._live = power.is_live
        self._word = power_words(power)
        when = local(power.at) if power.at else ""
        self._note = f"confirmed {when}" if power.is_known else f"last {when}" if when else ""
        self.setAccessibleName(f"{self._word}, {self._note}; {POWER_KEY} to change")
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:
        """Fit the words."""
        big = QFontMetrics(self._look.font(16, 600)).horizontalAdvance(self._word)
        small = QFontMetrics(self._look.font(13)).horizontalAdvance(f"{self._note}  {POWER_KEY}")
        return QSize(big + small + self._look.px(64), self._look.px(36))

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the pill."""
        painter, look = QPainter(self), self._look
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        painter.setBrush(look.colour("live") if self._live else Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(look.colour("live" if self._live else "faint"), 1.5))
        painter.drawRoundedRect(box, box.height() / 2, box.height() / 2)
        ink = look.colour("live ink" if self._live else "text")
        self._draw_switch(
            painter,
            QRectF(look.px(14), box.center().y() - look.px(8), look.px(15), look.px(15)),
            ink,
        )
        left = look.px(38)
        painter.setPen(ink)
        painter.setFont(look.font(16, 600))
        painter.drawText(box.adjusted(left, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, self._word)
        left += QFontMetrics(look.font(16, 600)).horizontalAdvance(self._word) + look.px(10)
        painter.setFont(look.font(13))
        painter.setPen(ink if self._live else look.colour("dim"))
        painter.drawText(
            box.adjusted(left, 0, 0, 0), Qt.AlignmentFlag.AlignVCenter, f"{self._note}  {POWER_KEY}"
        )

    def _draw_switch(self, painter: QPainter, box: QRectF, ink: object) -> None:
        pen = QPen(ink, 2)  # type: ignore[call-overload]
        pen.setCapStyle(Qt.PenCapStyle.RoundCap)
        painter.setPen(pen)
        painter.drawArc(box, 125 * 16, 290 * 16)
        painter.drawLine(box.center().x(), box.top() - 1, box.center().x(), box.center().y() - 1)  # type: ignore[call-overload]

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Ask for the state."""
        self.pressed.emit()


class Elided(Words):
    """One line that ends in an ellipsis where the room ends."""

    def minimumSizeHint(self) -> QSize:
        """Give way to everything else."""
        return QSize(20, super().minimumSizeHint().height())

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw what fits."""
        painter = QPainter(self)
        painter.setFont(self.font())
        painter.setPen(self.palette().windowText().color())
        text = self.fontMetrics().elidedText(self.text(), Qt.TextElideMode.ElideRight, self.width())
        painter.drawText(
            self.rect(),
            int(
                Qt.AlignmentFlag.AlignLeft
                | Qt.AlignmentFlag.AlignVCenter
                | Qt.AlignmentFlag.AlignVCenter
            ),
            text,
        )


class Header(QWidget):
    """The line at the top of a job."""

    power_pressed = Signal()

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._look = look
        self._job = Words(look, 20, 600, names=True)
        self._board = Elided(look, 16, 500)
        self._complaint = Elided(look, 16, 400, "dim")
        self.power = PowerPill(look)
        self.power.pressed.connect(self.power_pressed)
        self._time = Words(look, 14, 400, "dim")
        row = QHBoxLayout(self)
        row.setContentsMargins(24, 0, 24, 0)
        row.setSpacing(12)
        row.addWidget(self._job)
        row.addWidget(self._board)
        row.addWidget(self._complaint, 1)
        row.addWidget(self.power)
        row.addSpacing(14)
        row.addWidget(self._time)
        self._board.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Preferred)
        self._complaint.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        look.changed.connect(self._apply)
        self._apply()

    def _apply(self) -> None:
        self.setFixedHeight(max(60, self._look.px(50)))

    def show_job(self, case: Case, time: str) -> None:
        """Show a job's heading."""
        state = case.state
        self._job.setText(state.job)
        self._board.setText(case.profile.name)
        self._complaint.setText(f"“{state.complaint}”" if state.complaint else "no complaint yet")
        self._complaint.setToolTip("")
        self._time.setText(time)
        self.power.show_power(case)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the line below."""
        painter = QPainter(self)
        painter.setPen(self._look.colour("groove"))
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)

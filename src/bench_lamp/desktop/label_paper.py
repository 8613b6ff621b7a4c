"""The label of a board as PDF, of the size that the shop's labels have."""

from pathlib import Path

from PySide6.QtCore import QMarginsF, QRectF, QSizeF, Qt
from PySide6.QtGui import QFont, QPageSize, QPainter, QPdfWriter

from bench_lamp.desktop.look import FAMILY
from bench_lamp.report.label import Label

#: Dots of a millimetre; light modules around the code, and the margin of the label in mm.
DOTS, QUIET, MARGIN = 600 / 25.4, 4, 1.5


def write_label(label: Label, path: Path) -> None:
    """Write one label: the code at the left, the tag large beside it."""
    writer = QPdfWriter(str(path))
    writer.setResolution(600)
    writer.setPageSize(QPageSize(QSizeF(label.width, label.height), QPageSize.Unit.Millimeter))
    writer.setPageMargins(QMarginsF(0, 0, 0, 0))
    writer.setTitle(f"Label {label.tag}")
    painter = QPainter(writer)
    width, height = label.width * DOTS, label.height * DOTS
    margin = MARGIN * DOTS
    side = min(height - 2 * margin, width * 0.45)
    _draw_code(painter, label, QRectF(margin, (height - side) / 2, side, side))
    left = 2 * margin + side
    box = QRectF(left, margin, width - left - margin, height - 2 * margin)
    lines = ((label.tag, 0.34, True), (label.board, 0.2, False), (label.day, 0.18, False),
             (f"next check {label.next_check}", 0.18, False))  # fmt: skip
    y = box.top()
    for text, share, is_bold in lines:
        row = QRectF(box.left(), y, box.width(), box.height() * share)
        _draw_line(painter, text, row, is_bold=is_bold)
        y = row.bottom() + box.height() * 0.03
    painter.end()


def _draw_code(painter: QPainter, label: Label, box: QRectF) -> None:
    count = len(label.code) + 2 * QUIET
    step = box.width() / count
    for y, row in enumerate(label.code):
        for x, is_dark in enumerate(row):
            if is_dark:
                # A hair larger, so that no light line is left between two modules.
                cell = QRectF(
                    box.left() + (x + QUIET) * step,
                    box.top() + (y + QUIET) * step,
                    step + 1,
                    step + 1,
                )
                painter.fillRect(cell, Qt.GlobalColor.black)


def _draw_line(painter: QPainter, text: str, box: QRectF, *, is_bold: bool) -> None:
    """Draw a line as large as its room allows."""
    font = QFont(FAMILY)
    font.setWeight(QFont.Weight.DemiBold if is_bold else QFont.Weight.Normal)
    font.setPixelSize(max(int(box.height() * 0.86), 8))
    painter.setFont(font)
    wide = painter.fontMetrics().horizontalAdvance(text)
    if wide > box.width():
        font.setPixelSize(max(int(font.pixelSize() * box.width() / wide), 8))
        painter.setFont(font)
    flags = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter
    painter.drawText(box, int(flags), text)

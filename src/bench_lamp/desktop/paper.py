"""The job sheet as PDF: the report's HTML on A4, with the job at the foot of each page."""

from pathlib import Path

from PySide6.QtCore import QMarginsF, QRectF, QSizeF
from PySide6.QtGui import (
    QAbstractTextDocumentLayout,
    QFont,
    QPageLayout,
    QPageSize,
    QPainter,
    QPdfWriter,
    QTextDocument,
)

from bench_lamp.desktop.look import FAMILY


def write_pdf(html: str, title: str, path: Path) -> int:
    """Write a page-broken PDF with embedded fonts; return the number of pages.

    Whether it could be written is seen on the file: the writer does not say.
    """
    writer = QPdfWriter(str(path))
    writer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
    writer.setPageMargins(QMarginsF(16, 14, 16, 14), QPageLayout.Unit.Millimeter)
    writer.setResolution(300)
    writer.setTitle(title)
    painter = QPainter(writer)
    foot = 150
    page = QRectF(0, 0, writer.width(), writer.height() - foot)
    document = QTextDocument()
    document.setDefaultFont(QFont(FAMILY, 10))
    document.documentLayout().setPaintDevice(writer)
    document.setHtml(html)
    document.setPageSize(QSizeF(page.width(), page.height()))
    document.setDocumentMargin(0)
    pages = document.pageCount()
    for number in range(pages):
        if number:
            writer.newPage()
        painter.save()
        painter.translate(0, -number * page.height())
        context = QAbstractTextDocumentLayout.PaintContext()
        context.clip = QRectF(0, number * page.height(), page.width(), page.height())
        painter.setClipRect(context.clip)
        document.documentLayout().draw(painter, context)
        painter.restore()
        painter.setFont(QFont(FAMILY, 8))
        text = f"{title}   ·   page {number + 1} of {pages}"
        painter.drawText(QRectF(0, page.height() + foot / 2, page.width(), foot / 2), text)
    painter.end()
    return pages

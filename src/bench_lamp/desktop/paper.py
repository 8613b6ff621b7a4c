"""The job sheet as PDF: the report's HTML on A4, with the job at the foot of each page."""

from collections.abc import Mapping
from pathlib import Path

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QRectF, QSizeF, Qt, QUrl
from PySide6.QtGui import (
    QAbstractTextDocumentLayout,
    QFont,
    QImage,
    QImageWriter,
    QPagedPaintDevice,
    QPageLayout,
    QPageSize,
    QPainter,
    QPdfWriter,
    QTextDocument,
)
from PySide6.QtSvg import QSvgRenderer

from bench_lamp.desktop.look import FAMILY

#: Pixels of a drawing for each of its own.
FINE = 4
#: Of a PDF.
DOTS_PER_INCH = 300


def add_drawings(document: QTextDocument, drawings: Mapping[str, str], width: float) -> None:
    """Give a document its drawings: SVG by name, drawn so wide, in the document's pixels."""
    for name, svg in drawings.items():
        renderer = QSvgRenderer(svg.encode())
        size = renderer.defaultSize()
        scale = width / max(size.width(), 1)
        image = QImage(size * FINE, QImage.Format.Format_ARGB32)
        image.fill(0)
        painter = QPainter(image)
        renderer.render(painter)
        painter.end()
        shown = image.scaledToWidth(
            max(int(size.width() * scale), 1), Qt.TransformationMode.SmoothTransformation
        )
        document.addResource(QTextDocument.ResourceType.ImageResource.value, QUrl(name), shown)


def as_file(image: QImage, form: bytes, quality: int = -1) -> bytes:
    """Return a picture as the bytes of a file: `png`, `jpeg`."""
    raw = QByteArray()
    buffer = QBuffer(raw)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QImageWriter(buffer, QByteArray(form))
    writer.setQuality(quality)
    writer.write(image)
    buffer.close()
    return bytes(raw.data())


def write_pdf(
    html: str,
    title: str,
    path: Path,
    drawings: Mapping[str, str] | None = None,
    images: Mapping[str, QImage] | None = None,
) -> int:
    """Write a page-broken PDF with embedded fonts; return the number of pages.

    Drawings are SVG, and images pictures, by the name that the HTML gives them. Whether it could be written is seen on
    the file: the writer does not say.
    """
    writer = QPdfWriter(str(path))
    writer.setTitle(title)
    writer.setResolution(DOTS_PER_INCH)
    return draw_pages(writer, html, title, drawings or {}, images or {})


def draw_pages(
    device: QPagedPaintDevice,
    html: str,
    title: str,
    drawings: Mapping[str, str],
    images: Mapping[str, QImage],
) -> int:
    """Draw a paper on A4, page by page, with its title at the foot; return the number of pages."""
    device.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
    device.setPageMargins(QMarginsF(16, 14, 16, 14), QPageLayout.Unit.Millimeter)
    painter = QPainter(device)
    foot = device.logicalDpiY() / 2
    page = QRectF(0, 0, device.width(), device.height() - foot)
    document = _document(device, page, html, drawings, images)
    pages = document.pageCount()
    for number in range(pages):
        if number:
            device.newPage()
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


def _document(
    device: QPagedPaintDevice,
    page: QRectF,
    html: str,
    drawings: Mapping[str, str],
    images: Mapping[str, QImage],
) -> QTextDocument:
    """Return the pages of a paper, with its drawings and pictures."""
    document = QTextDocument()
    document.setDefaultFont(QFont(FAMILY, 10))
    document.documentLayout().setPaintDevice(device)
    add_drawings(document, drawings, page.width() * 0.96)
    for name, image in images.items():
        kind = QTextDocument.ResourceType.ImageResource.value
        document.addResource(kind, QUrl(name), image)
    document.setHtml(html)
    document.setPageSize(QSizeF(page.width(), page.height()))
    document.setDocumentMargin(0)
    return document

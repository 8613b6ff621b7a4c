"""The stage Hand-back: the sheet as it will be printed, live; F9 turns to the customer's version."""

from collections.abc import Mapping
from typing import Literal

from PySide6.QtCore import QRectF, QSizeF, Qt, QUrl
from PySide6.QtGui import QFont, QPainter, QPaintEvent, QPen, QPixmap, QTextDocument
from PySide6.QtWidgets import QWidget

from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.desktop.look import FAMILY, Look
from bench_lamp.desktop.paper import add_drawings
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.desktop.widgets.painted import Painted
from bench_lamp.report import Sheet, make_sheet
from bench_lamp.report.html import sheet_html

#: Width of the paper's text, in pixels at 100 %, and its margin.
TEXT_PX, MARGIN_PX = 680, 26
#: Photographs, as many and as wide as on the paper.
MOST_PHOTOS, PHOTO_PX = 12, 210


class SheetPaper(Painted):
    """The sheet on its paper."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, parent)
        self._document = QTextDocument()
        self._html = ""

    def show_sheet(
        self, sheet: Sheet, photos: Mapping[str, QPixmap], *, is_for_customer: bool
    ) -> None:
        """Show what will be on the paper, with the photographs that are known, by their sums."""
        names = {sha256: f"photo:{sha256}" for sha256 in photos}
        version: Literal["shop", "customer"] = "customer" if is_for_customer else "shop"
        html = sheet_html(
            sheet, medium="print", version=version, photos=names, photo_width=PHOTO_PX
        )
        if html == self._html:
            return
        self._html = html
        document = QTextDocument()
        document.setDefaultFont(QFont(FAMILY, 9))
        document.setDocumentMargin(0)
        if sheet.ladder:
            add_drawings(document, {"ladder.svg": sheet.ladder}, TEXT_PX)
        for sha256, photo in photos.items():
            kind = QTextDocument.ResourceType.ImageResource.value
            document.addResource(kind, QUrl(names[sha256]), photo)
        document.setHtml(html)
        document.setPageSize(QSizeF(TEXT_PX, -1))
        self._document = document
        self.setAccessibleName(document.toPlainText())
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """Draw the paper and what stands on it, as large as the room allows."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        scale = (self.width() - 24) / (TEXT_PX + 2 * MARGIN_PX)
        height = (self._document.size().height() + 2 * MARGIN_PX) * scale
        paper = QRectF(8, 4, self.width() - 24, height)
        painter.setPen(QPen(self.look.colour("rule"), 1))
        painter.setBrush(self.look.colour("paper"))
        painter.drawRoundedRect(paper, 4, 4)
        painter.save()
        painter.translate(paper.left() + MARGIN_PX * scale, paper.top() + MARGIN_PX * scale)
        painter.scale(scale, scale)
        painter.setPen(Qt.GlobalColor.black)
        self._document.drawContents(painter)
        painter.restore()
        # The card alone is lit: the sheet lies beside the lamp.
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.look.colour("bench", 44))
        painter.drawRoundedRect(paper, 4, 4)
        self.keep_height(height + 16)


class HandbackSurface(Headed):
    """The surface of the stage Hand-back."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(look, "Hand-back", parent)
        self.picture = SheetPaper(look)
        self.hold(self.picture)
        self._is_for_customer = False
        self._case: Case | None = None

    def show_case(self, case: Case, hand: Hand) -> None:
        """Show the sheet."""
        self._case = case
        version = "the customer’s version" if self._is_for_customer else "the shop’s version"
        self.subtitle.setText(f"as it will be printed: {version}  ·  F9 the other")
        sheet = make_sheet(case)
        found = {s: self.small(s, suffix) for s, suffix, _ in sheet.photos[:MOST_PHOTOS]}
        photos = {sha256: small for sha256, small in found.items() if small is not None}
        self.picture.show_sheet(sheet, photos, is_for_customer=self._is_for_customer)

    def turn_over(self) -> None:
        """See the other version."""
        self._is_for_customer = not self._is_for_customer
        if self._case is not None:
            self.show_case(self._case, Hand())

"""Opens the large view over the window, and keeps it up to date."""

from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING, Protocol

from PySide6.QtCore import QObject
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from bench_lamp.cards.card import Card
from bench_lamp.case.case import Case
from bench_lamp.checks.board_map import LitMap
from bench_lamp.desktop.hands_free import HandsFree
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.session import Session

if TYPE_CHECKING:
    from bench_lamp.desktop.decoding import Pictures
    from bench_lamp.desktop.widgets.large_sheet import LargeSheet


class HasMaps(Protocol):
    """The maps of the page under the large view."""

    @property
    def pictures(self) -> "Pictures":
        """The decoded pictures."""
        ...

    def lit(self, case: Case, card: Card) -> LitMap | None:
        """Return the map of a card."""
        ...


class Under(Protocol):
    """What the large view needs of the page that it lies over, which is a widget."""

    maps: HasMaps

    def take_key(self, event: QKeyEvent) -> None:
        """Use a key that the large view has no use for."""
        ...


class LargeDesk(QObject):
    """The one large view of the window."""

    def __init__(
        self,
        widget: QWidget,
        page: Under,
        look: Look,
        session: Session,
        hands: HandsFree,
        back: Callable[[], None],
    ) -> None:
        super().__init__(widget)
        self._widget, self._back = widget, back
        self._page, self._look, self._session, self._hands = page, look, session, hands
        hands.changed.connect(self.refresh)
        session.changed.connect(self.refresh)

    @cached_property
    def sheet(self) -> "LargeSheet":
        """The sheet, made when it is first opened."""
        from bench_lamp.desktop.widgets.large_sheet import LargeSheet

        made = LargeSheet(self._look, self._page.maps.pictures, self._widget)
        made.closed.connect(self._back)
        made.passed_on.connect(self._page.take_key)
        return made

    @property
    def is_open(self) -> bool:
        """Whether it is over the page."""
        return "sheet" in self.__dict__ and self.sheet.isVisible()

    def toggle(self) -> None:
        """Open it, or put it away."""
        if self.is_open:
            self.sheet.hide()
            self._back()
        elif self._session.job:
            self.sheet.setGeometry(self._widget.rect())
            self.sheet.show()
            self.sheet.raise_()
            self.sheet.setFocus()
            self.refresh()

    def refresh(self) -> None:
        """Show what is lit and what the meter shows now."""
        if not self.is_open:
            return
        case, card = self._session.case, self._session.card()
        if case is None or card is None:
            self.sheet.hide()
            return
        from bench_lamp.views.large import large_view

        self.sheet.setGeometry(self._widget.rect())
        view = large_view(case, card, self._session.stage, self._hands.live)
        self.sheet.show_view(view, self._page.maps.lit(case, card))

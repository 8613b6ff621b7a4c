"""What stands on the lit card, line by line; lines of the same kind are filled anew, not made anew."""

from collections.abc import Callable, Iterator
from typing import Any

from msgspec import Struct
from PySide6.QtCore import Signal
from PySide6.QtGui import QPalette
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from bench_lamp.cards.card import Asked, Card
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.card_parts import CautionRow, ChoiceRow, LeadRow, OutcomeRow
from bench_lamp.desktop.widgets.entry_line import EntryLine
from bench_lamp.desktop.widgets.words import VerdictLine, Words


class _Style(Struct, frozen=True):
    """How a line of words looks."""

    size: float
    weight: int
    token: str = "ink"
    name: str = ""
    slashes_zero: bool = False


_TITLE = _Style(24, 600, name="card_title", slashes_zero=True)
_HEADING = _Style(14, 600, "ink dim")
_TEXT = _Style(14, 400)
_NOTE = _Style(13, 400, "ink dim")
#: So many cautions stay in sight while the rest scrolls; more would leave no room for the rest.
MOST_HELD = 3
#: Kind and style of a line, and what it says. The kinds alone decide what can be refilled.
_Item = tuple[tuple[str, object], Any]


def top_items(card: Card, _: Asked | None) -> Iterator[_Item]:
    """Yield what stays in sight whatever is scrolled: what to do, and what can hurt."""
    yield ("head", None), (card.kind.upper(), card.effort)
    yield ("words", _TITLE), card.title
    if len(card.cautions) <= MOST_HELD:
        yield from ((("caution", None), text) for text in card.cautions)


def body_items(card: Card, asked: Asked | None) -> Iterator[_Item]:
    """Yield leads, the answer and its reasons; a question in place leaves only the answer."""
    if len(card.cautions) > MOST_HELD:
        yield from ((("caution", None), text) for text in card.cautions)
    if asked is None:
        yield from _leads(card)
    if card.entry is not None:
        yield ("entry", card.entry.kind), card.entry
        yield ("verdict", None), None
    if asked is not None:
        yield ("caution", None), asked.question
    for choice in asked.choices if asked else card.choices:
        yield ("choice", False), choice
    if card.entry is None:
        yield ("verdict", None), None
    if asked is None:
        yield from _meanings(card)


def _leads(card: Card) -> Iterator[_Item]:
    yield from ((("lead", lead.kind), lead) for lead in card.leads)
    if card.expect:
        yield ("rule", None), None
        yield ("expect", None), card.expect
        yield from ((("words", _NOTE), text) for text in card.expect_notes)


def _meanings(card: Card) -> Iterator[_Item]:
    if card.outcomes:
        yield ("rule", None), None
        yield ("words", _HEADING), "What it will mean"
        yield from ((("outcome", None), outcome) for outcome in card.outcomes)
    yield from _reasons(card)


def _reasons(card: Card) -> Iterator[_Item]:
    if card.why and card.why_heading:
        yield ("rule", None), None
        yield ("words", _HEADING), card.why_heading
    yield from ((("words", _TEXT if card.why_heading else _NOTE), text) for text in card.why)
    if card.runners:
        if card.why_heading:
            yield ("rule", None), None
        yield from ((("choice", True), choice) for choice in card.runners)


class CardSheet(QWidget):
    """Lines of one card. Entry and verdict line are lent to it and outlive it."""

    chosen = Signal(object)

    def __init__(
        self,
        look: Look,
        entry: EntryLine,
        verdict: VerdictLine,
        items: Callable[[Card, Asked | None], Iterator[_Item]] = body_items,
    ) -> None:
        super().__init__()
        self._look, self._entry, self._verdict, self._items = look, entry, verdict, items
        self._kinds: list[tuple[str, object]] = []
        self._widgets: list[QWidget] = []
        self._body = QVBoxLayout(self)
        self._body.setContentsMargins(0, 0, 6, 0)
        self._body.setSpacing(5)

    def can_show(self, card: Card, asked: Asked | None) -> bool:
        """Whether the card has the same kinds of lines as stand here."""
        return [kind for kind, _ in self._items(card, asked)] == self._kinds

    def show_card(self, card: Card, asked: Asked | None) -> None:
        """Fill the lines; the first time, make them."""
        items = list(self._items(card, asked))
        if not self._kinds:
            self._kinds = [kind for kind, _ in items]
            self._widgets = [self._made(*kind) for kind in self._kinds]
            for widget in self._widgets:
                self._body.addWidget(widget)
                widget.show()
            if self._items is body_items:
                self._body.addStretch(1)
        for widget, (_, value) in zip(self._widgets, items, strict=True):
            self._fill(widget, value)
        if self._items is body_items:
            self._verdict.setVisible(card.entry is not None or bool(self._verdict.text()))

    def choices(self) -> list[ChoiceRow]:
        """Return the rows that answer, from the top."""
        return [w for w in self._widgets if isinstance(w, ChoiceRow)]

    def _made(self, kind: str, style: object) -> QWidget:
        if isinstance(style, _Style):
            words = Words(
                self._look,
                style.size,
                style.weight,
                style.token,
                wrap=True,
                names=style.slashes_zero,
            )
            words.setObjectName(style.name)
            return words
        if kind == "choice":
            row = ChoiceRow(self._look, is_small=bool(style))
            row.chosen.connect(self.chosen)
            return row
        if kind in {"entry", "verdict"}:
            return self._entry if kind == "entry" else self._verdict
        return _MAKERS[kind](self._look)

    def _fill(self, widget: QWidget, value: Any) -> None:
        if isinstance(widget, Words):
            widget.setText(value)
        elif isinstance(widget, EntryLine):
            widget.show_entry(value)
        elif isinstance(widget, (CautionRow, LeadRow, ChoiceRow, OutcomeRow, _Head, _Expect)):
            widget.fill(value)


class _Head(QWidget):
    """What kind of step it is, and how long it takes."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self._kind, self._effort = Words(look, 12, 600, "ink dim"), Words(look, 13, 400, "ink dim")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self._kind, 1)
        row.addWidget(self._effort)

    def fill(self, value: tuple[str, str]) -> None:
        """Show kind and effort."""
        self._kind.setText(value[0])
        self._effort.setText(value[1])


class _Expect(QWidget):
    """The band to expect, large."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        name = Words(look, 14, 400, "ink dim")
        name.setText("expect")
        name.setFixedWidth(look.px(66))
        self._band = Words(look, 20, 600, "ink")
        self._band.setObjectName("expect")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(name)
        row.addWidget(self._band, 1)

    def fill(self, value: str) -> None:
        """Show the band."""
        self._band.setText(value)


class _Rule(QWidget):
    """A thin line across the paper."""

    def __init__(self, look: Look) -> None:
        super().__init__()
        self.setFixedHeight(1)
        palette = QPalette()
        palette.setColor(QPalette.ColorRole.Window, look.colour("rule"))
        self.setPalette(palette)
        self.setAutoFillBackground(True)


_MAKERS: dict[str, Callable[[Look], QWidget]] = {
    "head": _Head,
    "caution": CautionRow,
    "lead": LeadRow,
    "outcome": OutcomeRow,
    "rule": _Rule,
    "expect": _Expect,
}

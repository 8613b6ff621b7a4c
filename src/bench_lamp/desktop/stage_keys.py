"""Keys that no card takes: to and fro by arrows and pages, and taps in time with a lamp."""

import time

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QKeyEvent

from bench_lamp.case.case import Case
from bench_lamp.case.hand import Pick
from bench_lamp.desktop.session import Session
from bench_lamp.views.guard import stage_of

_ARROWS = {
    Qt.Key.Key_Up: (-1, 0),
    Qt.Key.Key_Down: (1, 0),
    Qt.Key.Key_Left: (0, -1),
    Qt.Key.Key_Right: (0, 1),
}
_PAGES = {Qt.Key.Key_PageUp: -1, Qt.Key.Key_PageDown: 1}


class StageKeys:
    """The keys of the open stage, as its record has them."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self._pressed: float | None = None

    def take(self, event: QKeyEvent) -> bool:
        """Use a key, and say whether it was one of these."""
        case = self._session.case
        if case is None or self._session.asks_power:
            return False
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Space:
            return self._tap(event)
        if event.type() != QEvent.Type.KeyPress:
            return False
        stage, hand = stage_of(self._session.stage), self._session.hand
        if key in _PAGES:
            return self._go(stage.turn(case, hand, _PAGES[key]))
        if key not in _ARROWS:
            return False
        down, along = _ARROWS[key]
        if along and hand.replay is not None:
            self._session.replay_at(hand.replay + along)
            return True
        return self._go(stage.beside(case, hand, down, along)) or self._through(case, down)

    def _go(self, pick: Pick | None) -> bool:
        if pick is not None:
            self._session.look_at(*pick)
        return pick is not None

    def _through(self, case: Case, step: int) -> bool:
        """Go through what Up and Down go through on this stage; False where there is nothing."""
        order = stage_of(self._session.stage).order(case, self._session.hand)
        if not step or not order.names:
            return False
        names, at = order.names, order.current
        index = names.index(at) if at in names else -step if step > 0 else 0
        self._session.look_at(names[min(max(index + step, 0), len(names) - 1)])
        return True

    def _tap(self, event: QKeyEvent) -> bool:
        card = self._session.card()
        if card is None or card.entry is None or not card.entry.taps:
            return False
        if event.isAutoRepeat():
            return True
        if event.type() == QEvent.Type.KeyPress:
            self._pressed = time.monotonic()
        elif self._pressed is not None:
            self._session.tap_in_time(self._pressed, time.monotonic())
            self._pressed = None
        return True

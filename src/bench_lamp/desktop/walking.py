"""Moving with keys: which thing Up and Down go to, cells by arrow, taps in time with a lamp."""

import time

from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QKeyEvent

from bench_lamp.desktop.session import Session
from bench_lamp.journal.events import Stage
from bench_lamp.plan import prove, rails
from bench_lamp.plan.selftest import items as selftest
from bench_lamp.plan.situation import Situation

_ARROWS = {
    Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0), Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1),
}  # fmt: skip
_PAGES = {Qt.Key.Key_PageUp: -1, Qt.Key.Key_PageDown: 1}


def order(situation: Situation, stage: Stage) -> tuple[list[str], str]:
    """Return what Up and Down go through on a stage, and where they are now."""
    if stage in {"rails", "prove"}:
        point = (prove.next_to_prove if stage == "prove" else rails.next_point)(situation)
        return [p.id for p in situation.profile.test_points], point.id if point else ""
    if stage == "trace":
        from bench_lamp.plan.trace.suspects import suspect_rows

        rows = suspect_rows(situation)
        keys = [s.key for s in rows]
        at = next((s.key for s in rows if situation.focus in (s.key, s.part)), "")
        return keys, at
    if stage == "cold":
        from bench_lamp.plan.cold.items import cold_items, current_item

        item = current_item(situation)
        return [i.id for i in cold_items(situation)], item.id if item else ""
    if stage == "intake":
        from bench_lamp.plan.intake import questions

        return list(questions(situation)), situation.focus
    return [], ""


class SelftestKeys:
    """The keys of the stage Self-test that no card takes."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self._pressed: float | None = None

    def take(self, event: QKeyEvent) -> bool:
        """Use a key, and say whether it was one of these."""
        situation = self._session.situation
        if self._session.stage != "selftest" or situation is None or self._session.asks_power:
            return False
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Space:
            return self._tap(event)
        if event.type() != QEvent.Type.KeyPress:
            return False
        if key in _PAGES:
            self._turn(situation, _PAGES[key])
            return True
        return key in _ARROWS and self._walk(situation, *_ARROWS[key])

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

    def _turn(self, situation: Situation, step: int) -> None:
        """Go to the test before or after."""
        found = [i.id for i in selftest.items(situation)]
        here = selftest.current_item(situation)
        if found:
            index = found.index(here.id) + step if here else 0
            self._session.look_at(found[min(max(index, 0), len(found) - 1)])

    def _walk(self, situation: Situation, down: int, along: int) -> bool:
        """Go to the cell beside; False where a test has none."""
        item = selftest.current_item(situation)
        if item is None or not item.cells:
            return False
        from bench_lamp.plan.selftest.walk import beside

        here = selftest.focus_of(situation)[1] or selftest.current_cell(situation, item)
        self._session.look_at(f"{item.id}@{beside(situation, item, here, down, along)}")
        return True

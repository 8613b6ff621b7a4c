"""A foot switch that sends a key: once takes the reading, twice takes the last one back, long holds."""

import time
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QCoreApplication, QEvent, QObject, QTimer
from PySide6.QtGui import QKeyEvent, QKeySequence

from bench_lamp.errors import BenchLampError

#: Longest pause between two presses that are one, in milliseconds; and from when on one is long, in seconds.
TWICE_MS, LONG_S = 400, 0.7


def key_named(name: str) -> int:
    """Return a key by its name, as `F9` or `PgDown`; raise `BenchLampError` for none, or for several."""
    found: Any = QKeySequence.fromString(name, QKeySequence.SequenceFormat.PortableText)
    if found.count() != 1 or not found[0].key().value or found[0].keyboardModifiers().value:
        raise BenchLampError(
            f"“{name[:20]}” is no key", hint="The key that the pedal sends: pedal F9, pedal PgDown"
        )
    return int(found[0].key().value)


class Pedal(QObject):
    """Watches for the pedal's key, whatever has the keyboard; nothing is watched while there is none."""

    def __init__(
        self,
        *,
        once: Callable[[], object],
        twice: Callable[[], object],
        held: Callable[[], object],
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self._once, self._twice, self._held = once, twice, held
        #: Name of its key; empty for no pedal.
        self.name = ""
        self._key, self._began = 0, 0.0
        self._timer = QTimer(self, singleShot=True, interval=TWICE_MS)
        self._timer.timeout.connect(self._on_once)

    def use(self, name: str) -> None:
        """Take a key for the pedal's; `off` or nothing for none. Raises `BenchLampError` for no key."""
        wanted = "" if name.strip().lower() in {"", "off"} else name.strip()
        key = key_named(wanted) if wanted else 0
        application = QCoreApplication.instance()
        if application is not None:
            application.removeEventFilter(self)
            if key:
                application.installEventFilter(self)
        self.name, self._key = wanted, key

    def _on_once(self) -> None:
        self._once()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Take the pedal's key away from whoever would get it."""
        kind = event.type()
        if kind not in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease, QEvent.Type.ShortcutOverride):
            return False
        if not isinstance(event, QKeyEvent) or event.key() != self._key:
            return False
        if kind == QEvent.Type.ShortcutOverride:
            # No shortcut of that key: it is the pedal.
            event.accept()
            return True
        if not event.isAutoRepeat() and watched.isWindowType():
            self._take(is_down=kind == QEvent.Type.KeyPress)
        return watched.isWindowType()

    def _take(self, *, is_down: bool) -> None:
        if is_down:
            self._began = time.monotonic()
        elif time.monotonic() - self._began >= LONG_S:
            self._timer.stop()
            self._held()
        elif self._timer.isActive():
            self._timer.stop()
            self._twice()
        else:
            self._timer.start()

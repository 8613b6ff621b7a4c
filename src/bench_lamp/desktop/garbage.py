"""Collecting garbage in the window's own thread, and in no other."""

import gc

from PySide6.QtCore import QObject, QTimer

#: How often it is looked whether there is enough to collect, in milliseconds.
LOOK_MS = 200
#: New objects between two collections of the youngest: a job's states are made and dropped by
#: the thousand, so it is done less often than usual, in larger lots.
ENOUGH = 20_000
#: Collections of one generation before the next older one is collected with it.
BEFORE_OLDER = 20


class Collector(QObject):
    """Collects what Python would collect by itself in whichever thread makes the next object.

    A widget that ends up in a cycle would then be destroyed by the reasoning's thread while the
    window paints it, which ends the program.
    """

    def __init__(self) -> None:
        super().__init__()
        self._timer = QTimer(self)
        self._timer.setInterval(LOOK_MS)
        self._timer.timeout.connect(self.look)

    def start(self) -> None:
        """Collect here from now on; Python itself no longer does."""
        gc.disable()
        self._timer.start()

    def stop(self) -> None:
        """Leave it to Python again: the other threads have ended."""
        self._timer.stop()
        gc.enable()

    def look(self) -> None:
        """Collect the oldest generation that has enough."""
        youngest, middle, oldest = gc.get_count()
        if youngest > ENOUGH:
            generation = 0 if middle <= BEFORE_OLDER else 1 if oldest <= BEFORE_OLDER else 2
            gc.collect(generation)

"""What the first paint did without, loaded afterwards one step at a time.

A stage that is opened for the first time must not wait for its modules: they are loaded while
the technician reads the first card. Leaves come before what is built on them, so that no step
holds up a key.
"""

import gc
from collections.abc import Iterator

from PySide6.QtCore import QObject, QTimer

from bench_lamp.desktop.surfaces import SURFACES
from bench_lamp.stages import STAGES

#: Pause between two steps, in milliseconds: keys and painting come first.
PAUSE_MS = 12


def late_imports() -> Iterator[None]:
    """Import what the stages, pages and workers need, a little at each step."""
    yield from _checks_and_reasoning()
    yield from _stages()
    yield from _desktop()


def _checks_and_reasoning() -> Iterator[None]:
    import bench_lamp.checks.charging
    import bench_lamp.checks.junction

    yield
    import bench_lamp.case.cold_list

    yield
    import bench_lamp.case.gates

    yield
    import bench_lamp.reason.power.tests
    import bench_lamp.reason.values.insight

    yield
    import bench_lamp.case.facts
    import bench_lamp.reason.fuse_map.suggest

    yield
    import bench_lamp.cards.outcome_words  # noqa: F401

    yield


def _stages() -> Iterator[None]:
    import bench_lamp.cards.instrument_logic
    import bench_lamp.cards.power

    yield
    for stage in STAGES:
        yield from stage.load()
    import bench_lamp.views.find
    import bench_lamp.views.tape_words  # noqa: F401

    yield


def _desktop() -> Iterator[None]:
    import bench_lamp.desktop.rules_page
    import bench_lamp.desktop.shelf
    import bench_lamp.desktop.widgets.find_box
    import bench_lamp.desktop.workers.file_reader  # noqa: F401

    yield
    for load in SURFACES.values():
        load()
        yield


class LateLoading(QObject):
    """Takes one step at each tick, until all is there or the window is closed."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._steps = late_imports()
        self.is_done = False
        self._timer = QTimer(self)
        self._timer.setInterval(PAUSE_MS)
        self._timer.timeout.connect(self._load)
        self._timer.start()

    def stop(self) -> None:
        """Load no more."""
        self._timer.stop()

    def _load(self) -> None:
        if next(self._steps, self) is self:
            self.stop()
            self.is_done = True
            # What stays for the whole run is not walked through again at each collection: that
            # would hold up a key now and then.
            gc.freeze()

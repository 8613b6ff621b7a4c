"""What the first paint did without, loaded afterwards one module at a time.

A stage that is opened for the first time must not wait for its modules: they are loaded while
the technician reads the first card. Leaves come before what is built on them, so that no step
holds up a key.
"""

import gc
from importlib import import_module

from PySide6.QtCore import QObject, QTimer

#: Pause between two modules, in milliseconds: keys and painting come first.
PAUSE_MS = 12
_PLAN = (
    "checks.junction", "checks.charging", "plan.cold.verdicts", "plan.cold.items", "plan.gates",
    "plan.intake", "plan.trace.outcome_words", "plan.trace.live", "reason.clues", "reason.menu", "reason.suggest",
    "plan.insight", "plan.trace.fuse_map", "plan.trace.mending", "plan.measuring", "plan.selftest.walk_cards",
    "plan.selftest.code_cards", "plan.selftest.cards", "plan.selftest.answers", "plan.trace.did", "plan.trace.cards",
    "plan.selftest.pictures", "plan.selftest.tape_words", "plan.trace.suspects_view", "plan.trace.tree", "plan.swap",
    "plan.cold.cards", "plan.cold.answers", "plan.cold.picture", "plan.wake.cards", "plan.handback", "plan.power",
    "plan.find",
)  # fmt: skip
_DESKTOP = (
    "find_box", "trace_surface", "selftest_surface", "cold_surface", "wake_surface", "lists_surface",
    "intake_surface", "shelf", "rules_page",
)  # fmt: skip
MODULES = (*_PLAN, *(f"desktop.{name}" for name in _DESKTOP))


class WarmUp(QObject):
    """Loads the modules, one at each tick, until all are there or the window is closed."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._left = list(MODULES)
        self._timer = QTimer(self)
        self._timer.setInterval(PAUSE_MS)
        self._timer.timeout.connect(self._load)
        self._timer.start()

    @property
    def is_done(self) -> bool:
        """Whether everything is there."""
        return not self._left

    def stop(self) -> None:
        """Load no more."""
        self._timer.stop()

    def _load(self) -> None:
        if self._left:
            import_module(f"bench_lamp.{self._left.pop(0)}")
        else:
            self.stop()
            # What stays for the whole run is not walked through again at each collection: that
            # would hold up a key now and then.
            gc.freeze()

"""The reasoning in its own thread: NumPy, the dictionary and the odds never hold up the window."""

import logging
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal, Slot

from bench_lamp.board import Profile

if TYPE_CHECKING:
    from bench_lamp.reason.engines import Engines
    from bench_lamp.reason.values.clues import Facts

log = logging.getLogger(__name__)


class ReasoningWorker(QObject):
    """Lives in the reasoning's thread; talk to it through signals, `wanted` and `stopped_at`."""

    #: Token of the request, and the `Insight`; None when there is nothing to reason with.
    reasoned = Signal(int, object)
    #: Token of the request, and how the odds moved: a tuple of `Moment`.
    recalled = Signal(int, object)
    #: Token of the request, and what went wrong.
    failed = Signal(int, str)
    #: Share of the dictionary that is done.
    progressed = Signal(float)

    def __init__(self, cache: Path | None) -> None:
        super().__init__()
        self._cache = cache
        self._engines: Engines | None = None
        #: Token of the request that still matters; older ones are passed over. An int is
        #: written whole, so both threads may touch it.
        self.wanted = 0
        #: Set by the window: no request up to this one is wanted, begun or not.
        self.stopped_at = -1

    def forget(self) -> None:
        """Let go of what was worked out, once the thread has ended: a dictionary has 20 MB and more."""
        self._engines = None

    @Slot(object)
    def reason(self, request: "tuple[int, Profile, Facts]") -> None:
        """Weigh the facts; exactly one of `reasoned` and `failed` follows.

        A request that is stopped, or behind a newer one, has no answer: nobody waits for it.
        """
        token, profile, facts = request
        try:
            self._reason(token, profile, facts)
        except Exception as exc:  # whatever goes wrong, its asker gets an answer
            log.exception("the reasoning failed")
            self.failed.emit(token, f"{type(exc).__name__}: {exc}")

    def _reason(self, token: int, profile: Profile, facts: "Facts") -> None:
        if not self._is_wanted(token):
            return
        # NumPy and SciPy come in here for what the window works out by itself, too.
        import bench_lamp.trim.signs
        import bench_lamp.trim.steady  # noqa: F401
        from bench_lamp.reason.engines import Engines
        from bench_lamp.reason.insight_of import history, weigh

        if self._engines is None:
            self._engines = Engines(self._cache)

        def go_on(share: float) -> bool:
            self.progressed.emit(share)
            return self._is_wanted(token)

        found = weigh(self._engines, profile, facts, progress=go_on)
        if not self._is_wanted(token):
            return
        self.reasoned.emit(token, found)
        if found is not None:
            moments = history(self._engines, profile, facts, go_on=lambda: self._is_wanted(token))
            self.recalled.emit(token, moments)

    def _is_wanted(self, token: int) -> bool:
        return token == self.wanted and token > self.stopped_at

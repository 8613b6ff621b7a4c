"""The reasoning in its own thread: NumPy, the dictionary and the odds never hold up the window."""

import json
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal, Slot

from bench_lamp.board import Profile
from bench_lamp.units.plain import to_plain

if TYPE_CHECKING:
    from bench_lamp.reason.clues import Facts
    from bench_lamp.reason.engine import Engine
    from bench_lamp.reason.logic_engine import LogicEngine

#: Engines that are kept ready, one for each kind of board on the bench.
KEPT = 4


class Thinker(QObject):
    """Lives in the thinking thread; talk to it through signals, and set `wanted` to its last job."""

    #: Token of the request, and the `Insight`; None when it was stopped or there is no tree.
    thought = Signal(int, object)
    #: Token of the request, and how the odds moved: a tuple of `Moment`.
    recalled = Signal(int, object)
    #: Share of the dictionary that is done.
    progressed = Signal(float)

    def __init__(self, cache: Path | None) -> None:
        super().__init__()
        self._cache = cache
        self._engines: dict[str, Engine] = {}
        self._logics: LogicEngine | None = None
        #: Token of the request that still matters; older ones are passed over. An int is
        #: written whole, so both threads may touch it.
        self.wanted = 0
        #: Set by the window to end a long calculation.
        self.is_stopped = False

    @Slot(object)
    def think(self, request: "tuple[int, Profile, Facts]") -> None:
        """Weigh the facts; exactly one `thought` follows unless a newer request came."""
        token, profile, facts = request
        if token != self.wanted:
            return
        engine, logic = self._engine(profile), self._logic(profile) if facts.logic else None
        from bench_lamp.plan.trace.thinking import history, think

        self.thought.emit(token, think(engine, profile, facts, logic))
        if engine is None and logic is None:
            return
        moments = history(engine, profile, facts, logic, go_on=lambda: token == self.wanted)
        if moments:
            self.recalled.emit(token, moments)

    def _logic(self, profile: Profile) -> "LogicEngine | None":
        if self._logics is None or self._logics.profile != profile:
            from bench_lamp.reason.logic_engine import LogicEngine

            self._logics = LogicEngine.of(profile)
        return self._logics

    def _engine(self, profile: Profile) -> "Engine | None":
        seconds = {p.net: p.seconds for p in profile.test_points}
        key = json.dumps([to_plain(profile.power), seconds], sort_keys=True)
        if key not in self._engines:
            made = self._made(profile, seconds)
            if made is None:
                return None
            if len(self._engines) >= KEPT:
                self._engines.clear()
            self._engines[key] = made
        return self._engines[key]

    def _made(self, profile: Profile, seconds: dict[str, float]) -> "Engine | None":
        from bench_lamp.circuit import compile_tree
        from bench_lamp.reason.engine import Engine
        from bench_lamp.reason.kept import kept_dictionary

        tree = compile_tree(profile)
        if tree is None:
            return None
        self.is_stopped = False
        dictionary = kept_dictionary(tree, self._cache, progress=self._on_progress)
        return Engine.of(dictionary, seconds) if dictionary is not None else None

    def _on_progress(self, share: float) -> bool:
        self.progressed.emit(share)
        return not self.is_stopped

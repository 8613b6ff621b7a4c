"""The engines that are kept ready: one pair for each kind of board on the bench."""

from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

from bench_lamp.board import Profile
from bench_lamp.circuit import compile_tree
from bench_lamp.reason.insight_of import history, insight_of
from bench_lamp.reason.logic.engine import LogicEngine
from bench_lamp.reason.power.dictionary_cache import cached_dictionary
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.values.clues import Facts
from bench_lamp.reason.values.insight import Insight, Moment

#: Kinds of board whose engines are kept.
MOST_KEPT = 4


@dataclass(slots=True)
class _Pair:
    profile: Profile
    power: Engine | None
    logic: LogicEngine | None = None


@dataclass(slots=True)
class Engines:
    """Makes the engines of a profile when they are first asked for.

    What an engine remembers comes from the whole profile (power tree, gates, chips, names), so
    only an equal profile shares it.
    """

    #: Folder of the dictionaries on disk; None for none.
    cache: Path | None = None
    _pairs: list[_Pair] = field(default_factory=list)

    def insight(
        self, profile: Profile, facts: Facts, *, progress: Callable[[float], bool]
    ) -> Insight | None:
        """Return what the facts come to; None without a model, or when `progress` says stop."""
        pair = self._pair(profile, progress)
        return insight_of(pair.power, profile, facts, self._logic(pair, facts)) if pair else None

    def history(
        self, profile: Profile, facts: Facts, *, go_on: Callable[[], bool]
    ) -> tuple[Moment, ...]:
        """Return how the odds moved, clue by clue; empty when told to stop."""
        pair = self._pair(profile, lambda share: go_on())
        if pair is None:
            return ()
        return history(pair.power, profile, facts, self._logic(pair, facts), go_on=go_on)

    def _logic(self, pair: _Pair, facts: Facts) -> LogicEngine | None:
        """Return the logic's engine, once there is anything for it to weigh."""
        if facts.logic and pair.logic is None:
            pair.logic = LogicEngine.of(pair.profile)
        return pair.logic if facts.logic else None

    def _pair(self, profile: Profile, progress: Callable[[float], bool]) -> _Pair | None:
        found = next((p for p in self._pairs if p.profile is profile or p.profile == profile), None)
        if found is not None:
            return found
        power, tree = None, compile_tree(profile)
        if tree is not None:
            dictionary = cached_dictionary(tree, self.cache, progress=progress)
            if dictionary is None:
                return None
            power = Engine.of(dictionary, {p.net: p.seconds for p in profile.test_points})
        if len(self._pairs) >= MOST_KEPT:
            self._pairs.clear()
        self._pairs.append(_Pair(profile, power))
        return self._pairs[-1]

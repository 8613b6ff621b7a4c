"""The engines that are kept ready: one pair for each kind of board on the bench."""

from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

from bench_lamp.board import Profile
from bench_lamp.circuit import compile_tree
from bench_lamp.reason.logic.engine import LogicEngine
from bench_lamp.reason.power.dictionary_cache import cached_dictionary
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.values.clues import Facts

#: Kinds of board whose engines are kept.
MOST_KEPT = 4


@dataclass(slots=True)
class Pair:
    """The engines of one profile: of its power tree, and of its logic once that has told something."""

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
    _pairs: list[Pair] = field(default_factory=list)

    def of(self, profile: Profile, facts: Facts, progress: Callable[[float], bool]) -> Pair | None:
        """Return the engines that the facts need; None when `progress` says stop."""
        pair = self._pair(profile, progress)
        if pair is not None and facts.logic and pair.logic is None:
            pair.logic = LogicEngine.of(profile)
        return pair

    def _pair(self, profile: Profile, progress: Callable[[float], bool]) -> Pair | None:
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
        self._pairs.append(Pair(profile, power))
        return self._pairs[-1]

"""Which repairs cured: something that was bad was good after it, before anything else was touched."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from msgspec import Struct

from bench_lamp.board import Profile
from bench_lamp.board.blocks import Pin
from bench_lamp.journal import JobState
from bench_lamp.journal.events import MENDING, ActionDone, PartReplaced, ReadingTaken
from bench_lamp.journal.memory_events import FaultCalled
from bench_lamp.units import Band


class Repair(Struct, frozen=True, kw_only=True):
    """One part that was replaced or put right."""

    part: str
    #: What kind of thing it is: `fuse`, `pin`, `reservoir`; `other` where the profile does not say.
    family: str
    #: `replaced`, `reseated`, `cleaned` and so on.
    word: str
    #: Something that was bad was good afterwards, before anything else was touched.
    cured: bool
    #: Odds that the reasoning gave it then, and readings that it took; 0 where nothing was called.
    odds: float = 0.0
    tests: int = 0


@dataclass(slots=True)
class _Walk:
    """Goes through a job, and closes each repair when the next one begins."""

    profile: Profile | None
    design: Mapping[str, Band]
    bad: set[str] = field(default_factory=set)
    #: Odds and tests of what was called last, by part.
    called: dict[str, tuple[float, int]] = field(default_factory=dict)
    #: Part and word of the repair that is open, and what was bad when it was begun.
    part: str = ""
    word: str = ""
    was_bad: frozenset[str] = frozenset()
    cured: bool = False
    found: list[Repair] = field(default_factory=list)

    def read(self, body: ReadingTaken) -> None:
        """Take a reading: good now where it was bad is a cure."""
        band = self.design.get(body.target)
        if band is None or body.mode not in {"dc V", "ac V"} or body.out:
            return
        is_good = not body.overload and body.value in band
        self.cured = self.cured or (is_good and body.target in self.was_bad)
        (self.bad.discard if is_good else self.bad.add)(body.target)

    def mend(self, part: str, word: str) -> None:
        """Begin a repair."""
        self.close(healthy=False)
        self.part, self.word, self.was_bad, self.cured = part, word, frozenset(self.bad), False

    def close(self, *, healthy: bool) -> None:
        """End the repair that is open."""
        if self.part:
            odds, tests = self.called.get(self.part, (0.0, 0))
            self.found.append(
                Repair(
                    part=self.part,
                    family=family_of(self.profile, self.part),
                    word=self.word,
                    cured=self.cured or healthy,
                    odds=odds,
                    tests=tests,
                )
            )
        self.part, self.was_bad = "", frozenset()


def repairs_of(state: JobState, profile: Profile | None, *, healthy: bool) -> tuple[Repair, ...]:
    """Return the repairs of a job with whether each cured; the last one of a job that ended well did."""
    design = {p.id: p.design for p in profile.test_points if p.design} if profile else {}
    walk = _Walk(profile, design)
    for logged in state.tape:
        body = logged.event.body
        if logged.struck_by:
            continue
        if isinstance(body, FaultCalled):
            walk.called[body.part] = (body.odds, body.tests)
        elif isinstance(body, ReadingTaken):
            walk.read(body)
        elif isinstance(body, PartReplaced):
            walk.mend(body.part, "replaced")
        elif isinstance(body, ActionDone) and body.action in MENDING:
            walk.mend(body.target, body.action)
    walk.close(healthy=healthy)
    return tuple(walk.found)


def family_of(profile: Profile | None, part: str) -> str:
    """Return what kind of thing a part is; a connector is a `pin`."""
    if profile is None:
        return "other"
    block = profile.block(part)
    if block is not None:
        return block.kind
    if any(isinstance(b, Pin) and b.connector == part for b in profile.power):
        return "pin"
    chip = profile.chip(part)
    if chip is not None:
        return chip.family
    return next((p.kind for p in profile.parts if p.id == part), "other")

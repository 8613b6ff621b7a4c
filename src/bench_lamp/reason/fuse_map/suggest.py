"""Suggestions by the fuse map and tree order: what to look at, and why."""

from collections.abc import Callable, Iterator
from typing import Literal

from msgspec import Struct

from bench_lamp.board import Block, FeedTree, Profile, TestPoint
from bench_lamp.board.blocks import (
    Dropper,
    FuseBlock,
    Inlet,
    Pin,
    Rectifier,
    Regulator,
    Reservoir,
    Switch,
    Transformer,
    block_inputs,
    block_outputs,
)
from bench_lamp.reason.fuse_map.evidence import Evidence, PointFact
from bench_lamp.units import engineering

FuseMapTest = Literal["tone", "ripple", "read", "look"]

#: "Every point absent" needs at least this many points to be said.
ALL_MEANS = 3


class Suggestion(Struct, frozen=True, kw_only=True):
    """One thing to look at, with the reason and the test that would tell."""

    part: str
    #: The suspect in words: `F4 open, or its holder`.
    suspect: str
    reason: str
    test: FuseMapTest
    #: What the test is done on: the part, or a test point.
    target: str
    #: The point whose reading led here.
    point: str
    #: A test has confirmed it.
    is_confirmed: bool = False


def suggestions(profile: Profile, evidence: Evidence) -> tuple[Suggestion, ...]:
    """Return what to look at, most sensible first; each part at most once.

    The order is that of the feed: what stands nearest to the mains and is cheapest
    to test comes first, except that what was seen or toned open leads.
    """
    search = _Search(profile, FeedTree.of(profile), evidence)
    found: dict[str, Suggestion] = {}
    for suggestion in search.all():
        kept = found.setdefault(suggestion.part, suggestion)
        if suggestion.is_confirmed and not kept.is_confirmed:
            found[suggestion.part] = suggestion
    ranked = enumerate(found.values())
    return tuple(
        item for _, item in sorted(ranked, key=lambda pair: (_rank(pair[1], evidence), pair[0]))
    )


def _rank(item: Suggestion, evidence: Evidence) -> int:
    if item.is_confirmed:
        return 0
    return 1 if item.part in evidence.seen else 2


class _Search(Struct, frozen=True):
    profile: Profile
    tree: FeedTree
    evidence: Evidence

    def all(self) -> Iterator[Suggestion]:
        if self._everything_absent():
            yield from self._before_the_transformer()
            return
        for point in self.profile.test_points:
            fact = self.evidence.points.get(point.id)
            if fact is not None and (not fact.is_good or fact.is_noisy):
                yield from self._for_point(point, fact)

    def _everything_absent(self) -> bool:
        facts = self.evidence.points.values()
        return len(facts) >= ALL_MEANS and not any(fact.is_present for fact in facts)

    def _before_the_transformer(self) -> Iterator[Suggestion]:
        point = next(p for p in self.profile.test_points if p.id in self.evidence.points)
        for block in self.tree.upstream(point.net):
            if isinstance(block, Transformer):
                return
            count = len(self.evidence.points)
            reason = f"all {count} points read are absent, so it is before the transformer"
            yield from self._suspect(block, point, reason)

    def _for_point(self, point: TestPoint, fact: PointFact) -> Iterator[Suggestion]:
        by_verdict: dict[str, Callable[[TestPoint, PointFact], Iterator[Suggestion]]] = {
            "absent": self._absent,
            "low": self._low,
            "high": self._high,
        }
        yield from by_verdict.get(fact.verdict, self._rectifier_side)(point, fact)

    def _absent(self, point: TestPoint, fact: PointFact) -> Iterator[Suggestion]:
        yield from self._lost_in_contact(point, fact)
        if self._is_absent_before(point):
            return
        good, suspects = self._since_last_good(point)
        why = f"{point.id} is absent"
        why += f", {good.id} before it is there" if good else ""
        for block in sorted(suspects, key=lambda b: _ABSENT_ORDER.get(b.kind, 9)):
            tail = _ABSENT_WHY.get(block.kind, "")
            yield from self._suspect(block, point, f"{why}; {tail}" if tail else why)

    def _low(self, point: TestPoint, fact: PointFact) -> Iterator[Suggestion]:
        lost = list(self._lost_in_contact(point, fact))
        yield from lost
        if not lost:
            yield from self._rectifier_side(point, fact)

    def _rectifier_side(self, point: TestPoint, fact: PointFact) -> Iterator[Suggestion]:
        """Low or noisy with no contact to blame: the ripple tells which side."""
        _, suspects = self._since_last_good(point)
        state = "noisy" if fact.verdict in {"within", "edge"} else fact.verdict
        for block in suspects:
            if isinstance(block, Reservoir | Rectifier) and fact.is_noisy is not False:
                ripple = "with ripple" if fact.is_noisy else "ripple not read yet"
                test: FuseMapTest = "look" if fact.is_noisy else "ripple"
                yield from self._suspect(block, point, f"{point.id} is {state}, {ripple}", test)
            elif isinstance(block, Regulator) and fact.is_noisy is False:
                yield from self._suspect(block, point, f"{point.id} is low but quiet", "look")

    def _high(self, point: TestPoint, fact: PointFact) -> Iterator[Suggestion]:
        chain = self.tree.upstream(point.net)
        for pin in self._pins_below(point):
            reason = f"{point.id} is high: is the load behind {pin.id} connected?"
            yield self._made(pin, point, reason, "look", f"{pin.id} off: load missing")
        for block in reversed(chain):
            if isinstance(block, Regulator | Dropper):
                yield from self._suspect(block, point, f"{point.id} is high", "look")
                return

    def _lost_in_contact(self, point: TestPoint, fact: PointFact) -> Iterator[Suggestion]:
        """Present at the supply, not at the board: the contact between, with the drop."""
        before = self.tree.supply_point(point)
        known = self.evidence.points.get(before.id) if before else None
        if before is None or known is None or not known.is_good:
            return
        drop = engineering(abs(known.volts) - abs(fact.volts), "V", resolution=0.01)
        pin = self.tree.upstream(point.net)[-1]
        reason = f"{drop} is dropped between {before.id} and {point.id}"
        yield self._made(pin, point, reason, "look", f"{pin.id}, contact or crimp")

    def _since_last_good(self, point: TestPoint) -> tuple[TestPoint | None, tuple[Block, ...]]:
        """Return the last good point on the way, and the blocks after it."""
        chain = self.tree.upstream(point.net)
        start, good = 0, None
        for index, block in enumerate(chain):
            for net in (*block_outputs(block), *block_inputs(block)[:1]):
                other = self._good_point_on(net, exclude=point)
                if other and net != point.net:
                    start, good = index + (net in block_outputs(block)), other
        start = max(start, self._after_shared_supply(point, chain))
        return good, chain[start:]

    def _after_shared_supply(self, point: TestPoint, chain: tuple[Block, ...]) -> int:
        """Return the index after the last block that some point elsewhere proves alive.

        For an absent point anything present is proof; for a low or noisy one only
        a good reading is. What hangs below the point itself proves nothing of it.
        """
        below = self.tree.downstream_nets({point.net})
        fact = self.evidence.points[point.id]
        alive = {
            block.id
            for other in self.profile.test_points
            if other.net not in below and (known := self.evidence.points.get(other.id))
            if (known.is_good if fact.is_present else known.is_present)
            for block in self.tree.upstream(other.net)
            if not isinstance(block, Transformer)
        }
        return max((i + 1 for i, block in enumerate(chain) if block.id in alive), default=0)

    def _good_point_on(self, net: str, *, exclude: TestPoint) -> TestPoint | None:
        for other in self.profile.test_points:
            fact = self.evidence.points.get(other.id)
            if other.net == net and other.id != exclude.id and fact and fact.is_good:
                return other
        return None

    def _is_absent_before(self, point: TestPoint) -> bool:
        """Whether a point nearer to the mains is absent already: then that one is asked about."""
        nets = {
            net
            for block in self.tree.upstream(point.net)
            for net in block_outputs(block)
            if net != point.net
        }
        return any(
            other.net in nets
            and (fact := self.evidence.points.get(other.id))
            and not fact.is_present
            for other in self.profile.test_points
            if point.net in self.tree.downstream_nets({other.net})
        )

    def _pins_below(self, point: TestPoint) -> list[Block]:
        return [
            b for b in self.profile.power if isinstance(b, Pin) and point.net in block_inputs(b)
        ]

    def _suspect(
        self, block: Block, point: TestPoint, reason: str, test: FuseMapTest | None = None
    ) -> Iterator[Suggestion]:
        """Yield the suspect, unless a test or a new part speaks for it."""
        fact = self.evidence.parts.get(block.id)
        if fact == "open":
            yield self._made(block, point, f"open by continuity; {reason}", "look", _words(block))
        elif fact is None:
            best: FuseMapTest = test or (
                "tone" if isinstance(block, FuseBlock | Switch) else "look"
            )
            yield self._made(block, point, reason, best, _words(block))

    def _made(
        self, block: Block, point: TestPoint, reason: str, test: FuseMapTest, suspect: str
    ) -> Suggestion:
        seen = self.evidence.seen.get(block.id)
        return Suggestion(
            part=block.id,
            suspect=suspect,
            reason=f"{reason}; seen {seen}" if seen else reason,
            test=test,
            target=point.id if test in {"ripple", "read"} else block.id,
            point=point.id,
            is_confirmed=self.evidence.parts.get(block.id) == "open",
        )


#: For an absent supply: its fuse, then what stands behind it, the winding last.
_ABSENT_ORDER = {
    "fuse": 0,
    "switch": 1,
    "bridge": 2,
    "full-wave": 2,
    "half-wave": 2,
    "diode": 2,
    "reservoir": 3,
    "regulator": 4,
    "step-down": 4,
    "step-up": 4,
    "dropper": 4,
    "pin": 5,
    "harness": 5,
    "transformer": 6,
    "inlet": 7,
}


_ABSENT_WHY = {
    "fuse": "its own fuse, and the cheapest to test",
    "bridge": "next behind the fuse",
    "reservoir": "a short there would have blown the fuse",
    "transformer": "this winding only, the others work",
}


def _words(block: Block) -> str:
    if isinstance(block, Inlet):
        what = "gives nothing: source, lead or plug" if block.is_dc else "no mains at the inlet"
        return f"{block.id} {what}"
    tail = {
        "switch": "open",
        "fuse": "open, or its holder",
        "transformer": "winding open",
        "bridge": "a leg open or shorted",
        "full-wave": "a diode open or shorted",
        "half-wave": "open or shorted",
        "diode": "open or shorted",
        "reservoir": "dried out or shorted",
        "regulator": "dead, or not in regulation",
        "dropper": "dropper open or zener shorted",
        "step-down": "dead, or not in regulation",
        "step-up": "dead, or not in regulation",
        "pin": "contact or crimp",
        "harness": "the wire open",
    }
    return f"{block.id} {tail[block.kind]}" if block.kind in tail else block.id

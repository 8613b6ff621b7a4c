"""Who can do this? Parts against the bits of a lane: what each touches, and would have hurt."""

from dataclasses import dataclass

from bench_lamp.board.chips import Chip, Lane
from bench_lamp.logic.lanes import Bit
from bench_lamp.plan.situation import Situation

#: Parts that are listed.
MOST = 7


@dataclass(frozen=True, slots=True, kw_only=True)
class Cover:
    """One part against the bits of a lane."""

    part: str
    name: str
    #: By bit, whether it touches it.
    touches: tuple[bool, ...]
    #: Bad bits that it touches, and all bad ones; good bits that it touches as well.
    bad: int
    of_bad: int
    good: int
    #: Odds from all evidence; None while nothing is weighed.
    odds: float | None
    #: `socket, 40 pins, reached from outside, one on the donor board`.
    effort: str


def covers(situation: Situation, lane: Lane, bits: tuple[Bit, ...]) -> tuple[Cover, ...]:
    """Return the parts on a lane, the likeliest first, then by what they would have hurt."""
    bad = {lane.lines[b.number] for b in bits if b.is_bad}
    good = {lane.lines[b.number] for b in bits if b.state == "good"}
    odds = _odds(situation)
    found = [
        Cover(
            part=chip.id,
            name=chip.name,
            touches=tuple(line in chip.lines for line in lane.lines),
            bad=len(bad & set(chip.lines)),
            of_bad=len(bad),
            good=len(good & set(chip.lines)),
            odds=odds.get(chip.id, 0.0) if odds is not None else None,
            effort=effort_words(situation, chip),
        )
        for chip in situation.profile.chips
        if set(chip.lines) & set(lane.lines)
    ]
    found.sort(key=lambda c: (-(c.odds or 0.0), -c.bad, c.good))
    return tuple(found[:MOST])


def _odds(situation: Situation) -> dict[str, float] | None:
    insight = situation.insight
    if insight is None or not insight.facts.logic:
        return None
    return dict(insight.by_block)


def effort_words(situation: Situation, chip: Chip) -> str:
    """Say what it takes to pull a part, and what for: `socket, 40 pins, one on the donor board`."""
    words = ["socket" if chip.socket else "soldered", f"{chip.pins} pins"]
    if chip.exposed:
        words.append("reached from outside")
    if chip.optional:
        words.append("runs without it")
    if chip.donor and situation.profile.donor:
        words.append("donor at hand")
    return ", ".join(words)

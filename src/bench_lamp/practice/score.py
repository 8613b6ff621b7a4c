"""What a drill came to: found or not, parts replaced for nothing, minutes, power on a bad board, slips of safety."""

from collections.abc import Iterable

from msgspec import Struct

from bench_lamp.board import Profile
from bench_lamp.circuit.faults import Fault
from bench_lamp.journal import JobState
from bench_lamp.journal.events import (
    MENDING,
    ActionDone,
    PartReplaced,
    PowerConfirmed,
    ReadingTaken,
)

#: Effort by hand, in seconds: a part out and in, a contact, a switching on or off, a reading without its own.
PART_S, CONTACT_S, SWITCH_S, READING_S = 600.0, 60.0, 20.0, 15.0
#: Readings that want the power off, and each capacitor empty.
COLD = frozenset({"ohm", "diode", "tone"})


class Score(Struct, frozen=True, kw_only=True):
    """One run of a drill."""

    who: str
    found: tuple[str, ...]
    missed: tuple[str, ...]
    #: Parts that were replaced or re-seated although nothing was wrong with them.
    wrong: tuple[str, ...]
    minutes: float
    tests: int
    #: Tests that could not tell anything new.
    wasted: int
    #: How often it was switched on, whole mains, while something on it was shorted.
    power_ons: int
    slips: tuple[str, ...]

    @property
    def is_found(self) -> bool:
        """Whether all that was hidden is mended."""
        return not self.missed


def score_of(state: JobState, profile: Profile, faults: tuple[Fault, ...], who: str) -> Score:
    """Return the score of a job that was worked on a board with these faults."""
    bodies = [e.event.body for e in state.tape if not e.struck_by]
    mended = [b.part for b in bodies if isinstance(b, PartReplaced)]
    mended += [b.target for b in bodies if isinstance(b, ActionDone) and b.action in MENDING]
    walk = _Walk(profile, faults)
    for body in bodies:
        walk.take(body)
    return Score(
        who=who,
        found=tuple(f.name for f in faults if _is_mended(f, mended)),
        missed=tuple(f.name for f in faults if not _is_mended(f, mended)),
        wrong=tuple(m for m in dict.fromkeys(mended) if not _was_bad(faults, m)),
        minutes=walk.seconds / 60,
        tests=walk.tests,
        wasted=walk.wasted,
        power_ons=walk.power_ons,
        slips=tuple(walk.slips),
    )


def _is_mended(fault: Fault, mended: Iterable[str]) -> bool:
    return bool({fault.block, fault.block.partition(".")[0]} & set(mended))


def _was_bad(faults: tuple[Fault, ...], part: str) -> bool:
    """Whether a part, or a fuse that its fault blew, had to be put right."""
    return any(part in {f.block, f.block.partition(".")[0], f.blows} for f in faults)


class _Walk:
    """Goes through what was done, with the power as it was confirmed."""

    def __init__(self, profile: Profile, faults: tuple[Fault, ...]) -> None:
        self._seconds = {p.id: p.seconds for p in profile.test_points}
        self._faults = faults
        self._power, self._mended = "off", set[str]()
        #: Readings since the last repair: the same once more tells nothing new.
        self._since: set[tuple[str, str]] = set()
        self.seconds, self.tests, self.wasted, self.power_ons = 0.0, 0, 0, 0
        self.slips: list[str] = []

    def take(self, body: object) -> None:
        """Take the next thing that was done."""
        if isinstance(body, PowerConfirmed):
            self._switch(body)
        elif isinstance(body, ReadingTaken):
            self._read(body)
        elif isinstance(body, PartReplaced):
            self._hands(body.part, "replaced", PART_S)
        elif isinstance(body, ActionDone):
            self._hands(body.target, body.action, CONTACT_S)

    def _switch(self, body: PowerConfirmed) -> None:
        is_on = body.power == "live" and self._power != "live"
        bad = any(f.kind.is_short and not _is_mended(f, self._mended) for f in self._faults)
        self.power_ons += is_on and bad and not body.limiter
        self.seconds += SWITCH_S
        self._power = body.power

    def _read(self, body: ReadingTaken) -> None:
        self.tests += 1
        self.seconds += self._seconds.get(body.target, READING_S)
        if body.mode in COLD and self._power == "live":
            self.slips.append(f"{body.mode} at {body.target}, live")
        key = (body.target, body.mode)
        self.wasted += key in self._since
        self._since.add(key)

    def _hands(self, part: str, word: str, seconds: float) -> None:
        self.seconds += seconds
        if self._power == "live":
            self.slips.append(f"{part} {word}, live")
        elif self._power != "discharged":
            self.slips.append(f"{part} {word}, not discharged")
        self._mended.add(part)
        self._since.clear()

"""What a drill came to: found or not, parts replaced for nothing, minutes, power on a bad board, slips of safety."""

from msgspec import Struct

from bench_lamp.board import Profile
from bench_lamp.journal import JobState
from bench_lamp.journal.events import (
    MENDING,
    ActionDone,
    Body,
    Event,
    PartReplaced,
    PowerConfirmed,
    ReadingTaken,
)
from bench_lamp.journal.logic_events import (
    CellsMarked,
    LaneRead,
    PartTried,
    PinProbed,
    SelfTestSeen,
)
from bench_lamp.practice.hidden import HiddenFault
from bench_lamp.reason.logic.insight_of import efforts

#: Effort by hand, in seconds: a part out and in, a contact, a switching on or off.
PART_S, CONTACT_S, SWITCH_S = 600.0, 60.0, 20.0
#: A reading, a self-test, a trial of a part; where the profile does not say.
READING_S, SELF_TEST_S, TRIAL_S = 15.0, 40.0, 90.0
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
    #: Tests that could not tell anything new: they promised nothing, or were done once more.
    wasted: int
    #: How often it was switched on, whole mains, while something on it was shorted.
    power_ons: int
    slips: tuple[str, ...]

    @property
    def is_found(self) -> bool:
        """Whether all that was hidden is mended."""
        return not self.missed


def score_of(
    state: JobState,
    profile: Profile,
    faults: tuple[HiddenFault, ...],
    who: str,
    idle: frozenset[str] = frozenset(),
) -> Score:
    """Return the score of a job that was worked on a board with these faults.

    `idle` has the entries that are tests and promised nothing (`WorthOfTests.idle_events`).
    """
    walk = _Walk(profile, faults, idle)
    for logged in state.tape:
        if not logged.struck_by:
            walk.take(logged.event)
    mended = frozenset(walk.mended)
    return Score(
        who=who,
        found=tuple(f.name for f in faults if f.is_mended(mended)),
        missed=tuple(f.name for f in faults if not f.is_mended(mended)),
        wrong=tuple(m for m in dict.fromkeys(walk.mended) if not any(f.was_bad(m) for f in faults)),
        minutes=walk.seconds / 60,
        tests=walk.tests,
        wasted=walk.wasted,
        power_ons=walk.power_ons,
        slips=tuple(walk.slips),
    )


def _tried(body: Body) -> tuple[str, str, float] | None:
    """Return what was tried of the logic, how, and its usual effort in seconds; None for anything else."""
    match body:
        case SelfTestSeen(test=test):
            return test, "code", SELF_TEST_S
        case CellsMarked(test=test):
            return test, "cells", SELF_TEST_S
        case LaneRead(lane=lane):
            return f"lane:{lane}", "lane", SELF_TEST_S
        case PinProbed(part=part, pin=pin):
            return f"{part}:{pin}", "probe", READING_S
        case PartTried(part=part, how=how):
            return part, how, TRIAL_S
        case _:
            return None


class _Walk:
    """Goes through what was done, with the power as it was confirmed."""

    def __init__(
        self, profile: Profile, faults: tuple[HiddenFault, ...], idle: frozenset[str]
    ) -> None:
        self._efforts = {p.id: p.seconds for p in profile.test_points} | efforts(profile)
        self._faults, self._idle = faults, idle
        self._power = "off"
        #: What was tested since the last repair: the same once more tells nothing new.
        self._since: set[tuple[str, str]] = set()
        #: What was mended, in its order.
        self.mended: list[str] = []
        self.seconds, self.tests, self.wasted, self.power_ons = 0.0, 0, 0, 0
        self.slips: list[str] = []

    def take(self, event: Event) -> None:
        """Take the next thing that was done."""
        body = event.body
        match body:
            case PowerConfirmed():
                self._switch(body)
            case ReadingTaken():
                self._read(body)
                self._test(event.id, body.target, body.mode, READING_S)
            case PartReplaced():
                self._hands(body.part, "replaced", PART_S, mends=True)
            case ActionDone():
                self._hands(body.target, body.action, CONTACT_S, mends=body.action in MENDING)
            case _:
                self._try_logic(event)

    def _try_logic(self, event: Event) -> None:
        tried = _tried(event.body)
        # The cells of one test are marked in several entries.
        is_more = isinstance(event.body, CellsMarked) and tried is not None
        if tried is not None and not (is_more and tried[:2] in self._since):
            self._test(event.id, *tried)

    def _switch(self, body: PowerConfirmed) -> None:
        is_on = body.power == "live" and self._power != "live"
        mended = frozenset(self.mended)
        is_bad = any(f.is_short and not f.is_mended(mended) for f in self._faults)
        self.power_ons += is_on and is_bad and not body.limiter
        self.seconds += SWITCH_S
        self._power = body.power

    def _read(self, body: ReadingTaken) -> None:
        if body.mode in COLD and self._power == "live":
            self.slips.append(f"{body.mode} at {body.target}, live")

    def _test(self, event: str, target: str, way: str, seconds: float) -> None:
        self.tests += 1
        self.seconds += self._efforts.get(target, seconds)
        self.wasted += (target, way) in self._since or event in self._idle
        self._since.add((target, way))

    def _hands(self, part: str, word: str, seconds: float, *, mends: bool) -> None:
        self.seconds += seconds
        if self._power == "live":
            self.slips.append(f"{part} {word}, live")
        elif self._power != "discharged":
            self.slips.append(f"{part} {word}, not discharged")
        if mends:
            self.mended.append(part)
        self._since.clear()

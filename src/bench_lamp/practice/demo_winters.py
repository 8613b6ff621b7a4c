"""Two winters of the demo's workshop: boards that came, what they had, and what cured them; by a seeded script."""

import random
from collections.abc import Iterator, Mapping
from datetime import datetime, timedelta

from msgspec import Struct

from bench_lamp.board import Profile, TestPoint
from bench_lamp.journal.events import (
    ActionDone,
    ActionWord,
    Body,
    CameWith,
    Complaint,
    Event,
    Finding,
    JobClosed,
    JobOpened,
    MainsSeen,
    Note,
    PartReplaced,
    PowerConfirmed,
    ReadingTaken,
    Seen,
    StageMarked,
)
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.memory_events import FaultCalled
from bench_lamp.journal.open_events import ComplaintAsked
from bench_lamp.journal.proof_events import FunctionTried
from bench_lamp.journal.staleness import targets_below

SEED = 2024
#: Boards that came in the two winters.
BOARDS = 58
#: The first winter begins so long before the demo's moment; the second a year later.
WINTERS = (timedelta(days=735), timedelta(days=372))
WINTER_DAYS = 130
#: Of ten boards so many are called right, and so many come back.
CALLED_WRONG, BACK = 0.09, 0.12
#: The board that is back on the bench, and how long ago it left.
BACK_AGAIN, DAYS_AWAY = "QH-058", 41


class Cause(Struct, frozen=True, kw_only=True):
    """One thing that goes wrong on a kind of board."""

    part: str
    weight: float
    complaint: str
    #: What is left of the volts behind it.
    left: float = 0.0
    word: str = "replaced"
    fitted: str = ""
    seen: Seen | None = None
    #: Points that are wrong; empty for all that hang on the part.
    points: tuple[str, ...] = ()


KINDS: Mapping[str, tuple[float, tuple[Cause, ...]]] = {
    "tessenby-orrery-nights": (
        0.5,
        (
            Cause(part="J2.4", weight=9, complaint="resets when the flippers fire", left=0.9, word="reseated",
                  seen="corroded", points=("L1",)),
            Cause(part="C2", weight=6, complaint="lamps flicker and hum", left=0.84, fitted="10000 µF 35 V",
                  seen="bulged", points=("C", "D")),
            Cause(part="F4", weight=5, complaint="half the lamps dead", fitted="10 A slow"),
            Cause(part="U1", weight=3, complaint="dead, it only ticks", left=0.5, fitted="TR-405K"),
            Cause(part="J3.5", weight=4, complaint="lamps dim on one side", left=0.75, word="reseated",
                  points=("D",)),
            Cause(part="C4", weight=3, complaint="score displays dim", left=0.85, fitted="100 µF 350 V",
                  seen="leaking", points=("H",)),
            Cause(part="BR3", weight=2, complaint="no coil moves", fitted="35 A 400 V"),
            Cause(part="C203", weight=1, complaint="dead, it only ticks", left=0.1, fitted="tantalum 47 µF 16 V",
                  points=("A", "L1", "D1")),
        ),
    ),
    "ardvane-cinder-dunes": (
        0.2,
        (
            Cause(part="C8", weight=4, complaint="hum, and the sound breaks up", left=0.8, fitted="4700 µF 35 V",
                  seen="bulged", points=("AR", "A5")),
            Cause(part="J1.2", weight=3, complaint="resets in the middle of a game", left=0.91, word="cleaned",
                  seen="corroded", points=("G5",)),
            Cause(part="U3", weight=2, complaint="rubbish on the screen", left=0.0, fitted="TR-412"),
            Cause(part="F3", weight=1, complaint="rubbish on the screen", fitted="1 A slow"),
        ),
    ),
    "ostrel-8": (
        0.14,
        (
            Cause(part="U31", weight=2, complaint="dead", left=0.4, fitted="TR-405"),
            Cause(part="C1", weight=3, complaint="hum bars roll through the picture", left=0.86,
                  fitted="4700 µF 25 V", seen="bulged", points=("R5", "P5")),
            Cause(part="J1.3", weight=1, complaint="no colour", left=0.8, word="reseated", points=("P12",)),
        ),
    ),
    "ruskel-36": (
        0.16,
        (
            Cause(part="C12", weight=3, complaint="display dark, output there", left=0.05,
                  fitted="4.7 µF ceramic", points=("TP3",)),
            Cause(part="U1", weight=2, complaint="dead, fan still", fitted="step-down module"),
            Cause(part="C1", weight=2, complaint="output sags under load", left=0.9, fitted="6800 µF 80 V",
                  seen="bulged", points=("TP1",)),
        ),
    ),
}  # fmt: skip


def winter_events(
    profiles: Mapping[str, Profile], taken: frozenset[str], *, now: datetime, seed: int = SEED
) -> tuple[Event, ...]:
    """Return the events of two winters; the same for the same seed, moment and profiles.

    Parameters
    ----------
    profiles : mapping
        By id; kinds that are not among them are left out.
    taken : frozenset of str
        Tags that other boards of the demo have.
    now : datetime
        The demo's moment.
    seed : int
        Of everything that is drawn.
    """
    chance = random.Random(seed)
    tags = (f"QH-{n:03d}" for n in range(1, 200))
    free = [t for t in tags if t not in taken and t != BACK_AGAIN][:BOARDS]
    known = {kind: share for kind, (share, _) in KINDS.items() if kind in profiles}
    found: list[Event] = []
    if not known:
        return ()
    for number, tag in enumerate(free):
        kind = chance.choices(list(known), list(known.values()))[0]
        begin = WINTERS[number * 2 // len(free)]
        at = now - begin + timedelta(days=chance.uniform(0, WINTER_DAYS))
        board = _Board(profiles[kind], tag, chance)
        cause = board.draw()
        found += board.visit(1, at.replace(hour=9 + chance.randrange(8)), cause)
        if chance.random() < BACK:
            later = at + timedelta(days=chance.uniform(15, 170))
            again = cause if chance.random() < 0.6 else board.draw()
            found += board.visit(2, later, again)
    found += _back_again(profiles, now, chance)
    return tuple(sorted(found, key=lambda event: event.id))


def _back_again(
    profiles: Mapping[str, Profile], now: datetime, chance: random.Random
) -> Iterator[Event]:
    """One board that left with a contact re-seated, and is back with the same complaint."""
    profile = profiles.get("tessenby-orrery-nights")
    if profile is None:
        return
    board = _Board(profile, BACK_AGAIN, chance)
    cause = KINDS[profile.id][1][0]
    yield from board.visit(1, now - timedelta(days=DAYS_AWAY, hours=5), cause)
    board.begin(2, now - timedelta(hours=26))
    board.say(
        Complaint(text="resets again when the flippers fire"), CameWith(text="two keys"), gap_s=60
    )
    yield from board.events


class _Board:
    """One board: reads a little off from the next, and always so."""

    def __init__(self, profile: Profile, tag: str, chance: random.Random) -> None:
        self.profile, self.tag, self.chance = profile, tag, chance
        self.own = {p.id: chance.gauss(0, 0.16) for p in profile.test_points}
        self.events: list[Event] = []
        self._job, self._clock, self._made = "", datetime.min, 0
        # Mains in the evening is not mains in the morning: all points share it.
        self.mains = chance.gauss(0, 0.1)

    def draw(self) -> Cause:
        """Return what it has this time."""
        causes = KINDS[self.profile.id][1]
        return self.chance.choices(causes, [c.weight for c in causes])[0]

    def begin(self, visit: int, at: datetime) -> None:
        """Begin a visit."""
        self.events, self._job, self._clock = [], f"{self.tag}/{visit}", at
        self.say(JobOpened(tag=self.tag, profile=self.profile.id))

    def say(self, *bodies: Body, gap_s: float = 20) -> None:
        """Say something a little later."""
        for body in bodies:
            self._clock += timedelta(seconds=gap_s * self.chance.uniform(0.7, 1.6))
            self._made += 1
            head = IdMaker(clock_ms=lambda: int(self._clock.timestamp() * 1000))()[:19]
            name = f"{head}9{self._made % 4096:03x}-{self.chance.getrandbits(48):012x}"
            self.events.append(Event(id=name, job=self._job, at=self._clock, body=body))

    def visit(self, number: int, at: datetime, cause: Cause) -> list[Event]:
        """Return one visit from intake to hand-back."""
        self.begin(number, at)
        self.say(Complaint(text=cause.complaint), CameWith(text="nothing"), gap_s=40)
        if self.profile.mains:
            volts = f"{self.profile.mains[0].volts:g} V"
            self.say(
                MainsSeen(place="selector", text=volts), MainsSeen(place="sticker", text=volts)
            )
            self.say(MainsSeen(place="fuse", text=str(self.profile.mains[0].fuse)))
        self.say(
            Finding(seen=cause.seen, place=cause.part.partition(".")[0])
            if cause.seen
            else Finding(seen="nothing")
        )
        self.say(StageMarked(stage="intake", mark="done"), PowerConfirmed(power="live"), gap_s=90)
        wrong = cause.points or tuple(targets_below(self.profile, cause.part))
        self._read(wrong, cause.left)
        if self.chance.random() < CALLED_WRONG:
            self._mend_in_vain(cause, wrong)
        self._mend(cause, odds=min(max(self.chance.gauss(0.94, 0.04), 0.5), 0.99))
        self._read((), 1.0)
        self.say(
            *(FunctionTried(step=f.name, word="works") for f in self.profile.functions), gap_s=15
        )
        self.say(
            ComplaintAsked(is_gone=True, where="bench"), StageMarked(stage="prove", mark="done")
        )
        if cause.word != "replaced":
            self.say(
                Note(
                    text=f"{cause.part} was {cause.word}: if it comes back, replace it.",
                    about="advice",
                )
            )
        self.say(PowerConfirmed(power="off"), JobClosed(proved=True), gap_s=60)
        return self.events

    def _mend_in_vain(self, cause: Cause, wrong: tuple[str, ...]) -> None:
        """Replace something else first: it cures nothing."""
        others = [c for c in KINDS[self.profile.id][1] if c.part != cause.part]
        other = self.chance.choice(others)
        self._mend(other, odds=min(max(self.chance.gauss(0.8, 0.08), 0.5), 0.96))
        self._read(wrong, cause.left, only=wrong)

    def _mend(self, cause: Cause, *, odds: float) -> None:
        tests = sum(isinstance(e.body, ReadingTaken) for e in self.events)
        self.say(PowerConfirmed(power="discharged", below=1.0), gap_s=60)
        self.say(FaultCalled(part=cause.part, odds=round(odds, 3), tests=tests))
        if cause.word == "replaced":
            body: Body = PartReplaced(part=cause.part, out=cause.fitted, fitted=cause.fitted)
        else:
            words: dict[str, ActionWord] = {"reseated": "reseated", "cleaned": "cleaned"}
            body = ActionDone(action=words[cause.word], target=cause.part)
        self.say(body, gap_s=600)
        self.say(PowerConfirmed(power="live"), gap_s=60)

    def _read(self, wrong: tuple[str, ...], left: float, only: tuple[str, ...] = ()) -> None:
        for point in self.profile.test_points:
            if not only or point.id in only:
                self.say(self._reading(point, left if point.id in wrong else 1.0), gap_s=14)

    def _reading(self, point: TestPoint, left: float) -> ReadingTaken:
        band = point.band
        middle, half = (band.middle, band.width / 2) if band else (point.volts, 0.0)
        share = self.own[point.id] + self.mains + self.chance.gauss(0, 0.05)
        value = left * (middle + half * share)
        places = 3 if abs(value) < 2 else 2 if abs(value) < 20 else 1
        return ReadingTaken(
            target=point.id,
            mode=point.mode,
            value=round(value, places),
            resolution=10.0**-places,
            black=point.black,
            power="live",
            meter="hearthwell-60",
        )

"""The demo journal: boards of the Quillhaven Pier job, made by a seeded script."""

import random
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from datetime import datetime, timedelta

from bench_lamp.board import Profile, TestPoint
from bench_lamp.journal.events import (
    Body,
    CameWith,
    CheckNoted,
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
    StageMarked,
)
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.logic_events import LaneRead, SelfTestSeen
from bench_lamp.journal.part_events import StockMoved
from bench_lamp.practice import demo_trims
from bench_lamp.practice.demo_shop import STOCK

#: The job that the demo opens with.
DEMO_JOB = "QH-017/1"
SEED = 1717
#: Ohms from a rail to its return on a sound Orrery Nights set, red and black on it.
COLD_OHMS = {"A": (28.0, 10.5), "C": (60.0, 22.7), "E": (5460.0, 2030.0), "H": (36000.0, 13000.0)}
ORRERY, RUSKEL = "tessenby-orrery-nights", "ruskel-36"
CINDER, OSTREL = "ardvane-cinder-dunes", "ostrel-8"


def demo_events(
    profiles: Iterable[Profile], *, now: datetime, seed: int = SEED
) -> tuple[Event, ...]:
    """Return the demo's events; the same for the same seed, moment and profiles."""
    known = {profile.id: profile for profile in profiles}
    script = _Script(random.Random(seed), known)
    for job in (
        _earlier_visit,
        _proving,
        _intake,
        _ruskel,
        _contact,
        _short,
        _cinder,
        _orrery,
        _ostrel,
        _stripes,
        _switches,
        *demo_trims.JOBS,
    ):
        script.clock = now
        job(script)
        script.ends[script.job] = script.clock
    _switch_off(script)
    return tuple(sorted(script.events, key=lambda event: event.id))


def _switch_off(script: "_Script") -> None:
    """One bench, one live board: the others were switched off when they were put aside."""
    for job, end in script.ends.items():
        said = [e.body for e in script.events if e.job == job]
        power = [b.power for b in said if isinstance(b, PowerConfirmed)]
        is_closed = any(isinstance(b, JobClosed) for b in said)
        if job != DEMO_JOB and power[-1:] == ["live"] and not is_closed:
            script.job, script.clock = job, end
            script.say(PowerConfirmed(power="off"))


@dataclass(slots=True)
class _Script:
    chance: random.Random
    profiles: dict[str, Profile]
    clock: datetime = field(default_factory=datetime.now)
    job: str = ""
    events: list[Event] = field(default_factory=list)
    #: When the last thing was said of each job.
    ends: dict[str, datetime] = field(default_factory=dict)
    _made: int = 0

    def open(self, job: str, profile: str, *, ago: timedelta) -> None:
        self.job = job
        self.clock -= ago
        self.say(JobOpened(tag=job.partition("/")[0], profile=profile))

    def profile(self, name: str) -> Profile:
        return self.profiles[name]

    def seconds(self) -> float:
        return self.clock.timestamp()

    def say(self, *bodies: Body, after_s: float = 20) -> None:
        for body in bodies:
            self.clock += timedelta(seconds=after_s)
            self.events.append(Event(id=self._id(), job=self.job, at=self.clock, body=body))

    def _id(self) -> str:
        """Return an id for the script's own clock, the same at each run."""
        self._made += 1
        ids = IdMaker(clock_ms=lambda: int(self.clock.timestamp() * 1000))
        head = ids()[:19]
        return f"{head}8{self._made:03x}-{self.chance.getrandbits(48):012x}"

    def intake(self, complaint: str, came: str, fuse: str = "3 A slow") -> None:
        self.say(Complaint(text=complaint), CameWith(text=came))
        for place in ("selector", "sticker"):
            self.say(MainsSeen(place=place, text="230 V"), after_s=8)
        self.say(MainsSeen(place="fuse", text=fuse), after_s=25)

    def read(self, profile: str, points: Iterable[str], **found: float) -> None:
        """Read points: as given, or somewhere in the middle of what healthy boards show."""
        for name in points:
            point = self.profiles[profile].point(name)
            if point is not None:
                self.say(self._reading(point, found.get(name)), after_s=14)

    def cold(self, profile: str) -> None:
        """Read the rails' ohms to their return, both polarities, as a sound board shows them."""
        for name, (red, black) in COLD_OHMS.items():
            point = self.profiles[profile].point(name)
            if point is not None:
                for swapped, ohms in ((False, red), (True, black)):
                    value = ohms * self.chance.gauss(1.0, 0.08)
                    digits = 1 if value < 100 else -1
                    self.say(
                        ReadingTaken(
                            target=name,
                            mode="ohm",
                            value=round(value, digits),
                            resolution=10.0**-digits,
                            black=point.black,
                            swapped=swapped,
                            power="discharged",
                            meter="hearthwell-60",
                        ),
                        after_s=12,
                    )

    def _reading(self, point: TestPoint, value: float | None) -> ReadingTaken:
        band = point.band
        if value is None:
            if band is None:
                raise ValueError(f"{point.id} has no limits; say what it reads")
            value = self.chance.gauss(band.middle, band.width / 8)
        places = 2 if abs(value) < 6 else 1
        return ReadingTaken(
            target=point.id,
            mode=point.mode,
            value=round(value, places),
            resolution=10.0**-places,
            black=point.black,
            power="live",
            meter="hearthwell-60",
        )


def _ids(script: _Script, profile: str) -> Iterator[str]:
    return (point.id for point in script.profiles[profile].test_points)


def _earlier_visit(script: _Script) -> None:
    script.open("QH-004/1", ORRERY, ago=timedelta(days=402))
    script.intake("hums, then the scores go out", "one key, no legs")
    script.say(Finding(seen="bulged", place="C1"), StageMarked(stage="intake", mark="done"))
    script.say(PowerConfirmed(power="discharged", below=1.0))
    script.cold(ORRERY)
    script.say(PowerConfirmed(power="live"))
    script.read(ORRERY, _ids(script, ORRERY), A=4.61, L1=4.42, D1=4.48)
    script.say(PowerConfirmed(power="discharged", below=1.0))
    script.say(PartReplaced(part="C1", out="12000 µF 25 V", fitted="12000 µF 35 V"))
    script.say(PowerConfirmed(power="live"))
    script.read(ORRERY, _ids(script, ORRERY))
    script.say(StageMarked(stage="prove", mark="done"))
    script.say(Note(text="C4 is the next to dry out: read H warm.", about="advice"))
    script.say(
        *(
            StockMoved(part=part, place=place, count=count, price=price)
            for part, place, count, price in STOCK
        )
    )
    script.say(PowerConfirmed(power="off"), JobClosed(proved=True))


def _proving(script: _Script) -> None:
    script.open("QH-004/2", ORRERY, ago=timedelta(days=2, hours=3))
    script.intake("score displays dim after ten minutes", "one key")
    script.say(Finding(seen="leaking", place="C4"), StageMarked(stage="intake", mark="done"))
    script.say(PowerConfirmed(power="discharged", below=1.0))
    script.cold(ORRERY)
    script.say(PowerConfirmed(power="live"))
    script.read(ORRERY, _ids(script, ORRERY), H=121.4)
    script.say(PowerConfirmed(power="discharged", below=1.0))
    script.say(PartReplaced(part="C4", out="100 µF 250 V", fitted="100 µF 350 V"))
    script.say(PowerConfirmed(power="live"))
    script.read(ORRERY, ("A", "B", "P", "L1", "D1", "C", "Q", "D"))


def _intake(script: _Script) -> None:
    script.open("QH-009/1", ORRERY, ago=timedelta(hours=20))
    script.intake("dead, came out of the flooded cellar", "nothing", fuse="6.3 A slow")


def _ruskel(script: _Script) -> None:
    script.open("QH-023/1", RUSKEL, ago=timedelta(hours=4))
    script.intake("display dark, output there", "mains lead", fuse="1.6 A slow")
    script.say(Finding(seen="nothing"), StageMarked(stage="intake", mark="done"))
    script.say(PowerConfirmed(power="live"))
    script.read(RUSKEL, ("TP1", "TP2"))


def _contact(script: _Script) -> None:
    script.open("QH-012/1", ORRERY, ago=timedelta(hours=2))
    script.intake("resets when the flippers fire", "two keys, coin box")
    script.say(Finding(seen="corroded", place="J2"), StageMarked(stage="intake", mark="done"))
    script.say(PowerConfirmed(power="live"))
    script.read(ORRERY, ("A", "B", "P", "L1", "D1"), A=5.06, L1=4.58, D1=5.01)


def _short(script: _Script) -> None:
    script.open("QH-021/1", ORRERY, ago=timedelta(minutes=95))
    script.intake("dead, it only ticks", "nothing")
    script.say(Finding(seen="nothing"), StageMarked(stage="intake", mark="done"))
    script.say(PowerConfirmed(power="live"))
    script.read(ORRERY, ("A", "B"), A=0.58, B=8.9)
    script.say(PowerConfirmed(power="discharged", below=1.0))


def _cinder(script: _Script) -> None:
    script.open("QH-030/1", CINDER, ago=timedelta(minutes=70))
    script.intake("no sound, came from a damp shed", "back door key", fuse="1.6 A slow")
    script.say(Finding(seen="corroded", place="EDGE"), StageMarked(stage="intake", mark="done"))
    script.say(PowerConfirmed(power="discharged", below=1.0))


def _orrery(script: _Script) -> None:
    script.open(DEMO_JOB, ORRERY, ago=timedelta(minutes=41))
    script.intake("half the lamps dead, then it resets", "two keys, a bag of screws")
    script.say(Finding(seen="corroded", place="J3"), StageMarked(stage="intake", mark="done"))
    script.say(PowerConfirmed(power="live"), after_s=600)
    script.read(ORRERY, ("A", "B", "C"), A=5.08, B=10.4, C=0.1)


def _awake(script: _Script, profile: str, **found: float) -> None:
    """Every rail read and good: the next thing is what the board tells of itself."""
    script.say(Finding(seen="nothing"), StageMarked(stage="intake", mark="done"))
    script.say(PowerConfirmed(power="live"))
    script.read(profile, _ids(script, profile), **found)


def _ostrel(script: _Script) -> None:
    """Port A, bit 3 held low by the I/O chip."""
    script.open("QH-041/1", OSTREL, ago=timedelta(minutes=58))
    script.intake(
        "one row of keys dead, prints rubbish", "tape lead, a box of tapes", fuse="0.5 A slow"
    )
    _awake(script, OSTREL)
    script.say(CheckNoted(check="need:harness", word="good", text="ready: harness on J2 and on J3"))
    script.say(SelfTestSeen(test="beeps", code="2"), after_s=30)
    script.say(
        LaneRead(lane="PA", wrote=(0x00, 0xFF, 0x55, 0xAA), came=(0x00, 0xF7, 0x55, 0xA2)),
        after_s=60,
    )


def _stripes(script: _Script) -> None:
    """A memory chip of bank 2 gone."""
    script.open("QH-033/1", CINDER, ago=timedelta(minutes=50))
    script.intake("stripes all over the picture, plays blind", "nothing", fuse="1.6 A slow")
    _awake(script, CINDER, AR=15.1)


def _switches(script: _Script) -> None:
    """One column of the switch matrix open at its connector."""
    script.open("QH-036/1", ORRERY, ago=timedelta(minutes=45))
    script.intake("several switches do nothing", "two keys")
    _awake(script, ORRERY)
    script.say(SelfTestSeen(test="blinks", code="5"), after_s=30)

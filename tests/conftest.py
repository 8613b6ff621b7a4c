"""Shared fixtures: profiles, a job that is written line by line, and the real window.

The window's fixture owns what it opens; an autouse fixture closes a forgotten modal
and fails the test, since such a modal would hang the run.
"""

import json
import os
import tempfile
import time
import uuid
from datetime import UTC, datetime, timedelta
from pathlib import Path

_SCREEN = {
    "screens": [{"name": "b", "x": 0, "y": 0, "width": 1280, "height": 800, "logicalDpi": 96,
                 "logicalBaseDpi": 96, "dpr": 1}],
    "windowFrameMargins": False,
}  # fmt: skip
_screen_file = Path(tempfile.gettempdir()) / f"bench-lamp-screen-{os.getuid()}.json"
_screen_file.write_text(json.dumps(_SCREEN))
os.environ.setdefault("QT_QPA_PLATFORM", f"offscreen:configfile={_screen_file}")
os.environ["TZ"] = "UTC"
time.tzset()

import pytest  # noqa: E402
from msgspec.structs import replace  # noqa: E402
from tests.postgres import MISSING, Postgres  # noqa: E402
from tests.seen import Seen  # noqa: E402

from bench_lamp.board import Profile, ProfileLibrary  # noqa: E402
from bench_lamp.case.case import Case  # noqa: E402
from bench_lamp.checks import Meter, load_meters  # noqa: E402
from bench_lamp.journal import Event, JobState, fold  # noqa: E402
from bench_lamp.journal.events import (  # noqa: E402
    Body,
    JobOpened,
    MainsSeen,
    Power,
    PowerConfirmed,
    ReadingTaken,
)
from bench_lamp.journal.ids import IdMaker  # noqa: E402
from bench_lamp.journal.proof_events import FunctionTried  # noqa: E402

NOON = datetime(2026, 11, 17, 12, 0, tzinfo=UTC)


@pytest.fixture(scope="session")
def library() -> ProfileLibrary:
    return ProfileLibrary()


@pytest.fixture(scope="session")
def orrery(library: ProfileLibrary) -> Profile:
    found = library.get("tessenby-orrery-nights")
    assert found is not None, library.broken
    return found


@pytest.fixture(scope="session")
def ruskel(library: ProfileLibrary) -> Profile:
    """Return a short profile: test points and the mains table, no tree."""
    found = library.get("ruskel-36")
    assert found is not None, library.broken
    return replace(found, power=(), mains_fuse="")


@pytest.fixture(scope="session")
def engine(orrery: Profile):
    """Return the reasoning about Orrery Nights; built once for the whole run."""
    from bench_lamp.circuit import compile_tree
    from bench_lamp.reason.power.dictionary import build_dictionary
    from bench_lamp.reason.power.engine import Engine

    book = build_dictionary(compile_tree(orrery))
    return Engine.of(book, {p.net: p.seconds for p in orrery.test_points})


@pytest.fixture
def meter() -> Meter:
    return load_meters()["hearthwell-60"]


class Job:
    """A job that a test writes: each call is one thing the technician says."""

    def __init__(
        self, profile: Profile, meter: Meter, name: str = "QH-050/1", *, looked_at: bool = True
    ) -> None:
        self.profile, self.meter, self.name = profile, meter, name
        self.events: list[Event] = []
        self._ids = IdMaker(clock_ms=lambda: round(self.now.timestamp() * 1000))
        self.now = NOON
        self.power: Power = "off"
        self.log(JobOpened(tag=name.partition("/")[0], profile=profile.id))
        if profile.mains and looked_at:
            volts, fuse = f"{profile.mains[0].volts:g} V", str(profile.mains[0].fuse)
            self.log(*(MainsSeen(place=p, text=volts) for p in ("selector", "sticker")),
                     MainsSeen(place="fuse", text=fuse))  # fmt: skip

    def log(self, *bodies: Body) -> str:
        for body in bodies:
            self.now += timedelta(seconds=10)
            self.events.append(Event(id=self._ids(), job=self.name, at=self.now, body=body))
        return self.events[-1].id

    def switch(self, power: Power) -> None:
        self.power = power
        self.log(PowerConfirmed(power=power, below=1.0 if power == "discharged" else None))

    def read(self, mode: str = "", **values: float) -> None:
        for target, value in values.items():
            point = self.profile.point(target)
            self.log(
                ReadingTaken(target=target, mode=mode or (point.mode if point else "tone"), value=value,
                             resolution=0.01, power=self.power, meter=self.meter.id,
                             out=tuple(sorted(self.state.out)), hung=tuple(sorted(self.state.hung)))
            )  # fmt: skip

    def read_healthy(self, *names: str) -> None:
        """Read points, all in the middle of what healthy boards show; no name means all."""
        for point in self.profile.test_points:
            if not names or point.id in names:
                self.read(**{point.id: (point.practice or point.design).middle})

    def works(self) -> None:
        """Try everything that the customer does with it: all of it works."""
        self.log(*(FunctionTried(step=f.name, word="works") for f in self.profile.functions))

    @property
    def state(self) -> JobState:
        return fold(self.profile, self.events)

    def seen(self, **more: object) -> Seen:
        """Return the case as it stands and where the hand is; fields of either may be given."""
        case = Case(profile=self.profile, state=self.state, meter=self.meter)
        return Seen(case).but(**more)


@pytest.fixture
def hunted(engine):
    """Return a maker of situations with the reasoning's insight in them."""
    from bench_lamp.case.facts import facts_of
    from bench_lamp.reason.insight_of import history_of, insight_of

    def make(job: Job, **more: object) -> Seen:
        facts = facts_of(job.state)
        return job.seen(
            insight=insight_of(engine, job.profile, facts),
            moments=history_of(engine, job.profile, facts),
            **more,
        )

    return make


@pytest.fixture
def job(orrery: Profile, meter: Meter) -> Job:
    """Return a job on an Orrery Nights set, not switched on yet."""
    return Job(orrery, meter)


@pytest.fixture
def live_job(job: Job) -> Job:
    job.switch("live")
    return job


@pytest.fixture
def make_job(meter: Meter):
    """Return a maker of jobs on any profile."""
    return lambda profile, name="QH-050/1": Job(profile, meter, name)


@pytest.fixture(scope="session")
def postgres():
    """Return a real server of the tests' own; skip, with the reason, where none can be started."""
    if MISSING:
        pytest.skip(MISSING)
    server = Postgres()
    yield server
    server.close()


@pytest.fixture
def shop_database(postgres: Postgres) -> str:
    """Return the address of an empty database."""
    return postgres.new_database(f"shop_{uuid.uuid4().hex}")

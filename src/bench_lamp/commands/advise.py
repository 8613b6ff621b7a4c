"""`bench-lamp advise PROFILE [JOB.json]`: the advice without a window, one JSON object a line."""

import json
import sys
from collections.abc import Iterable
from datetime import UTC, datetime
from pathlib import Path
from typing import TextIO

from bench_lamp.board import Profile
from bench_lamp.board.library import ProfileLibrary
from bench_lamp.board.load import load_profile
from bench_lamp.case.case import Case
from bench_lamp.case.facts import facts_of, fitted_profile
from bench_lamp.checks.meter import load_meters
from bench_lamp.commands.advice_json import advice
from bench_lamp.commands.advice_lines import LineError, bodies_of
from bench_lamp.errors import BenchLampError
from bench_lamp.journal.events import Body, Event, JobOpened
from bench_lamp.journal.fold import Folding, profile_of
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.job_file import read_job_file
from bench_lamp.reason.engines import Engines
from bench_lamp.reason.insight_of import weigh
from bench_lamp.reason.values.tests import LogicTest, Test

JOB = "advise/1"


class Adviser:
    """One job that is told line by line, and the advice after each."""

    def __init__(self, profile: Profile, cache: Path | None, events: Iterable[Event] = ()) -> None:
        self._profile, self._engines, self._ids = profile, Engines(cache), IdMaker()
        self._meter = load_meters()["hearthwell-60"]
        self._events = list(events)
        if self._events:
            self._ids.resume_after(self._events[-1].id)
        else:
            self._events = [self._event(JobOpened(tag="advise", profile=profile.id))]
        self._folding = Folding(profile, self._events)
        #: Tests that were named in an answer, by id.
        self.tests: dict[str, Test | LogicTest] = {}
        self.case = self._weighed()

    def _event(self, body: Body) -> Event:
        job = self._events[0].job if self._events else JOB
        return Event(id=self._ids(), job=job, at=datetime.now(UTC), body=body)

    def _weighed(self) -> Case:
        state = self._folding.state
        fitted = fitted_profile(self._profile, state)
        facts = facts_of(state, self._profile)
        insight = weigh(self._engines, fitted, facts, progress=lambda share: True)
        return Case(profile=self._profile, state=state, meter=self._meter, insight=insight)

    def answer(self, line: str) -> dict[str, object]:
        """Take one line and return the advice after it; an error changes nothing."""
        try:
            found = bodies_of(self.case, line, self.tests)
        except LineError as exc:
            return {"line": line, "error": str(exc), "hint": exc.hint}
        if found:
            events = [self._event(body) for body in found]
            self._events.extend(events)
            if not self._folding.go_on(events):
                self._folding = Folding(self._profile, self._events)
            self.case = self._weighed()
        return {"line": line, **self.advice()}

    def advice(self) -> dict[str, object]:
        """Return the advice as it stands, as plain values."""
        found, tests = advice(self.case)
        self.tests |= tests
        return found


def _profile_named(name: str) -> Profile:
    """Return the profile of a file, or the shipped one of an id."""
    path = Path(name)
    if path.suffix or path.exists():
        return load_profile(path, parents=ProfileLibrary(own=path.parent).paths())
    found = ProfileLibrary().get(name)
    if found is None:
        raise BenchLampError(
            f"“{name[:60]}” is neither a file nor a kind of board that ships",
            hint="Give a *.board.yaml file, or an id as ruskel-36.",
        )
    return found


def _refuse_other_kind(profile: Profile, events: tuple[Event, ...]) -> None:
    kind = profile_of(events)
    if events and kind != profile.id:
        raise BenchLampError(
            f"The job is of “{kind[:60]}”, not of {profile.id}", hint="Give the profile of the job."
        )


def run_advise(
    words: list[str], cache: Path | None, *, lines: TextIO | None = None, out: TextIO | None = None
) -> int:
    """Read lines, write a JSON object after each; 0, or 2 where profile or job cannot be read."""
    out = out or sys.stdout
    try:
        profile = _profile_named(words[0])
        events = read_job_file(Path(words[1])) if len(words) > 1 else ()
        _refuse_other_kind(profile, events)
        adviser = Adviser(profile, cache, events)
    except BenchLampError as exc:
        print(f"bench-lamp advise: {exc}. {exc.hint}", file=sys.stderr)
        return 2
    if events:
        _write(out, {"line": "", **adviser.advice()})
    for line in lines or sys.stdin:
        if line.strip():
            _write(out, adviser.answer(line.strip()))
    return 0


def _write(out: TextIO, answer: dict[str, object]) -> None:
    out.write(json.dumps(answer, ensure_ascii=False, allow_nan=False) + "\n")
    out.flush()

"""The jobs: the events known to the window, by job, and what they fold to."""

from collections.abc import Iterable, Iterator, Mapping, Set
from dataclasses import dataclass, field
from datetime import datetime
from operator import itemgetter

from msgspec.structs import replace

from bench_lamp.board import Profile, ProfileLibrary
from bench_lamp.case.case import Case
from bench_lamp.case.power import is_live_elsewhere, relied_on
from bench_lamp.checks import Meter
from bench_lamp.checks.probe_limits import ProbeLimits
from bench_lamp.journal import Event, JobState
from bench_lamp.journal.fold import Folding, profile_of
from bench_lamp.journal.memory_events import PracticeSaid
from bench_lamp.shop.business import NO_BUSINESS, Business
from bench_lamp.shop.digest import Digest, digest_of
from bench_lamp.shop.memory import ShopMemory
from bench_lamp.shop.stock import Level, levels, moves_of
from bench_lamp.shop.view import view_of
from bench_lamp.views import shelf

#: Jobs of a kind that are looked at event by event beside an open one, the newest.
PEERS = 60


@dataclass(slots=True)
class JobBook:
    """Keeps every job's events, its state and its case up to date."""

    library: ProfileLibrary
    #: When the program was started; the power states of before are asked anew. None for never.
    since: datetime | None = None
    _events: dict[str, list[Event]] = field(default_factory=dict)
    _foldings: dict[str, Folding] = field(default_factory=dict)
    _known: set[str] = field(default_factory=set)
    _states: dict[str, JobState] = field(default_factory=dict)
    #: Cases as they stand, until an event is added.
    _cases: dict[str, Case] = field(default_factory=dict)
    #: The shop's parts over all jobs, until an event is added.
    _stock: tuple[Level, ...] | None = None
    #: What the jobs that were handed back have taught.
    memory: ShopMemory = field(default_factory=ShopMemory)
    #: The shelf's view of jobs that were handed back.
    _done: dict[str, tuple[Digest, shelf.ShelfCard]] = field(default_factory=dict)
    _done_cards: tuple[shelf.ShelfCard, ...] = ()
    #: The version of the memory that they are of.
    _done_at: int = -1
    #: What was said to be right, by kind of board; and the visits by board: until an event is added.
    _said: dict[str, list[PracticeSaid]] | None = None
    _visits: Mapping[str, tuple[shelf.Visit, ...]] | None = None
    #: What the shop is on paper.
    business: Business = NO_BUSINESS
    #: What the linked meter and its probes are good for.
    limits: ProbeLimits | None = None

    def add(self, events: Iterable[Event]) -> None:
        """Take in events that are on disk; those that are here already are passed over."""
        new: dict[str, list[Event]] = {}
        for event in events:
            if event.id not in self._known:
                self._known.add(event.id)
                new.setdefault(event.job, []).append(event)
        for job, more in new.items():
            self._events.setdefault(job, []).extend(more)
            folding = self._foldings.get(job)
            if folding is None or not folding.go_on(more):
                # Nearly always in their order; those of another window may come later.
                self._events[job].sort(key=lambda event: event.id)
                folding = Folding(self._profile_at(job), self._events[job])
                self._foldings[job] = folding
            self._states[job] = replace(folding.state, job=job)
            self._remember(job)
        if new:
            self._forget()

    def fold_anew(self, profile_id: str) -> tuple[str, ...]:
        """Fold the jobs of a profile that has changed; return those that are here in short only."""
        for job, events in self._events.items():
            if self._states[job].profile_id == profile_id:
                folding = self._foldings[job] = Folding(self._profile_at(job), events)
                self._states[job] = replace(folding.state, job=job)
                self._remember(job)
        self._forget()
        return tuple(d.job for d in self._away() if d.profile == profile_id)

    def keep_only(self, ids: Set[str], short: Set[str]) -> None:
        """Drop events and jobs in short that are not on the disk, and jobs that have nothing left."""
        for job in [job for job in self.memory.digests if job not in self._states]:
            if job not in short:
                self.memory.drop(job)
        for job, events in list(self._events.items()):
            left = [event for event in events if event.id in ids]
            if len(left) == len(events):
                continue
            for known in (self._events, self._states, self._foldings):
                known.pop(job, None)
            self.memory.drop(job)
            self._known -= {event.id for event in events}
            self.add(left)
        self._forget()

    def add_short(self, digests: Iterable[Digest]) -> None:
        """Take in jobs that were handed back, in short; those that are here whole say so themselves."""
        self.memory.take(digest for digest in digests if digest.job not in self._states)
        self._forget()

    def holds(self, job: str) -> bool:
        """Whether a job is here event by event."""
        return job in self._states

    def held(self) -> tuple[str, ...]:
        """Return the jobs that are here event by event."""
        return tuple(self._states)

    def related(self, job: str) -> tuple[str, ...]:
        """Return the jobs in short that an open job looks at whole: the board's visits, and the newest of its kind."""
        state = self._states.get(job)
        if state is None:
            return ()
        near = (*self.memory.of_board(state.tag), *self.memory.of_kind(state.profile_id)[-PEERS:])
        return tuple(dict.fromkeys(d.job for d in near if d.job not in self._states))

    def _profile_at(self, job: str) -> Profile | None:
        profile_id = profile_of(self._events[job])
        return self.library.get(profile_id) if profile_id else None

    def _remember(self, job: str) -> None:
        """Take a job into the shop's memory once it is handed back, and out when it is not."""
        state = self._states[job]
        if state.closed_at is not None and not state.is_withdrawn:
            self.memory.put(digest_of(state, self.library.get(state.profile_id)))
        else:
            self.memory.drop(job)

    def _said_of(self, profile_id: str) -> tuple[PracticeSaid, ...]:
        """Return what was said to be right on boards of a kind."""
        if self._said is None:
            self._said = {}
            for state in self._states.values():
                self._said.setdefault(state.profile_id, []).extend(state.right_here)
            for digest in self._away():
                self._said.setdefault(digest.profile, []).extend(digest.right_here)
        return tuple(self._said.get(profile_id, ()))

    def _away(self) -> Iterator[Digest]:
        """Yield the jobs that are here only in short."""
        return (d for job, d in self.memory.digests.items() if job not in self._states)

    def _forget(self) -> None:
        """Forget what was worked out of the events before."""
        self._cases.clear()
        self._stock = self._said = self._visits = None

    def measure_with(self, limits: ProbeLimits | None) -> None:
        """Take what the linked meter and its probes are good for."""
        if limits != self.limits:
            self.limits = limits
            self._cases.clear()

    def be(self, business: Business) -> None:
        """Take what the shop is on paper."""
        self.business = business
        self._cases.clear()

    def stock(self) -> tuple[Level, ...]:
        """Return what lies in the shop's drawers, over all jobs."""
        if self._stock is None:
            moved = [(shelf.first_id(s), moves_of(s)) for s in self._states.values()]
            moved += [(d.first, d.stock) for d in self._away() if d.stock]
            self._stock = levels(
                move for _, moves in sorted(moved, key=itemgetter(0)) for move in moves
            )
        return self._stock

    def jobs(self) -> Set[str]:
        """Return the names of all jobs."""
        return self._states.keys() | self.memory.digests.keys()

    def at_hand(self) -> tuple[str, ...]:
        """Return the jobs that are not handed back, or were withdrawn."""
        return tuple(job for job in self._states if job not in self.memory.digests)

    def done(self) -> tuple[shelf.ShelfCard, ...]:
        """Return the shelf's view of the jobs that were handed back, the newest first; made once for each."""
        if self._done_at != self.memory.version:
            self._done_at = self.memory.version
            for job, digest in self.memory.digests.items():
                known = self._done.get(job)
                if known is None or known[0] is not digest:
                    kind = self.library.get(digest.profile)
                    card = shelf.digest_card(digest, kind.name if kind else digest.profile)
                    self._done[job] = (digest, card)
            cards = (self._done[job][1] for job in self.memory.digests)
            self._done_cards = shelf.newest_first(cards)
        return self._done_cards

    def visits(self) -> Mapping[str, tuple[shelf.Visit, ...]]:
        """Return every board's jobs in the order of the visits."""
        if self._visits is None:
            self._visits = shelf.by_tag(self._states.values(), self._away())
        return self._visits

    def case(self, job: str, meter: Meter, rules: Mapping[str, str], now: datetime) -> Case:
        """Return a job's case, with the visits before it; no insight in it yet."""
        found, state = self._cases.get(job), self._relied_on(job, rules, now)
        is_same = found is not None and found.meter is meter and found.rules is rules
        if found is None or not is_same or found.state.power != state.power:
            found = self._cases[job] = self._made(state, meter, rules)
        return found

    def _relied_on(self, job: str, rules: Mapping[str, str], now: datetime) -> JobState:
        """Return a job's state, its power only as far as that was confirmed lately."""
        is_elsewhere = is_live_elsewhere(self._states.values(), job, rules)
        return relied_on(self._states[job], now, since=self.since, is_elsewhere=is_elsewhere)

    def _made(self, state: JobState, meter: Meter, rules: Mapping[str, str]) -> Case:
        own = shelf.first_id(state)
        visits = (s for s in self._states.values() if s.tag == state.tag and not s.is_withdrawn)
        before = tuple(sorted((v for v in visits if shelf.first_id(v) < own), key=shelf.first_id))
        profile = self._profile_of(state)
        return Case(
            profile=profile,
            shop=view_of(
                self.memory,
                profile,
                state.tag,
                shelf.first_id(state),
                mains=state.mains.get("selector", ""),
                said=self._said_of(state.profile_id),
            ),
            state=state,
            meter=meter,
            rules=rules,
            stock=self.stock(),
            business=self.business,
            limits=self.limits,
            last_visit=before[-1] if before else None,
            visits=before,
            peers=tuple(
                other
                for other in self._states.values()
                if other.profile_id == state.profile_id and other.tag != state.tag
            ),
        )

    def _profile_of(self, state: JobState) -> Profile:
        """Return a job's profile; an empty one when it is not in the library."""
        return self.library.get(state.profile_id) or Profile(
            format="bench-lamp board 1",
            id=state.profile_id,
            test_points=(),
            name=f"{state.profile_id} (profile not found)",
        )

"""From the events of a job to its state."""

import itertools
from collections.abc import Iterable, Sequence

from bench_lamp.board import FeedTree, Profile
from bench_lamp.journal.draft import Draft
from bench_lamp.journal.events import Event, JobOpened, Struck
from bench_lamp.journal.fold_steps import take
from bench_lamp.journal.open_events import KindCorrected
from bench_lamp.journal.state import JobState, Logged


def fold(profile: Profile | None, events: Iterable[Event]) -> JobState:
    """Return the state after the events of one job, taken in the order of their ids.

    Without a profile every reading is stale after a change, since nobody can tell
    what depends on what.
    """
    return Folding(profile, events).state


def profile_of(events: Iterable[Event]) -> str:
    """Return the id of a job's profile: as it was opened, or as it was corrected last."""
    ordered = sorted(events, key=lambda event: event.id)
    strikes = _strikes(ordered)
    bodies = (e.body for e in ordered if e.id not in strikes)
    return next(
        (b.profile for b in reversed([*bodies]) if isinstance(b, JobOpened | KindCorrected)), ""
    )


def _strikes(events: list[Event]) -> dict[str, Event]:
    """Return each struck event's id with the strike that holds; later strikes win."""
    held: dict[str, Event] = {}
    for event in reversed(events):
        if isinstance(event.body, Struck) and event.id not in held:
            held.setdefault(event.body.event, event)
    return held


def _logged(event: Event, strikes: dict[str, Event]) -> Logged:
    strike = strikes.get(event.id)
    if strike is None or not isinstance(strike.body, Struck):
        return Logged(event=event)
    return Logged(event=event, struck_by=strike.id, reason=strike.body.reason)


class Folding:
    """The fold of one job, which goes on with what is logged next: a long job costs no more."""

    def __init__(self, profile: Profile | None, events: Iterable[Event]) -> None:
        ordered = sorted(events, key=lambda event: event.id)
        strikes = _strikes(ordered)
        tree = FeedTree.of(profile) if profile is not None else None
        self._draft = Draft(profile, {"job": ordered[0].job if ordered else ""}, tree)
        for event in ordered:
            if event.id not in strikes:
                take(self._draft, event)
        self.state = self._draft.finish(tuple(_logged(event, strikes) for event in ordered))

    def go_on(self, events: Sequence[Event]) -> bool:
        """Take events that follow; say whether that could be done, else nothing was taken.

        What is struck, what comes before the last one, and another kind of board change what was
        taken before.
        """
        last = self.state.tape[-1].event.id if self.state.tape else ""
        ids = [last, *(event.id for event in events)]
        is_next = all(a < b for a, b in itertools.pairwise(ids))
        if not is_next or any(isinstance(e.body, Struck | KindCorrected) for e in events):
            return False
        for event in events:
            take(self._draft, event)
        more = tuple(Logged(event=event) for event in events)
        self.state = self._draft.finish((*self.state.tape, *more))
        return True

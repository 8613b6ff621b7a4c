"""What is read over some time by a linked meter: a contact that is moved, a capacitor that charges."""

from typing import Any, Protocol

from bench_lamp.cards.card import Card, Typed
from bench_lamp.cards.instrument import SERIES_S
from bench_lamp.cards.settled import charging_part, moved_contact, moved_words, series_typed
from bench_lamp.case.case import Case
from bench_lamp.instrument.charging_stream import ChargingWatch
from bench_lamp.instrument.protocol import Request, Shown
from bench_lamp.instrument.sample import Sample
from bench_lamp.instrument.wiggle import WiggleWatch


class WatchedSession(Protocol):
    """What is needed of the session."""

    #: Says what, mend, and whether it is a refusal.
    notified: Any

    @property
    def case(self) -> Case | None:
        """The open job's case."""
        ...

    @property
    def is_waiting(self) -> bool:
        """Whether something said is not on disk yet."""
        ...

    def card(self) -> Card | None:
        """Return the lit card."""
        ...

    def take_seen(self, request: Request, shown: Shown, source: str) -> None:
        """Take a test without a figure."""
        ...

    def take_typed(self, typed: Typed) -> None:
        """Take what an instrument shows."""
        ...


class StreamWatch:
    """Takes each live value to what the lit card watches; nothing where it watches nothing."""

    def __init__(self, session: WatchedSession) -> None:
        self._session = session
        #: The contact that is moved now, and the capacitor that charges; and what watches them.
        self._wiggle = ("", WiggleWatch())
        self._charging = ("", ChargingWatch(SERIES_S))

    def take(self, live: Sample | None, *, is_held: bool) -> None:
        """Take the value that shows now."""
        session = self._session
        card, case = session.card(), session.case
        if case is None or card is None or live is None or is_held or session.is_waiting:
            self._wiggle, self._charging = ("", WiggleWatch()), ("", ChargingWatch(SERIES_S))
            return
        self._watch_contact(case, card, live)
        self._watch_charging(case, card, live)

    def _watch_contact(self, case: Case, card: Card, live: Sample) -> None:
        """Log that the reading moves with a contact that is moved, or that it does not."""
        request = moved_contact(case, card)
        if request is None:
            self._wiggle = ("", WiggleWatch())
            return
        if self._wiggle[0] != request.target:
            self._wiggle = (request.target, WiggleWatch())
            words = "The meter watches whether it shows."
            self._session.notified.emit(f"Move {request.target}", words, False)
        watch = self._wiggle[1]
        found = watch.take(live)
        if found is not None:
            said = moved_words(request.target, found, watch.seen, live)
            self._session.notified.emit(*said, False)
            self._session.take_seen(request, Shown(value=float(found)), "meter")

    def _watch_charging(self, case: Case, card: Card, live: Sample) -> None:
        """Take a series of ohms from the moment that the leads touch."""
        part = charging_part(case, card)
        if self._charging[0] != part:
            self._charging = (part, ChargingWatch(SERIES_S))
        if not part:
            return
        watch, before = self._charging[1], self._charging[1].count
        series = watch.take(live)
        if series is not None:
            self._charging = ("", ChargingWatch(SERIES_S))
            self._session.take_typed(series_typed(series, "meter"))
        elif watch.count > before:
            words = f"{watch.count} of {len(SERIES_S)}"
            self._session.notified.emit(words, "Hold the leads still.", False)

"""What is shown: which job, stage and card, and the ways from one to another."""

from collections.abc import Callable, Iterable, Mapping
from datetime import UTC, datetime

from msgspec.structs import replace
from PySide6.QtCore import QObject, Signal

from bench_lamp.board import Profile, ProfileLibrary
from bench_lamp.cards.card import Accepted, Asked, Card
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.house_rules import RULES
from bench_lamp.case.next_stage import suggested
from bench_lamp.checks import Meter, load_meters
from bench_lamp.desktop.jobs import JobBook
from bench_lamp.desktop.journal_client import JournalClient
from bench_lamp.desktop.reasoning_client import ReasoningClient
from bench_lamp.journal import Event
from bench_lamp.journal.events import StageId
from bench_lamp.journal.ids import IdMaker
from bench_lamp.stages import STAGES
from bench_lamp.views import new_job, shelf
from bench_lamp.views.guard import stage_of

Clock = Callable[[], datetime]


def utc_now() -> datetime:
    """Return this moment."""
    return datetime.now(UTC)


class Navigation(QObject):
    """What one window shows: widgets redraw on `changed`."""

    #: Something that is shown may be different now.
    changed = Signal()
    #: A question about the entry: an `Asked`; None takes it away.
    asked = Signal(object)
    #: A message in place: what, mend, and whether it is a refusal.
    notified = Signal(str, str, bool)
    #: The last entry is on disk: the entry field may be emptied.
    logged = Signal()
    #: What a card has the window do: a `Command`.
    commanded = Signal(object)
    #: The shop has chosen another house rule.
    ruled = Signal()
    #: Where the journal is shared, or what this bench is called there: `database` or `bench`, and which.
    sharing_said = Signal(str, str)
    #: For the store's thread.
    append_requested = Signal(object)
    #: For the instrument's thread.
    measure_requested = Signal(object)
    #: What an instrument shows, as it would be typed: for the screen.
    measured = Signal(str)

    def __init__(
        self, library: ProfileLibrary, events: Iterable[Event], *, clock: Clock = utc_now
    ) -> None:
        super().__init__()
        self.library, self.clock = library, clock
        self.book = JobBook(library)
        self.meter: Meter = load_meters()["hearthwell-60"]
        self.journal = JournalClient()
        self.journal.held = self.book.held
        self.journal.loaded.connect(self.add_events)
        self.journal.changed.connect(self.changed)
        self.job = ""
        self.stage: StageId = "rails"
        self.is_making = self.asks_power = False
        #: The id of the kind in the workshop; empty while it is closed.
        self.describing = ""
        #: Where the person is in the open job, and in the questions of a new one.
        self.hand = Hand()
        self._ids = IdMaker(clock_ms=lambda: round(self.clock().timestamp() * 1000))
        self._after: dict[str, Accepted] = {}
        self._case: Case | None = None
        self._card: tuple[Case, Hand, StageId, Card] | None = None
        self._typed, self._again, self.is_asking = "", "", False
        self.reasoning = ReasoningClient()
        #: The shop's choices, by rule.
        self.rules: Mapping[str, str] = {}
        self.is_ruling, self.rule_key = False, RULES[0].key
        self._is_held = False
        #: Who has which job open on another bench.
        self.open_elsewhere: Mapping[str, str] = {}
        #: Ends the reading of a file, and says whether there was one.
        self.halt_reading: Callable[[], bool] = lambda: False
        self.add_events(events)

    def add_events(self, events: Iterable[Event]) -> None:
        """Take in events that are on disk already: the rest of a journal."""
        known = tuple(events)
        for event in known[-1:]:
            self._ids.resume_after(event.id)
        self.book.add(known)
        self._case = None

    def age(self) -> None:
        """See whether what was confirmed of the power still counts."""
        case, self._case = self._case, None
        if self.case is None or case is None or self.case.state.power != case.state.power:
            self.changed.emit()

    @property
    def is_waiting(self) -> bool:
        """Whether something said is not on disk yet."""
        return bool(self._after) or self._is_held

    @property
    def case(self) -> Case | None:
        """The open job's case; None on the shelf."""
        if self._case is None and self.job:
            found = self.book.case(self.job, self.meter, self.rules, self.clock())
            self.reasoning.attend(self.job, found)
            self._case = self.reasoning.fill(found)
        return self._case

    def shelf(self, words: str = "") -> tuple[shelf.ShelfCard, ...]:
        """Return the shelf, or what of it matches."""
        now = self.clock()
        cases = (self.book.case(job, self.meter, self.rules, now) for job in self.book.at_hand())
        found = shelf.shelf(cases, self.book.done(), now=now, elsewhere=self.open_elsewhere)
        return shelf.matching(found, words)

    def card(self) -> Card | None:
        """Return the lit card; None on the shelf."""
        if self.is_making:
            notes, visits = self.library.notes(), self.book.visits()
            hides = not (self.library.offers_shipped or "demo" in self.hand.draft)
            return new_job.new_job_card(
                self.hand.draft, self.kinds(), visits, notes, hides_demo=hides
            )
        case = self.case
        if case is None:
            return None
        if not self.asks_power:
            # Asked for several times at each key.
            known = self._card
            if known is None or known[0] is not case or known[1:3] != (self.hand, self.stage):
                card = stage_of(self.stage).card(case, self.hand)
                known = self._card = (case, self.hand, self.stage, card)
            return known[3]
        from bench_lamp.cards.power import power_card

        return power_card(case)

    def kinds(self) -> tuple[Profile, ...]:
        """Return the kinds of board that a new job may be of."""
        before = self.book.visits().get(self.hand.draft.get("tag", ""), ())
        return self.library.offered(
            ships="demo" in self.hand.draft, known={v.profile for v in before}
        )

    def open_job(self, job: str, stage: StageId = "") -> None:
        """Put a job on the bench, at the stage where its work goes on."""
        self.job, self.is_making, self.describing = job, False, ""
        self._clear()
        self.hand = replace(self.hand, skipped=frozenset())
        self._case = None
        case = self.case
        self.stage = stage or (suggested(case) if case else STAGES[0].id)
        self.changed.emit()

    def go_shelf(self) -> None:
        """Put the job back on the shelf."""
        self._leave(is_making=False)

    def begin_job(self, kind: str = "") -> None:
        """Start the questions of a new job; its kind of board may be known."""
        self._leave(is_making=True)
        self.begin_with({"kind": kind} if kind else {})

    def correct_kind(self) -> None:
        """Ask anew what kind of board the open job's is."""
        job = self.job
        self._leave(is_making=True)
        self.begin_with({"tag": job.partition("/")[0], "job": job})

    def _leave(self, *, is_making: bool) -> None:
        self.job, self.is_making, self.describing, self._case = "", is_making, "", None
        self._clear()
        self.changed.emit()

    def go(self, stage: StageId) -> None:
        """Go to a stage."""
        self.stage = stage
        self._clear()
        self.changed.emit()

    def look_at(self, focus: str, cell: str = "") -> None:
        """Put a point, part or test under the lamp, or a cell; empty goes back to the order."""
        self.asks_power = False
        self._set_hand(focus=focus, cell=cell, wants_ripple=False)
        self.changed.emit()

    def begin_with(self, draft: Mapping[str, str]) -> None:
        """Begin the stage's questions with these answers."""
        self._set_hand(draft=draft)
        self.changed.emit()

    def set_rules(self, rules: Mapping[str, str]) -> None:
        """Take the shop's house rules."""
        self.rules = dict(rules)
        self._case = None
        self.ruled.emit()
        self.changed.emit()

    def toggle_rules(self) -> None:
        """Open the house rules, or go back to where one was."""
        self.is_ruling = not self.is_ruling
        self.changed.emit()

    def look_at_rule(self, key: str) -> None:
        """Put one house rule on the card."""
        self.rule_key = key
        self.changed.emit()

    def replay_at(self, moment: int | None) -> None:
        """Look back at a moment of the reasoning; None comes back to now."""
        case = self.case
        if case is None or not case.moments:
            moment = None
        elif moment is not None:
            moment = min(max(moment, 0), len(case.moments) - 1)
        self.hand = replace(self.hand, replay=moment)
        self.changed.emit()

    def toggle_replay(self) -> None:
        """Look back at how the odds moved, or come back to now."""
        case = self.case
        if case is None or not stage_of(self.stage).has_history:
            self.go(next(stage.id for stage in STAGES if stage.has_history))
        elif self.hand.replay is not None:
            self.replay_at(None)
        elif len(case.moments) < 2:
            self.notified.emit("Nothing to look back at yet", "Take a reading first.", False)
        else:
            self.replay_at(len(case.moments) - 1)

    def ask_power(self) -> None:
        """Ask for the power state, or take the question back."""
        self.asks_power = not self.asks_power
        self._ask(None)
        self.changed.emit()

    def skip(self) -> None:
        """Set the lit card aside; the power question and drafts are just taken back."""
        card = self.card()
        if self.is_asking:
            self._ask(None)
            return
        if self.halt_reading():
            return
        if self.hand.replay is not None:
            self.replay_at(None)
            return
        if self.reasoning.is_reasoning and stage_of(self.stage).waits_for_reasoning:
            self.reasoning.stop()
            return
        if self.asks_power or self.hand.draft or self.hand.focus or self.hand.aside:
            self._clear()
        elif card is not None and card.can_skip:
            self.hand = replace(self.hand, skipped=self.hand.skipped | {card.id})
        self._ask(None)
        self.changed.emit()

    def refuse(self, what: str, mend: str) -> None:
        """Say that something could not be done, and the mend."""
        self.notified.emit(what, mend, True)

    def _clear(self) -> None:
        self.is_ruling = False
        self.asks_power = False
        self.hand = Hand(skipped=self.hand.skipped)
        self._ask(None)

    def _ask(self, asked: Asked | None) -> None:
        self.is_asking = asked is not None
        self.asked.emit(asked)

    def _set_hand(
        self,
        *,
        focus: str | None = None,
        cell: str = "",
        draft: Mapping[str, str] | None = None,
        wants_ripple: bool | None = None,
    ) -> None:
        """Change what is given; None leaves as it is, and a cell goes with its focus."""
        hand = self.hand
        if focus is not None:
            hand = replace(hand, focus=focus, cell=cell)
        if draft is not None:
            hand = replace(hand, draft=draft)
        if wants_ripple is not None:
            hand = replace(hand, wants_ripple=wants_ripple)
        self.hand = hand

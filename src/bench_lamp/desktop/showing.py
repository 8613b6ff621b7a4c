"""What is shown: which job, stage and card, and the ways from one to another."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import replace
from datetime import UTC, datetime

from PySide6.QtCore import QObject, Signal

from bench_lamp.board import ProfileLibrary
from bench_lamp.checks import Meter, load_meters
from bench_lamp.desktop.book import JobBook
from bench_lamp.desktop.mind import Mind
from bench_lamp.journal import Event
from bench_lamp.journal.events import Stage
from bench_lamp.journal.ids import IdMaker
from bench_lamp.plan import newjob, shelf, stages
from bench_lamp.plan.card import Accepted, Asked, Card
from bench_lamp.plan.house_rules import RULES
from bench_lamp.plan.situation import Situation

Clock = Callable[[], datetime]


def utc_now() -> datetime:
    """Return this moment."""
    return datetime.now(UTC)


class Showing(QObject):
    """What one window shows: widgets redraw on `changed`."""

    #: Something that is shown may be different now.
    changed = Signal()
    #: A question about the entry: an `Asked`; None takes it away.
    asked = Signal(object)
    #: A message in place: what, mend, and whether it is a refusal.
    told = Signal(str, str, bool)
    #: The last entry is on disk: the entry field may be emptied.
    logged = Signal()
    #: A desktop command of a card: `save-pdf`.
    commanded = Signal(str)
    #: The shop has chosen another house rule.
    ruled = Signal()
    #: For the store's thread.
    append_requested = Signal(object)

    def __init__(
        self, library: ProfileLibrary, events: Iterable[Event], *, clock: Clock = utc_now
    ) -> None:
        super().__init__()
        self.library, self.clock = library, clock
        self.book = JobBook(library)
        self.meter: Meter = load_meters()["hearthwell-60"]
        self.read_only = ""
        self.job = ""
        self.stage: Stage = "rails"
        self.is_making = False
        self.asks_power = False
        self.focus, self.wants_ripple = "", False
        self.skipped: frozenset[str] = frozenset()
        self.draft: Mapping[str, str] = {}
        self._ids = IdMaker(clock_ms=lambda: round(self.clock().timestamp() * 1000))
        self._after: dict[str, Accepted] = {}
        self._situation: Situation | None = None
        self._before: Situation | None = None
        self._card: tuple[Situation, Stage, Card] | None = None
        self._typed, self._again = "", ""
        self._is_asking = False
        self.mind = Mind()
        #: The shop's choices, by rule.
        self.rules: Mapping[str, str] = {}
        self.is_ruling, self.rule_key = False, RULES[0].key
        #: Which moment of the job is being looked back at; None for now.
        self.replay: int | None = None
        self._is_held = False
        #: Ends the reading of a file, and says whether there was one.
        self.halt_reading: Callable[[], bool] = lambda: False
        self.add_events(events)

    def add_events(self, events: Iterable[Event]) -> None:
        """Take in events that are on disk already: the rest of a journal."""
        known = tuple(events)
        for event in known[-1:]:
            self._ids.resume_after(event.id)
        self.book.add(known)
        self._situation = None

    @property
    def is_waiting(self) -> bool:
        """Whether something said is not on disk yet."""
        return bool(self._after) or self._is_held

    # What is shown.

    @property
    def situation(self) -> Situation | None:
        """The open job's situation; None on the shelf."""
        if self._situation is None and self.job:
            self._situation = self._situation_of(self.job)
        return self._situation

    def _situation_of(self, job: str) -> Situation:
        found = self.book.situation(job, self.meter)
        if job != self.job:
            return replace(found, rules=self.rules)
        self.mind.attend(job, found)
        shown = replace(
            self.mind.fill(found, self.replay),
            skipped=self.skipped,
            focus=self.focus,
            draft=self.draft,
            rules=self.rules,
            wants_ripple=self.wants_ripple,
        )
        self._before = shown.recalling(self._before)
        return shown

    def shelf(self, words: str = "") -> tuple[shelf.ShelfCard, ...]:
        """Return the shelf, or what of it matches."""
        return shelf.matching(shelf.shelf(map(self._situation_of, self.book.jobs())), words)

    def card(self) -> Card | None:
        """Return the lit card; None on the shelf."""
        if self.is_making:
            return newjob.new_job_card(self.draft, self.library.all(), self.book.visits())
        situation = self.situation
        if situation is None:
            return None
        if not self.asks_power:
            # Asked for several times at each key; a situation never changes.
            kept = self._card
            if kept is None or kept[0] is not situation or kept[1] != self.stage:
                kept = (situation, self.stage, stages.card_for(self.stage, situation))
                self._card = kept
            return kept[2]
        from bench_lamp.plan.power import power_card

        return power_card(situation)

    # Where to.

    def open_job(self, job: str, stage: Stage | None = None) -> None:
        """Put a job on the bench, at the stage where its work goes on."""
        self.job, self.is_making = job, False
        self._clear()
        self.skipped = frozenset()
        self._situation = None
        situation = self.situation
        self.stage = stage or (stages.suggested(situation) if situation else "intake")
        self.changed.emit()

    def go_shelf(self) -> None:
        """Put the job back on the shelf."""
        self.job, self.is_making = "", False
        self._clear()
        self.changed.emit()

    def go(self, stage: Stage) -> None:
        """Go to a stage."""
        self.stage = stage
        self._clear()
        self.changed.emit()

    def look_at(self, focus: str) -> None:
        """Put a point, part or question under the lamp; empty goes back to the order."""
        self.asks_power = False
        self._keep(focus=focus, wants_ripple=False)
        self.changed.emit()

    def take_up(self, part: str) -> None:
        """Begin a swap with this part."""
        self._keep(draft={"part": part})
        self.changed.emit()

    def begin_job(self) -> None:
        """Start the questions of a new job."""
        self.job, self.is_making = "", True
        self._clear()
        self.changed.emit()

    def tap(self, name: str) -> None:
        """Tap a pin or transistor in a drawing: it beeped, or it did not after all."""
        tapped = [n for n in self.draft.get("pins", "").split() if n != name]
        if name not in self.draft.get("pins", "").split():
            tapped.append(name)
        self._keep(draft={**self.draft, "pins": " ".join(tapped)})
        self.changed.emit()

    def tap_in_time(self, begin_s: float, end_s: float) -> None:
        """Count one blink: when the key went down and up, in seconds of any clock."""
        taps = f"{self.draft.get('taps', '')} {begin_s:.3f}-{end_s:.3f}".strip()
        self._keep(draft={**self.draft, "taps": taps})
        self.changed.emit()

    def set_rules(self, rules: Mapping[str, str]) -> None:
        """Take the shop's house rules."""
        self.rules = dict(rules)
        self._situation = None
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
        situation = self.situation
        if situation is None or not situation.moments:
            moment = None
        elif moment is not None:
            moment = min(max(moment, 0), len(situation.moments) - 1)
        self.replay = moment
        self._situation = None
        self.changed.emit()

    def toggle_replay(self) -> None:
        """Look back at how the odds moved, or come back to now."""
        situation = self.situation
        if self.stage != "trace" or situation is None:
            self.go("trace")
        elif self.replay is not None:
            self.replay_at(None)
        elif len(situation.moments) < 2:
            self.told.emit("Nothing to look back at yet", "Take a reading first.", False)
        else:
            self.replay_at(len(situation.moments) - 1)

    def ask_power(self) -> None:
        """Ask for the power state, or take the question back."""
        self.asks_power = not self.asks_power
        self._ask(None)
        self.changed.emit()

    def toggle_ripple(self) -> None:
        """Put the meter on AC for this DC point, or back."""
        self._keep(wants_ripple=not self.wants_ripple)
        self.changed.emit()

    def use_meter(self, meter_id: str) -> None:
        """Change the meter whose accuracy is reckoned with."""
        self.meter = load_meters()[meter_id]
        self._situation = None
        self.changed.emit()

    def skip(self) -> None:
        """Set the lit card aside; the power question and drafts are just taken back."""
        card = self.card()
        if self._is_asking:
            self._ask(None)
            return
        if self.halt_reading():
            return
        if self.replay is not None:
            self.replay_at(None)
            return
        if self.mind.is_thinking and self.stage in {"trace", "cold"}:
            self.mind.stop()
            return
        if self.asks_power or self.draft or self.focus:
            self._clear()
        elif card is not None and card.can_skip:
            self.skipped |= {card.id}
            self._situation = None
        self._ask(None)
        self.changed.emit()

    def _clear(self) -> None:
        self.is_ruling = False
        self.asks_power = False
        self.replay = None
        self._keep(focus="", draft={}, wants_ripple=False)
        self._ask(None)

    def _ask(self, asked: Asked | None) -> None:
        self._is_asking = asked is not None
        self.asked.emit(asked)

    def _keep(
        self, *, focus: str | None = None, draft: Mapping[str, str] | None = None,
        wants_ripple: bool | None = None,
    ) -> None:  # fmt: skip
        self.focus = self.focus if focus is None else focus
        self.draft = self.draft if draft is None else draft
        self.wants_ripple = self.wants_ripple if wants_ripple is None else wants_ripple
        self._situation = None

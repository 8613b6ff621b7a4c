"""The session: which job, stage and card are shown, and every append.

It holds no rules: cards, answers and states come from `plan`, and what the
technician says goes to the store first and on the screen after.
"""

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import replace
from datetime import UTC, datetime

from PySide6.QtCore import QObject, Signal, Slot

from bench_lamp.board import Profile, ProfileLibrary
from bench_lamp.checks import Meter, load_meters
from bench_lamp.errors import BenchLampError
from bench_lamp.journal import Event, JobState, fold
from bench_lamp.journal.events import Body, JobOpened, Stage, Struck
from bench_lamp.journal.ids import IdMaker
from bench_lamp.plan import newjob, shelf, stages, tape
from bench_lamp.plan.card import Accepted, Asked, Card, Choice, Refused
from bench_lamp.plan.power import power_card
from bench_lamp.plan.situation import Situation

Clock = Callable[[], datetime]


def utc_now() -> datetime:
    """Return this moment."""
    return datetime.now(UTC)


class Session(QObject):
    """One window's work. Widgets call its verbs and redraw on `changed`."""

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
    #: For the store's thread.
    append_requested = Signal(object)

    def __init__(
        self, library: ProfileLibrary, events: Iterable[Event], *, clock: Clock = utc_now
    ) -> None:
        super().__init__()
        self.library, self.clock = library, clock
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
        self._events: dict[str, list[Event]] = {}
        self._states: dict[str, JobState] = {}
        self._after: dict[str, Accepted] = {}
        self._situation: Situation | None = None
        self._typed, self._again = "", ""
        self.add_events(events)

    def add_events(self, events: Iterable[Event]) -> None:
        """Take in events that are on disk already: the rest of a journal."""
        jobs = set()
        for event in events:
            self._events.setdefault(event.job, []).append(event)
            self._ids.resume_after(event.id)
            jobs.add(event.job)
        for job in jobs:
            self._refold(job)

    @property
    def is_waiting(self) -> bool:
        """Whether something said is not on disk yet."""
        return bool(self._after)

    # What is shown.

    @property
    def situation(self) -> Situation | None:
        """The open job's situation; None on the shelf."""
        if self._situation is None and self.job:
            self._situation = self._situation_of(self.job)
        return self._situation

    def _situation_of(self, job: str) -> Situation:
        state = self._states[job]
        visits = [s for s in self.visits().get(state.tag, ()) if s.job != job]
        before = [
            s for s in visits if state.opened_at and s.opened_at and s.opened_at < state.opened_at
        ]
        here = job == self.job
        return Situation(
            profile=self.profile_of(state),
            state=state,
            meter=self.meter,
            last_visit=before[-1] if before else None,
            visits=tuple(before),
            skipped=self.skipped if here else frozenset(),
            focus=self.focus if here else "",
            draft=self.draft if here else {},
            wants_ripple=self.wants_ripple and here,
        )

    def profile_of(self, state: JobState) -> Profile:
        """Return a job's profile; an empty one when it is not in the library."""
        found = self.library.get(state.profile_id)
        return found or Profile(
            format="bench-lamp board 1", id=state.profile_id, test_points=(),
            name=f"{state.profile_id} (profile not found)",
        )  # fmt: skip

    def visits(self) -> dict[str, tuple[JobState, ...]]:
        """Return every board's jobs."""
        return shelf.by_tag(self._states)

    def shelf(self, words: str = "") -> tuple[shelf.ShelfCard, ...]:
        """Return the shelf, or what of it matches."""
        return shelf.matching(shelf.shelf(map(self._situation_of, self._states)), words)

    def card(self) -> Card | None:
        """Return the lit card; None on the shelf."""
        if self.is_making:
            return newjob.new_job_card(self.draft, self.library.all(), self.visits())
        situation = self.situation
        if situation is None:
            return None
        return power_card(situation) if self.asks_power else stages.card_for(self.stage, situation)

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

    def ask_power(self) -> None:
        """Ask for the power state, or take the question back."""
        self.asks_power = not self.asks_power
        self.asked.emit(None)
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
        if self.asks_power or self.draft or self.focus:
            self._clear()
        elif card is not None and card.can_skip:
            self.skipped |= {card.id}
            self._situation = None
        self.asked.emit(None)
        self.changed.emit()

    def _clear(self) -> None:
        self.asks_power = False
        self._keep(focus="", draft={}, wants_ripple=False)
        self.asked.emit(None)

    def _keep(
        self, *, focus: str | None = None, draft: Mapping[str, str] | None = None,
        wants_ripple: bool | None = None,
    ) -> None:  # fmt: skip
        self.focus = self.focus if focus is None else focus
        self.draft = self.draft if draft is None else draft
        self.wants_ripple = self.wants_ripple if wants_ripple is None else wants_ripple
        self._situation = None

    # What is said.

    def answer(self, text: str) -> None:
        """Take what was typed on the lit card."""
        self._typed = text
        situation = self.situation
        if self.is_making:
            answer = newjob.take_tag(text, self.visits())
        elif situation is None or self.asks_power:
            return
        else:
            taken = stages.take(self.stage, situation, text)
            if taken is None:
                return
            answer = taken
        if isinstance(answer, Refused):
            self.told.emit(answer.what, answer.mend, True)
        elif isinstance(answer, Asked):
            self.asked.emit(answer)
        else:
            self._accept(answer)

    def choose(self, choice: Choice) -> None:
        """Take one of a card's choices."""
        self.asked.emit(None)
        if choice.command == "power":
            self.ask_power()
            return
        self.asks_power = False
        self._again = self._typed if choice.again else ""
        if choice.command:
            self.commanded.emit(choice.command)
        if self.is_making and "profile" in choice.draft:
            self._open_new(choice.draft)
            return
        moved = bool(choice.focus or choice.go) or self.focus in stages_with_one_focus(self.stage)
        self._accept(
            Accepted(
                log=choice.log,
                draft=dict(choice.draft) if choice.draft else None,
                focus=choice.focus if moved else None,
                go=choice.go,
            )
        )

    def strike(self, event_id: str, reason: str) -> None:
        """Strike an event, with a reason."""
        self.say((Struck(event=event_id, reason=reason.strip() or "no reason given"),))

    def undo(self) -> None:
        """Strike the last thing said."""
        self._step(tape.to_undo, "Nothing to undo")

    def redo(self) -> None:
        """Take the last undo back."""
        self._step(tape.to_redo, "Nothing to redo")

    def _step(self, find: Callable[[Situation], Struck | None], nothing: str) -> None:
        situation = self.situation
        strike = find(situation) if situation else None
        if strike is None:
            self.told.emit(nothing, "", False)
        else:
            self.say((strike,))

    def say(self, bodies: Sequence[Body], then: Accepted | None = None) -> None:
        """Append to the open job; the screen follows when it is on disk."""
        self._append(self.job, bodies, then or Accepted())

    def _open_new(self, draft: Mapping[str, str]) -> None:
        job = newjob.job_name(draft["tag"], self.visits())
        self._append(job, (newjob.opening(draft),), Accepted())

    def _accept(self, answer: Accepted) -> None:
        if answer.log:
            self.say(answer.log, answer)
        else:
            self._settle(answer)
            self.changed.emit()

    def _settle(self, answer: Accepted) -> None:
        """Move on: what the answer puts under the lamp, keeps, and where it goes."""
        if answer.go:
            self.stage = answer.go
            self._keep(focus="", draft={}, wants_ripple=False)
        self._keep(focus=answer.focus, draft=answer.draft)

    def _append(self, job: str, bodies: Sequence[Body], then: Accepted) -> None:
        if self.read_only:
            self.told.emit("Nothing can be logged here", self.read_only, True)
            return
        now = self.clock()
        events = tuple(Event(id=self._ids(), job=job, at=now, body=body) for body in bodies)
        self._after[events[-1].id] = then
        self.append_requested.emit(events)

    # What the store answers.

    @Slot(object)
    def on_appended(self, events: tuple[Event, ...]) -> None:
        """The events are on disk: fold, move on, show."""
        job = events[0].job
        self._events.setdefault(job, []).extend(events)
        self._refold(job)
        then = self._after.pop(events[-1].id, Accepted())
        if isinstance(events[0].body, JobOpened):
            self.open_job(job, "intake")
            return
        if job == self.job:
            if any(event.body.kind == "reading" for event in events):
                self._keep(focus="", wants_ripple=False)
            self._settle(then)
            again, self._again = self._again, ""
            if again:
                self.changed.emit()
                self.answer(again)
                return
            self.logged.emit()
            self.changed.emit()

    @Slot(object, object)
    def on_failed(self, error: BenchLampError, events: tuple[Event, ...]) -> None:
        """The events are not on disk: say so, keep what was typed."""
        self._after.pop(events[-1].id, None)
        self.told.emit(str(error), error.hint, True)

    @Slot(str)
    def on_opened(self, last_id: str) -> None:
        """The journal can be written."""
        if last_id:
            self._ids.resume_after(last_id)

    @Slot(object)
    def on_refused(self, error: BenchLampError) -> None:
        """The journal cannot be written: everything can be looked at, nothing logged."""
        self.read_only = f"{error}. {error.hint}"
        self.changed.emit()

    def _refold(self, job: str) -> None:
        events = self._events[job]
        opened = next((e.body for e in events if isinstance(e.body, JobOpened)), None)
        profile = self.library.get(opened.profile) if opened else None
        self._states[job] = replace(fold(profile, events), job=job)
        self._situation = None


def stages_with_one_focus(stage: Stage) -> frozenset[str]:
    """Return focus names that a choice of the stage uses up."""
    return frozenset({"selector", "sticker", "fuse"}) if stage == "intake" else frozenset()

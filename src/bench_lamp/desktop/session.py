"""The session: what the technician says, to the store first and on the screen after.

It holds no rules: cards, answers and states come from the stages.
"""

from collections.abc import Callable, Iterable, Mapping, Sequence

from msgspec.structs import replace
from PySide6.QtCore import QTimer, Slot

from bench_lamp.board import ProfileLibrary
from bench_lamp.board.change import changed_names
from bench_lamp.cards.card import Accepted, Answer, Asked, Choice, Refused, Typed
from bench_lamp.cards.commands import AskPower, SkipCard
from bench_lamp.case.calls import with_call
from bench_lamp.case.case import Case
from bench_lamp.desktop.asides import Asides
from bench_lamp.desktop.describing import Describing
from bench_lamp.desktop.fetching import Fetching
from bench_lamp.desktop.measuring import Measuring
from bench_lamp.desktop.navigation import Clock, utc_now
from bench_lamp.errors import BenchLampError
from bench_lamp.journal import Event
from bench_lamp.journal.events import Body, JobOpened, ReadingTaken, Struck
from bench_lamp.journal.open_events import KindCorrected
from bench_lamp.views import new_job, tape
from bench_lamp.views.guard import stage_of, take

#: How long the screen waits for the reasoning after an entry on Trace, in milliseconds.
HOLD_MS = 600


class Session(Fetching, Asides, Describing, Measuring):
    """One window's work. Widgets call its verbs and redraw on `changed`."""

    def __init__(
        self, library: ProfileLibrary, events: Iterable[Event], *, clock: Clock = utc_now
    ) -> None:
        super().__init__(library, events, clock=clock)
        self.growing.grew.connect(self._on_grew)
        self.journal.shortened.connect(self.add_short)
        self.journal.at_rest.connect(self.fetch_related)
        self.growing.failed.connect(self._on_not_grown)
        self.stock_brought.connect(self._take_stock)
        self._hold = QTimer(self, singleShot=True, interval=HOLD_MS)
        self._hold.timeout.connect(self._release)
        self.reasoning.changed.connect(self._on_reasoned)
        self.reasoning.failed.connect(self.refuse)

    @property
    def is_waiting(self) -> bool:
        """Whether something said is not on disk yet."""
        return super().is_waiting or self.growing.is_growing

    # What is said.

    def answer(self, text: str) -> None:
        """Take what was typed on the lit card; while an answer is on its way, wait for it."""
        self._answer(Typed(text=text))

    def _answer(self, typed: Typed) -> None:
        if self.is_waiting:
            return
        self._typed = typed.text
        answer = self._meaning(typed)
        if isinstance(answer, Refused):
            self.notified.emit(answer.what, answer.mend, True)
        elif isinstance(answer, Asked):
            self._ask(answer)
        elif answer is not None:
            self._accept(answer)

    def _meaning(self, typed: Typed) -> Answer | None:
        if self.describing:
            return self.workshop_answer(typed.text)
        if self.is_making:
            known = (self.kinds(), self.book.visits())
            return new_job.take(typed.text, self.hand.draft, *known)
        case = self.case
        if case is None or self.asks_power:
            return None
        if self.hand.aside:
            return self.aside_answer(typed.text)
        return take(self.stage, case, self.hand, typed)

    def ahead_of(self, text: str) -> str:
        """Return what was typed on after the answer that has just been logged."""
        return text.removeprefix(self._typed) if text != self._typed else ""

    def choose(self, choice: Choice) -> None:
        """Take one of a card's choices."""
        self._ask(None)
        if self.is_ruling and "rule" in choice.draft:
            self.set_rules({**self.rules, choice.draft["rule"]: choice.draft["option"]})
            return
        if self.workshop_choose(choice):
            return
        if isinstance(choice.command, AskPower):
            self.ask_power()
            return
        if isinstance(choice.command, SkipCard):
            self.skip()
            return
        self.asks_power = False
        self._again = self._typed if choice.again else ""
        if self.is_making and "profile" in choice.draft:
            self._open_new(choice.draft)
            return
        moved = bool(choice.focus or choice.go) or choice.ends_focus
        self._accept(
            Accepted(
                log=choice.log,
                draft=dict(choice.draft) if choice.draft else None,
                focus=choice.focus if moved else None,
                cell=choice.cell,
                go=choice.go,
                command=choice.command,
                grow=choice.grow,
            )
        )

    def strike(self, event_id: str, reason: str) -> None:
        """Strike an event, with a reason."""
        self.say((Struck(event=event_id, reason=reason.strip() or "no reason given"),))

    def undo(self) -> None:
        """Strike the last thing said; in the workshop, take the last change back."""
        if self.describing:
            self.unchange()
            return
        self._step(tape.to_undo, "Nothing to undo")

    def redo(self) -> None:
        """Take the last undo back."""
        if self.describing:
            self.unchange(again=True)
            return
        self._step(tape.to_redo, "Nothing to redo")

    def _step(self, find: Callable[[Case], Struck | None], nothing: str) -> None:
        case = self.case
        strike = find(case) if case else None
        if strike is None:
            self.notified.emit(nothing, "", False)
        else:
            self.say((strike,))

    def say(self, bodies: Sequence[Body], then: Accepted | None = None) -> None:
        """Append to the open job; the screen follows when it is on disk."""
        self._append(self.job, bodies, then or Accepted())

    def _open_new(self, draft: Mapping[str, str]) -> None:
        if not draft["profile"]:
            self.growing.begin(
                draft["name"], lambda made: self._open_new({**draft, "profile": made})
            )
            return
        job = draft.get("job") or new_job.job_name(draft["tag"], self.book.jobs())
        self._append(job, (new_job.opening(draft),), Accepted())

    def _accept(self, answer: Accepted) -> None:
        if self.is_making and answer.draft and "profile" in answer.draft:
            self._open_new(answer.draft)
        elif answer.grow:
            self._grow(answer)
        elif answer.log:
            self.say(answer.log, answer)
        else:
            self._settle(answer)
            self.changed.emit()

    def _grow(self, answer: Accepted) -> None:
        """Have the profile learn first; what is logged with it follows when that is on disk."""

        def then(_: str) -> None:
            again, self._again = self._again, ""
            if again:
                self.answer(again)
            else:
                if not answer.log:
                    self.logged.emit()
                self._accept(replace(answer, grow=()))
                if not answer.log:
                    names = changed_names(answer.grow)
                    self.notified.emit("Remembered for this kind of board", names, False)

        self.grow(answer.grow, then)

    @Slot(str)
    def _on_grew(self, profile_id: str) -> None:
        """A profile is another one now: all its jobs are folded with it anew."""
        self.fetch(self.book.fold_anew(profile_id))
        self._case = None
        self.changed.emit()

    @Slot(object)
    def _on_not_grown(self, error: BenchLampError) -> None:
        """The profile is as it was: say why, keep what was typed."""
        self._again = ""
        self.notified.emit(str(error).splitlines()[0], error.hint, True)

    def _settle(self, answer: Accepted) -> None:
        """Move on: what the answer puts under the lamp, keeps, and where it goes."""
        if answer.go:
            self.stage = answer.go
            self._set_hand(focus="", draft={}, wants_ripple=False)
        self._set_hand(focus=answer.focus, cell=answer.cell, draft=answer.draft)
        if answer.command is not None:
            self.commanded.emit(answer.command)

    def _take_stock(self, text: str) -> None:
        """Take a table of the shop's parts in the open job; the tape shows it once it is on disk."""
        from bench_lamp.views.stock import take_table

        case = self.case
        if case is None:
            self.notified.emit(
                "The stock was not taken",
                "What moves is written into a job. Open one, then drop the table again.",
                True,
            )
            return
        found = take_table(case, text)
        if found.moves:
            self.say(found.moves)
        else:
            self.notified.emit(found.what, found.mend, found.is_wrong)

    def _append(self, job: str, bodies: Sequence[Body], then: Accepted) -> None:
        if self.journal.read_only:
            self.notified.emit(*self.journal.read_only, True)
            return
        if found := self.elsewhere(job):
            self.notified.emit(*found, True)
            return
        now = self.clock()
        here = job == self.job and bool(job)
        said = self.signed(with_call(self._case, bodies)) if here else tuple(bodies)
        events = tuple(Event(id=self._ids(), job=job, at=now, body=body) for body in said)
        self._after[events[-1].id] = then
        self.append_requested.emit(events)

    # What the store answers.

    @Slot(object)
    def on_appended(self, events: tuple[Event, ...]) -> None:
        """The events are on disk: fold, move on, show."""
        job = events[0].job
        self.book.add(events)
        self._case = None
        then = self._after.pop(events[-1].id, Accepted())
        if isinstance(events[0].body, JobOpened | KindCorrected):
            self.open_job(job, "intake")
            return
        if job == self.job:
            self.end_aside(tuple(event.body for event in events))
            if any(isinstance(event.body, ReadingTaken) for event in events):
                self._set_hand(focus="", wants_ripple=False)
            self._settle(then)
            again, self._again = self._again, ""
            if again:
                self.changed.emit()
                self.answer(again)
                return
            waits = stage_of(self.stage).waits_for_reasoning
            if waits and self.case and self.case.is_reasoning:
                # The next card follows in a moment; until then this one stays.
                self._is_held = True
                self._hold.start()
                return
            self.logged.emit()
            self.changed.emit()

    def _release(self) -> None:
        self._hold.stop()
        if self._is_held:
            self._is_held = False
            self.logged.emit()
        self.changed.emit()

    @Slot()
    def _on_reasoned(self) -> None:
        """The reasoning has an answer, or its end: show it."""
        self._case = None
        self._release()

    @Slot(object, object)
    def on_failed(self, error: BenchLampError, events: tuple[Event, ...]) -> None:
        """The events are not on disk: say so, keep what was typed."""
        self._after.pop(events[-1].id, None)
        self._again = ""
        self.notified.emit(str(error), error.hint, True)

    @Slot(str)
    def on_opened(self, last_id: str) -> None:
        """The journal can be written, after this id."""
        if last_id:
            self._ids.resume_after(last_id)

"""The session: what the technician says, to the store first and on the screen after.

It holds no rules: cards, answers and states come from `plan`.
"""

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import QTimer, Signal, Slot

from bench_lamp.board import ProfileLibrary
from bench_lamp.desktop.showing import Clock, Showing, utc_now
from bench_lamp.errors import BenchLampError
from bench_lamp.journal import Event
from bench_lamp.journal.events import Body, JobOpened, Stage, Struck
from bench_lamp.plan import newjob, stages, tape
from bench_lamp.plan.card import Accepted, Asked, Choice, Refused
from bench_lamp.plan.situation import Situation

if TYPE_CHECKING:
    from bench_lamp.bench.instrument import LogicRequest, LogicShown, Request, Shown

#: How long the screen waits for the reasoning after an entry on Trace, in milliseconds.
HOLD_MS = 600


#: Stages whose card depends on the reasoning: it must not change under the finger.
HELD = {"cold", "trace"}


class Session(Showing):
    """One window's work. Widgets call its verbs and redraw on `changed`."""

    #: For the instrument's thread.
    measure_requested = Signal(object)
    #: What an instrument shows, as it would be typed.
    measured = Signal(str)

    def __init__(
        self, library: ProfileLibrary, events: Iterable[Event], *, clock: Clock = utc_now
    ) -> None:
        super().__init__(library, events, clock=clock)
        #: Whether an instrument is linked.
        self.is_linked = False
        self._hold = QTimer(self)
        self._hold.setSingleShot(True)
        self._hold.setInterval(HOLD_MS)
        self._hold.timeout.connect(self._release)
        self.mind.changed.connect(self._on_thought)

    # What is measured.

    def offer(self) -> str:
        """Say what the linked instrument can do for the lit card; empty for nothing."""
        situation, card = self.situation, self.card()
        if not self.is_linked or situation is None or card is None:
            return ""
        from bench_lamp.plan.measuring import offer

        return offer(situation, card)

    def measure(self) -> None:
        """Have the linked instrument take the reading that the lit card wants."""
        situation, card = self.situation, self.card()
        if situation is None or card is None or self.is_waiting:
            return
        from bench_lamp.plan.measuring import request_for

        request = request_for(situation, card)
        if not self.is_linked:
            self.told.emit(
                "No instrument is linked", "Type the reading; the demo has a meter.", False
            )
        elif request is None:
            self.told.emit("Nothing to measure on this card", "Enter takes the lit answer.", False)
        elif request.needs_power and not situation.state.power.is_live:
            self.ask_power()
            self.told.emit("The board is marked off", "Switch it on and say so, then F8.", False)
        else:
            self.measure_requested.emit((situation.profile, self.job, request))

    @Slot(str, object, object)
    def on_shown(
        self, source: str, request: "Request | LogicRequest", shown: "Shown | LogicShown"
    ) -> None:
        """The instrument has measured: take it as if it were typed, if the card still wants it."""
        from bench_lamp.plan.measuring import request_for, taken

        situation, card = self.situation, self.card()
        if situation is None or card is None or request_for(situation, card) != request:
            return
        found = taken(situation, request, shown, source)
        if isinstance(found, str):
            self.measured.emit(found)
            self.answer(found, source=source)
        else:
            self._accept(found)

    @Slot(object)
    def on_unmeasured(self, error: BenchLampError) -> None:
        """The instrument gave nothing usable."""
        self.told.emit(str(error), error.hint, True)

    @Slot(str, object)
    def on_read(self, job: str, bodies: tuple[Body, ...]) -> None:
        """A file was read: log what it says to the job it was read for; nothing when stopped."""
        if not bodies:
            self.told.emit("Stopped; nothing was taken from the file", "", False)
        else:
            self._append(job, bodies, Accepted())

    # What is said.

    def answer(self, text: str, *, source: str = "") -> None:
        """Take what was typed on the lit card; while an answer is on its way, wait for it."""
        if self.is_waiting:
            return
        self._typed = text
        situation = self.situation
        if self.is_making:
            answer = newjob.take_tag(text, self.book.visits())
        elif situation is None or self.asks_power:
            return
        else:
            taken = stages.take(self.stage, situation, text, source=source)
            if taken is None:
                return
            answer = taken
        if isinstance(answer, Refused):
            self.told.emit(answer.what, answer.mend, True)
        elif isinstance(answer, Asked):
            self._ask(answer)
        else:
            self._accept(answer)

    def ahead_of(self, text: str) -> str:
        """Return what was typed on after the answer that has just been logged."""
        return text.removeprefix(self._typed) if text != self._typed else ""

    def choose(self, choice: Choice) -> None:
        """Take one of a card's choices."""
        self._ask(None)
        if self.is_ruling and "rule" in choice.draft:
            self.set_rules({**self.rules, choice.draft["rule"]: choice.draft["option"]})
            return
        if choice.command == "power":
            self.ask_power()
            return
        if choice.command == "skip":
            self.skip()
            return
        self.asks_power = False
        self._again = self._typed if choice.again else ""
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
                command=choice.command,
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
        job = newjob.job_name(draft["tag"], self.book.visits())
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
        if answer.command:
            self.commanded.emit(answer.command)

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
        self.book.add(events)
        self._situation = None
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
            if self.stage in HELD and self.situation and self.situation.is_thinking:
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
    def _on_thought(self) -> None:
        """The reasoning has an answer: show it."""
        self._situation = None
        self._release()

    @Slot(object, object)
    def on_failed(self, error: BenchLampError, events: tuple[Event, ...]) -> None:
        """The events are not on disk: say so, keep what was typed."""
        self._after.pop(events[-1].id, None)
        self._again = ""
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


def stages_with_one_focus(stage: Stage) -> frozenset[str]:
    """Return focus names that a choice of the stage uses up."""
    return frozenset({"selector", "sticker", "fuse"}) if stage == "intake" else frozenset()

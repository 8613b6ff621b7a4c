"""What the window knows of the reasoning: which insight belongs to the job as it stands."""

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer, Signal, Slot

from bench_lamp.board import Profile
from bench_lamp.board.blocks import Transformer
from bench_lamp.journal import JobState
from bench_lamp.plan.situation import Situation

if TYPE_CHECKING:
    from bench_lamp.plan.insight import Insight, Moment

#: Wait before the thinking starts, in milliseconds: the answer to a key is painted first.
PAUSE_MS = 80


def _telling(state: JobState) -> tuple[object, ...]:
    """Return what the facts are made of: where it is the same, so are they."""
    return (
        tuple((r.event, r.is_stale, r.is_cut) for r in (*state.readings, *state.twins)),
        state.complaint, state.findings, state.replaced, state.actions, state.out,
        state.power.is_live, state.last_mend, state.logic,
    )  # fmt: skip


class Mind(QObject):
    """Asks the thinker when the facts have changed, and keeps its last answers."""

    #: For the thinker's thread.
    requested = Signal(object)
    #: Another insight, or the end of a calculation.
    changed = Signal()
    #: Another share of a dictionary is done.
    progressed = Signal()

    def __init__(self) -> None:
        super().__init__()
        #: Tells the thinker which request still matters, and that one is not wanted at all.
        self.want: Callable[[int], None] = lambda token: None
        self.halt: Callable[[], None] = lambda: None
        self.is_thinking = False
        self.share = 0.0
        self._token = 0
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(PAUSE_MS)
        self._pause.timeout.connect(self.ask)
        self._is_awake = False
        self._job = ""
        #: What the facts are made of, of the job that was asked about.
        self._telling: tuple[object, ...] = ()
        self._profile: Profile | None = None
        self._state: JobState | None = None
        self._insight: Insight | None = None
        self._moments: tuple[Moment, ...] = ()

    def attend(self, job: str, situation: Situation) -> None:
        """Have the job's facts weighed, unless that was asked already."""
        profile, state = situation.profile, situation.state
        is_known = profile.chips or any(isinstance(b, Transformer) for b in profile.power)
        if not is_known:
            self._forget("")
            return
        if self._job == job and self._state is state:
            return
        telling, self._state = _telling(state), state
        if (self._job, self._telling) == (job, telling):
            return
        if self._job != job:
            self._forget(job)
        self._telling = telling
        self._moments = ()
        self._token += 1
        self.is_thinking = True
        self.share = 0.0
        self._profile = profile
        self.want(self._token)
        if self._is_awake:
            self._pause.start()

    def wake(self) -> None:
        """Begin to ask: the window is painted, and somebody listens."""
        self._is_awake = True
        if self.is_thinking:
            self._pause.start()

    def ask(self) -> None:
        """Send the open request: the facts are gathered now, when the answer to the key is painted."""
        if self.is_thinking and self._state is not None and self._profile is not None:
            from bench_lamp.plan.facts import facts_of, fitted_profile

            self.want(self._token)
            profile = self._profile
            facts = facts_of(self._state, profile)
            self.requested.emit((self._token, fitted_profile(profile, self._state), facts))

    def _forget(self, job: str) -> None:
        self._job, self._telling, self._state = job, (), self._state if job else None
        self._insight, self._moments, self.is_thinking = None, (), False

    def fill(self, situation: Situation, replay: int | None) -> Situation:
        """Return the situation with what is known of it; an insight that is behind counts as none."""
        insight = None if self.is_thinking else self._insight
        at = None if replay is None or not self._moments else min(replay, len(self._moments) - 1)
        return replace(situation, insight=insight, is_thinking=self.is_thinking,
                       moments=self._moments, replay=at)  # fmt: skip

    @property
    def is_busy(self) -> bool:
        """Whether an insight or the history that goes with it is still to come."""
        return self.is_thinking or (self._insight is not None and not self._moments)

    def stop(self) -> None:
        """End a long calculation; the fuse map serves instead."""
        self.halt()

    @Slot(int, object)
    def on_thought(self, token: int, insight: "Insight | None") -> None:
        """The facts are weighed; None when there is no model, or it was stopped."""
        if token == self._token:
            self._insight, self.is_thinking = insight, False
            self.changed.emit()

    @Slot(int, object)
    def on_recalled(self, token: int, moments: "tuple[Moment, ...]") -> None:
        """How the odds moved is known."""
        if token == self._token:
            self._moments = moments
            self.changed.emit()

    @Slot(float)
    def on_progressed(self, share: float) -> None:
        """Some of a dictionary is done."""
        self.share = share
        self.progressed.emit()

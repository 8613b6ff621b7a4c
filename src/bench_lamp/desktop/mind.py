"""What the window knows of the reasoning: which insight belongs to the job as it stands."""

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtCore import QObject, QTimer, Signal, Slot

from bench_lamp.board.blocks import Transformer
from bench_lamp.journal import JobState
from bench_lamp.plan.facts import facts_of, fitted_profile
from bench_lamp.plan.insight import Insight, Moment
from bench_lamp.plan.situation import Situation
from bench_lamp.reason.clues import Facts

#: Wait before the thinking starts, in milliseconds: the answer to a key is painted first.
PAUSE_MS = 80


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
        self._request: object = None
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(PAUSE_MS)
        self._pause.timeout.connect(self.ask)
        self._asked: tuple[str, Facts] | None = None
        self._state: JobState | None = None
        self._insight: Insight | None = None
        self._moments: tuple[Moment, ...] = ()

    def attend(self, job: str, situation: Situation) -> None:
        """Have the job's facts weighed, unless that was asked already."""
        profile = situation.profile
        is_known = profile.chips or any(isinstance(b, Transformer) for b in profile.power)
        if not is_known:
            self._forget(None)
            return
        if self._asked is not None and self._asked[0] == job and self._state is situation.state:
            return
        facts, self._state = facts_of(situation.state, profile), situation.state
        if self._asked == (job, facts):
            return
        if self._asked is None or self._asked[0] != job:
            self._forget(None)
        self._asked = (job, facts)
        self._moments = ()
        self._token += 1
        self.is_thinking = True
        self.share = 0.0
        self._request = (self._token, fitted_profile(situation.profile, situation.state), facts)
        self.want(self._token)
        self._pause.start()

    def ask(self) -> None:
        """Send the open request; once more when nobody listened the first time."""
        if self.is_thinking:
            self.want(self._token)
            self.requested.emit(self._request)

    def _forget(self, asked: tuple[str, Facts] | None) -> None:
        self._asked, self._insight, self._moments, self.is_thinking = asked, None, (), False

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
    def on_thought(self, token: int, insight: Insight | None) -> None:
        """The facts are weighed; None when there is no model, or it was stopped."""
        if token == self._token:
            self._insight, self.is_thinking = insight, False
            self.changed.emit()

    @Slot(int, object)
    def on_recalled(self, token: int, moments: tuple[Moment, ...]) -> None:
        """How the odds moved is known."""
        if token == self._token:
            self._moments = moments
            self.changed.emit()

    @Slot(float)
    def on_progressed(self, share: float) -> None:
        """Some of a dictionary is done."""
        self.share = share
        self.progressed.emit()

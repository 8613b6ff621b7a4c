"""The window's side of the reasoning: which insight belongs to the job as it stands."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PySide6.QtCore import QObject, QTimer, Signal, Slot

from bench_lamp.board import Profile
from bench_lamp.case.case import Case
from bench_lamp.checks.repair_odds import NO_REPAIRS, RepairCounts
from bench_lamp.journal import JobState

if TYPE_CHECKING:
    from bench_lamp.reason.values.insight import Insight, Moment

#: Wait before the reasoning starts, in milliseconds: the answer to a key is painted first.
PAUSE_MS = 80


def _basis(state: JobState, repairs: RepairCounts) -> tuple[object, ...]:
    """Return what the facts are made of: where it is the same, so are they."""
    return (
        repairs,
        tuple((r.event, r.is_stale, r.is_cut) for r in (*state.readings, *state.twins)),
        state.complaint,
        state.findings,
        state.replaced,
        state.actions,
        state.out,
        state.power.is_live,
        state.last_mend,
        state.logic,
    )


class ReasoningClient(QObject):
    """Asks the reasoning's thread when the facts have changed, and keeps its last answers."""

    #: For the reasoning's thread: token, profile and facts.
    requested = Signal(object)
    #: Another insight, or the end of a calculation.
    changed = Signal()
    #: Another share of a dictionary is done.
    progressed = Signal()
    #: It went wrong: what, and what serves instead.
    failed = Signal(str, str)

    #: Whether the advice stays away: somebody practises without it.
    is_dimmed = False

    def __init__(self) -> None:
        super().__init__()
        #: Tells the worker which request still matters, and up to which none is wanted.
        self.want: Callable[[int], None] = lambda token: None
        self.stop_at: Callable[[int], None] = lambda token: None
        self.is_reasoning = False
        self.share = 0.0
        self._token = 0
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(PAUSE_MS)
        self._pause.timeout.connect(self.ask)
        self._is_started = False
        self._awaits_history = False
        self._job = ""
        #: What the facts are made of, of the job that was asked about.
        self._basis: tuple[object, ...] = ()
        self._profile: Profile | None = None
        self._repairs = NO_REPAIRS
        self._state: JobState | None = None
        self._insight: Insight | None = None
        self._moments: tuple[Moment, ...] = ()

    def attend(self, job: str, case: Case) -> None:
        """Have the job's facts weighed, unless that was asked already."""
        profile, state = case.profile, case.state
        if not profile.has_suspects:
            self._forget("")
            return
        is_same = self._state is state and self._repairs == case.shop.repairs
        if self._job == job and is_same:
            return
        basis, self._state = _basis(state, case.shop.repairs), state
        self._repairs = case.shop.repairs
        if (self._job, self._basis) == (job, basis):
            return
        if self._job != job:
            self._forget(job)
        self._basis = basis
        self._moments = ()
        self._token += 1
        self.is_reasoning = True
        self.share = 0.0
        self._profile = profile
        self.want(self._token)
        if self._is_started:
            self._pause.start()

    def start(self) -> None:
        """Begin to ask: the window is painted, and somebody listens."""
        self._is_started = True
        if self.is_reasoning:
            self._pause.start()

    def ask(self) -> None:
        """Send the open request; the facts are gathered now, when the answer to the key is painted."""
        if self.is_reasoning and self._state is not None and self._profile is not None:
            from bench_lamp.case.facts import facts_of, fitted_profile

            self.want(self._token)
            profile = self._profile
            facts = facts_of(self._state, profile, self._repairs)
            self.requested.emit((self._token, fitted_profile(profile, self._state), facts))

    def _forget(self, job: str) -> None:
        self._job, self._basis, self._state = job, (), self._state if job else None
        self._insight, self._moments, self.is_reasoning = None, (), False
        self._awaits_history = False

    def fill(self, case: Case) -> Case:
        """Return the case with what is known of it; an insight that is behind counts as none."""
        if self.is_dimmed:
            return case
        insight = None if self.is_reasoning else self._insight
        if insight is None and not self.is_reasoning and not self._moments:
            return case
        return replace(case, insight=insight, is_reasoning=self.is_reasoning, moments=self._moments)

    @property
    def is_busy(self) -> bool:
        """Whether an insight or the history that goes with it is still to come."""
        return self.is_reasoning or self._awaits_history

    def stop(self) -> None:
        """End a calculation, begun or not; the fuse map serves instead."""
        if self.is_reasoning:
            self._pause.stop()
            self.stop_at(self._token)
            self._end()

    def _end(self) -> None:
        self._insight, self.is_reasoning, self._awaits_history = None, False, False
        self.changed.emit()

    @Slot(int, object)
    def on_reasoned(self, token: int, insight: "Insight | None") -> None:
        """The facts are weighed; None when there is no model."""
        if token == self._token and self.is_reasoning:
            self._insight, self.is_reasoning = insight, False
            self._awaits_history = insight is not None
            self.changed.emit()

    @Slot(int, object)
    def on_recalled(self, token: int, moments: "tuple[Moment, ...]") -> None:
        """How the odds moved is known."""
        if token == self._token and self._awaits_history:
            self._moments, self._awaits_history = moments, False
            self.changed.emit()

    @Slot(int, str)
    def on_failed(self, token: int, what: str) -> None:
        """The reasoning went wrong: without an insight the fuse map serves."""
        if token == self._token and self.is_busy:
            self._end()
            self.failed.emit(f"The reasoning failed ({what})", "The fuse map serves instead.")

    @Slot(float)
    def on_progressed(self, share: float) -> None:
        """Some of a dictionary is done."""
        self.share = share
        self.progressed.emit()

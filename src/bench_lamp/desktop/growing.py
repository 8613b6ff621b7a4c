"""The window's end of profiles that grow: asks the writer, takes what it wrote, and goes on."""

from collections.abc import Callable, Mapping, Sequence
from itertools import count

from PySide6.QtCore import QObject, QThread, Signal, Slot

from bench_lamp.board import Profile, ProfileLibrary
from bench_lamp.board.change import Change
from bench_lamp.board.grow import Grown
from bench_lamp.desktop.workers.profile_prover import ProfileProver, ProofRequest
from bench_lamp.desktop.workers.profile_writer import GrowRequest, ProfileWriter
from bench_lamp.errors import BenchLampError

#: What is done with the id of the profile once it is on disk.
Then = Callable[[str], None]
#: Texts of before that can be gone back to.
MOST_STEPS = 200


class Growing(QObject):
    """Has profiles changed, one change after the other, and keeps what they were before."""

    #: A profile is another one now: its id.
    grew = Signal(str)
    failed = Signal(object)
    asked = Signal(object)
    #: For the prover: a `ProofRequest`. What it found, and what went wrong.
    proof_asked = Signal(object)
    proved = Signal(object, object)
    not_proved = Signal(object, str)

    def __init__(self, library: ProfileLibrary) -> None:
        super().__init__()
        self._library = library
        self._tokens = count(1)
        self._then: dict[int, tuple[Then, bool]] = {}
        self._thread: QThread | None = None
        self._worker: ProfileWriter | None = None
        #: Ids and texts of before, the last change at the end; and what was undone.
        self._before: list[tuple[str, str]] = []
        self._undone: list[tuple[str, str]] = []

    @property
    def is_growing(self) -> bool:
        """Whether a change is on its way to the disk."""
        return bool(self._then)

    def begin(self, name: str, then: Then) -> None:
        """Begin a profile that has only a name."""
        self._ask(then, is_step=False, name=name)

    def change(self, profile_id: str, changes: Sequence[Change], then: Then) -> None:
        """Change a profile."""
        self._undone.clear()
        self._ask(then, is_step=True, profile_id=profile_id, changes=tuple(changes))

    def undo(self, profile_id: str) -> bool:
        """Take the last change of a profile back; say whether there was one."""
        return self._back(profile_id, self._before, self._undone)

    def redo(self, profile_id: str) -> bool:
        """Make the change again that was taken back last; say whether there was one."""
        return self._back(profile_id, self._undone, self._before)

    def _back(
        self, profile_id: str, steps: list[tuple[str, str]], other: list[tuple[str, str]]
    ) -> bool:
        at = next((i for i in reversed(range(len(steps))) if steps[i][0] == profile_id), None)
        if at is None or self.is_growing:
            return False
        _, text = steps.pop(at)

        def keep(grown: str) -> None:
            other.append((profile_id, self._last_before))

        self._ask(keep, is_step=False, profile_id=profile_id, text=text)
        return True

    def _ask(self, then: Then, *, is_step: bool, **wanted: object) -> None:
        own = self._library.own
        if own is None:
            self.failed.emit(
                BenchLampError("There is no folder for profiles", hint="Start with one.")
            )
            return
        token = next(self._tokens)
        self._then[token] = then, is_step
        self._started()
        self.asked.emit(
            GrowRequest(token=token, own=own, paths=self._library.paths(), **wanted)  # type: ignore[arg-type]
        )

    def prove(self, profile: Profile, seen: Mapping[str, float] | None) -> ProofRequest:
        """Have a profile prove itself; `proved` or `not_proved` follows."""
        request = ProofRequest(next(self._tokens), profile, seen)
        self._started()
        self.proof_asked.emit(request)
        return request

    def _started(self) -> None:
        if self._worker is None:
            self._worker, self._thread, self._prover = ProfileWriter(), QThread(), ProfileProver()
            self._worker.moveToThread(self._thread)
            self._prover.moveToThread(self._thread)
            self.proof_asked.connect(self._prover.prove)
            self._prover.proved.connect(self.proved)
            self._prover.failed.connect(self.not_proved)
            self.asked.connect(self._worker.grow)
            self._worker.grown.connect(self._on_grown)
            self._worker.failed.connect(self._on_failed)
            self._thread.start()

    def stop(self) -> None:
        """End the thread with the window; what it is writing is written whole."""
        if self._thread is not None:
            self._thread.quit()
            self._thread.wait()
            self._thread = None

    @Slot(int, object)
    def _on_grown(self, token: int, found: Grown) -> None:
        then, is_step = self._then.pop(token)
        profile = found.profile
        self._library.take(profile)
        self._last_before = found.before
        if is_step:
            self._before = [*self._before, (profile.id, found.before)][-MOST_STEPS:]
        self.grew.emit(profile.id)
        then(profile.id)

    @Slot(int, object)
    def _on_failed(self, token: int, error: BenchLampError) -> None:
        self._then.pop(token)
        self.failed.emit(error)

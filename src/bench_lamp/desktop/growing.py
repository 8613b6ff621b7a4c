"""The window's end of work on profiles: they grow, prove themselves, and travel as bundles."""

from collections.abc import Callable, Mapping, Sequence
from datetime import datetime
from itertools import count
from pathlib import Path

from PySide6.QtCore import QObject, QThread, Signal, Slot

from bench_lamp.board import Profile, ProfileLibrary
from bench_lamp.board.change import Change
from bench_lamp.board.grow import Grown, begun, grown, put_back
from bench_lamp.desktop.workers.profile_work import ProfileWorker, Work
from bench_lamp.errors import BenchLampError

#: What is done with the id of a profile once it is on disk.
Then = Callable[[str], None]
#: Texts of before that can be gone back to.
MOST_STEPS = 200


class Growing(QObject):
    """Has work on profiles done, one piece after the other, and keeps what they were before."""

    #: A profile is another one now: its id.
    grew = Signal(str)
    failed = Signal(object)
    #: For the worker: token and work.
    asked = Signal(int, object)

    def __init__(self, library: ProfileLibrary) -> None:
        super().__init__()
        self._library = library
        self._tokens = count(1)
        self._then: dict[int, Callable[[object], None]] = {}
        #: Requests that what is typed must wait for.
        self._held: set[int] = set()
        self._thread: QThread | None = None
        self._worker: ProfileWorker | None = None
        #: Ids and texts of before, the last change at the end; and what was undone.
        self._before: list[tuple[str, str]] = []
        self._undone: list[tuple[str, str]] = []

    @property
    def is_growing(self) -> bool:
        """Whether a change is on its way to the disk."""
        return bool(self._held)

    @property
    def is_busy(self) -> bool:
        """Whether any work is on its way."""
        return bool(self._then)

    def do(self, work: Work, then: Callable[[object], None], *, holds: bool = False) -> None:
        """Have a piece of work done; `then` gets what came of it, else `failed` says why not."""
        token = next(self._tokens)
        self._then[token] = then
        if holds:
            self._held.add(token)
        self._started()
        self.asked.emit(token, work)

    def begin(self, name: str, then: Then, *, extends: str = "") -> None:
        """Begin a profile that has only a name, or another version of one."""
        self._write(
            lambda own, paths: begun(name, own, paths, extends=extends), then, is_step=False
        )

    def change(self, profile_id: str, changes: Sequence[Change], then: Then) -> None:
        """Change a profile."""
        self._undone.clear()
        wanted, at = tuple(changes), datetime.now().astimezone()
        self._write(
            lambda own, paths: grown(profile_id, wanted, own, paths, at=at), then, is_step=True
        )

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

        def keep(_: str) -> None:
            other.append((profile_id, self._last_before))

        is_redo, now = steps is self._undone, datetime.now().astimezone()
        self._write(
            lambda own, paths: put_back(profile_id, text, own, paths, is_redo=is_redo, at=now),
            keep,
            is_step=False,
        )
        return True

    def _write(
        self, work: Callable[[Path, Mapping[str, Path]], Grown], then: Then, *, is_step: bool
    ) -> None:
        own, paths = self._library.own, self._library.paths()
        if own is None:
            self.failed.emit(
                BenchLampError("There is no folder for profiles", hint="Start with one.")
            )
            return

        def take(found: object) -> None:
            assert isinstance(found, Grown)
            self._last_before = found.before
            if is_step:
                self._before = [*self._before, (found.profile.id, found.before)][-MOST_STEPS:]
            self.take(found.profile)
            then(found.profile.id)

        self.do(lambda: work(own, paths), take, holds=True)

    def take(self, profile: Profile) -> None:
        """Take a profile that is on disk in place of the one that was known."""
        self._library.take(profile)
        self.grew.emit(profile.id)

    def _started(self) -> None:
        if self._worker is None:
            self._worker, self._thread = ProfileWorker(), QThread()
            self._worker.moveToThread(self._thread)
            self.asked.connect(self._worker.run)
            self._worker.done.connect(self._on_done)
            self._worker.failed.connect(self._on_failed)
            self._thread.start()

    def stop(self) -> None:
        """End the thread with the window; what it is writing is written whole."""
        if self._thread is not None:
            self._thread.quit()
            self._thread.wait()
            self._thread = None

    @Slot(int, object)
    def _on_done(self, token: int, found: object) -> None:
        self._held.discard(token)
        self._then.pop(token)(found)

    @Slot(int, object)
    def _on_failed(self, token: int, error: BenchLampError) -> None:
        self._held.discard(token)
        self._then.pop(token)
        self.failed.emit(error)

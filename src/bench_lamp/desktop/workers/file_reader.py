"""Files opened for a self-test, read in their own thread with progress, and stopped with Esc."""

import logging
from pathlib import Path

from PySide6.QtCore import QObject, QThread, Signal, Slot
from PySide6.QtWidgets import QFileDialog, QWidget

from bench_lamp.board import Profile
from bench_lamp.cards.commands import ChooseFile, FileKind, ReadFiles
from bench_lamp.errors import BenchLampError
from bench_lamp.files import StoppedError
from bench_lamp.journal.events import Body
from bench_lamp.stages.selftest.samples import found_files, samples_folder

log = logging.getLogger(__name__)

#: Longest that closing waits, in milliseconds: with the other threads less than two seconds.
CLOSING_MS = 400
#: Threads that were still at it, with their workers: they end with the process.
_LEFT: list[object] = []
FILTERS = {
    FileKind.IMAGE: "Images (*.bin *.rom *.hex *.ihx *.s19 *.srec *.mot);;All files (*)",
    FileKind.CAPTURE: "Captures (*.csv *.vcd *.sr);;All files (*)",
}


class _Worker(QObject):
    """Lives in the reading thread."""

    #: Events' bodies to be said; empty when it was stopped.
    done = Signal(object)
    failed = Signal(object)
    progressed = Signal(float)

    def __init__(self) -> None:
        super().__init__()
        self.is_stopped = False

    @Slot(object)
    def read(self, asked: tuple[FileKind, str, list[Path], Profile]) -> None:
        """Read one file, or a pair; exactly one of `done` and `failed` follows."""
        try:
            found = self._read(*asked)
            # Ended too late to stop it: nothing of it is taken all the same.
            self.done.emit(() if self.is_stopped else found)
        except StoppedError:
            self.done.emit(())
        except BenchLampError as exc:
            self.failed.emit(exc)
        except Exception as exc:  # whatever a file holds, its asker gets an answer
            log.exception("a file could not be read")
            hint = "It is the program's fault; nothing was taken from the file."
            self.failed.emit(BenchLampError(f"{type(exc).__name__}: {exc}", hint=hint))

    def _read(
        self, kind: FileKind, name: str, paths: list[Path], profile: Profile
    ) -> tuple[Body, ...]:
        from bench_lamp.stages.selftest.capture_files import lane_from_capture
        from bench_lamp.stages.selftest.image_files import judge_files

        if kind is FileKind.IMAGE:
            return judge_files(profile, name, paths, progress=self._on_progress)
        lane = next(x for x in profile.lanes if x.id == name)
        body = lane_from_capture(lane, paths[0], self._on_progress)
        return (body,) if body is not None else ()

    def _on_progress(self, share: float) -> bool:
        self.progressed.emit(share)
        return not self.is_stopped


class FileReader(QObject):
    """Asks for files and has them read."""

    asked = Signal(object)
    #: Job that it was read for, and what was read, as bodies for the journal; an error; the
    #: share that is done.
    done = Signal(str, object)
    failed = Signal(object)
    progressed = Signal(float)

    def __init__(self) -> None:
        super().__init__()
        self._thread: QThread | None = None
        self._worker: _Worker | None = None
        self.is_reading = False
        self._job = ""

    def choose(self, wanted: ChooseFile, parent: QWidget) -> ReadFiles | None:
        """Ask for a file; return what reads it, or None."""
        is_image = wanted.kind is FileKind.IMAGE
        ask = QFileDialog.getOpenFileNames if is_image else QFileDialog.getOpenFileName
        chosen, _ = ask(parent, "Open", str(samples_folder()), FILTERS[wanted.kind])
        paths = (chosen,) if isinstance(chosen, str) else tuple(chosen)
        return ReadFiles(wanted.kind, wanted.target, paths) if any(paths) else None

    def read(self, wanted: ReadFiles, job: str, profile: Profile) -> None:
        """Begin to read for a job."""
        if self.is_reading:
            return
        self.is_reading, self._job = True, job
        worker = self._started()
        worker.is_stopped = False
        paths = [path for name in wanted.names for path in found_files(name)]
        self.asked.emit((wanted.kind, wanted.target, paths, profile))

    def halt(self) -> bool:
        """End a long reading; say whether there was one."""
        if self._worker is not None and self.is_reading:
            self._worker.is_stopped = True
            return True
        return False

    def stop(self) -> None:
        """End the thread with the window."""
        self.halt()
        if self._thread is not None:
            self._thread.quit()
            # A reading that cannot be ended is left to itself: nothing of it is taken.
            if not self._thread.wait(CLOSING_MS):
                _LEFT.append((self._thread, self._worker))
            self._thread = None

    def _started(self) -> _Worker:
        if self._worker is None:
            self._worker, self._thread = _Worker(), QThread()
            self._worker.moveToThread(self._thread)
            self.asked.connect(self._worker.read)
            self._worker.done.connect(self._on_done)
            self._worker.failed.connect(self._on_failed)
            self._worker.progressed.connect(self.progressed)
            self._thread.start(QThread.Priority.LowPriority)
        return self._worker

    @Slot(object)
    def _on_done(self, bodies: object) -> None:
        self.is_reading = False
        self.done.emit(self._job, bodies)

    @Slot(object)
    def _on_failed(self, error: object) -> None:
        self.is_reading = False
        self.failed.emit(error)

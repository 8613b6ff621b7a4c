"""One writer at a time on one data folder."""

import fcntl
import os
from dataclasses import dataclass
from pathlib import Path
from typing import Self

from bench_lamp.journal.rows import JournalError


@dataclass(slots=True)
class WriterLock:
    """Held by the instance that may append; the system lets go of it when that dies."""

    descriptor: int

    @classmethod
    def take(cls, folder: Path) -> Self:
        """Take the lock; raise `JournalError` when another instance holds it."""
        try:
            folder.mkdir(parents=True, exist_ok=True)
            descriptor = os.open(folder / "journal.lock", os.O_RDWR | os.O_CREAT, 0o600)
        except OSError as exc:
            raise JournalError(
                f"The data folder {folder} cannot be written: {exc.strerror}",
                hint="Mend its permissions, or name another folder with --data.",
            ) from exc
        try:
            fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as exc:
            os.close(descriptor)
            error = JournalError(
                "Another Bench Lamp has this journal open",
                hint="Close the other window, then press F4 to work here.",
            )
            error.is_taken = True
            raise error from exc
        return cls(descriptor)

    def release(self) -> None:
        """Let another instance write."""
        if self.descriptor >= 0:
            os.close(self.descriptor)
            self.descriptor = -1

"""`bench-lamp backup` and `restore`: what the window does with backups, without one."""

import sys
from collections.abc import Callable
from pathlib import Path

from bench_lamp.errors import BenchLampError
from bench_lamp.journal.backup import back_up, look_inside, restore
from bench_lamp.journal.lock import WriterLock
from bench_lamp.journal.making import JOURNAL_NAME


def run_backup(data: Path) -> int:
    """Write a backup of a data folder, whoever works on it meanwhile; return the exit status."""

    def work() -> str:
        if not (data / JOURNAL_NAME).exists():
            raise BenchLampError(
                f"There is no journal in {data}", hint="Name its folder with --data."
            )
        place = back_up(data)
        return f"backed up as {place}" if place else "Nothing is new since the last backup"

    return _say(work)


def run_restore(path: Path, data: Path, *, is_sure: bool) -> int:
    """Say what a backup holds and, when one is sure, put it in place; return the exit status."""

    def work() -> str:
        inside = look_inside(path)
        if not is_sure:
            return f"{inside.words}\nNothing was changed. With --yes it is put in place."
        lock = WriterLock.take(data)
        try:
            kept = restore(path, data)
        finally:
            lock.release()
        return f"{inside.words}\nIt is in place; what was there is in {kept}"

    return _say(work)


def _say(work: Callable[[], str]) -> int:
    try:
        print(work())
    except BenchLampError as exc:
        print(f"{exc}. {exc.hint}".rstrip(), file=sys.stderr)
        return 1
    return 0

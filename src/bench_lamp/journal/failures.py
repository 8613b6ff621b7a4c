"""What a failure of the database means, with the mend: full, locked, foreign, damaged."""

import os
import sqlite3
from pathlib import Path

from bench_lamp.journal.rows import JournalError

#: What the database says of a damaged file. Its message may hold the damage: bytes that are no text.
DAMAGE = (sqlite3.DatabaseError, UnicodeDecodeError)
#: With less room than this, in bytes, a database cannot do its work.
LEAST_ROOM = 300_000
ELSEWHERE = "Move it away, or name another folder with --data."


def error_of(path: Path, exc: Exception) -> JournalError:
    """Say what a failure of the database means."""
    why = str(exc) if isinstance(exc, sqlite3.DatabaseError) else "its list of tables is not text"
    if "no such table" in why or "not a database" in why:
        what = f"{path.name} is not a Bench Lamp journal, or its first page is damaged"
        return JournalError(what, hint=ELSEWHERE)
    if "locked" in why:
        return JournalError(f"{path.name} is locked by another program", hint="Close that program.")
    if "disk I/O" in why or "full" in why:
        return _disk_error(path, why)
    if "unable to open" in why or "readonly" in why:
        return JournalError(f"{path.name} cannot be opened: {why}", hint="Mend its permissions.")
    return JournalError.damaged(path.name, why)


def _disk_error(path: Path, why: str) -> JournalError:
    """Say what a failure of the disk means: it is full, or it does not answer as it should."""
    try:
        found = os.statvfs(path.parent)
        left = found.f_bavail * found.f_frsize
    except OSError:
        left = LEAST_ROOM
    if "full" in why or left < LEAST_ROOM:
        return JournalError(f"The disk with {path.parent} is full", hint="Make room.")
    return JournalError(
        f"The disk with {path.parent} does not answer as it should: {why}",
        hint="Copy the folder to another disk.",
    )

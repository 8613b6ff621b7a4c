"""What was changed of a profile and when: a line each in a file beside it, for the bundle and for people."""

from collections.abc import Sequence
from datetime import datetime
from pathlib import Path

from bench_lamp.board.change import Change, Put, changed_names
from bench_lamp.files import FileError, read_text, write_whole

#: Lines that are kept, and letters of the longest.
MOST_LINES, MOST_LETTERS = 300, 160
_MOST_BYTES = 200_000


def log_place(own: Path, profile_id: str) -> Path:
    """Return where the changes of a profile are written down."""
    return own / f"{profile_id}.changes.txt"


def changes_of(own: Path, profile_id: str) -> tuple[str, ...]:
    """Return the lines of a profile's changes, the newest last; none where there is no file."""
    try:
        lines = read_text(log_place(own, profile_id), most=_MOST_BYTES).splitlines()
    except FileError:
        return ()
    return tuple(line for line in lines if line.strip())


def change_words(changes: Sequence[Change]) -> str:
    """Say a change in a line: what, and the values of what is one thing.

    >>> change_words([Put(("power", "U1"), {"volts": "5.1 V"})])
    'U1: volts 5.1 V'
    """
    names = changed_names(changes)
    if len(changes) == 1 and isinstance(changes[0], Put) and isinstance(changes[0].value, dict):
        fields = [f"{k} {'gone' if v is None else v}" for k, v in changes[0].value.items()]
        return f"{names}: {', '.join(fields)}"[:MOST_LETTERS]
    return names[:MOST_LETTERS]


def note_change(own: Path, profile_id: str, words: str, at: datetime) -> None:
    """Write down what was changed, in words; raises as `write_whole`."""
    line = f"{at.strftime('%Y-%m-%d %H:%M')} {words}"
    text = "\n".join([*changes_of(own, profile_id), line][-MOST_LINES:]) + "\n"
    write_whole(log_place(own, profile_id), lambda place: place.write_text(text, encoding="utf-8"))

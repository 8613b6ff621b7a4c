"""Opening a file that somebody else made: whatever it is, nothing hangs, and memory is bounded."""

import os
import stat
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import BinaryIO

from bench_lamp.errors import BenchLampError

#: Gets the share that is read, 0 to 1; says whether to go on.
Progress = Callable[[float], bool]
#: Bytes that are read at a time.
PIECE = 1 << 20
#: Without waiting for the other end of a pipe, and without becoming a terminal's process.
_FLAGS = os.O_RDONLY | os.O_NONBLOCK | os.O_NOCTTY | os.O_CLOEXEC
_KINDS = {
    stat.S_IFDIR: "a folder",
    stat.S_IFIFO: "a pipe",
    stat.S_IFCHR: "a device",
    stat.S_IFBLK: "a device",
    stat.S_IFSOCK: "a socket",
}


class FileError(BenchLampError):
    """A file that cannot be read, with the mend."""


class StoppedError(BenchLampError):
    """Reading was ended by whoever asked for it; nothing was taken."""


def go_on(_: float) -> bool:
    """Never stop."""
    return True


def shown_name(path: Path) -> str:
    """Return a file's name as it can be shown: bytes that are no text become marks."""
    name = path.name or str(path)
    return os.fsencode(name).decode("utf-8", "replace")[:80]


@contextmanager
def opened(path: Path, *, most: int) -> Iterator[BinaryIO]:
    """Open a regular file of at most `most` bytes for reading.

    A link to a regular file is followed. What is read may still be longer than `most`, since a
    file can grow: who reads in pieces counts.

    Raises
    ------
    FileError
        When it is not there, not a regular file, too large, or cannot be read, at opening or
        while it is read.
    """
    name = shown_name(path)
    try:
        # A device may do something when it is opened: looked at before, and once more after.
        _refuse(os.stat(path), name, most)
        descriptor = os.open(path, _FLAGS)
    except (OSError, ValueError) as exc:
        raise _unreadable(name, exc) from exc
    with os.fdopen(descriptor, "rb") as file:
        try:
            _refuse(os.fstat(descriptor), name, most)
            yield file
        except OSError as exc:
            raise _unreadable(name, exc) from exc


def read_bytes(path: Path, *, most: int, progress: Progress = go_on) -> bytes:
    """Return the bytes of a file.

    Raises
    ------
    FileError
        As `opened`; also when it is longer than `most` bytes once it is read.
    StoppedError
        When `progress` says so.
    """
    pieces, count = [], 0
    with opened(path, most=most) as file:
        size = os.fstat(file.fileno()).st_size
        while piece := file.read(PIECE):
            count += len(piece)
            if count > most:
                raise too_large(shown_name(path), most)
            pieces.append(piece)
            if not progress(min(count / max(size, 1), 1.0)):
                raise StoppedError(f"{shown_name(path)} was not read to its end")
    return b"".join(pieces)


def read_text(path: Path, *, most: int) -> str:
    """Return the text of a file in UTF-8; raise `FileError` as `read_bytes`, or for other bytes."""
    raw = read_bytes(path, most=most)
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError as exc:
        line = raw.count(b"\n", 0, exc.start) + 1
        raise FileError(
            f"{shown_name(path)} is not text: line {line} has a byte that is not UTF-8",
            hint="Save it as UTF-8.",
        ) from exc


def listed(folder: Path, suffix: str, *, most: int) -> tuple[Path, ...]:
    """Return what in a folder ends so, by name; none where there is no folder.

    Raises
    ------
    FileError
        When it is no folder, cannot be read, or holds more than `most` entries that end so.
    """
    found = []
    try:
        with os.scandir(folder) as entries:
            for entry in entries:
                if entry.name.endswith(suffix):
                    found.append(folder / entry.name)
                if len(found) > most:
                    raise FileError(
                        f"{shown_name(folder)} holds more than {most} files …{suffix}",
                        hint="Move the others away.",
                    )
    except FileNotFoundError:
        return ()
    except OSError as exc:
        raise _unreadable(shown_name(folder), exc) from exc
    return tuple(sorted(found))


def too_large(name: str, most: int) -> FileError:
    """Build the error for a file with more bytes than are read."""
    limit = f"{most / 1e6:g} MB" if most >= 1_000_000 else f"{most / 1e3:g} kB"
    return FileError(f"{name} is too large", hint=f"Files of up to {limit} are read.")


def _refuse(status: os.stat_result, name: str, most: int) -> None:
    kind = stat.S_IFMT(status.st_mode)
    if kind != stat.S_IFREG:
        raise FileError(
            f"{name} is {_KINDS.get(kind, 'not a file')}", hint="Name a file that holds data."
        )
    if status.st_size > most:
        raise too_large(name, most)


def _unreadable(name: str, exc: Exception) -> FileError:
    if isinstance(exc, FileNotFoundError):
        return FileError(f"{name} is not there", hint="Check its name and folder.")
    why = getattr(exc, "strerror", None) or str(exc) or type(exc).__name__
    return FileError(f"{name} cannot be read: {why}", hint="Check its permissions, or copy it.")

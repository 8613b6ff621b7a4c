"""Lines of a file in pieces: a line without an end never fills the memory."""

from collections.abc import Iterator
from typing import TextIO

from bench_lamp.files.opening import FileError

#: Characters that are read at a time, and of the longest line.
PIECE, LONGEST = 4_000_000, 65_536


def first_line(file: TextIO, name: str) -> str:
    """Return the next line; raise `FileError` when it is longer than `LONGEST`."""
    line = file.readline(LONGEST + 1)
    if len(line) > LONGEST:
        raise _too_long(name, 1)
    return line


def blocks_of_lines(file: TextIO, name: str, *, first: int = 1) -> Iterator[list[str]]:
    """Yield the lines that are left, some thousands at a time, without their ends.

    `first` is the number of the next line, for the message of the `FileError` that is raised
    when a line is longer than `LONGEST`.
    """
    rest, number = "", first
    while text := file.read(PIECE):
        lines = (rest + text).split("\n")
        rest = lines.pop()
        long = next((i for i, line in enumerate((*lines, rest)) if len(line) > LONGEST), None)
        if long is not None:
            raise _too_long(name, number + long)
        number += len(lines)
        yield lines
    if rest:
        yield [rest]


def _too_long(name: str, number: int) -> FileError:
    return FileError(
        f"{name}, row {number} has more than {LONGEST} characters",
        hint="It is not a table of readings; export it again as CSV.",
    )

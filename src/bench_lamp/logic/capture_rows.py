"""Rows of a capture file: a row of names, perhaps one of units, then a row of levels a sample."""

from collections.abc import Iterator
from typing import TYPE_CHECKING, TextIO

from msgspec import Struct

from bench_lamp.errors import BenchLampError
from bench_lamp.files import blocks_of_lines, first_line

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

#: Most pins.
MOST_PINS = 64
#: Names of a column of times, beside all that begin with "time".
TIMES = frozenset({"t", "x", "s", "second", "seconds"})


class CaptureError(BenchLampError):
    """A file that is no capture; the message names the row."""


def is_time(name: str) -> bool:
    """Whether a column holds times, and no levels.

    >>> is_time("Time (s)"), is_time("t"), is_time("TXD")
    (True, True, False)
    """
    return name.lower().startswith("time") or name.lower() in TIMES


class CaptureRows(Struct, frozen=True):
    """An open file after its row of names.

    Columns are parted by commas, semicolons or tabs, as the first row has them; beside
    semicolons and tabs a comma is a decimal one.
    """

    file: TextIO
    #: As it is called in messages.
    name: str
    delimiter: str
    names: list[str]

    @classmethod
    def begun(cls, file: TextIO, name: str) -> "CaptureRows":
        """Read the row of names; raise `CaptureError` where there is none."""
        line = first_line(file, name)
        delimiter = next((d for d in ";\t" if d in line), ",")
        return cls(file, name, delimiter, _names(line, delimiter, name))

    def blocks(self) -> Iterator[tuple[int, "NDArray[np.float32]"]]:
        """Yield (characters read so far, samples of shape (rows, columns)).

        Raises
        ------
        CaptureError
            When a row is not numbers, or not as many as there are names.
        """
        import numpy as np

        read, row = 0, 2
        for lines in blocks_of_lines(self.file, self.name, first=2):
            read += sum(map(len, lines)) + len(lines)
            if row == 2 and lines and not any(c.isdecimal() for c in lines[0]):
                # A second row of words: units, as a scope writes them.
                lines[0] = ""
            kept = [self._plain(line) for line in lines if line.strip()]
            if kept:
                try:
                    block = np.loadtxt(
                        kept, delimiter=self.delimiter, dtype=np.float32, ndmin=2, comments=None
                    )
                except ValueError as exc:
                    raise self._bad_row(lines, row) from exc
                if block.shape[1] != len(self.names) or not np.isfinite(block).all():
                    raise self._bad_row(lines, row)
                yield read, block
            row += len(lines)

    def _plain(self, line: str) -> str:
        return line if self.delimiter == "," else line.replace(",", ".")

    def _bad_row(self, lines: list[str], first: int) -> CaptureError:
        """Find the row that is wrong, for the message."""
        columns = len(self.names)
        for number, line in enumerate(lines, start=first):
            cells = self._plain(line).rstrip("\r\n").split(self.delimiter)
            if not line.strip():
                continue
            if len(cells) != columns:
                what = f"{self.name}, row {number} has {len(cells)} columns, row 1 has {columns}"
                return CaptureError(what, hint="Every row needs a value for each name.")
            bad = next((cell for cell in cells if not _is_level(cell)), None)
            if bad is not None:
                return CaptureError(
                    f"{self.name}, row {number}: “{bad.strip()[:16]}” is no level",
                    hint="Levels are 0, 1 or volts.",
                )
        return CaptureError(f"{self.name} cannot be read", hint="Export it again as plain CSV.")


def _is_level(cell: str) -> bool:
    try:
        return abs(float(cell)) < float("inf")
    except ValueError:
        return False


def _names(line: str, delimiter: str, file: str) -> list[str]:
    names = [n.strip().strip('"') for n in line.rstrip("\r\n").split(delimiter)]
    if not line.strip():
        raise CaptureError(f"{file} is empty", hint="Export it again, as CSV with a row of names.")
    if len(names) < 2 or not any(any(c.isalpha() for c in n) for n in names):
        raise CaptureError(
            f"{file}, row 1 has no names of pins",
            hint="The first row names the columns: time,D0,D1",
        )
    if len(names) > MOST_PINS + 1:
        raise CaptureError(f"{file} has {len(names)} columns", hint=f"At most {MOST_PINS} pins.")
    if len(set(names)) < len(names):
        raise CaptureError(
            f"{file}, row 1 names a pin twice", hint="Give each column its own name."
        )
    return names

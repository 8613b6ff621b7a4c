"""A capture: levels of several pins over time, from a file, in pieces that fit in memory."""

import io
import os
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import TYPE_CHECKING, BinaryIO, Literal

from msgspec import Struct

from bench_lamp.files import opened, shown_name
from bench_lamp.files.opening import too_large
from bench_lamp.logic.capture_rows import CaptureError, CaptureRows, is_time
from bench_lamp.logic.capture_session import SessionCapture
from bench_lamp.logic.capture_vcd import VcdCapture

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    #: Levels of shape (samples, pins), and how long each sample lasted.
    Levels = NDArray[np.float32]
    Lasted = NDArray[np.float64]

Activity = Literal["high", "low", "pulsing", "floating"]
#: Largest file.
MAX_BYTES = 512_000_000
#: What a standard TTL input is guaranteed to take as low (at most) and high (at least), in volts.
LOW_V, HIGH_V = 0.8, 2.0
#: Share of samples between the levels from which on a pin is called floating.
FLOATING_SHARE = 0.05


class PinTrace(Struct, frozen=True, kw_only=True):
    """What one pin did over the capture."""

    name: str
    #: Shares of the samples, from 0 to 1.
    high: float
    low: float
    between: float
    edges: int
    #: Pins that were the same in every sample, although they moved.
    same_as: tuple[str, ...] = ()

    @property
    def activity(self) -> Activity:
        """Return what a logic probe would show.

        >>> PinTrace(name="D0", high=1.0, low=0.0, between=0.0, edges=0).activity
        'high'
        """
        if self.between > FLOATING_SHARE:
            return "floating"
        if self.edges:
            return "pulsing"
        return "high" if self.high >= self.low else "low"


class Capture(Struct, frozen=True, kw_only=True):
    """All pins of one file."""

    pins: tuple[PinTrace, ...]
    rows: int
    #: How many columns `w0` … there are.
    bits: int = 0
    #: Distinct words written and read, where the file has columns for both; at most 4096.
    pairs: tuple[tuple[int, int], ...] = ()


def read_capture(
    path: Path, *, progress: Callable[[float], bool] = lambda share: True
) -> Capture | None:
    """Read a capture: a table, a value change dump, or a session file of sigrok.

    Of a table the first row has names, the others numbers: 0 and 1, or volts. A column of times is
    passed over. Columns `w0`, `w1` … and `r0`, `r1` … are taken as written and read, and give
    write/read pairs as well.

    Parameters
    ----------
    path : Path
        The file; at most `MAX_BYTES`, `MOST_PINS` columns.
    progress : callable
        Gets the share that is read; says whether to go on. None is returned when not.

    Raises
    ------
    FileError
        When it cannot be read, is no regular file, is too large, or a row is endless.
    CaptureError
        When it is empty, is no text, or a row is not numbers.
    """
    name = shown_name(path)
    try:
        with opened(path, most=MAX_BYTES) as raw:
            tally = _Tally([])
            for names, share, block, lasted in _blocks(raw, name):
                if not tally.rows:
                    tally = _Tally(names)
                    tally.refuse_uneven(name)
                tally.add(block, lasted)
                if not progress(share):
                    return None
    except UnicodeDecodeError as exc:
        raise CaptureError(f"{name} is not text", hint=str(exc)) from exc
    if not tally.rows:
        raise CaptureError(f"{name} has no samples", hint="One row of names, then one a sample.")
    return tally.capture()


def _blocks(raw: BinaryIO, name: str) -> "Iterator[tuple[list[str], float, Levels, Lasted | None]]":
    """Yield names, share that is read, levels, and how long each lasted, whatever form the file has."""
    size = os.fstat(raw.fileno()).st_size
    head = raw.read(200)
    raw.seek(0)
    if head.startswith(b"PK"):
        session = SessionCapture(raw, name)
        for share, block, lasted in session.blocks():
            yield session.names, share, block, lasted
    elif head.lstrip().startswith(b"$"):
        dump = VcdCapture(raw, name, size)
        for part, levels, durations in dump.blocks():
            yield dump.names, part, levels, durations
    else:
        with io.TextIOWrapper(raw, encoding="utf-8-sig") as text:
            source = CaptureRows.begun(text, name)
            for read, rows in source.blocks():
                if read > MAX_BYTES:
                    raise too_large(name, MAX_BYTES)
                yield source.names, min(read / max(size, 1), 1.0), rows, None


class _Tally:
    """What is counted of each pin while the pieces pass."""

    def __init__(self, names: list[str]) -> None:
        import numpy as np

        self.columns = [i for i, n in enumerate(names) if not is_time(n)]
        self.names = [names[i] for i in self.columns]
        self.wrote, self.came = self._lane("w"), self._lane("r")
        count = len(self.names)
        self.rows, self.weight = 0, 0.0
        self.sums = np.zeros((3, count))
        self.edges = np.zeros(count, dtype=np.int64)
        self.same = np.ones((count, count), dtype=bool)
        self.last: NDArray[np.bool_] | None = None
        self.pairs: dict[tuple[int, int], None] = {}
        self.is_volts = False

    def refuse_uneven(self, name: str) -> None:
        """Refuse lines that were written and not read, or the other way round."""
        if len(self.wrote) != len(self.came):
            raise CaptureError(
                f"{name} has {len(self.wrote)} columns w0 … and {len(self.came)} r0 …",
                hint="Every line that is written needs its column of what was read.",
            )

    def add(self, block: "Levels", lasted: "Lasted | None" = None) -> None:
        """Count a piece; samples that lasted longer than others count for as much more."""
        import numpy as np

        levels = block[:, self.columns]
        if not self.is_volts and bool(((levels != 0.0) & (levels != 1.0)).any()):
            self._were_volts()
        low, high = (LOW_V, HIGH_V) if self.is_volts else (0.5, 0.5)
        is_high, is_low = levels >= high, levels < low
        weights = np.ones(len(levels)) if lasted is None else lasted
        self.rows += len(levels)
        self.weight += float(weights.sum())
        self.sums += np.stack([weights @ is_high, weights @ is_low, weights @ (~is_high & ~is_low)])
        logic = levels > 0.5 * (low + high)
        joined = logic if self.last is None else np.vstack([self.last, logic])
        self.edges += (joined[1:] != joined[:-1]).sum(0)
        self.last = logic[-1:]
        for i in range(len(self.names)):
            self.same[i] &= ~(logic[:, i : i + 1] ^ logic).any(axis=0)
        self._add_pairs(logic)

    def _were_volts(self) -> None:
        """Take the pieces before, all 0 and 1, as volts after all: 1 V is neither level."""
        self.is_volts = True
        self.sums[2] += self.sums[0]
        self.sums[0] = 0.0
        self.edges[:] = 0
        self.same[:] = True
        self.last = None if self.last is None else self.last & False
        self.pairs = dict.fromkeys([(0, 0)] if self.pairs else [])

    def _add_pairs(self, logic: "NDArray[np.bool_]") -> None:
        import numpy as np

        wrote, came = self.wrote, self.came
        if not wrote or len(self.pairs) >= 4096:
            return
        weights = 1 << np.arange(len(wrote), dtype=np.int64)
        words = np.stack([logic[:, wrote] @ weights, logic[:, came] @ weights], axis=1)
        for w, c in np.unique(words, axis=0)[:4096]:
            self.pairs.setdefault((int(w), int(c)))

    def _lane(self, letter: str) -> list[int]:
        known = {n.lower(): i for i, n in enumerate(self.names)}
        found: list[int] = []
        while f"{letter}{len(found)}" in known:
            found.append(known[f"{letter}{len(found)}"])
        return found

    def capture(self) -> Capture:
        shares = self.sums / self.weight
        moving = self.edges > 0
        return Capture(
            rows=self.rows,
            bits=len(self.wrote),
            pairs=tuple(self.pairs),
            pins=tuple(
                PinTrace(
                    name=name,
                    high=float(shares[0, i]),
                    low=float(shares[1, i]),
                    between=float(shares[2, i]),
                    edges=int(self.edges[i]),
                    same_as=tuple(
                        other
                        for j, other in enumerate(self.names)
                        if j != i and moving[i] and self.same[i, j]
                    ),
                )
                for i, name in enumerate(self.names)
            ),
        )

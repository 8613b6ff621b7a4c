"""A capture as a value change dump: levels from one change to the next, each for as long as it lasted.

Source: IEEE 1364-2005, chapter 18 (four-state VCD).
"""

from collections.abc import Iterator
from typing import TYPE_CHECKING, BinaryIO, cast

from bench_lamp.logic.capture_rows import MOST_PINS, CaptureError

if TYPE_CHECKING:
    from io import BufferedIOBase

    import numpy as np
    from numpy.typing import NDArray

#: Volts that stand for a level: unknown and high impedance lie between.
VOLTS = {"0": 0.0, "1": 5.0}
BETWEEN_V = 1.4
#: Kinds of variables that are no levels.
NO_LEVELS = frozenset(("real", "realtime", "event", "string", "time", "parameter"))
#: Changes that are taken at a time.
LOT = 20_000

#: Share that is read, levels as volts (changes, pins), and how long each lasted.
Block = tuple[float, "NDArray[np.float32]", "NDArray[np.float64]"]


class VcdCapture:
    """An open dump after its declarations: the names of its pins, then blocks of levels."""

    def __init__(self, file: BinaryIO, name: str, size: int) -> None:
        from vcd.reader import TokenKind, tokenize

        self._file, self._name, self._size = file, name, size
        #: Column and bit of each code: a vector is as many pins.
        self._pins: dict[str, tuple[int, int]] = {}
        self._ignored: set[str] = set()
        self.names: list[str] = []
        self._before: list[float] = []
        self._kinds, self._tokens = TokenKind, tokenize(cast("BufferedIOBase", file))
        try:
            for token in self._tokens:
                if token.kind is TokenKind.VAR:
                    self._declare(token.var)
                elif token.kind is TokenKind.ENDDEFINITIONS:
                    break
        except CaptureError:
            raise
        except Exception as exc:
            raise self._unreadable(exc) from exc
        if not self.names:
            raise CaptureError(f"{name} names no pins", hint="Export it again, with its signals.")

    def _declare(self, var: object) -> None:
        size, code = int(getattr(var, "size", 0)), str(getattr(var, "id_code", ""))
        name = str(getattr(var, "reference", ""))[:60]
        if str(getattr(getattr(var, "type_", ""), "value", "")) in NO_LEVELS:
            self._ignored.add(code)
            return
        if not 1 <= size <= MOST_PINS or len(self.names) + size > MOST_PINS:
            raise CaptureError(f"{self._name} has more than {MOST_PINS} pins", hint="Export fewer.")
        if code in self._pins:
            # The same wire under another name.
            return
        self._pins[code] = (len(self.names), size)
        self.names += [name] if size == 1 else [f"{name}{bit}" for bit in range(size)]

    def blocks(self) -> Iterator[Block]:
        """Yield levels with how long each lasted; raise `CaptureError` where it makes no sense."""
        import numpy as np

        level = [BETWEEN_V] * len(self.names)
        rows: list[list[float]] = []
        lasted: list[float] = []
        begun: int | None = None
        for moment in self._moments(level):
            if begun is not None and moment > begun:
                rows.append(self._before)
                lasted.append(float(moment - begun))
            begun = moment
            if len(rows) == LOT:
                yield self._share(), np.array(rows, np.float32), np.array(lasted)
                rows, lasted = [], []
        # What stood last is seen once more, however short.
        rows.append(level)
        lasted.append(1.0)
        yield 1.0, np.array(rows, np.float32), np.array(lasted)

    def _moments(self, level: list[float]) -> Iterator[int]:
        """Yield each moment of a change; `_before` is how the levels stood until then, `level` is kept."""
        last = -1
        try:
            for token in self._tokens:
                kind = token.kind
                if kind is self._kinds.CHANGE_TIME:
                    moment = int(token.time_change)
                    if moment < last:
                        raise CaptureError(
                            f"{self._name}: time goes backwards", hint="Export it again."
                        )
                    last, self._before = moment, [*level]
                    yield moment
                elif kind is self._kinds.CHANGE_SCALAR:
                    self._set(level, token.scalar_change.id_code, token.scalar_change.value)
                elif kind is self._kinds.CHANGE_VECTOR:
                    self._set(level, token.vector_change.id_code, token.vector_change.value)
        except CaptureError:
            raise
        except Exception as exc:
            raise self._unreadable(exc) from exc

    def _set(self, level: list[float], code: str, value: int | str) -> None:
        if code in self._ignored:
            return
        if code not in self._pins:
            raise CaptureError(
                f"{self._name}: a change of no pin", hint="It is cut; export it again."
            )
        first, size = self._pins[code]
        if size == 1:
            level[first] = VOLTS.get(str(value), BETWEEN_V)
            return
        bits = f"{value:b}" if isinstance(value, int) else str(value)
        for bit, digit in enumerate(reversed(bits.rjust(size, "0")[-size:])):
            level[first + bit] = VOLTS.get(digit, BETWEEN_V)

    def _share(self) -> float:
        return min(self._file.tell() / max(self._size, 1), 1.0)

    def _unreadable(self, exc: Exception) -> CaptureError:
        return CaptureError(
            f"{self._name} is no value change dump: {str(exc)[:80]}", hint="Export it again."
        )

"""A capture as a session file of sigrok: a zip with a few lines about it, and the levels as packed bits."""

import configparser
import zipfile
from collections.abc import Iterator
from typing import TYPE_CHECKING, BinaryIO

from bench_lamp.logic.capture_rows import MOST_PINS, CaptureError

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

#: Bytes of the longest description, of all levels, and of what is taken at a time.
MOST_ABOUT, MOST_LEVELS, LOT = 100_000, 512_000_000, 1 << 20
#: Parts of one capture, at most.
MOST_PARTS = 100_000


class SessionCapture:
    """An open session: the names of its pins, then blocks of levels."""

    def __init__(self, file: BinaryIO, name: str) -> None:
        self._name = name
        try:
            self._zip = zipfile.ZipFile(file)
            about = self._about()
            device = about["device 1"]
            self._unit = int(device.get("unitsize", "1"))
            probes = {
                k.removeprefix("probe"): v for k, v in device.items() if k.startswith("probe")
            }
            numbers = sorted(int(k) for k in probes if k.isdecimal())
            self._bits = [n - 1 for n in numbers]
            self.names = [probes[str(n)][:60] for n in numbers]
            self._stem = device.get("capturefile", "logic-1")
        except CaptureError:
            raise
        except (zipfile.BadZipFile, KeyError, ValueError, configparser.Error, OSError) as exc:
            raise self._unreadable(exc) from exc
        if not self.names or len(self.names) > MOST_PINS:
            raise CaptureError(f"{name} has {len(self.names)} pins", hint=f"1 to {MOST_PINS} pins.")
        if not 1 <= self._unit <= 8 or max(self._bits) >= 8 * self._unit:
            raise CaptureError(f"{name} is damaged: its pins do not fit", hint="Save it again.")

    def _about(self) -> configparser.ConfigParser:
        if self._zip.getinfo("metadata").file_size > MOST_ABOUT:
            raise CaptureError(f"{self._name} is no session file", hint="Save it again.")
        about = configparser.ConfigParser(interpolation=None)
        about.read_string(self._zip.read("metadata").decode("utf-8", "replace"))
        return about

    def blocks(self) -> Iterator[tuple[float, "NDArray[np.float32]", None]]:
        """Yield the share that is read and levels, 0 and 1, of shape (samples, pins)."""
        import numpy as np

        parts = [self._stem] if self._stem in self._zip.namelist() else [
            part for n in range(1, MOST_PARTS)
            if (part := f"{self._stem}-{n}") in self._zip.NameToInfo
        ]  # fmt: skip
        total = sum(self._zip.getinfo(part).file_size for part in parts)
        if total > MOST_LEVELS:
            raise CaptureError(f"{self._name} is too long", hint="Save a shorter stretch of it.")
        read, size = 0, LOT - LOT % self._unit
        try:
            for part in parts:
                with self._zip.open(part) as levels:
                    while data := levels.read(size):
                        read += len(data)
                        if read > MOST_LEVELS:
                            raise CaptureError(f"{self._name} is too long", hint="Save less of it.")
                        whole = data[: len(data) - len(data) % self._unit]
                        words = np.frombuffer(whole, np.uint8).reshape(-1, self._unit)
                        bits = np.unpackbits(words, axis=1, bitorder="little")
                        yield (
                            min(read / max(total, 1), 1.0),
                            bits[:, self._bits].astype(np.float32),
                            None,
                        )
        except (zipfile.BadZipFile, OSError, NotImplementedError, RuntimeError, ValueError) as exc:
            raise self._unreadable(exc) from exc

    def _unreadable(self, exc: Exception) -> CaptureError:
        return CaptureError(
            f"{self._name} is no session file: {str(exc)[:80]}", hint="Save it again."
        )

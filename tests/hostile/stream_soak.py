"""Hours of a meter's stream through the window's own worker and link, as fast as they go: nothing grows."""

import gc
import os
import time
from pathlib import Path

from PySide6.QtCore import QCoreApplication
from tests.hostile.tally import Tally
from tests.instrument.touches import RATE, samples, touches

from bench_lamp.desktop.metering import MeterLink
from bench_lamp.instrument.device import Address
from bench_lamp.instrument.linked import Linked
from bench_lamp.instrument.sample import DeviceError, Identity, Sample

#: Kilobytes that the process may grow over the second half.
MOST_KB = 4000


class Recorded:
    """A meter that shows what was recorded, without its pauses; implements `Device`."""

    modes = frozenset({"dc V"})

    def __init__(self, seconds: float, seed: int) -> None:
        # One hour of touches, again and again.
        self._hour = [s for s, _ in samples(touches(700, seed), seed)][: round(3600 * RATE)]
        self._left = round(seconds * RATE)
        self.count = 0

    def identify(self) -> Identity:
        return Identity(name="recorded")

    def read(self, mode: str) -> Sample:
        if self.count == self._left:
            raise DeviceError("It is over")
        found = self._hour[self.count % len(self._hour)]
        self.count += 1
        return Sample(
            at=self.count / RATE, mode=mode, value=found.value, resolution=found.resolution
        )

    def close(self) -> None:
        return


def attack(count: int, seed: int, folder: Path) -> Tally:
    """Stream so many hours; say how much memory grew over the second half of them."""
    tally = Tally("hours of a stream")
    application = QCoreApplication.instance() or QCoreApplication([])
    meter, settled = Recorded(3600.0 * count, seed), []
    link = MeterLink(Linked(address=Address(kind="recorded", place="")), lambda _: meter)
    link.noticed.connect(lambda _, noticed: settled.append(noticed.what))
    half = 0
    while not link.trouble:
        application.processEvents()
        time.sleep(0.001)
        if not half and meter.count > meter._left // 2:
            half = _kilobytes()
    grown = _kilobytes() - half
    if not link.stop():
        tally.wrong("its thread did not end")
    if grown > MOST_KB:
        tally.wrong(f"grew by {grown} kB over the second half")
    if not settled:
        tally.wrong("nothing settled")
    tally.count = count
    tally.way(f"{len(settled)} things noticed, grown by {grown} kB over the second half")
    return tally


def _kilobytes() -> int:
    gc.collect()
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    return pages * os.sysconf("SC_PAGESIZE") // 1024

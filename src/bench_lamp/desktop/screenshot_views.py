"""Screenshots of the practice bench, the instruments and the large view."""

import time

from bench_lamp.desktop.screenshot_tools import Running, open_job, settle
from bench_lamp.instrument.device import Address
from bench_lamp.instrument.sample import Identity, Sample


def practice_view(bench: Running) -> None:
    """The lessons, two of them done."""
    from bench_lamp.practice.lessons import LESSONS, Progress, keep_progress, with_run

    bench.session.describe()
    bench.window.page.maps.toggle()
    done = with_run(Progress(), LESSONS[0].title, 13.0, 0)
    keep_progress(bench.window.practice.folder, with_run(done, LESSONS[1].title, 22.0, 1))
    bench.window.run_command("practice")


class ShownMeter:
    """A meter that always shows the same; implements `Device`."""

    modes = frozenset({"dc V"})

    def __init__(self, value: float) -> None:
        self._value = value

    def identify(self) -> Identity:
        """Return a made-up name."""
        return Identity(name="Hearthwell 60")

    def read(self, mode: str) -> Sample:
        """Return the same as before."""
        time.sleep(0.02)
        return Sample(at=time.monotonic(), mode=mode, value=self._value, resolution=0.01)

    def close(self) -> None:
        """Nothing is open."""
        return


def instruments_view(bench: Running) -> None:
    """A meter on volts with its limits and leads, and one that is looked for."""
    bench.window.run_command("practice")
    hands = bench.window.hands
    hands.hold()
    hands.link(Address(kind="serial", place="/dev/ttyUSB0@2400"), lambda _: ShownMeter(5.08))
    for said in ("limits CAT II 300 V", "leads 0.2", "calibrated 2026-03"):
        hands.say(0, said)
    bench.window.run_command("instruments")
    settle(bench)


def large_view(bench: Running) -> None:
    """What is read from three metres."""
    bench.window.run_command("instruments")
    open_job(bench, "QH-012/1", "rails")
    bench.session.look_at("A")
    bench.window.run_command("large")
    settle(bench)

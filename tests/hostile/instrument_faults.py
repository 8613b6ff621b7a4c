"""Instruments that go wrong in every way that a line can: nothing of it is ever a reading, and all is found again."""

import contextlib
import itertools
import random
from pathlib import Path

from tests.hostile.tally import Tally

from bench_lamp.bench.standins.faults import ALL
from bench_lamp.bench.standins.scpi_server import Connected, StandIn
from bench_lamp.bench.standins.streaming import StreamingMeter
from bench_lamp.instrument import scpi, serial_line
from bench_lamp.instrument.device import Address, Device
from bench_lamp.instrument.kinds import KINDS
from bench_lamp.instrument.sample import DeviceError

#: Longest that an answer is waited for here, in seconds; and what the stand-ins show.
WAIT_S, SHOWN = 0.05, 5.081


def attack(count: int, seed: int, folder: Path) -> Tally:
    """Inject so many faults, in turns on a socket and on a serial line; each value that comes must be the one shown."""
    chance, tally = random.Random(seed), Tally("faults of instruments")
    before = scpi.ANSWER_S, serial_line.ANSWER_S
    scpi.ANSWER_S = serial_line.ANSWER_S = WAIT_S
    try:
        _on_a_socket(count // 2, chance, tally)
        _on_a_line(count - count // 2, chance, tally)
    finally:
        scpi.ANSWER_S, serial_line.ANSWER_S = before
    return tally


def _on_a_socket(count: int, chance: random.Random, tally: Tally) -> None:
    stand_in = StandIn("meter", Connected(values={"dc V": SHOWN}, noise=0.0))
    stand_in.bench.fault.late_s = 1.5 * WAIT_S
    address = Address(kind="scpi", place=stand_in.place, family="standard-meter")
    device: Device | None = None
    for _ in range(count):
        what = chance.choice(ALL)
        device = device or KINDS["scpi"](address)
        _judge(device.read("dc V").value, tally)
        stand_in.bench.fault.what = what
        try:
            value = device.read("dc V").value
            tally.wrong(f"{what}: {value} was taken for a reading")
        except DeviceError as exc:
            tally.way(what)
            if exc.is_lost:
                device.close()
                device = None
        tally.count += 1
    if device is not None:
        device.close()
    stand_in.close()


def _on_a_line(count: int, chance: random.Random, tally: Tally) -> None:
    meter = StreamingMeter(rate=500)
    meter.value = SHOWN
    device = KINDS["serial"](Address(kind="serial", place=meter.place))
    ways = [w for w in ALL if w not in {"never", "late", "pulled"}]
    for number in itertools.count(1):
        meter.fault.what = chance.choice(ways)
        tally.way(f"line: {meter.fault.what}")
        with contextlib.suppress(DeviceError):
            _judge(device.read("dc V").value, tally)
        tally.count += 1
        if number == count:
            break
    device.close()
    meter.close()


def _judge(value: float, tally: Tally) -> None:
    if abs(value - SHOWN) > 1e-9:
        tally.wrong(f"{value} is not what was shown")

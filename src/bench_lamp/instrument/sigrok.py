"""Hand-held meters through `sigrok-cli`, where the distribution has it: found, asked, and read strictly.

Its output is data of another program: each line is a reading with its channel, or it is passed over.
"""

import os
import re
import selectors
import shutil
import subprocess
import time

from bench_lamp.instrument.device import ANSWER_S, Address
from bench_lamp.instrument.display import MOST_LINE, sample_of
from bench_lamp.instrument.sample import DeviceError, Identity, Sample

PROGRAM = "sigrok-cli"
#: Longest that a list is waited for, in seconds.
LIST_S = 15
_DRIVER = re.compile(r"  (?P<id>[a-z0-9][a-z0-9-]{1,40})\s{1,24}(?P<name>\S.{0,80})")
_LINE = re.compile(r"(?P<channel>[A-Za-z0-9_]{1,20}): (?P<shown>.{1,100})")
_PLACE = re.compile(
    r"(?P<driver>[a-z0-9][a-z0-9-]{1,40}(?::[A-Za-z0-9_./=:-]{0,120})?)(?:#(?P<channel>\w{1,20}))?"
)


def program() -> str:
    """Return where the program is; empty for nowhere."""
    return shutil.which(PROGRAM) or ""


def drivers() -> dict[str, str]:
    """Return the drivers that the installed program has, by id, with what they are for."""
    found = program()
    if not found:
        return {}
    try:
        done = subprocess.run(
            [found, "-L"], capture_output=True, text=True, timeout=LIST_S, check=False,
            stdin=subprocess.DEVNULL, errors="replace",
        )  # fmt: skip
    except (OSError, subprocess.TimeoutExpired):
        return {}
    _, _, listed = done.stdout.partition("Supported hardware drivers:")
    before, _, _ = listed.partition("Supported input formats")
    rows = (_DRIVER.fullmatch(line.rstrip()) for line in before.splitlines())
    return {row["id"]: row["name"] for row in rows if row}


class SigrokMeter:
    """One meter behind the program; implements `Device`. Its dial is a switch."""

    modes = frozenset({"dc V", "ac V", "ohm", "diode", "A", "Hz", "F"})

    def __init__(self, process: "subprocess.Popen[bytes]", driver: str, channel: str) -> None:
        self._process, self._driver, self._channel = process, driver, channel
        self._selector = selectors.DefaultSelector()
        assert process.stdout is not None
        self._out = process.stdout.fileno()
        os.set_blocking(self._out, False)
        self._selector.register(self._out, selectors.EVENT_READ)
        self._rest = b""

    def identify(self) -> Identity:
        """Return the driver: it found what it was told to look for."""
        return Identity(name=f"{self._driver} by {PROGRAM}")

    def read(self, mode: str) -> Sample:
        """Return the next value of the channel; anything else that is printed is passed over."""
        until = time.monotonic() + ANSWER_S
        while time.monotonic() < until:
            found = _LINE.fullmatch(self._line(until))
            if found is None or (self._channel and found["channel"] != self._channel):
                continue
            try:
                return sample_of(found["shown"], time.monotonic())
            except DeviceError:
                continue
        raise DeviceError("The meter sends nothing", hint="Switch its sending on.")

    def _line(self, until: float) -> str:
        while b"\n" not in self._rest:
            if not self._selector.select(max(until - time.monotonic(), 0)):
                raise DeviceError("The meter sends nothing", hint="Switch its sending on.")
            more = os.read(self._out, 65_536)
            if not more:
                raise DeviceError.lost(f"{PROGRAM} ended", hint="Is the meter plugged in?")
            self._rest += more
            if len(self._rest) > 1_000_000:
                self._rest = b""
        raw, _, self._rest = self._rest.partition(b"\n")
        return raw[: MOST_LINE + 1].decode("utf-8", "replace").strip()

    def close(self) -> None:
        """End the program."""
        self._selector.close()
        self._process.kill()
        for end in (self._process.stdin, self._process.stdout):
            if end is not None:
                end.close()
        self._process.wait()


def open_sigrok(address: Address) -> SigrokMeter:
    """Open a meter as the program names it: `driver:conn=/dev/ttyUSB0`, with `#P1` for one channel.

    Raises
    ------
    DeviceError
        When the program is not installed, or the place is none.
    """
    found, place = program(), _PLACE.fullmatch(address.place)
    if not found:
        raise DeviceError(f"{PROGRAM} is not installed", hint=f"apt-get install {PROGRAM}")
    if place is None:
        raise DeviceError(
            f"“{address.place[:40]}” is no driver", hint="As driver:conn=/dev/ttyUSB0"
        )
    command = [found, "--driver", place["driver"], "--continuous", "--output-format", "analog"]
    try:
        # It ends when its input does.
        process = subprocess.Popen(
            command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL
        )
    except OSError as exc:
        raise DeviceError(
            f"{PROGRAM} cannot be started: {exc.strerror}", hint="Install it."
        ) from exc
    return SigrokMeter(process, place["driver"].partition(":")[0], place["channel"] or "")

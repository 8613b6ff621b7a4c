"""The protocol of every instrument that is linked: small, typed, with time-outs. A new kind is one module."""

from collections.abc import Callable, Iterator, Mapping
from typing import Protocol

from msgspec import Struct

from bench_lamp.instrument.sample import Identity, Sample

#: Longest that one answer is waited for, in seconds.
ANSWER_S = 2.0


class Address(Struct, frozen=True, kw_only=True):
    """Where an instrument is, and as what it is spoken to."""

    #: Name of the kind: `scpi`, `serial`, `sigrok`.
    kind: str
    #: As the kind wants it: `TCPIP::127.0.0.1::5025::SOCKET`, `/dev/ttyUSB0`, `driver:conn=…`.
    place: str
    #: Family of commands, or the taught pattern of its lines; empty where the kind needs none.
    family: str = ""


class Device(Protocol):
    """Anything that is linked by a cable. Each method raises `DeviceError`, never later than `ANSWER_S`."""

    #: What it can measure.
    modes: frozenset[str]

    def identify(self) -> Identity:
        """Return what it says that it is."""
        ...

    def read(self, mode: str) -> Sample:
        """Return the next value in a mode; of an instrument whose dial is a switch, in the one it stands at."""
        ...

    def close(self) -> None:
        """Let go of it; safe to call twice."""
        ...


class Ranged(Protocol):
    """An instrument whose range can be held."""

    def hold_range(self, mode: str, full_scale: float) -> None:
        """Hold the range that shows up to this, in the mode's unit; 0 lets it choose."""
        ...


class Output(Protocol):
    """A supply whose output is set from here."""

    def set_output(self, volts: float, amps: float) -> None:
        """Set volts and current limit; the output stays as it was."""
        ...

    def switch(self, *, on: bool) -> None:
        """Switch the output."""
        ...

    def sense(self) -> tuple[float, float]:
        """Return volts and amperes as it measures them."""
        ...


Opener = Callable[[Address], Device]


def stream(device: Device, mode: str) -> Iterator[Sample]:
    """Yield one value after the other, until the instrument is lost."""
    while True:
        yield device.read(mode)


def open_device(address: Address, kinds: Mapping[str, Opener]) -> Device:
    """Open an instrument by its kind.

    Raises
    ------
    DeviceError
        When it does not answer, or the kind is none.
    """
    from bench_lamp.instrument.sample import DeviceError

    opener = kinds.get(address.kind)
    if opener is None:
        known = ", ".join(kinds)
        raise DeviceError(
            f"“{address.kind[:20]}” is no kind of instrument", hint=f"One of {known}."
        )
    return opener(address)

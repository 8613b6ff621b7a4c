"""Families of SCPI commands, as data: which text asks for what."""

from collections.abc import Mapping
from functools import cache
from pathlib import Path

import msgspec
from msgspec import Struct, field

from bench_lamp.instrument.sample import DeviceError

SUFFIX = ".json"
#: Bytes of the largest family.
MOST_BYTES = 50_000


class Asking(Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """How one quantity is asked for."""

    ask: str
    #: How it is asked for with its range held; `{scale}` is the full scale. Empty where it cannot be.
    range: str = ""


class SupplyWords(Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """How an output is set and switched."""

    volts: str
    amps: str
    on: str
    off: str
    is_on: str


class WaveWords(Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """How a scope's waveform is asked for: its samples in volts, and the seconds between two."""

    samples: str
    step: str


class Family(Struct, frozen=True, kw_only=True, forbid_unknown_fields=True):
    """The commands of one kind of instrument."""

    id: str
    name: str
    #: From this on, an answer is an over-range (9.9E37 by the standard).
    over: float = 9e37
    modes: Mapping[str, Asking] = field(default_factory=dict)
    supply: SupplyWords | None = None
    #: Brings the screen as a picture, in a block of binary data.
    screen: str = ""
    wave: WaveWords | None = None


@cache
def load_families() -> Mapping[str, Family]:
    """Return the families that ship, by id."""
    folder = Path(__file__).parents[1] / "resources" / "instruments"
    found = (read_family(path.read_bytes()) for path in sorted(folder.glob(f"*{SUFFIX}")))
    return {family.id: family for family in found}


def read_family(data: bytes) -> Family:
    """Return a family from JSON; raise `DeviceError` when it is none."""
    try:
        if len(data) > MOST_BYTES:
            raise msgspec.ValidationError("it is too large")
        return msgspec.json.decode(data, type=Family)
    except (msgspec.DecodeError, RecursionError) as exc:
        raise DeviceError(f"No family of commands: {exc}", hint="Mend the file.") from exc


def family_of(name: str) -> Family:
    """Return a family by its id; raise `DeviceError` for none."""
    found = load_families().get(name or "standard-meter")
    if found is None:
        raise DeviceError(
            f"“{name[:40]}” is no family of commands", hint=f"One of {', '.join(load_families())}."
        )
    return found

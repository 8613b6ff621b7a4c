"""An instrument as the shop keeps it: where it is, what its leads have, what it is good for, when it was calibrated."""

import re
from collections.abc import Iterable

import msgspec
from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.checks import load_meters
from bench_lamp.checks.probe_limits import ProbeLimits, limits_of
from bench_lamp.errors import BenchLampError
from bench_lamp.instrument.device import Address
from bench_lamp.units import parse_quantity

#: Instruments that are kept, at most; most ohms of a pair of leads.
MOST_KEPT, MOST_LEADS = 8, 5.0
#: Largest current and voltage that a supply is told.
MOST_AMPS, MOST_VOLTS = 100.0, 1000.0
#: Largest full scale that a meter is told, in the unit of its mode.
MOST_SCALE = 1e9
_OUTPUT = re.compile(r"set (?P<volts>[\d.,]+ ?m?V) (?P<amps>[\d.,]+ ?m?A)", re.IGNORECASE)
HINT = (
    "scpi TCPIP::192.0.2.7::5025::SOCKET · serial /dev/ttyUSB0@2400 · sigrok driver:conn=… · "
    "limits CAT II 300 V · leads 0.2 · calibrated 2026-03 · accuracy hearthwell · "
    "range 20 V · range auto · set 5 V 0.5 A · on · off · trip 0.6 A"
)


class Linked(Struct, frozen=True, kw_only=True):
    """One instrument of the shop."""

    address: Address
    #: Ohms of its leads, taken off on ohms.
    leads_ohms: float = 0.0
    limits: ProbeLimits | None = None
    #: As it was said; empty for nobody knows.
    calibrated: str = ""
    #: Id of the meter whose accuracy its readings are judged with; empty for the one that is chosen.
    accuracy: str = ""
    #: Of a supply: amperes at which its output is switched off; 0 for never.
    trip_amps: float = 0.0


def changed(linked: Linked, text: str) -> Linked:
    """Return an instrument after one thing was said of it: `limits CAT II 300 V`, `leads 0.2`, `calibrated 2026-03`.

    Raises
    ------
    BenchLampError
        When it makes no sense.
    """
    word, _, rest = " ".join(text.split()).partition(" ")
    if word == "limits":
        return replace(linked, limits=limits_of(rest) if rest else None)
    if word == "leads":
        return replace(linked, leads_ohms=_leads(rest))
    if word == "accuracy":
        return replace(linked, accuracy=_meter(rest))
    if word == "trip":
        return replace(linked, trip_amps=amps_of(rest) if rest else 0.0)
    if word == "calibrated" and len(rest) <= 40:
        return replace(linked, calibrated=rest)
    raise BenchLampError(f"“{text.strip()[:40]}” says nothing of an instrument", hint=HINT)


def amps_of(text: str) -> float:
    """Return a current as it is typed: `0.6`, `600 mA`; raise `BenchLampError` for none.

    >>> amps_of("600 mA"), amps_of("0.6 A"), amps_of("2")
    (0.6, 0.6, 2.0)
    """
    value = parse_quantity(text, "A").value
    if not 0 < value <= MOST_AMPS:
        raise BenchLampError(f"{text[:20]} cannot be a limit", hint="trip 0.6 A")
    return value


def scale_of(text: str) -> float:
    """Return the full scale of `20 V`, `2 kΩ`, in its unit; 0 for `auto`; raise `BenchLampError` for none.

    >>> scale_of("20 V"), scale_of("2 kΩ"), scale_of("auto")
    (20.0, 2000.0, 0.0)
    """
    if text.strip().lower() == "auto":
        return 0.0
    value = parse_quantity(text).value
    if not 0 < value <= MOST_SCALE:
        raise BenchLampError(f"{text[:20]} cannot be a range", hint="range 20 V, or range auto")
    return value


def output_of(text: str) -> tuple[float, float] | None:
    """Return volts and amperes of `set 5 V 0.5 A`; None for anything else.

    >>> output_of("set 5 V 0.5 A"), output_of("set 12V 500 mA"), output_of("on")
    ((5.0, 0.5), (12.0, 0.5), None)
    """
    found = _OUTPUT.fullmatch(" ".join(text.split()))
    if found is None:
        return None
    volts = parse_quantity(found["volts"], "V").value
    if not 0 <= volts <= MOST_VOLTS:
        raise BenchLampError(f"{found['volts']} cannot be set", hint=f"0 to {MOST_VOLTS:g} V")
    return volts, amps_of(found["amps"])


def _meter(text: str) -> str:
    """Return the id of the meter that is named by some of its letters; raise `BenchLampError` for none or several."""
    found = [
        m.id for m in load_meters().values() if text and text.lower() in f"{m.id} {m.name}".lower()
    ]
    if text and len(found) != 1:
        known = ", ".join(m.name for m in load_meters().values())
        raise BenchLampError(f"“{text[:20]}” names {len(found)} meters", hint=f"One of {known}.")
    return found[0] if found else ""


def _leads(text: str) -> float:
    try:
        ohms = float(text.replace(",", ".").removesuffix("Ω").strip() or "0")
    except ValueError as exc:
        raise BenchLampError(f"“{text[:20]}” is no number of ohms", hint="leads 0.2") from exc
    if not 0 <= ohms <= MOST_LEADS:
        raise BenchLampError(f"Leads of {ohms:g} Ω cannot be", hint=f"0 to {MOST_LEADS:g} Ω")
    return ohms


def address_of(text: str) -> Address | None:
    """Return the place of an instrument as it is typed; None for anything else.

    >>> address_of("serial /dev/ttyUSB0@2400").place, address_of("volts")
    ('/dev/ttyUSB0@2400', None)
    """
    words = text.split(None, 2)
    if len(words) < 2 or words[0] not in {"scpi", "serial", "sigrok"}:
        return None
    return Address(kind=words[0], place=words[1][:200], family=words[2] if len(words) > 2 else "")


def to_text(kept: Iterable[Linked]) -> str:
    """Return instruments as one line, for the settings."""
    return msgspec.json.encode(tuple(kept)).decode()


def from_text(text: str) -> tuple[Linked, ...]:
    """Return the instruments of the settings; none for a line that makes no sense."""
    try:
        return msgspec.json.decode(text or "[]", type=tuple[Linked, ...])[:MOST_KEPT]
    except (msgspec.DecodeError, RecursionError):
        return ()

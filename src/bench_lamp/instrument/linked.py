"""An instrument as the shop keeps it: where it is, what its leads have, what it is good for, when it was calibrated."""

from collections.abc import Iterable

import msgspec
from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.checks.probe_limits import ProbeLimits, limits_of
from bench_lamp.errors import BenchLampError
from bench_lamp.instrument.device import Address

#: Instruments that are kept, at most; most ohms of a pair of leads.
MOST_KEPT, MOST_LEADS = 8, 5.0
HINT = (
    "scpi TCPIP::192.0.2.7::5025::SOCKET · serial /dev/ttyUSB0@2400 · sigrok driver:conn=… · "
    "limits CAT II 300 V · leads 0.2 · calibrated 2026-03"
)


class Linked(Struct, frozen=True, kw_only=True):
    """One instrument of the shop."""

    address: Address
    #: Ohms of its leads, taken off on ohms.
    leads_ohms: float = 0.0
    limits: ProbeLimits | None = None
    #: As it was said; empty for nobody knows.
    calibrated: str = ""


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
    if word == "calibrated" and len(rest) <= 40:
        return replace(linked, calibrated=rest)
    raise BenchLampError(f"“{text.strip()[:40]}” says nothing of an instrument", hint=HINT)


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

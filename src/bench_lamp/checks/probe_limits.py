"""What meter and probes are good for: their volts and measurement category, against what a point carries.

Source: IEC 61010-031 and 61010-2-033 (categories II to IV are for circuits that are joined to the mains).
"""

import re

from msgspec import Struct

from bench_lamp.errors import BenchLampError

_TEXT = re.compile(
    r"(?:CAT\s*)?(?P<category>IV|III|II|I|0|none)?\s*(?P<volts>\d{1,5})\s*V", re.IGNORECASE
)
#: Categories that may touch the mains.
_FOR_MAINS = frozenset({"II", "III", "IV"})
#: From this on, in volts, it counts what a meter and its probes are good for.
COUNTS_FROM = 50.0


class ProbeLimits(Struct, frozen=True, kw_only=True):
    """The lower of what meter and probes say of themselves."""

    volts: float
    #: `II`, `III`, `IV`; empty for none.
    category: str = ""

    @property
    def words(self) -> str:
        """As it stands on a probe: `CAT II 300 V`."""
        return f"{f'CAT {self.category} ' if self.category else ''}{self.volts:g}\u202fV"


def limits_of(text: str) -> ProbeLimits:
    """Return limits as they are written on a meter or a probe.

    Raises
    ------
    BenchLampError
        When it is none.

    >>> limits_of("CAT III 600 V").words, limits_of("60V").category
    ('CAT III 600\u202fV', '')
    """
    found = _TEXT.fullmatch(" ".join(text.split()))
    if found is None or float(found["volts"]) <= 0:
        raise BenchLampError(
            f"“{text.strip()[:30]}” is no limit of a meter", hint="As it stands on it: CAT II 300 V"
        )
    category = (found["category"] or "").upper()
    return ProbeLimits(
        volts=float(found["volts"]), category=category if category in _FOR_MAINS else ""
    )


def too_weak(limits: ProbeLimits | None, volts: float, *, is_mains: bool) -> str:
    """Say why meter or probes must not touch what carries so many volts; empty where they may.

    >>> too_weak(limits_of("60 V"), 140.0, is_mains=False)
    'Meter and probes are good for 60\u202fV: not for the 140\u202fV here.'
    >>> too_weak(limits_of("600 V"), 230.0, is_mains=True)
    'Meter and probes have no category for the mains: CAT II or more is wanted.'
    """
    if limits is None or (volts < COUNTS_FROM and not is_mains):
        return ""
    if volts > limits.volts:
        here = f"{volts:.0f}\u202fV"
        return f"Meter and probes are good for {limits.volts:g}\u202fV: not for the {here} here."
    if is_mains and not limits.category:
        return "Meter and probes have no category for the mains: CAT II or more is wanted."
    return ""

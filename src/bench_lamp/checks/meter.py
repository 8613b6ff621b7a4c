"""A meter's accuracy, by function and range, as its data sheet bounds it."""

import json
import math
from collections.abc import Mapping
from functools import cache
from pathlib import Path

from msgspec import Struct

from bench_lamp.units.plain import from_plain


class MeterRange(Struct, frozen=True, kw_only=True):
    """One range of one function, in the function's base unit."""

    full_scale: float
    #: Value of the last digit on this range.
    resolution: float
    #: Gain error as a fraction of the reading (0.005 is 0.5 %).
    gain: float
    #: Further error in counts of the last digit.
    counts: float
    #: Of an ohms range: its test current in amperes, and its volts with open leads; 0 where not known.
    test_amps: float = 0.0
    open_volts: float = 0.0


class Meter(Struct, frozen=True, kw_only=True):
    """A hand-held meter, as far as its readings must be believed."""

    id: str
    name: str
    counts: int
    functions: Mapping[str, tuple[MeterRange, ...]]

    def range_for(self, mode: str, value: float) -> MeterRange | None:
        """Return the lowest range that holds the value; None beyond the highest."""
        ranges = sorted(self.functions.get(mode, ()), key=lambda r: r.full_scale)
        return next((r for r in ranges if abs(value) <= r.full_scale), None)

    def expanded_uncertainty(self, mode: str, value: float, *, resolution: float = 0.0) -> float:
        """Return the expanded uncertainty of a reading (k = 2), in the mode's unit.

        The data sheet bounds the error by a = gain·|y| + counts·resolution; inside
        the bound all errors are taken as equally likely, so u = a/√3 and U = 2u.

        Parameters
        ----------
        mode : str
            `dc V`, `ac V`, `ohm`, `diode` or `tone`.
        value : float
            The reading, in volts or ohms.
        resolution : float
            Value of the last digit that was written down; when that is coarser
            than the meter's own, half of it is added for the rounding.

        References
        ----------
        JCGM 100:2008 (GUM), 4.3.7 (rectangular distribution) and 6.2 (coverage).

        Examples
        --------
        >>> meter = load_meters()["hearthwell-60"]
        >>> round(meter.expanded_uncertainty("dc V", 5.08), 4)
        0.0328
        """
        found = self.range_for(mode, value)
        if found is None:
            return 0.0
        bound = found.gain * abs(value) + found.counts * found.resolution
        if resolution > found.resolution:
            bound += resolution / 2.0
        return 2.0 * bound / math.sqrt(3.0)


@cache
def load_meters() -> Mapping[str, Meter]:
    """Return the meters that ship, by id."""
    folder = Path(__file__).parents[1] / "resources" / "meters"
    meters = (
        from_plain(Meter, json.loads(entry.read_text(encoding="utf-8")))
        for entry in folder.iterdir()
        if entry.name.endswith(".meter.json")
    )
    return {meter.id: meter for meter in sorted(meters, key=lambda m: m.id)}

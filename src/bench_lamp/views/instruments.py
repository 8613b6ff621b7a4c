"""The instruments that are linked, as rows: what each is, what it shows, how sure that is."""

from msgspec import Struct

from bench_lamp.checks import Meter, load_meters
from bench_lamp.instrument.guard import Drawn
from bench_lamp.instrument.linked import Linked
from bench_lamp.instrument.sample import DIAL, UNITS, Sample
from bench_lamp.units import engineering


class InstrumentRow(Struct, frozen=True, kw_only=True):
    """One linked instrument."""

    name: str
    place: str
    #: `5.081 V`; empty for nothing yet.
    shows: str
    #: `DC volts`, or what is wrong.
    state: str
    is_there: bool
    #: Uncertainty, leads, limits, calibration.
    sure: str


def instrument_row(
    linked: Linked,
    name: str,
    trouble: str,
    live: Sample | None,
    meter: Meter,
    output: tuple[bool, Drawn] = (False, Drawn()),
    against: str = "",
) -> InstrumentRow:
    """Return the row of one instrument; of a supply with its output, and what was drawn since it is on.

    `against` says what was drawn against the board's model; empty where it was not compared.
    """
    address = linked.address
    flags = ", ".join(sorted(live.flags)) if live is not None else ""
    dial = DIAL.get(live.mode, live.mode) if live is not None else "waiting for its first value"
    return InstrumentRow(
        name=name or address.kind,
        place=f"{address.kind} {address.place}",
        shows=shown_words(live) if live is not None else "",
        state=trouble or (f"{dial}, {flags}" if flags else dial),
        is_there=bool(name) and not trouble,
        sure=" · ".join((*_output(linked, *output, against), *_sure(linked, live, meter))),
    )


def _output(linked: Linked, is_on: bool, drawn: Drawn, against: str) -> list[str]:
    """Say of a supply whether its output is on, what was drawn, and where it trips."""
    if not linked.address.family.endswith("supply"):
        return []
    found = ["output ON" if is_on else "output off"]
    if against:
        found.append(against)
    if drawn.inrush >= 0 and not against:
        found.append(f"inrush {engineering(drawn.inrush, 'A', resolution=1e-3)}")
    if drawn.idle >= 0 and not against:
        found.append(f"idle {engineering(drawn.idle, 'A', resolution=1e-3)}")
    if linked.trip_amps:
        found.append(f"off above {linked.trip_amps:g}\u202fA")
    return found


def shown_words(sample: Sample) -> str:
    """Return a value with its unit: `5.081 V`, `over-range`."""
    if sample.is_over:
        return "over-range"
    return engineering(sample.value, UNITS.get(sample.mode, ""), resolution=sample.resolution)


def _sure(linked: Linked, live: Sample | None, meter: Meter) -> list[str]:
    found = [linked.limits.words if linked.limits else "limits not written down"]
    if linked.leads_ohms:
        found.append(f"leads {linked.leads_ohms:g} Ω taken off")
    found.append(
        f"calibrated {linked.calibrated}" if linked.calibrated else "calibration not known"
    )
    if live is not None and not live.is_over:
        meter = load_meters().get(linked.accuracy, meter)
        wide = meter.expanded_uncertainty(live.mode, live.value, resolution=live.resolution)
        if wide:
            shown = engineering(wide, UNITS[live.mode], resolution=wide / 10)
            found.append(f"± {shown} (k = 2, as {meter.name})")
    return found

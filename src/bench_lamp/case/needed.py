"""A part that cannot be read: what its circuit needs, and where else its value stands."""

from bench_lamp.board.blocks import Converter, Dropper, Regulator, Reservoir
from bench_lamp.case.case import Case
from bench_lamp.case.part_spec import wanted_spec
from bench_lamp.case.readings import ripple_limit
from bench_lamp.units import Band, band_text, exact
from bench_lamp.units.format import capacitance
from bench_lamp.units.marking import MarkingError, read_marking

#: A resistor is made for twice what it carries.
RATING_ROOM = 2.0


def needed_words(case: Case, part: str) -> tuple[str, ...]:
    """Say what a part must be by its circuit: a reservoir by its ripple, what sets a rail by the rail's limits."""
    from bench_lamp.sums.at_rest import least_reservoir

    block = case.profile.block(part)
    if isinstance(block, Dropper | Regulator | Converter):
        return _by_its_point(case, block)
    point = case.profile.point_on(block.net) if isinstance(block, Reservoir) else None
    if point is None or point.mode != "dc V":
        return ()
    limit = ripple_limit(case, point)
    least = least_reservoir(case.profile, point.net, limit)
    if not least:
        return ()
    # Old windings and loads differ: the figure is as good as a fifth.
    words = f"from about {capacitance(least, figures=2)} on (give or take 20\u202f%)"
    return (
        f"By the circuit: {words} the ripple of {point.id} stays under {exact(limit, 'V', figures=2)}.",
    )


def _by_its_point(case: Case, block: Dropper | Regulator | Converter) -> tuple[str, ...]:
    """Say what a part that sets a rail must make, by the rail's own limits."""
    point = case.profile.point_on(block.to)
    if point is None or point.band is None:
        return ()
    limits = band_text(point.band, "V")
    more = _of_dropper(case, block, point.band) if isinstance(block, Dropper) else ()
    return (
        f"By the circuit: {point.id} must read {exact(point.volts, 'V')}, {limits} on good boards.",
        *more,
    )


def _of_dropper(case: Case, block: Dropper, band: Band) -> tuple[str, ...]:
    """Say what a dropper carries, and within which ohms its rail is right."""
    from bench_lamp.sums.at_rest import range_of_dropper, work_of_dropper

    volts, amps = work_of_dropper(case.profile, block.id)
    if not volts:
        return ()
    low, high = range_of_dropper(case.profile, block.id, (band.low, band.high))
    least, most = exact(low, "Ω", figures=2), exact(high, "Ω", figures=2)
    span = f"from {least} to {most}" if low and high else f"up to {most}" if high else ""
    watts = exact(RATING_ROOM * volts * amps, "W", figures=2)
    work = f"{exact(volts, 'V', figures=3)} across it, {exact(amps, 'A', figures=2)}"
    right = f" The rail is right {span}." if span else ""
    return (f"By the circuit: {work}, so made for {watts} at least.{right}",)


def unread_words(case: Case, part: str) -> tuple[str, ...]:
    """Say where else the value of a part stands that is burnt or scraped."""
    want = wanted_spec(case, part)
    if want.value or want.type or want.amps:
        return ("Burnt or scraped? What stands in the entry is the profile’s.",)
    donor = f", or on {case.profile.donor}" if case.profile.donor else ""
    return (
        f"Burnt or scraped? Read it on a good board{donor}: same place, size and neighbours, "
        "measured there. Then say twin 4k7.",
    )


def marked_words(case: Case, part: str, text: str) -> tuple[str, ...]:
    """Say that what stood on a part has several readings: `470 is 47 Ω or 470 Ω: measure it`."""
    want = wanted_spec(case, part)
    try:
        found = read_marking(text, want.kind.marked_as if want.kind else None)
    except MarkingError:
        return ()
    first = [m for m in found if m.part is found[0].part and m.is_preferred]
    values = list(dict.fromkeys(exact(m.value, m.part.unit, figures=3) for m in first))
    if len(values) < 2:
        return ()
    return (f"{text} is {' or '.join(values[:3])}: measure it.",)

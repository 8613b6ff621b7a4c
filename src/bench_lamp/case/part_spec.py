"""What is known of a part, from the profile's own line and from its block; and what its circuit says."""

from msgspec.structs import replace

from bench_lamp.board import Block
from bench_lamp.board.blocks import (
    Decoupling,
    Diode,
    Dropper,
    FuseBlock,
    Rectifier,
    Regulator,
    Reservoir,
)
from bench_lamp.board.part_notes import Amendment
from bench_lamp.board.spec_reading import parse_spec
from bench_lamp.board.spec_text import spec_text
from bench_lamp.case.case import Case
from bench_lamp.case.chips import may_be_chip
from bench_lamp.case.fuses import right_fuses
from bench_lamp.checks.substitute import Around, Verdict, judge
from bench_lamp.errors import BenchLampError
from bench_lamp.units.part import PartSpec, SpecKind

#: Kinds of parts in a profile's list that have rules.
_LISTED = {
    "transistor": SpecKind.TRANSISTOR,
    "rectifier": SpecKind.RECTIFIER,
    "regulator": SpecKind.REGULATOR,
}
_TECH = {"tantalum": SpecKind.TANTALUM, "ceramic": SpecKind.CERAMIC, "film": SpecKind.FILM}


def wanted_spec(case: Case, part: str) -> PartSpec:
    """Return what is known of a part: the profile's line first, its block for what that leaves open."""
    own, block = case.profile.specs.get(part, PartSpec()), case.profile.block(part)
    found = _of_block(case, block) if block is not None else PartSpec(kind=_kind(case, part))
    mine = {f: getattr(own, f) for f in own.__struct_fields__ if getattr(own, f)}
    return replace(found, **mine)


def _of_block(case: Case, block: Block) -> PartSpec:
    match block:
        case Reservoir():
            return PartSpec(
                kind=SpecKind.ELECTROLYTIC,
                value=block.value,
                volts=block.rating or 0.0,
                role="reservoir",
            )
        case Decoupling():
            return PartSpec(
                kind=_TECH.get(block.tech, SpecKind.ELECTROLYTIC), value=block.value, role="bypass"
            )
        case FuseBlock():
            rating = right_fuses(case, block)[0]
            return PartSpec(kind=SpecKind.FUSE, amps=rating.amps, speed=rating.speed)
        case Rectifier():
            return PartSpec(kind=SpecKind.DIODE if block.is_half_wave else SpecKind.RECTIFIER)
        case Regulator():
            return PartSpec(kind=SpecKind.REGULATOR)
        case Dropper():
            return PartSpec(kind=SpecKind.RESISTOR, value=block.ohms)
        case Diode():
            return PartSpec(kind=SpecKind.DIODE)
    return PartSpec()


def _kind(case: Case, part: str) -> SpecKind | None:
    listed = next((p.kind for p in case.profile.parts if p.id == part), "")
    if listed in _LISTED:
        return _LISTED[listed]
    if case.profile.chip(part) is not None or (
        part in case.profile.part_ids() and may_be_chip(case, part)
    ):
        return SpecKind.CHIP
    return None


def offered_spec(want: PartSpec, text: str) -> PartSpec:
    """Return what a typed part says of itself; nothing where it cannot be read: `from the donor board`."""
    try:
        return parse_spec(text, want.kind)
    except BenchLampError:
        return PartSpec()


def around(case: Case, part: str, want: PartSpec, have: PartSpec) -> Around:
    """Return what the circuit around a part says of what may go in."""
    block = case.profile.block(part)
    types = tuple((k.upper(), pins) for k, pins in case.profile.equivalents.get(part, {}).items())
    fuses = tuple(str(r) for r in right_fuses(case, block)) if isinstance(block, FuseBlock) else ()
    return Around(
        volts=working_volts(case, block),
        inrush=_inrush(case, block),
        rectifier=_rectifier_amps(case, block),
        equivalents=types,
        fuses=fuses,
    )


def working_volts(case: Case, block: Block | None) -> float:
    """Return the volts that a capacitor works at, by its point; 0 where nobody knows."""
    if not isinstance(block, Reservoir | Decoupling):
        return 0.0
    point = case.profile.point_on(block.net)
    return abs(point.volts) if point is not None and point.mode == "dc V" else 0.0


def _inrush(case: Case, block: Block | None) -> float:
    from bench_lamp.sums.at_rest import inrush_peak

    return inrush_peak(case.profile, block.net) if isinstance(block, Reservoir) else 0.0


def _rectifier_amps(case: Case, block: Block | None) -> float:
    """Return what the rectifier before a reservoir is made for, in amperes; 0 where nobody knows."""
    if not isinstance(block, Reservoir):
        return 0.0
    before = next(
        (b for b in case.profile.power if isinstance(b, Rectifier) and b.to == block.net), None
    )
    return wanted_spec(case, before.id).amps if before is not None else 0.0


def judged(case: Case, part: str, text: str) -> Verdict:
    """Judge what is to go in for a part."""
    want = wanted_spec(case, part)
    have = offered_spec(want, text)
    return judge(want, have, around(case, part, want, have))


def wanted_text(case: Case, part: str) -> str:
    """Say what belongs in a part's place, as short as it is marked; empty where nobody knows."""
    want = wanted_spec(case, part)
    if want.kind is SpecKind.FUSE:
        return str(want.rating or "")
    return short_text(want) if want.kind is not None else ""


def short_text(spec: PartSpec) -> str:
    """Say a part as it is marked: value, volts, amperes, watts, type; `100 µF 350 V`."""
    kept = ("value", "volts", "amps", "watts", "speed", "type")
    short = PartSpec(kind=spec.kind, **{name: getattr(spec, name) for name in kept})
    return spec_text(short).removeprefix(spec.kind.value if spec.kind else "").strip()


def amendments(case: Case, part: str) -> tuple[Amendment, ...]:
    """Return what the maker changed of a part; with a known serial number, what holds for it."""
    serial = serial_of(case)
    return tuple(
        a for a in case.profile.amendments if a.part == part and (not serial or a.holds_for(serial))
    )


def serial_of(case: Case) -> int:
    """Return the serial number of the board, from this job or an earlier one; 0 where nobody read it."""
    return next((s.serial for s in (case.state, *reversed(case.visits)) if s.serial), 0)


def amendment_text(change: Amendment, serial: int = 0) -> str:
    """Say a change by serial number: `From serial 4000 on: 47 uF, softens the thump.`"""
    if change.since and change.until:
        span = f"Serial {change.since} to {change.until}"
    elif change.until:
        span = f"Up to serial {change.until}"
    else:
        span = f"From serial {change.since} on" if change.since else "In all"
    is_open = not serial and (change.since or change.until)
    end = f"This board is {serial}." if serial else "Look at the plate, then say serial 4000."
    words = f"{span}: {change.text}{f', {change.why}' if change.why else ''}."
    return f"{words} {end}" if serial or is_open else words

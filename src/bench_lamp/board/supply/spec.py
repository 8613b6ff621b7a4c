"""What is said of a supply: `5V 3A from 9V~`."""

from msgspec import Struct

from bench_lamp.board.blocks import block_inputs, block_outputs
from bench_lamp.board.profile import Profile
from bench_lamp.board.supply.kinds import SupplyKind
from bench_lamp.errors import BenchLampError
from bench_lamp.units import UnitError, parse_quantity


class Spec(Struct, frozen=True, kw_only=True):
    """What was said of a supply: `5V 3A from 9V~`."""

    volts: float | None = None
    amps: float | None = None
    #: RMS of its winding; None where that was not said.
    winding: float | None = None
    #: Net that it is fed from.
    source: str = ""
    #: The other words: `adapter centre positive`.
    words: tuple[str, ...] = ()


def read_spec(kind: SupplyKind, text: str, profile: Profile) -> Spec:
    """Read what was said of a supply.

    Raises
    ------
    BenchLampError
        When something is not understood or lacking, with how it is written.
    """
    head, _, tail = text.partition(" from ")
    volts = amps = winding = None
    words = []
    for word in head.split():
        try:
            found = parse_quantity(word)
        except UnitError:
            words.append(word)
            continue
        if found.unit == "A":
            amps = abs(found.value)
        elif found.unit in {"V", "V~", ""}:
            volts = found.value
    source = ""
    if tail:
        first = tail.split()[0]
        source = net_of(profile, first)
        if not source:
            winding = _quantity(first)
        if not source and (winding is None or kind.needs_source):
            known = ", ".join(p.id for p in profile.test_points) or "none yet"
            raise BenchLampError(
                f"“{first[:24]}” is no net, point or block here",
                hint=f"Points: {known}. Or a winding: from 9V~.",
            )
    spec = Spec(volts=volts, amps=amps, winding=winding, source=source, words=tuple(words))
    _refuse(kind, spec)
    return spec


def _refuse(kind: SupplyKind, spec: Spec) -> None:
    example = f"Write {kind.example}."
    if kind.needs_volts and not spec.volts:
        raise BenchLampError("How many volts?", hint=example)
    if kind.needs_source and not spec.source:
        raise BenchLampError("Fed from which rail?", hint=example)
    if spec.volts is not None and not 0.1 <= abs(spec.volts) <= 2000:
        raise BenchLampError(f"{spec.volts:g} V is no supply of a board", hint=example)
    if spec.amps is not None and not 0.0 < spec.amps <= 200:
        raise BenchLampError(f"{spec.amps:g} A is no supply of a board", hint=example)


def _quantity(text: str) -> float | None:
    try:
        found = parse_quantity(text)
    except UnitError:
        return None
    return abs(found.value) if found.unit in {"V", "V~", ""} and found.value else None


def net_of(profile: Profile, name: str) -> str:
    """Return the net of a point, block or net by its name; empty for none."""
    point = profile.point_called(name)
    if point is not None:
        return point.net
    name = next((n for a, n in profile.aliases.items() if a.lower() == name.lower()), name)
    for block in profile.power:
        nets = (*block_outputs(block), *block_inputs(block))
        if block.id.lower() == name.lower():
            return nets[0]
        same = next((n for n in nets if n.lower() == name.lower()), "")
        if same:
            return same
    return ""

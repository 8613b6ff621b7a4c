"""The chains of the supplies that can be put in: one function a kind."""

from collections.abc import Mapping
from typing import Any

from bench_lamp.board.blocks import FuseBlock, Inlet, Regulator
from bench_lamp.board.change import Change, Put
from bench_lamp.board.profile import Profile
from bench_lamp.board.supply.made import Blocks, Chain, SupplyMade, filter_of, winding_of
from bench_lamp.board.supply.names import Names
from bench_lamp.board.supply.spec import Spec
from bench_lamp.board.supply.usual_parts import FORM, fuse_amps, winding_volts
from bench_lamp.errors import BenchLampError
from bench_lamp.units import FuseRating, UnitError, parse_quantity

#: Amperes of a load that nobody has told.
USUAL_AMPS = 1.0
#: A regulator or converter bears this much more than it gives.
LIMIT_TIMES = 1.6


def _rectified(
    spec: Spec, profile: Profile, names: Names, *, rectifier: str, regulated: bool, fused: bool
) -> SupplyMade:
    """Make a supply from a winding: fuse, rectifier, reservoir, regulator, contact, load."""
    volts, amps = spec.volts or 0.0, spec.amps or USUAL_AMPS
    half = rectifier == "half-wave"
    drops = 2 if rectifier == "bridge" else 1
    rms = spec.winding or winding_volts(volts, regulated=regulated, drops=drops)
    label = f"{abs(volts):g}".replace(".", "v")
    label = f"m{label}" if volts < 0 else label
    blocks: Blocks = []
    changes: tuple[Change, ...] = ()
    net = spec.source
    if not net:
        net, blocks, changes = winding_of(spec, profile, names, rms, amps)
    if fused:
        before, net = net, names.net(f"ac{label}")
        rating = f"{fuse_amps(FORM * amps):g} A slow"
        blocks.append(
            (names.part("fuse", "F"), {"kind": "fuse", "from": before, "to": net, "rating": rating})
        )
    raw = names.net(f"raw{label}")
    ends = {"ac": net, "raw": raw, "out": raw, "made": raw}
    fields: dict[str, Any] = {"kind": rectifier, "from": net, "to": raw}
    if volts < 0:
        fields["negative"] = True
    blocks.append((names.part("rectifier", "D" if half else "BR"), fields))
    blocks.append(filter_of(raw, volts, amps, rms, names, half_wave=half))
    out = raw
    if regulated:
        out = ends["made"] = names.net(f"reg{label}")
        blocks.append(
            (
                names.part("regulator", "U"),
                {"kind": "regulator", "from": raw, "to": out, "volts": f"{volts:g} V"}
                | {"limit": f"{LIMIT_TIMES * amps:g} A", "dropout": "2 V"},
            )
        )
    ends["out"], tail = _contact_and_load(out, label, amps, names)
    return SupplyMade([*blocks, *tail], ends, changes)


def _contact_and_load(net: str, label: str, amps: float, names: Names) -> tuple[str, Blocks]:
    """Return the net at the load, and the contact and load that end a supply."""
    far = names.net(f"v{label}")
    return far, [
        (names.part("connector", "J", ".1"), {"kind": "pin", "from": net, "to": far}),
        (names.free("LOAD"), {"kind": "load", "net": far, "amps": f"{amps:g} A"}),
    ]


def _linear(spec: Spec, profile: Profile, names: Names) -> SupplyMade:
    return _rectified(spec, profile, names, rectifier="bridge", regulated=True, fused=True)


def _negative(spec: Spec, profile: Profile, names: Names) -> SupplyMade:
    if (spec.volts or 0.0) > 0:
        raise BenchLampError("A negative supply is below 0 V", hint="Write -12V 0.1A.")
    return _rectified(spec, profile, names, rectifier="half-wave", regulated=True, fused=False)


def _centre_tap(spec: Spec, profile: Profile, names: Names) -> SupplyMade:
    return _rectified(spec, profile, names, rectifier="full-wave", regulated=True, fused=True)


def _raw(spec: Spec, profile: Profile, names: Names) -> SupplyMade:
    return _rectified(spec, profile, names, rectifier="bridge", regulated=False, fused=True)


def _zener(spec: Spec, profile: Profile, names: Names) -> SupplyMade:
    """A resistor that passes twice the load, from the volts of what feeds it."""
    volts, amps = spec.volts or 0.0, spec.amps or 0.005
    above = _volts_of(profile, spec.source) - abs(volts)
    if above <= 0:
        raise BenchLampError(
            "What feeds it has no more volts than the zener", hint="Name a higher rail."
        )
    out = names.net(f"ref{abs(volts):g}".replace(".", "v"))
    blocks: Blocks = [
        (
            names.free("R"),
            {"kind": "dropper", "from": spec.source, "to": out}
            | {"ohms": f"{above / (2 * amps):.3g}", "zener": f"{volts:g} V"},
        ),
        (names.free("LOAD"), {"kind": "load", "net": out, "amps": f"{amps:g} A"}),
    ]
    return SupplyMade(blocks, {"out": out})


def _volts_of(profile: Profile, net: str) -> float:
    """Return what a net has by its point, or by what feeds it, in volts."""
    known = [abs(p.volts) for p in profile.test_points if p.net == net and p.mode == "dc V"]
    made = [abs(getattr(b, "volts", 0.0)) for b in profile.power if getattr(b, "to", "") == net]
    return max([*known, *made], default=0.0)


def _converter(kind: str) -> Chain:
    def make(spec: Spec, profile: Profile, names: Names) -> SupplyMade:
        volts, amps = spec.volts or 0.0, spec.amps or USUAL_AMPS
        have = _volts_of(profile, spec.source)
        if have and (abs(volts) > have) is not (kind == "step-up"):
            raise BenchLampError(
                f"{abs(volts):g} V from {have:g} V is no {kind} converter",
                hint="Choose the other one, or another rail.",
            )
        label = f"{abs(volts):g}".replace(".", "v")
        out = names.net(f"v{label}")
        blocks: Blocks = [
            (
                names.part("converter", "U"),
                {"kind": kind, "from": spec.source, "to": out, "volts": f"{volts:g} V"}
                | {"limit": f"{LIMIT_TIMES * amps:g} A"},
            ),
            (names.free("LOAD"), {"kind": "load", "net": out, "amps": f"{amps:g} A"}),
        ]
        return SupplyMade(blocks, {"out": out, "made": out})

    return make


def _lighting(spec: Spec, profile: Profile, names: Names) -> SupplyMade:
    volts, amps = abs(spec.volts or 0.0), spec.amps or 3.0
    net, blocks, changes = winding_of(spec, profile, names, volts, amps)
    fused, far = names.net("ac_lamps"), names.net("ac_lamps_far")
    rating = f"{fuse_amps(amps):g} A slow"
    blocks += [
        (names.part("fuse", "F"), {"kind": "fuse", "from": net, "to": fused, "rating": rating}),
        (names.part("connector", "J", ".1"), {"kind": "pin", "from": fused, "to": far}),
        (
            names.free("LAMPS"),
            {"kind": "load", "net": far, "amps": f"{amps:g} A", "words": ["lamps"]},
        ),
    ]
    return SupplyMade(blocks, {"out": far, "ac": net}, changes)


def _inlet(spec: Spec, profile: Profile, names: Names) -> SupplyMade:
    """DC that comes in: an adapter, a battery or a rail, with its polarity and a fuse."""
    volts, amps = spec.volts or 0.0, spec.amps or USUAL_AMPS
    words = [w for w in spec.words if w.lower() not in {"adapter", "battery", "rail"}]
    supply = next(
        (w.lower() for w in spec.words if w.lower() in {"adapter", "battery", "rail"}), "adapter"
    )
    entry, fused = names.net("dc_in"), names.net("dc_fused")
    fields: dict[str, Any] = {
        "kind": "inlet",
        "to": entry,
        "volts": f"{volts:g} V",
        "supply": supply,
    }
    if words:
        fields["polarity"] = " ".join(words)
    rating = f"{fuse_amps(amps):g} A slow"
    blocks: Blocks = [
        (names.free("X"), fields),
        (names.part("fuse", "F"), {"kind": "fuse", "from": entry, "to": fused, "rating": rating}),
        (names.free("LOAD"), {"kind": "load", "net": fused, "amps": f"{amps:g} A"}),
    ]
    return SupplyMade(blocks, {"out": fused})


def _sense(spec: Spec, profile: Profile, names: Names) -> SupplyMade:
    ids = {w.lower() for w in spec.words}
    found = (b for b in profile.power if isinstance(b, Regulator) and b.id.lower() in ids)
    regulator = next(found, None)
    if regulator is None:
        raise BenchLampError("Which regulator looks there?", hint="Write U1 from 5V.")
    name = names.free("SENSE")
    return SupplyMade([(name, {"kind": "sense", "net": spec.source, "of": regulator.id})], {})


def _mains(spec: Spec, profile: Profile, names: Names) -> SupplyMade:
    raise BenchLampError("Mains is written as pairs", hint="230V 1.6A slow, 115V 3.15A slow.")


def mains_changes(text: str, profile: Profile) -> tuple[Change, ...]:
    """Return the changes that put in the mains: `230V 1.6A slow, 115V 3.15A slow`.

    Raises
    ------
    BenchLampError
        When a pair is not volts and a fuse.
    """
    options = [_option(pair) for pair in text.split(",") if pair.strip()]
    if not options:
        raise BenchLampError("Which volts, which fuse?", hint="230V 1.6A slow, 115V 3.15A slow.")
    volts, rating = options[0]
    changes: list[Change] = [
        Put(
            ("mains",),
            [{"volts": f"{v:g} V", "fuse": str(f).replace("\u202f", " ")} for v, f in options],
        )
    ]
    inlet = next((b for b in profile.power if isinstance(b, Inlet) and not b.is_dc), None)
    fuse = next(
        (b for b in profile.power if isinstance(b, FuseBlock) and b.id == profile.mains_fuse), None
    )
    names = Names(profile)
    plain = str(rating).replace("\u202f", " ")
    if inlet is not None:
        changes.append(Put(("power", inlet.id), {"volts": f"{volts:g} V"}))
    if fuse is not None:
        changes.append(Put(("power", fuse.id), {"rating": plain}))
    if inlet is None:
        line, switched, fused = names.net("line"), names.net("switched"), names.net("mains")
        name = names.free("F")
        head: Mapping[str, dict[str, Any]] = {
            names.free("X"): {"kind": "inlet", "to": line, "volts": f"{volts:g} V"},
            names.free("S"): {"kind": "switch", "from": line, "to": switched},
            name: {"kind": "fuse", "from": switched, "to": fused, "rating": plain},
        }
        changes += [Put(("power", block), fields) for block, fields in head.items()]
        changes.append(Put(("mains_fuse",), name))
    return tuple(changes)


def _option(pair: str) -> tuple[float, FuseRating]:
    head, _, tail = pair.strip().partition(" ")
    try:
        return abs(parse_quantity(head, "V").value), FuseRating.parse(tail)
    except UnitError as exc:
        raise BenchLampError(str(exc), hint="230V 1.6A slow, 115V 3.15A slow.") from exc


CHAINS: Mapping[str, Chain] = {
    "linear": _linear,
    "negative": _negative,
    "centre tap": _centre_tap,
    "raw": _raw,
    "high": _linear,
    "zener": _zener,
    "step-down": _converter("step-down"),
    "step-up": _converter("step-up"),
    "lighting": _lighting,
    "inlet": _inlet,
    "sense": _sense,
    "mains": _mains,
}

"""Putting a supply in: its blocks with usual values, and the points and parts that were named before."""

from collections.abc import Mapping

from bench_lamp.board.blocks import block_inputs, block_outputs
from bench_lamp.board.change import Change, Drop, Put, point_put
from bench_lamp.board.profile import Profile, TestPoint
from bench_lamp.board.supply.chains import CHAINS, mains_changes
from bench_lamp.board.supply.kinds import SupplyKind
from bench_lamp.board.supply.names import Names
from bench_lamp.board.supply.spec import Spec, read_spec
from bench_lamp.board.usual import usual_rail
from bench_lamp.units import exact

#: A rail of that name is another one where the volts differ by more than this share.
SAME_SHARE = 0.1


def supply_said(kind: SupplyKind, text: str, profile: Profile) -> tuple[Change, ...]:
    """Return the changes that put in a supply as it was said: `5V 3A from 9V~`.

    Raises
    ------
    BenchLampError
        When something is not understood or lacking, with how it is written.
    """
    if kind.id == "mains":
        return mains_changes(text, profile)
    return supply_changes(kind, read_spec(kind, text, profile), profile)


def supply_changes(kind: SupplyKind, spec: Spec, profile: Profile) -> tuple[Change, ...]:
    """Return the changes that put a supply in, all with usual values.

    A point that was said of this rail is hung on its net, and parts that were named for it are its
    blocks.
    """
    point = own_point(profile, spec, kind)
    names = Names(profile, rail=point.id if point else "")
    made = CHAINS[kind.id](spec, profile, names)
    changes: list[Change] = [Drop(("parts", part)) for part in names.used]
    changes += made.changes
    changes += [Put(("power", name), fields) for name, fields in made.blocks]
    changes += _points(profile, spec, point, made.ends, names)
    return tuple(changes)


def own_point(profile: Profile, spec: Spec, kind: SupplyKind) -> TestPoint | None:
    """Return the point that was said of this rail before there was a tree."""
    if spec.volts is None or kind.id in {"mains", "sense"}:
        return None
    mode = "ac V" if kind.id == "lighting" else "dc V"
    nets = {n for b in profile.power for n in (*block_inputs(b), *block_outputs(b))}
    for point in profile.test_points:
        is_near = abs(point.volts - spec.volts) <= SAME_SHARE * abs(spec.volts)
        if is_near and point.volts and point.mode == mode and point.net not in nets:
            return point
    return None


#: Points that Trace makes on the way to a rail, by the end that they lie at.
_ON_THE_WAY = {"raw": "raw", "ac": "ac", "made": "out"}


def _points(
    profile: Profile, spec: Spec, point: TestPoint | None, ends: Mapping[str, str], names: Names
) -> list[Change]:
    """Hang the rail's own points on its nets; make one for its output where there is none."""
    changes: list[Change] = []
    stems = {point.id, *names.used} if point is not None else set()
    for end, suffix in _ON_THE_WAY.items():
        found = next(
            (p for p in profile.test_points if p.id in {f"{s}-{suffix}" for s in stems}), None
        )
        if found is not None and end in ends:
            changes.append(point_put(found.id, net=ends[end]))
    if "out" not in ends:
        return changes
    if point is not None:
        return [*changes, point_put(point.id, net=ends["out"])]
    return [*changes, *_new_point(profile, spec, ends["out"], names)]


def _new_point(profile: Profile, spec: Spec, net: str, names: Names) -> list[Change]:
    text = exact(spec.volts or 0.0, "V").replace("\u202f", "").replace("−", "-")
    is_ac = net.startswith("ac")
    usual = usual_rail(text + ("~" if is_ac else ""))
    name = text if text not in names.taken else names.free(f"{text}-")
    ground = next(iter(profile.grounds), "gnd")
    changes: list[Change] = []
    if ground not in profile.grounds:
        changes.append(
            Put(("grounds", "gnd"), {"net": "gnd", "place": "ground: nobody has said where"})
        )
    changes.append(
        point_put(
            name,
            name=f"{'' if text.startswith('-') else '+'}{text[:-1]} V rail"
            if not is_ac
            else f"{text[:-1]} V~ winding",
            net=net,
            black=ground,
            mode="ac V" if is_ac else "dc V",
            nominal=f"{usual.nominal:g} V" if usual else None,
            design=str(usual.design) if usual else None,
            assumed=True if usual else None,
            place=name,
        )
    )
    return changes

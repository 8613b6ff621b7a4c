"""What a profile's parts say of each other: names that must exist, bands that must fit."""

from collections.abc import Iterator

from bench_lamp.board.blocks import (
    Converter,
    Diode,
    Dropper,
    Inlet,
    Regulator,
    Sense,
    Transformer,
    block_inputs,
    block_outputs,
    returns_of,
)
from bench_lamp.board.logic_consistency import check_logic
from bench_lamp.board.naming import Loc, unknown_name
from bench_lamp.board.profile import Profile
from bench_lamp.board.proof_consistency import check_proof
from bench_lamp.board.trim_consistency import check_trims
from bench_lamp.units import Band, exact

#: Two values of one part are the same within this share.
SAME_VALUE = 0.01


def cross_check(profile: Profile) -> Iterator[tuple[Loc, str]]:
    """Yield each contradiction as (path of the field, message with its mend)."""
    yield from _doubles(profile)
    yield from _points(profile)
    yield from _good_boards(profile)
    yield from _assumed(profile)
    yield from _parts(profile)
    yield from _map(profile)
    yield from _aliases(profile)
    yield from _feeds(profile)
    yield from _senses(profile)
    yield from _returns(profile)
    yield from _inlets(profile)
    yield from _hardware(profile)
    yield from _part_notes(profile)
    yield from check_logic(profile)
    yield from check_trims(profile)
    yield from check_proof(profile)
    if profile.mains_fuse and profile.mains_fuse not in {f.id for f in profile.fuses}:
        known = tuple(f.id for f in profile.fuses)
        yield ("mains_fuse",), unknown_name("fuse", profile.mains_fuse, known)


def _part_notes(profile: Profile) -> Iterator[tuple[Loc, str]]:
    """Check that names of parts exist, and that the pins that stand in are as many."""
    rows = (part for row in profile.rows for part in row.parts)
    known = tuple(sorted({*profile.part_ids(), *(b.id for b in profile.power), *rows}))
    named: list[tuple[Loc, str]] = [
        ((where, name), name)
        for where in ("specs", "equivalents", "companions")
        for name in getattr(profile, where)
    ]
    named += [(("amendments", i, "part"), c.part) for i, c in enumerate(profile.amendments)]
    for where, name in named:
        if name not in known:
            yield where, unknown_name("part", name, known)
    yield from _orders(profile)


def _orders(profile: Profile) -> Iterator[tuple[Loc, str]]:
    for index, change in enumerate(profile.amendments):
        if change.until and change.until < change.since:
            yield ("amendments", index, "until"), "it ends before it begins; swap the two"
    for name, spec in profile.specs.items():
        value = getattr(profile.block(name), "value", 0.0)
        if value and spec.value and abs(spec.value / value - 1) > SAME_VALUE:
            yield (
                ("specs", name),
                f"{exact(spec.value, 'F')} here and {exact(value, 'F')} under power; keep one",
            )
    for name, types in profile.equivalents.items():
        own = profile.specs.get(name)
        for kind, pins in types.items():
            if own is not None and own.pins and len(pins) != len(own.pins):
                yield (
                    ("equivalents", name, kind),
                    f"{len(pins)} pins for {len(own.pins)}; name each",
                )


def _doubles(profile: Profile) -> Iterator[tuple[Loc, str]]:
    lists = (
        "test_points",
        "power",
        "parts",
        "coils",
        "rows",
        "pin_maps",
        "semiconductors",
        "switches",
        "chips",
        "lanes",
        "images",
        "self_tests",
        "trims",
        "transport",
        "functions",
        "pictures",
    )
    for name in lists:
        seen: set[str] = set()
        for index, entry in enumerate(getattr(profile, name)):
            if entry.id in seen:
                yield (name, index, "id"), f"“{entry.id}” stands here twice; give one another name"
            seen.add(entry.id)


def _points(profile: Profile) -> Iterator[tuple[Loc, str]]:
    nets = {net for b in profile.power for net in (*block_inputs(b), *block_outputs(b))}
    for index, point in enumerate(profile.test_points):
        here: Loc = ("test_points", index)
        if point.black not in profile.grounds:
            yield (*here, "black"), unknown_name("ground", point.black, tuple(profile.grounds))
        # A net of the point's own name is one that is not in the tree yet.
        if nets and point.net not in {*nets, point.id}:
            yield (*here, "net"), unknown_name("net", point.net, tuple(nets))
        if profile.boards and point.board not in profile.boards:
            yield (*here, "board"), unknown_name("board", point.board, tuple(profile.boards))
        if nets and point.id in nets and point.net != point.id:
            yield (
                (*here, "id"),
                f"“{point.id}” is also the name of another net; rename one of the two",
            )


def _good_boards(profile: Profile) -> Iterator[tuple[Loc, str]]:
    for index, point in enumerate(profile.test_points):
        here: Loc = ("test_points", index)
        if point.practice and not _same_side(point.practice, point.volts):
            yield (
                (*here, "practice"),
                (f"{point.practice} lies on the other side of 0 from the nominal; check the sign"),
            )
        for field, ohms in (("cold", point.cold), ("cold_swapped", point.cold_swapped)):
            if ohms is not None and ohms.low <= 0:
                yield (*here, field), f"{ohms} takes a short for good; begin above 0 Ω"


def _aliases(profile: Profile) -> Iterator[tuple[Loc, str]]:
    nets = {net for b in profile.power for net in (*block_inputs(b), *block_outputs(b))}
    nets |= {p.net for p in profile.test_points}
    ids = {p.id.lower() for p in profile.test_points}
    for alias, net in profile.aliases.items():
        if net not in nets:
            yield ("aliases", alias), unknown_name("net", net, tuple(sorted(nets)))
        if alias.lower() in ids:
            yield ("aliases", alias), f"“{alias}” is a test point already; take another name"


def _map(profile: Profile) -> Iterator[tuple[Loc, str]]:
    known = tuple(p.id for p in profile.pictures)
    for index, picture in enumerate(profile.pictures):
        if "/" in picture.file or picture.file.startswith("."):
            yield ("pictures", index, "file"), "is a bare name in the folder of pictures"
        if len(picture.common) != len(picture.on_parts) or len(picture.common) not in {0, 4}:
            yield ("pictures", index, "common"), "four places on both sides, or none"
    for name, spot in profile.spots.items():
        if spot.on not in known:
            yield ("spots", name, "on"), unknown_name("picture", spot.on, known)
        if not 1 <= len(spot.at) <= 2:
            yield ("spots", name, "at"), "is one place, or the two ends of a row"


def _parts(profile: Profile) -> Iterator[tuple[Loc, str]]:
    points = tuple(p.id for p in profile.test_points)
    for index, part in enumerate(profile.parts):
        if part.feeds and part.feeds not in points:
            yield ("parts", index, "feeds"), unknown_name("test point", part.feeds, points)


def _assumed(profile: Profile) -> Iterator[tuple[Loc, str]]:
    for index, point in enumerate(profile.test_points):
        if point.assumed and point.design is None:
            words = "nothing is assumed without limits; write design, or leave it out"
            yield ("test_points", index, "assumed"), words


def _same_side(practice: Band, nominal: float) -> bool:
    return nominal == 0 or practice.low * nominal >= 0 or practice.high * nominal >= 0


def _hardware(profile: Profile) -> Iterator[tuple[Loc, str]]:
    """Pins must be on their package, rows must name a ground, gates what there is."""
    for index, chip in enumerate(profile.pin_maps):
        strange = [p for p in (*chip.low, chip.ground) if not 1 <= p <= chip.pins]
        if strange:
            yield ("pin_maps", index, "low"), f"pin {strange[0]} is not on a package of {chip.pins}"
    for index, row in enumerate(profile.rows):
        if row.black not in profile.grounds:
            yield (
                ("rows", index, "black"),
                unknown_name("ground", row.black, tuple(profile.grounds)),
            )
        strays = (part for part in row.beeps if part not in row.parts)
        yield from (
            (("rows", index, "beeps"), unknown_name("part of the row", x, row.parts))
            for x in strays
        )
    yield from _gates(profile)


def _gates(profile: Profile) -> Iterator[tuple[Loc, str]]:
    known = (*{b.id.partition(".")[0] for b in profile.power}, *profile.part_ids())
    points = tuple(p.id for p in profile.test_points)
    for index, gate in enumerate(profile.wake.gates if profile.wake else ()):
        yield from (
            (("wake", "gates", index, "reads"), unknown_name("test point", name, points))
            for name in gate.reads
            if name not in points
        )
        yield from (
            (("wake", "gates", index, "reads"), f"{p.id} has no limits, which a gate needs")
            for p in profile.test_points
            if p.id in gate.reads and p.design is None
        )
        for name in gate.on:
            if name not in known:
                yield ("wake", "gates", index, "on"), unknown_name("connector or fuse", name, known)


def _inlets(profile: Profile) -> Iterator[tuple[Loc, str]]:
    """What makes a voltage makes some."""
    for index, block in enumerate(profile.power):
        here: Loc = ("power", index)
        if isinstance(block, Inlet | Regulator | Converter) and not block.volts:
            yield (*here, "volts"), "0 V feeds nothing; write what comes out, such as 12 V"
        elif isinstance(block, Dropper) and not block.zener:
            yield (*here, "zener"), "0 V feeds nothing; write the zener's volts"
        elif isinstance(block, Transformer):
            dead = (net for net, volts in block.to.items() if not volts)
            yield from (((*here, "to", net), "0 V feeds nothing; write RMS volts") for net in dead)


def _returns(profile: Profile) -> Iterator[tuple[Loc, str]]:
    """A contact in a return names one of the grounds, and not the one that all is measured from."""
    first = next(iter(profile.grounds), "")
    for index, block in enumerate(profile.power):
        ground = returns_of(block)
        if ground and ground not in profile.grounds:
            yield (
                ("power", index, "returns"),
                unknown_name("ground", ground, tuple(profile.grounds)),
            )
        elif ground and ground == first:
            yield (
                ("power", index, "returns"),
                f"{ground} is what all is measured from; name another",
            )


def _senses(profile: Profile) -> Iterator[tuple[Loc, str]]:
    regulators = tuple(b.id for b in profile.power if isinstance(b, Regulator))
    for index, block in enumerate(profile.power):
        if isinstance(block, Sense) and block.of not in regulators:
            yield ("power", index, "of"), unknown_name("regulator", block.of, regulators)


def _feeds(profile: Profile) -> Iterator[tuple[Loc, str]]:
    """Each net is fed by one block, or through diodes by more, and no block is fed from nowhere."""
    fed: dict[str, str] = {}
    for index, block in enumerate(profile.power):
        for net in block_outputs(block):
            if net in fed and not isinstance(block, Diode):
                yield ("power", index), f"{fed[net]} feeds the net “{net}” already; rename one"
            fed.setdefault(net, block.id)
    has_inlet = any(isinstance(b, Inlet) for b in profile.power)
    for index, block in enumerate(profile.power):
        for net in block_inputs(block):
            if has_inlet and net not in fed:
                yield (
                    ("power", index, "from" if hasattr(block, "from_") else "net"),
                    unknown_name("fed net", net, tuple(fed)),
                )

"""The menu: every test that could be done on a power tree, and what each costs in seconds."""

from collections.abc import Iterable, Iterator, Mapping

from msgspec import Struct

from bench_lamp.board import Block, FeedTree, Profile
from bench_lamp.board.blocks import (
    Dropper,
    FuseBlock,
    Harness,
    Indicator,
    Pin,
    Regulator,
    Reservoir,
    Switch,
)
from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.board.metering import is_clamped
from bench_lamp.circuit import PowerTree
from bench_lamp.circuit.on_parts import can_span
from bench_lamp.reason.power.plain import HEATED, rectifier_before
from bench_lamp.reason.values.tests import OFF, PRIMARY, Test

#: Effort in seconds: a marked point, a lug without a mark, a fuse out of its holder and toned,
#: ohms (leads steady, reservoirs charging), a change of power, a connector, a part's leg.
POINT_S, LUG_S, TONE_S, OHM_S, POWER_S, CONNECTOR_S, LIFT_S = (
    8.0,
    12.0,
    45.0,
    15.0,
    30.0,
    90.0,
    300.0,
)


#: Both leads on one part, on two of its legs, the display of a supply, a look at something.
ACROSS_S, LEGS_S, DISPLAY_S, LOOK_S = 14.0, 25.0, 4.0, 4.0
#: The meter's counter beside its AC volts; a contact moved with a stick, and the rail watched.
COUNTER_S, WIGGLE_S = 3.0, 20.0
#: A part cooled by a spray, and warmed by hot air, one as far as the other.
HEAT_S = {TestKind.COOL: 25.0, TestKind.HEAT: 60.0}

#: A clamp around a wire, zeroed first; the meter in series with it, power off and on again.
CLAMP_S, SERIES_S = 20.0, 60.0

#: A meter for capacitors across a reservoir, once it is discharged.
CAPACITOR_S = 20.0

#: Nets up to which every place is read while a connector is pulled.
SMALL_PART = 12


def _disturbing(block: Block) -> tuple[tuple[TestKind, float], ...]:
    """Return what can be done to a block to see whether it changes anything, with the seconds."""
    if isinstance(block, Pin | Harness):
        return ((TestKind.WIGGLE, WIGGLE_S),)
    return tuple(HEAT_S.items()) if isinstance(block, HEATED) else ()


class Menu(Struct, frozen=True):
    """The tests of one tree; `seconds` is what a net's own test point says of its effort."""

    tree: PowerTree
    seconds: Mapping[str, float]

    def plain(self) -> Iterator[Test]:
        """Yield every test with nothing pulled but the fuse that is toned."""
        for block in self.tree.primary:
            if isinstance(block, FuseBlock | Switch):
                yield Test(
                    kind=TestKind.TONE, target=block.id, part=PRIMARY, seconds=TONE_S, condition=OFF
                )
        for number in range(len(self.tree.parts)):
            yield from self.of_part(number, frozenset())
            yield from self.on_parts(number)
            for fuse in self.tree.parts[number].fuses:
                yield Test(
                    kind=TestKind.TONE, target=fuse.id, part=number, seconds=TONE_S, condition=OFF
                )

    def on_parts(self, number: int) -> Iterator[Test]:
        """Yield what is read of single blocks of a part, live and all in."""
        part = self.tree.parts[number]
        yield from self._currents(number)
        for net in part.nets:
            if rectifier_before(part, net) is not None:
                seconds = self.seconds.get(net, LUG_S) + COUNTER_S
                yield Test(kind=TestKind.HERTZ, target=net, part=number, seconds=seconds)
        for block in part.blocks:
            yield from self._of_block(number, block)

    def _of_block(self, number: int, block: Block) -> Iterator[Test]:
        """Yield what is done to one block, or read of it alone."""
        if isinstance(block, Reservoir):
            for kind in (TestKind.FARADS, TestKind.ESR):
                yield Test(
                    kind=kind, target=block.id, part=number, seconds=CAPACITOR_S, condition=OFF
                )
        for kind, seconds in _disturbing(block):
            yield Test(kind=kind, target=block.id, part=number, seconds=seconds)
        if isinstance(block, Indicator):
            yield Test(kind=TestKind.LOOK, target=block.id, part=number, seconds=LOOK_S)
        elif can_span(self.tree.parts[number], block):
            # Legs stand close together: a lead that slips shorts them.
            is_legs = isinstance(block, Regulator | Dropper)
            seconds = LEGS_S if is_legs else ACROSS_S
            yield Test(kind=TestKind.DROP, target=block.id, part=number, seconds=seconds)

    def _currents(self, number: int) -> Iterator[Test]:
        """Yield what flows: a supply's display, a clamp around a wire, the meter in series."""
        part = self.tree.parts[number]
        for name in part.metered:
            block = part.block(name)
            is_clamp = block is not None and is_clamped(self.tree.profile, block)
            seconds = DISPLAY_S if block is None else CLAMP_S if is_clamp else SERIES_S
            yield Test(kind=TestKind.AMPS, target=name, part=number, seconds=seconds)

    def of_part(self, number: int, out: Iterable[str]) -> Iterator[Test]:
        """Yield the measurements on one part while some blocks or connectors are out."""
        part, gone = self.tree.parts[number], frozenset(out)
        live, off = Condition(out=gone), Condition(is_powered=False, out=gone)
        for net, is_ac in zip(part.nets, part.is_ac, strict=True):
            effort = self.seconds.get(net, LUG_S)
            if not is_ac:
                yield Test(
                    kind=TestKind.DC, target=net, part=number, seconds=effort, condition=live
                )
                yield Test(
                    kind=TestKind.OHM,
                    target=net,
                    part=number,
                    seconds=effort + OHM_S - POINT_S,
                    condition=off,
                )
            yield Test(kind=TestKind.AC, target=net, part=number, seconds=effort, condition=live)

    def connectors(self, number: int) -> tuple[str, ...]:
        """Return the connectors and wires of a part that can be pulled, in feed order."""
        blocks = self.tree.parts[number].blocks
        names = (
            b.connector if isinstance(b, Pin) else b.id
            for b in blocks
            if isinstance(b, Pin | Harness)
        )
        return tuple(dict.fromkeys(names))

    def isolations(self, number: int, out: frozenset[str]) -> Iterator[Test]:
        """Yield what could be read on a part with one more connector pulled.

        On a large part only what feeds the connector is read then: the rest tells the same.
        """
        tree, part = FeedTree.of(self.tree.profile), self.tree.parts[number]
        for name in self.connectors(number):
            if name in out:
                continue
            gone = out | {name}
            near = {
                b.from_ for b in part.blocks if isinstance(b, Pin | Harness) and _is_of(b, name)
            }
            for test in self.of_part(number, gone):
                is_near = len(part.nets) <= SMALL_PART or test.target in near
                if is_near and (
                    not tree.is_cut_off(test.target, gone) or test.kind == TestKind.OHM
                ):
                    yield test


def _is_of(block: Pin | Harness, name: str) -> bool:
    return name in (block.id, block.id.partition(".")[0])


def effort(profile: Profile, test: Test, present: Condition) -> float:
    """Return what a test costs from the present condition on, in seconds.

    >>> reading = Test(kind=TestKind.DC, target="raw", part=0, seconds=8.0)
    >>> bare = Profile(format="bench-lamp board 1", id="x", name="x", test_points=())
    >>> effort(bare, reading, OFF)
    38.0
    """
    total = test.seconds
    if test.condition.is_powered != present.is_powered:
        total += POWER_S
    return total + sum(change_s(profile, name) for name in test.condition.out ^ present.out)


def change_s(profile: Profile, name: str) -> float:
    """Return what it takes to pull or refit a thing, by what it is: a part's leg takes longest."""
    block, chip = profile.block(name), profile.chip(name)
    is_plug = chip is not None and chip.family == "connector"
    plugs = {b.connector for b in profile.power if isinstance(b, Pin)}
    if is_plug or name in plugs or isinstance(block, Pin | Harness):
        return CONNECTOR_S
    return TONE_S if isinstance(block, FuseBlock | Switch) else LIFT_S

"""What a fault does beyond its own part: the mains that it leaves the others, the fuse it blows."""

from collections.abc import Callable, Sequence

import numpy as np
from msgspec import Struct

from bench_lamp.board.blocks import FuseBlock, Inlet
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.circuit import PowerTree
from bench_lamp.circuit.compile import CORE_SHARE, REGULATION
from bench_lamp.circuit.design import DEGREES, MAINS, STATES
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.faults import Fault, mains_left
from bench_lamp.circuit.parts import TreePart

#: A fuse blows in the end above so many times its rating; how sharply, as a natural log.
BLOWS_AT, BLOWS_WIDTH = 1.65, 0.22
#: How far a wrong place may be off what it shows on a sound board, as a share and in volts.
PLACE_SHARE, PLACE_V = 0.06, 0.05
#: A fault elsewhere that changes a part's mains by more than this is solved as one of its own.
TOUCHES = 0.04

#: Amperes that a part's faults draw by degree, in the order of its faults, and the sound part.
Drawn = Callable[[int], tuple[Array, float]]


class Reach(Struct, frozen=True):
    """What faults do to other parts, in every state."""

    #: The mains that each fault leaves to the other parts, shape (faults, states).
    levels: Array
    #: Ln of the chance of each state; blown and whole share it; shape (faults, states).
    logs: Array
    #: By part: faults elsewhere that change what it is fed with.
    touched: tuple[tuple[int, ...], ...]
    #: By part: its faults that leave the mains of all others as it is.
    alone: tuple[tuple[int, ...], ...]
    #: The faults that change what several parts are fed with.
    reaching: tuple[int, ...]


def reach_of(
    tree: PowerTree, faults: Sequence[Fault], own: Sequence[Sequence[int]], drawn: Drawn
) -> Reach:
    """Return what each fault of a tree does beyond its part."""
    left = np.ones((len(faults), len(DEGREES)))
    logs = np.zeros_like(left)
    for index, fault in enumerate(faults):
        if fault.part == -1:
            left[index] = mains_left(np.array(DEGREES)) if fault.is_graded else 0.0
    for number, part in enumerate(tree.parts):
        amps, sound = drawn(number)
        _sag(part, own[number], amps - sound, left)
        _blow(part, faults, own[number], amps, left, logs)
    factor = np.array([m for m, _ in MAINS])
    shares = np.log([w for _, w in MAINS]) - np.log(len(DEGREES))
    touched = tuple(
        _touched(tree, faults, own, number, left, logs) for number in range(len(tree.parts))
    )
    outside = {i for each in touched for i in each}
    size = (len(faults), STATES)
    return Reach(
        levels=(left[:, :, None] * factor).reshape(size),
        logs=(logs[:, :, None] + shares).reshape(size),
        touched=touched,
        alone=tuple(tuple(i for i in each if i not in outside) for each in own),
        reaching=tuple(sorted(outside)),
    )


def _sag(part: TreePart, own: Sequence[int], more: Array, left: Array) -> None:
    """Let the core sag under what each fault draws more than a sound part."""
    if part.is_dc:
        return
    va = part.open_v / np.sqrt(2) * more
    sag = 1 - REGULATION * CORE_SHARE * np.clip(va / part.core_va, -0.5, 12.0)
    left[list(own)] = np.clip(sag, 0.3, 1.05)


def _blow(
    part: TreePart,
    faults: Sequence[Fault],
    own: Sequence[int],
    amps: Array,
    left: Array,
    logs: Array,
) -> None:
    """Share each short between "blew its fuse" and "has not", by what it draws."""
    mains = next((b.volts for b in part.primary if isinstance(b, Inlet)), 230.0)
    ratio = mains / (part.open_v / np.sqrt(2))
    before = {b.id: b.rating.amps * ratio for b in part.primary if isinstance(b, FuseBlock)}
    ratings = before | {b.id: b.rating.amps for b in part.fuses}
    places: dict[tuple[str, FaultKind], dict[bool, int]] = {}
    for row, index in enumerate(own):
        key = (faults[index].block, faults[index].kind)
        places.setdefault(key, {})[bool(faults[index].blows)] = row
    for pair in places.values():
        if True not in pair or False not in pair:
            continue
        blown, whole = own[pair[True]], own[pair[False]]
        fuse = faults[blown].blows
        heat = np.log(np.maximum(amps[pair[False]], 1e-9) / (BLOWS_AT * ratings.get(fuse, np.inf)))
        chance = 1 / (1 + np.exp(-np.clip(heat / BLOWS_WIDTH, -30, 30)))
        logs[blown] = np.log(np.clip(chance, 1e-6, 1.0))
        logs[whole] = np.log(np.clip(1 - chance, 1e-6, 1.0))
        if fuse in before:
            left[blown] = 0.0


def _touched(
    tree: PowerTree,
    faults: Sequence[Fault],
    own: Sequence[Sequence[int]],
    number: int,
    left: Array,
    logs: Array,
) -> tuple[int, ...]:
    chance = np.exp(logs)
    usual = (np.abs(left - 1) * chance).sum(axis=1) / chance.sum(axis=1)
    part, mine = tree.parts[number], set(own[number])
    primary = {b.id for b in part.primary}

    def feeds(fault: Fault) -> bool:
        if fault.part == -1:
            return fault.block in primary
        # A core sags for its own windings; a mains fuse is gone for all behind it.
        is_same_core = fault.part >= 0 and tree.parts[fault.part].feeder == part.feeder
        return is_same_core or fault.blows in primary

    return tuple(
        i for i, f in enumerate(faults) if i not in mine and usual[i] > TOUCHES and feeds(f)
    )


def wrong_places(tree: PowerTree, volts: Sequence[Array]) -> dict[str, tuple[float, float]]:
    """Return what DC volts show at each net of a sound board, with how far that may be off.

    `volts` has for each part what its nets carry, shape (nets,).
    """
    found = {}
    for part, row in zip(tree.parts, volts, strict=True):
        for i, net in enumerate(part.nets):
            level = 0.0 if part.is_ac[i] else float(row[i]) * part.sign[i]
            found[net] = (level, PLACE_SHARE * abs(level) + PLACE_V)
    return found

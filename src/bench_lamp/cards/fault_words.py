"""Faults in the words of a bench, and what is done about each."""

from typing import TYPE_CHECKING

from bench_lamp.board import Profile
from bench_lamp.board.blocks import FuseBlock, Inlet, Load, Switch
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.cards.logic_words import fault_name
from bench_lamp.case.suspects import SuspectRow
from bench_lamp.journal.events import ActionWord
from bench_lamp.reason.values.faults import LogicFault

if TYPE_CHECKING:
    from bench_lamp.circuit.faults import Fault

_TITLES = {
    ("fuse", FaultKind.OPEN): "{id} open, or its holder",
    ("inlet", FaultKind.NO_MAINS): "no mains at {id}",
    ("inlet", FaultKind.NO_SUPPLY): "{id} gives nothing: source, lead or plug",
    ("inlet", FaultKind.SUPPLY_WEAK): "{id} is weak: source, lead or plug",
    ("bridge", FaultKind.ONE_LEG_OPEN): "{id}, a leg open",
    ("pin", FaultKind.OPEN): "{id} open: contact or crimp",
    ("pin", FaultKind.RESISTIVE): "{id} drops volts: contact or crimp",
    ("harness", FaultKind.OPEN): "{id}, the wire open",
    ("harness", FaultKind.RESISTIVE): "{id} drops volts on the way",
    ("indicator", FaultKind.OPEN): "{id} itself is dead, or what stands in line with it",
    ("sense", FaultKind.LINE_OPEN): "{id}, the sense line open",
}
#: Kinds in a word or two, where the usual word is long.
_SHORT = {
    FaultKind.RESISTIVE: "lossy",
    FaultKind.ONE_LEG_OPEN: "leg open",
    FaultKind.PASSES_INPUT: "shorted through",
    FaultKind.INDUCTOR_WEAK: "weak",
}
#: What mends a part, where it is not a new one.
_REMEDY: dict[str, ActionWord] = {"pin": "reseated", "harness": "reflowed", "sense": "reflowed"}


def fault_title(profile: Profile, fault: "Fault | LogicFault") -> str:
    """Say a fault as one would aloud: `F4 open, or its holder`."""
    if isinstance(fault, LogicFault):
        return fault_name(profile, fault)
    if not fault.block:
        return "nothing wrong that can be measured now"
    block = profile.block(fault.block)
    usual = "{id}, {what}" if fault.winding else "{id} {what}"
    words = _TITLES.get((block.kind if block else "", fault.kind), usual)
    title = words.format(id=fault.block, what=fault.what)
    return f"{title}, blew {fault.blows}" if fault.blows else title


def fault_short(profile: Profile, fault: "Fault | LogicFault") -> str:
    """Name a fault in two or three words: `F4 open`, `T1 winding open`, `U7`."""
    if isinstance(fault, LogicFault):
        return fault.block
    return f"{fault.block} {_SHORT.get(fault.kind, fault.kind)}" if fault.block else "nothing wrong"


def remedy(profile: Profile, fault: "Fault | LogicFault") -> ActionWord | None:
    """Return the action that mends a fault; None where a new part does."""
    block = profile.block(fault.block)
    if fault.kind is FaultKind.OUT_OF_ADJUSTMENT:
        return "adjusted"
    chip = profile.chip(fault.block)
    if chip is not None and chip.family == "connector":
        return "reseated"
    return _REMEDY.get(block.kind) if block else None


def remedy_title(profile: Profile, fault: "Fault | LogicFault", fuse: str = "") -> str:
    """Say what is to be done: `Replace F4, 10 A slow`; `fuse` is the rating that belongs there."""
    block = profile.block(fault.block)
    word = remedy(profile, fault)
    if word == "reseated":
        return f"Look at {fault.block}: pull, clean, re-seat"
    if word == "adjusted":
        return f"Adjust {fault.block}"
    if word is not None:
        return f"Mend {fault.block}"
    if fault.kind is FaultKind.WINDING_OPEN:
        return f"{fault.block}: a winding is open"
    if isinstance(block, Load | Inlet | Switch):
        return f"Look into {fault.block}"
    label = f", {fuse or block.rating}" if isinstance(block, FuseBlock) else ""
    return f"Replace {fault.block}{label}"


def row_title(profile: Profile, row: SuspectRow) -> str:
    """Name a row of the suspects."""
    if row.suggestion is not None:
        return row.suggestion.suspect
    return fault_title(profile, row.fault) if row.fault is not None else row.part

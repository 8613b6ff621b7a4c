"""Faults in the words of a bench, and what is done about each."""

from typing import TYPE_CHECKING

from bench_lamp.board import Profile
from bench_lamp.board.blocks import FuseBlock, block_label
from bench_lamp.cards.logic_words import fault_name
from bench_lamp.case.suspects import SuspectRow
from bench_lamp.journal.events import ActionWord
from bench_lamp.reason.values.faults import LogicFault

if TYPE_CHECKING:
    from bench_lamp.circuit.faults import Fault

_TITLES = {
    ("fuse", "open"): "{id} open, or its holder",
    ("inlet", "no mains"): "no mains at {id}",
    ("bridge", "one leg open"): "{id}, a leg open",
    ("pin", "open"): "{id} open: contact or crimp",
    ("pin", "resistive"): "{id} loses volts: contact or crimp",
    ("harness", "open"): "{id}, the wire open",
    ("harness", "resistive"): "{id} loses volts on the way",
    ("sense", "line open"): "{id}, the sense line open",
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
    kind = block.kind if block else ""
    if kind == "transformer":
        title = f"{fault.block}, {fault.what}"
    else:
        title = _TITLES.get((kind, fault.what), "{id} {what}").format(
            id=fault.block, what=fault.what
        )
    return f"{title}, blew {fault.blows}" if fault.blows else title


def fault_short(profile: Profile, fault: "Fault | LogicFault") -> str:
    """Name a fault in two or three words: `F4 open`, `T1 winding open`, `U7`."""
    if isinstance(fault, LogicFault):
        return fault.block
    block = profile.block(fault.block)
    if block is not None and block.kind == "transformer":
        return f"{fault.block} winding open"
    words = {
        "no mains": "no mains",
        "resistive": "lossy",
        "one leg open": "leg open",
        "passes its input": "shorted through",
        "inductor fallen in value": "weak",
    }
    return f"{fault.block} {words.get(fault.what, fault.what)}" if fault.block else "nothing wrong"


def remedy(profile: Profile, fault: "Fault | LogicFault") -> ActionWord | None:
    """Return the action that mends a fault; None where a new part does."""
    block = profile.block(fault.block)
    if fault.what == "out of adjustment":
        return "adjusted"
    chip = profile.chip(fault.block)
    if chip is not None and chip.family == "connector":
        return "reseated"
    return _REMEDY.get(block.kind) if block else None


def remedy_title(profile: Profile, fault: "Fault | LogicFault") -> str:
    """Say what is to be done: `Replace F4, 10 A slow`, `Re-seat J3.5: pull, clean, tighten`."""
    block = profile.block(fault.block)
    word = remedy(profile, fault)
    if word == "reseated":
        return f"Look at {fault.block}: pull, clean, re-seat"
    if word == "adjusted":
        return f"Adjust {fault.block}"
    if word is not None:
        return f"Mend {fault.block}"
    if fault.what.startswith("winding"):
        return f"{fault.block}: a winding is open"
    if block is not None and block.kind in {"load", "inlet", "switch"}:
        return f"Look into {fault.block}"
    label = f", {block_label(block)}" if isinstance(block, FuseBlock) else ""
    return f"Replace {fault.block}{label}"


def row_title(profile: Profile, row: SuspectRow) -> str:
    """Name a row of the suspects."""
    if row.suggestion is not None:
        return row.suggestion.suspect
    return fault_title(profile, row.fault) if row.fault is not None else row.part

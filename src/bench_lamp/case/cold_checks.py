"""The kinds of cold check, and what of each there is on a board."""

from collections.abc import Callable, Mapping
from enum import StrEnum
from typing import Literal

from msgspec import Struct

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import Rectifier, Reservoir, block_label
from bench_lamp.case.case import Case
from bench_lamp.case.cold_verdicts import (
    capacitor_word,
    chip_word,
    coil_word,
    fuse_word,
    junction_word,
    ohms_word,
    row_word,
)
from bench_lamp.case.fuses import wanted_fuse
from bench_lamp.checks.cold import NOT_YET, Word
from bench_lamp.journal.check_ids import CheckId
from bench_lamp.journal.events import CheckWord

Knob = Literal["tone", "diode", "ohm"]
#: Odds from which on a check is the reasoning's favourite.
FAVOURITE = 0.05
#: Verdict whose shape stands beside the technician's own word on a check.
WORD_SHAPES: Mapping[CheckWord, str] = {
    "good": "within",
    "bad": "absent",
    "left out": "",
    "judge live": "edge",
    "cannot tell": "noisy",
}


class ColdKind(StrEnum):
    """What is checked cold."""

    FUSE = "fuse"
    ROW = "row"
    CHIP = "chip"
    SWITCH = "switch"
    JUNCTION = "junction"
    UNKNOWN = "unknown"
    OHMS = "ohms"
    CAPACITOR = "capacitor"
    COIL = "coil"


#: What the technician calls bad without a reading, and could be shorted.
HARMFUL = {
    ColdKind.FUSE,
    ColdKind.ROW,
    ColdKind.CHIP,
    ColdKind.JUNCTION,
    ColdKind.OHMS,
    ColdKind.COIL,
    ColdKind.UNKNOWN,
}


#: Target of a part without a marking that nobody named: it need not be of this board.
UNNAMED = "part"


class ColdItem(Struct, frozen=True, kw_only=True):
    """One check of the round."""

    #: `fuse:F4`, `ohms:C`.
    id: str
    kind: ColdKind
    knob: Knob
    #: Part, point or row that is checked.
    target: str
    title: str
    place: str
    word: Word
    #: The reasoning suspects it, or another check points at it.
    is_favourite: bool

    @property
    def is_counted(self) -> bool:
        """Whether it belongs to the round: a part met by chance does not."""
        return self.kind is not ColdKind.UNKNOWN

    @property
    def is_done(self) -> bool:
        """Whether it needs no more."""
        return self.word.is_done

    @property
    def is_bad(self) -> bool:
        """Whether something is wrong with it."""
        return self.word.is_bad


def _item(
    case: Case,
    kind: ColdKind,
    knob: Knob,
    target: str,
    title: str,
    place: str,
    word: Word,
    *,
    pointed: bool = False,
) -> ColdItem:
    """Make an item; the technician's own word on it stands above what was worked out."""
    check = str(CheckId(kind, target))
    own = case.state.checks.get(check)
    if own is not None:
        word = Word(
            text=own.text or own.word,
            verdict=WORD_SHAPES[own.word],
            is_done=True,
            is_bad=own.word == "bad",
            is_harmful=own.word == "bad" and kind in HARMFUL and target != UNNAMED,
        )
    odds = case.insight.by_block.get(target, 0.0) if case.insight else 0.0
    return ColdItem(
        id=check,
        kind=kind,
        knob=knob,
        target=target,
        title=title,
        place=place,
        word=word,
        is_favourite=not word.is_done and (odds >= FAVOURITE or pointed),
    )


def _fuses(case: Case) -> list[ColdItem]:
    return [
        _item(
            case,
            ColdKind.FUSE,
            "tone",
            f.id,
            f"{f.id}, {wanted_fuse(case, f)}",
            f.place,
            fuse_word(case, f),
        )
        for f in case.profile.fuses
    ]


def _rows(case: Case) -> list[ColdItem]:
    return [
        _item(case, ColdKind.ROW, "tone", r.id, r.name, r.place, row_word(case, r))
        for r in case.profile.rows
    ]


def _chips(case: Case) -> list[ColdItem]:
    """Chips; those that drive a transistor that was found shorted come next."""
    pointed = {name for row in case.profile.rows for name in shorted_drivers(case, row.id)}
    return [
        _item(
            case,
            ColdKind.CHIP,
            "tone",
            c.id,
            f"{c.id}, {c.name}",
            c.place,
            chip_word(case, c),
            pointed=c.id in pointed,
        )
        for c in case.profile.pin_maps
    ]


def shorted_drivers(case: Case, row_id: str) -> tuple[str, ...]:
    """Return the pre-drivers of the transistors of a row that beeped and should not."""
    row = next((r for r in case.profile.rows if r.id == row_id), None)
    if row is None or row_id not in case.state.swept:
        return ()
    shorted = [p for p in case.state.swept[row_id] if p not in row.beeps]
    return tuple(dict.fromkeys(row.drivers[p] for p in shorted if p in row.drivers))


def _switches(case: Case) -> list[ColdItem]:
    return [
        _item(case, ColdKind.SWITCH, "tone", s.id, f"{s.id}, {s.name}", s.place, NOT_YET)
        for s in case.profile.switches
    ]


def _junctions(case: Case) -> list[ColdItem]:
    """Rectifiers and semiconductors; the driver of a shorted coil comes next."""
    linked = {c.driver for c in case.profile.coils if coil_word(case, c).is_bad}
    found = [
        _item(
            case,
            ColdKind.JUNCTION,
            "diode",
            b.id,
            f"{b.id}, {block_label(b)}",
            b.place,
            junction_word(case, b.id),
        )
        for b in case.profile.power
        if isinstance(b, Rectifier)
    ]
    known = {item.target for item in found}
    found += [
        _item(
            case,
            ColdKind.JUNCTION,
            "diode",
            s.id,
            f"{s.id}, {s.name}",
            s.place,
            junction_word(case, s.id),
            pointed=s.id in linked,
        )
        for s in case.profile.semiconductors
        if s.id not in known
    ]
    return found


def _unknown(case: Case) -> list[ColdItem]:
    """A part whose marking does not say what it is: asked about only by those who want it."""
    word, title = Word(text="when you meet one", is_done=True), "a part without a marking"
    checks = (CheckId.read(name) for name in case.state.checks)
    named = [c.target for c in checks if c.kind == ColdKind.UNKNOWN and c.target != UNNAMED]
    return [
        _item(case, ColdKind.UNKNOWN, "diode", UNNAMED, title, "", word),
        *(_item(case, ColdKind.UNKNOWN, "diode", n, f"{n}, {title}", "", word) for n in named),
    ]


def ohm_points(case: Case) -> tuple[TestPoint, ...]:
    """Return the points whose rail is read in ohms to its return."""
    return tuple(p for p in case.profile.test_points if p.mode == "dc V")


def _ohms(case: Case) -> list[ColdItem]:
    odds = case.insight.by_block if case.insight else {}
    return [
        _item(
            case,
            ColdKind.OHMS,
            "ohm",
            p.id,
            f"{p.id}, {p.name}",
            p.place,
            ohms_word(case, p),
            pointed=any(
                odds.get(b.id, 0.0) >= FAVOURITE
                for b in case.profile.power
                if getattr(b, "net", "") == p.net
            ),
        )
        for p in ohm_points(case)
    ]


def _capacitors(case: Case) -> list[ColdItem]:
    return [
        _item(
            case,
            ColdKind.CAPACITOR,
            "ohm",
            b.id,
            f"{b.id}, {b.value * 1e6:g}\u202fµF",
            b.place,
            capacitor_word(case, b),
        )
        for b in case.profile.power
        if isinstance(b, Reservoir)
    ]


def _coils(case: Case) -> list[ColdItem]:
    return [
        _item(case, ColdKind.COIL, "ohm", c.id, f"{c.id}, {c.name}", c.place, coil_word(case, c))
        for c in case.profile.coils
        if c.fitted
    ]


#: Every kind of check: what of it there is on a board.
CHECKS: dict[ColdKind, Callable[[Case], list[ColdItem]]] = {
    ColdKind.FUSE: _fuses,
    ColdKind.ROW: _rows,
    ColdKind.CHIP: _chips,
    ColdKind.SWITCH: _switches,
    ColdKind.JUNCTION: _junctions,
    ColdKind.UNKNOWN: _unknown,
    ColdKind.OHMS: _ohms,
    ColdKind.CAPACITOR: _capacitors,
    ColdKind.COIL: _coils,
}

"""The tape: every event of the job in a few words, and which one an undo strikes."""

from collections.abc import Callable
from datetime import datetime
from typing import Any

from msgspec import Struct

from bench_lamp.case.case import Case
from bench_lamp.case.cold_checks import UNNAMED, WORD_SHAPES, ColdKind
from bench_lamp.journal import Logged
from bench_lamp.journal.check_ids import READY, CheckId
from bench_lamp.journal.events import (
    ActionDone,
    Body,
    CameWith,
    CheckNoted,
    Complaint,
    Finding,
    FuseFitted,
    GateMarked,
    JobClosed,
    JobOpened,
    MainsSeen,
    Note,
    PartReplaced,
    PowerConfirmed,
    ReadingTaken,
    SeriesTaken,
    StageMarked,
    Struck,
    Swept,
)
from bench_lamp.journal.memory_events import FaultCalled, PhotoTaken, Signed
from bench_lamp.journal.open_events import (
    ComplaintAsked,
    JobWithdrawn,
    KindCorrected,
    LoadHung,
    OpenEnd,
)
from bench_lamp.journal.part_events import PartMeasured, PlateRead, StockMoved
from bench_lamp.units import engineering, exact
from bench_lamp.views.guard import failed
from bench_lamp.views.reading_words import Words, reading_words
from bench_lamp.views.tape_memory import MEMORY_WORDS
from bench_lamp.views.tape_proof import PROOF_WORDS
from bench_lamp.views.tape_trim import TRIM_WORDS

#: The reason that undo writes; such strikes are not themselves undone by the next one.
UNDO = "undone"
#: What nobody said by a key of its own: an undo goes on to what was said.
BY_ITSELF = (JobOpened, FaultCalled, Signed)


class Tile(Struct, frozen=True, kw_only=True):
    """One event on the tape."""

    event: str
    at: datetime
    title: str
    #: Verdict for the shape in front of `detail`; empty for none.
    verdict: str
    detail: str
    #: What opening the tile tells.
    explanation: tuple[str, ...]
    is_struck: bool
    can_strike: bool
    #: Sum and ending of the photograph that it shows; empty for none.
    photo: tuple[str, str] = ("", "")


def tape(case: Case) -> tuple[Tile, ...]:
    """Return the tiles, oldest first."""
    return tuple(tile(case, logged) for logged in case.state.tape)


def tile(case: Case, logged: Logged) -> Tile:
    """Return one event's tile; a long tape is shown tile by tile."""
    body = logged.event.body
    try:
        title, verdict, detail, explanation = _words_of(body)(case, body)
    except Exception as exc:  # noqa: BLE001 — the entry stands, whatever it holds
        title, verdict, detail = body.kind, "", "cannot be shown"
        explanation = (failed(f"tape, {body.kind}", exc),)
    struck = bool(logged.struck_by)
    if struck:
        explanation = (*explanation, f"Struck: {logged.reason}")
    return Tile(
        event=logged.event.id,
        at=logged.event.at,
        title=title,
        verdict="" if struck else verdict,
        detail=f"struck: {logged.reason}" if struck else detail,
        explanation=explanation,
        is_struck=struck,
        can_strike=not struck and not isinstance(body, JobOpened),
        photo=(body.sha256, body.suffix) if isinstance(body, PhotoTaken) else ("", ""),
    )


def _power(_: Case, body: PowerConfirmed) -> Words:
    words = {"off": "power off", "discharged": "off, discharged", "live": "power on"}
    title = words[body.power]
    if body.below is not None and body.power == "discharged":
        title = f"off, below {exact(body.below, 'V')}"
    detail = "against the stop" if body.against else "confirmed"
    if body.limiter:
        detail = f"through the {body.limiter}"
    return (title, "high" if body.against else "", detail, (body.against,) * bool(body.against))


def _load(_: Case, body: LoadHung) -> Words:
    size = f"{exact(body.ohms, 'Ω')}, {exact(body.watts, 'W', figures=2)}" if body.ohms else ""
    return f"{body.load} {'on' if body.is_on else 'off'}", "", size or "dummy load", ()


def _finding(_: Case, body: Finding) -> Words:
    return f"{body.seen} {body.place}".strip(), "", "seen", ()


def _measured(case: Case, body: PartMeasured) -> Words:
    shape = {"good": "within", "unclear": ""}.get(body.verdict, "absent")
    return f"{body.part} {body.text}", shape, body.verdict, (f"Measured {body.state}.",)


def _stock(_: Case, body: StockMoved) -> Words:
    verb = "put in" if body.count > 0 else "taken out"
    return f"{abs(body.count)} × {body.part}", "", body.place, (f"{verb}: {body.place}",)


def _replaced(_: Case, body: PartReplaced) -> Words:
    lines = (
        f"Out: {body.out}",
        f"In: {body.fitted}",
        *((f"From {body.source}",) if body.source else ()),
    )
    return f"{body.part} replaced", "", body.fitted, lines


_GATE_SHAPES = {"passed": "within", "failed": "absent", "overridden": "high"}


def _check(case: Case, body: CheckNoted) -> Words:
    check = CheckId.read(body.check)
    test = case.profile.self_test(check.target) if check.kind == READY else None
    if test is not None:
        return test.name, WORD_SHAPES[body.word], "ready for it", (body.text,)
    is_unnamed = check == CheckId(ColdKind.UNKNOWN, UNNAMED)
    name = "unmarked part" if is_unnamed else check.target
    return name, WORD_SHAPES[body.word], body.text or body.word, (body.text,)


def _series(body: SeriesTaken) -> list[str]:
    """Write a series as second and ohms."""
    return [
        f"{t:g}\u202fs {engineering(v, 'Ω', resolution=10.0) if v >= 0 else 'OL'}"
        for t, v in zip(body.seconds, body.values, strict=True)
    ]


_WORDS: dict[type, Callable[[Case, Any], Words]] = {
    JobOpened: lambda _, b: ("job opened", "", b.tag, ()),
    Complaint: lambda _, b: ("complaint", "", f"“{b.text}”", (b.text,)),
    CameWith: lambda _, b: ("came with", "", b.text, (b.text,)),
    MainsSeen: lambda _, b: (f"mains {b.place}", "", b.text, ()),
    Finding: _finding,
    PowerConfirmed: _power,
    ReadingTaken: reading_words,
    Struck: lambda _, b: ("struck", "", b.reason, ()),
    ActionDone: lambda _, b: (f"{b.target} {b.action}", "", "done", ()),
    PartReplaced: _replaced,
    PartMeasured: _measured,
    **TRIM_WORDS,
    **PROOF_WORDS,
    **MEMORY_WORDS,
    PlateRead: lambda _, b: (f"serial {b.serial}", "", "on the plate", ()),
    StockMoved: _stock,
    StageMarked: lambda _, b: (f"{b.stage} {b.mark}", "", "marked", ()),
    FuseFitted: lambda _, b: (f"{b.fuse} cap read", "", b.text, (f"Fitted: {b.text}.",)),
    Swept: lambda _, b: (f"{b.target} swept", "", "beeped: " + (", ".join(b.beeped) or "none"), ()),
    SeriesTaken: lambda _, b: (
        f"{b.target} charging",
        "",
        f"{len(b.values)} readings",
        (", ".join(_series(b)),),
    ),
    CheckNoted: _check,
    GateMarked: lambda _, b: (
        f"gate {b.gate}",
        _GATE_SHAPES.get(b.mark, ""),
        b.mark,
        (b.reason,) * bool(b.reason),
    ),
    LoadHung: _load,
    OpenEnd: lambda _, b: (
        f"{b.target} {'made good' if b.is_made_good else b.what}",
        "within" if b.is_made_good else "edge",
        b.text or b.what,
        (b.text,) * bool(b.text),
    ),
    KindCorrected: lambda _, b: ("kind of board", "", b.profile, ()),
    JobWithdrawn: lambda _, b: ("job withdrawn", "", b.reason or "opened by mistake", ()),
    ComplaintAsked: lambda _, b: (
        "complaint",
        "within" if b.is_gone else "absent",
        f"gone, {b.where}".rstrip(", ") if b.is_gone else b.where or "still there",
        (),
    ),
    Note: lambda _, b: ("advice" if b.about == "advice" else "note", "", b.text, (b.text,)),
    JobClosed: lambda _, b: ("handed back", "", "proved" if b.proved else "not proved", ()),
}


def _words_of(body: Body) -> Callable[[Case, Any], Words]:
    found = _WORDS.get(type(body))
    if found is None:
        # The words of the self-test wait until there is one on the tape.
        from bench_lamp.views.tape_words import LOGIC_KINDS, logic_words

        _WORDS.update(dict.fromkeys(LOGIC_KINDS, logic_words))
        found = _WORDS[type(body)]
    return found


def to_undo(case: Case) -> Struck | None:
    """Return the strike that undoes the last thing said; None when nothing is left."""
    for logged in reversed(case.state.tape):
        body = logged.event.body
        is_undo = isinstance(body, Struck) and body.reason == UNDO
        if not logged.struck_by and not is_undo and not isinstance(body, BY_ITSELF):
            return Struck(event=logged.event.id, reason=UNDO)
    return None


def to_redo(case: Case) -> Struck | None:
    """Return the strike that takes the last undo back; None when something new was said since."""
    for logged in reversed(case.state.tape):
        body = logged.event.body
        if isinstance(body, Struck):
            if body.reason == UNDO and not logged.struck_by:
                return Struck(event=logged.event.id, reason="redone")
            continue
        if not logged.struck_by:
            return None
    return None

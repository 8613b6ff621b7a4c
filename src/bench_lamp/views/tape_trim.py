"""What is set, in the words of the tape."""

from collections.abc import Callable
from typing import Any

from bench_lamp.case.case import Case
from bench_lamp.case.trims.items import name_of, unit_of
from bench_lamp.journal.trim_events import (
    AdjusterFound,
    AdjusterTurned,
    CoilHeld,
    PanelPaired,
    PlaceTried,
    ReferenceRead,
    SwitchStood,
    TrimEnded,
    TrimRead,
    TrimStep,
)
from bench_lamp.units import exact
from bench_lamp.units.turns import turn_text
from bench_lamp.views.reading_words import Words


def _trim_name(case: Case, trim: str) -> str:
    found = case.profile.trim(trim)
    return found.name if found is not None else trim


def _trim_read(case: Case, body: TrimRead) -> Words:
    trim = case.profile.trim(body.trim)
    value = exact(body.value, unit_of(trim, body.what) if trim is not None else "", figures=8)
    what = name_of(trim, body.what) if trim is not None else body.what
    short = body.what.rpartition(":")[2]
    return f"{short} {value}", "", body.source or "read", (what,)


TRIM_WORDS: dict[type, Callable[[Case, Any], Words]] = {
    TrimRead: _trim_read,
    AdjusterTurned: lambda _, b: (f"{b.adjuster} {turn_text(b.turns)}", "", "turned", ()),
    AdjusterFound: lambda _, b: (f"{b.adjuster} {b.word}", "", b.text or "adjuster", ()),
    TrimStep: lambda case, b: (b.step, "", b.text or "done", (_trim_name(case, b.trim),)),
    PanelPaired: lambda _, b: (f"panel {b.shown:g}", "", f"{b.true:g}\u202fV true", ()),
    ReferenceRead: lambda _, b: (
        f"reference {b.shown:g}\u202fV",
        "",
        b.state,
        (f"at {b.setting:g}\u202fV",),
    ),
    CoilHeld: lambda _, b: ("coil on" if b.is_on else "coil let go", "", "grip", ()),
    SwitchStood: lambda _, b: (f"{b.setting} {b.position}", "", b.when, ()),
    TrimEnded: lambda case, b: (_trim_name(case, b.trim), "", b.reason or b.word, ()),
    PlaceTried: lambda _, b: (f"{b.place} {b.word}", "", "after the journey", ()),
}

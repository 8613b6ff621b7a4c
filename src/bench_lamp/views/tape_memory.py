"""The shop's memory, in the words of the tape."""

from collections.abc import Callable
from typing import Any

from bench_lamp.case.case import Case
from bench_lamp.journal.memory_events import (
    FaultCalled,
    PhotoTaken,
    PracticeSaid,
    Signed,
    TimeSaid,
    WaitsFor,
)
from bench_lamp.units import exact, percent
from bench_lamp.views.reading_words import Words


def _called(_: Case, body: FaultCalled) -> Words:
    plain = f"Without the shop’s own repairs {percent(body.odds_unlearnt)}."
    lines = (f"{body.tests} readings and tests by then.",)
    return (
        f"{body.part} {percent(body.odds)}",
        "",
        "odds then",
        (*lines, plain) if body.odds_unlearnt >= 0 else lines,
    )


MEMORY_WORDS: dict[type, Callable[[Case, Any], Words]] = {
    FaultCalled: _called,
    PracticeSaid: lambda _, b: (
        f"{b.point} {exact(b.value, 'V')}",
        "edge",
        "right here",
        (f"For {'this board' if b.scope == 'board' else 'all of its kind'}.", b.reason),
    ),
    WaitsFor: lambda _, b: (
        f"waits: {b.what}" if b.what else "waits no more",
        "",
        " ".join(x for x in (b.text, b.until) if x),
        (),
    ),
    PhotoTaken: lambda _, b: (
        b.about or "photograph",
        "",
        b.when or "photograph",
        (b.name,) * bool(b.name),
    ),
    Signed: lambda _, b: (f"signed {b.by}", "", "from here on", ()),
    TimeSaid: lambda _, b: (f"{b.minutes:g}\u202fmin", "", "time, by hand", ()),
}

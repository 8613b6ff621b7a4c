"""The proof, in the words of the tape."""

from collections.abc import Callable
from typing import Any

from bench_lamp.case.case import Case
from bench_lamp.case.readings import MODE_UNITS, judge_value
from bench_lamp.journal.proof_events import (
    BurnBegun,
    BurnEnded,
    FirstMinuteWatched,
    FunctionTried,
    HeatFelt,
    LoadStepRead,
)
from bench_lamp.units import exact
from bench_lamp.views.reading_words import Words

_FUNCTION = {"works": "within", "fails": "absent", "left out": "edge"}


def _load(case: Case, body: LoadStepRead) -> Words:
    point = case.profile.point(body.point)
    value = exact(body.volts, MODE_UNITS[point.mode] if point else "V", figures=4)
    detail = f"{body.share:.0%} load" if body.share else "no test load"
    lines = (f"{exact(body.ohms, 'Ω')} on it.",) if body.ohms else ()
    if body.ripple > 0:
        lines = (*lines, f"Ripple {exact(body.ripple, 'V~', figures=3)}.")
    verdict = ""
    if point is not None:
        verdict = judge_value(
            case, point, point.mode, body.volts, resolution=body.resolution
        ).verdict
    return f"{body.point} {value}", verdict, detail, lines


def _heat(_: Case, body: HeatFelt) -> Words:
    title = (
        f"{body.part} {body.celsius:g}\u202f°C"
        if body.celsius > -273
        else f"{body.part} {body.word}"
    )
    return title, "high" if body.word == "too hot" else "within", body.word, ()


def _begun(_: Case, body: BurnBegun) -> Words:
    points = ", ".join(body.points)
    return (
        "burn-in",
        "",
        f"{body.hours:g}\u202fh",
        (f"{points} every {body.every_min:g}\u202fmin.",),
    )


PROOF_WORDS: dict[type, Callable[[Case, Any], Words]] = {
    FunctionTried: lambda _, b: (b.step, _FUNCTION[b.word], b.word, (b.text,) * bool(b.text)),
    FirstMinuteWatched: lambda _, b: (
        "first minute",
        "within" if b.word == "quiet" else "absent",
        b.word,
        (b.text,) * bool(b.text),
    ),
    LoadStepRead: _load,
    HeatFelt: _heat,
    BurnBegun: _begun,
    BurnEnded: lambda _, b: (
        "burn-in ended",
        "within" if b.word == "held" else "absent",
        b.word,
        (b.reason,) * bool(b.reason),
    ),
}

"""Results of the self-test in the words of the tape: title, verdict, detail, explanation."""

from collections.abc import Callable
from typing import Any

from bench_lamp.board.self_tests import BlinkTest, ProgramTest, SelfTestKind
from bench_lamp.case.case import Case
from bench_lamp.case.results import pin_of
from bench_lamp.journal.logic_events import (
    CellsMarked,
    ImageJudged,
    LaneRead,
    PartTried,
    PinProbed,
    RoundBegun,
    SelfTestSeen,
)
from bench_lamp.journal.logic_state import LogicBody
from bench_lamp.logic.graph import good_code
from bench_lamp.logic.kinds import cell_short
from bench_lamp.logic.lanes import diagnose, words_for
from bench_lamp.logic.levels import level_words
from bench_lamp.stages.selftest.cell_views import mark_shape
from bench_lamp.stages.selftest.code_cards import code_words, meaning
from bench_lamp.stages.selftest.kinds import KINDS

TapeWords = tuple[str, str, str, tuple[str, ...]]


def _seen(case: Case, body: SelfTestSeen) -> TapeWords:
    test = case.profile.self_test(body.test)
    if not isinstance(test, BlinkTest | ProgramTest):
        verdict = "absent" if body.code == "lost" else "within"
        return f"settings {body.code}", verdict, test.name if test else body.test, ()
    verdict = "within" if body.code == good_code(test) else "absent"
    return code_words(test, body.code), verdict, test.name, meaning(test, body.code)


def _cells(case: Case, body: CellsMarked) -> TapeWords:
    test = case.profile.self_test(body.test)
    name = test.name if test else body.test
    cells = [cell_short(test, cell) for cell in body.cells]
    few = ", ".join(cells[:3]) + (f" and {len(body.cells) - 3} more" if len(body.cells) > 3 else "")
    said = KINDS[SelfTestKind(test.kind)].said if test else {}
    words = said.get(body.mark, body.mark) or "mark taken back"
    return (
        f"{few[:34]} {words}",
        mark_shape(body.mark) or "absent",
        name,
        (f"{name}: {few} {words} {body.showed}".strip() + ".",),
    )


def _lane(case: Case, body: LaneRead) -> TapeWords:
    lane = next((x for x in case.profile.lanes if x.id == body.lane), None)
    if lane is None:
        return f"{body.lane} read", "", f"{len(body.wrote)} pairs", ()
    bits = diagnose(zip(body.wrote, body.came, strict=False), len(lane.lines))
    bad = any(b.is_bad for b in bits)
    digits = -(-len(lane.lines) // 4)
    pairs = [f"{w:0{digits}X}>{c:0{digits}X}" for w, c in zip(body.wrote, body.came, strict=False)]
    source = f"From {body.source}: " if body.source else ""
    return (
        f"{lane.id} read",
        "absent" if bad else "within",
        words_for(bits),
        (source + " ".join(pairs[:12]), words_for(bits)),
    )


def _tried(_: Case, body: PartTried) -> TapeWords:
    how = {
        "donor": "swapped for a test",
        "tester": "in the chip tester",
        "reseated": "re-seated",
    }.get(body.how, body.how)
    words = {
        "same": ("", "still the same", "Still the same: probably not this one."),
        "gone": (
            "high",
            "it is gone",
            "The symptom is gone with it. A cleaned contact can do that too.",
        ),
        "pass": (
            "",
            "passed",
            "A pass is no proof: the tester is slower than the board, and loads it less.",
        ),
        "fail": ("absent", "failed", "A fail in the tester is as good as proof."),
    }
    verdict, detail, line = words[body.result]
    return f"{body.part} {how}", verdict, detail, (line,)


def _probed(case: Case, body: PinProbed) -> TapeWords:
    pin = pin_of(case, f"{body.part}:{body.pin}")
    said = level_words(pin.should, body.level) if pin else ""
    verdict = "" if pin is None else "within" if pin.should == body.level else "absent"
    line = f"{pin.name}: should be {pin.should}; {said}." if pin else ""
    return (
        f"{body.part} pin {body.pin} {body.level}",
        verdict,
        said or "probed",
        (line,) * bool(line),
    )


def _image(_: Case, body: ImageJudged) -> TapeWords:
    verdict = {"good": "within", "wrong": "absent", "not known": "edge"}[body.verdict]
    lines = (f"{body.file}, {body.size} bytes, CRC {body.crc32}", f"SHA-1 {body.sha1}", body.text)
    return (
        f"{body.image} image {body.verdict}",
        verdict,
        body.text or "sums agree",
        tuple(x for x in lines if x),
    )


def _round(case: Case, body: RoundBegun) -> TapeWords:
    test = case.profile.self_test(body.test)
    return "run once more", "", test.name if test else body.test, ()


def logic_words(case: Case, body: LogicBody) -> TapeWords:
    """Return title, verdict, detail and explanation; told by an instrument, it says so."""
    title, verdict, detail, lines = _WORDS[type(body)](case, body)
    source = "" if isinstance(body, LaneRead) else getattr(body, "source", "")
    return title, verdict, detail, (*lines, *((f"From the {source}.",) if source else ()))


_WORDS: dict[type, Callable[[Case, Any], TapeWords]] = {
    SelfTestSeen: _seen,
    CellsMarked: _cells,
    LaneRead: _lane,
    PartTried: _tried,
    PinProbed: _probed,
    ImageJudged: _image,
    RoundBegun: _round,
}
LOGIC_KINDS = tuple(_WORDS)

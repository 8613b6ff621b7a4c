"""“I did something else” on the logic: a part pulled, swapped or tested, a pin probed."""

import re

from bench_lamp.cards.card import Accepted, Answer, Refused
from bench_lamp.cards.part_test import part_test_event
from bench_lamp.cards.power import live_question
from bench_lamp.case.case import Case
from bench_lamp.journal.logic_events import PinProbed
from bench_lamp.logic.levels import LEVELS

_HOW = {
    "pulled": "pulled",
    "without": "pulled",
    "swapped": "donor",
    "donor": "donor",
    "reseated": "reseated",
}
_RESULTS = {"same": "same", "still": "same", "gone": "gone", "cured": "gone"}
_TESTER = {
    "pass": "pass",
    "passed": "pass",
    "passes": "pass",
    "fail": "fail",
    "failed": "fail",
    "fails": "fail",
}
_LEVELS = {"h": "high", "l": "low", "p": "pulsing", "f": "floating"} | {x: x for x in LEVELS}


def take_logic(case: Case, part: str, what: str) -> Answer | None:
    """Read `pin 1 low`, `pulled same`, `swapped gone`, `tester pass`; None where it is none of these."""
    pin = re.fullmatch(r"pin\s+(\d{1,3})\s+(\w+)", what)
    if pin is not None:
        return _take_pin(case, part, int(pin[1]), pin[2])
    words = what.split()
    if words[:1] == ["tester"] and len(words) == 2 and words[1] in _TESTER:
        return _tried(part, "tester", _TESTER[words[1]])
    if len(words) == 2 and words[0] in _HOW and words[1] in _RESULTS:
        return _tried(part, _HOW[words[0]], _RESULTS[words[1]])
    return None


def _tried(part: str, how: str, result: str) -> Answer:
    return Accepted(log=(part_test_event(part, how, result),), focus="")


def _take_pin(case: Case, part: str, number: int, word: str) -> Answer:
    chip = case.profile.chip(part)
    level = _LEVELS.get(word)
    if chip is None or not 1 <= number <= chip.pins:
        most = f"It has {chip.pins} pins." if chip else "The profile has no such chip."
        return Refused(what=f"{part} pin {number} is not known", mend=most)
    if level is None:
        return Refused(
            what=f"“{word[:16]}” is no level", mend="Write high, low, pulsing or floating."
        )
    asked = live_question(case)
    if asked is not None:
        return asked
    return Accepted(log=(PinProbed(part=part, pin=number, level=level),), focus="")  # type: ignore[arg-type]

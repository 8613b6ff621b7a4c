"""What the reasoning made of some cases when it was last looked at: a slip in any figure moves one.

These are no proof that the figures are right; the other tests are. They say *that* something
moved. Where a change is meant, look at what moved, and write the file anew:

    python -m tests.reason.test_kept
"""

import json
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path
from typing import Any, TypeVar

import msgspec
import pytest

from bench_lamp.board import ProfileLibrary
from bench_lamp.circuit import compile_tree
from bench_lamp.logic.clue import LogicClue
from bench_lamp.reason.insight_of import history_of, insight_of
from bench_lamp.reason.logic.engine import LogicEngine
from bench_lamp.reason.power.dictionary import build_dictionary
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.values.clues import Facts
from bench_lamp.reason.values.insight import Insight, Moment, Suspect, Try

from .conftest import clues

T = TypeVar("T")
KEPT = Path(__file__).with_name("kept.json")
ORRERY, CINDER, OSTREL = "tessenby-orrery-nights", "ardvane-cinder-dunes", "ostrel-8"
PORT = frozenset(f"PA{i}" for i in range(8))


def result(kind: str, target: str, code: str = "", bad: tuple[str, ...] = (), **more: Any):
    tried = more.pop("tried", PORT if target.startswith("lane") else frozenset())
    return LogicClue(event=f"{kind} {target}", kind=kind, target=target, code=code,
                     bad=frozenset(bad), tried=tried, text=target, **more)  # fmt: skip


CASES: dict[str, tuple[str, Facts]] = {
    "nothing yet": (ORRERY, Facts(is_powered=True)),
    "lamps out": (ORRERY, Facts(
        complaint="half the lamps are dead, displays work", seen=(("BR2", "burnt"),),
        clues=clues("dc lamp18 0.1", "ac ac_lamp 0.02", "ac sec_lamp 15.8"), is_powered=True)),
    "low and noisy": (ORRERY, Facts(
        clues=clues("dc logic5 4.61", "dc raw_logic 8.9", "ac raw_logic 1.9"), is_powered=True)),
    "a short, cold": (ORRERY, Facts(
        clues=clues("tone F4 1", "ohm lamp18 0.6", "ohm lamp18 0.6 without J3"),
        out=frozenset({"J3"}))),
    "two that look alike": (ORRERY, Facts(
        clues=clues("ohm logic5 0.6", "ohm logic5 50 without J6"), out=frozenset({"J6"}))),
    "one reading too many": (ORRERY, Facts(
        clues=clues("dc lamp18 0.1", "ac ac_lamp 0.02", "ac sec_lamp 15.8", "dc coil32 21"),
        is_powered=True)),
    "after a repair": (ORRERY, Facts(
        clues=clues("dc lamp18 17.9"), mended=frozenset({"F4"}), is_powered=True)),
    "beside a twin": (ORRERY, Facts(
        clues=clues("dc lamp18 16.1", "ac ac_lamp 12.1"), twins={"lamp18": 18.4, "ac_lamp": 13.9},
        is_powered=True)),
    "memory and a rail": (CINDER, Facts(
        complaint="does not start", is_powered=True, clues=clues("dc logic5 4.7"),
        logic=(result("cells", "memory", bad=("1.5", "2.5"),
                      tried=frozenset(f"{b}.{i}" for b in (1, 2) for i in range(8))),))),
    "a port and its parts": (OSTREL, Facts(
        seen=(("BT1", "leaking"),),
        logic=(result("cells", "lane:PA", bad=("PA3",), manner="stuck"),
               result("cells", "lane:PB", tried=frozenset(f"PB{i}" for i in range(8))),
               result("donor", "U9", "same"), result("tester", "U8", "pass"),
               result("probe", "U7:2", "wrong", line="PA3")))),
    "codes and settings": (OSTREL, Facts(
        logic=(result("code", "beeps", "2-1"), result("settings", "settings", "lost", ("BT1",)),
               result("reseated", "J2", "same"), result("image", "U2", "good")))),
}  # fmt: skip


def _suspect(each: Suspect) -> dict[str, Any]:
    cleared = each.clears and [each.clears[0].name, each.clears[1].kind]
    weights = [[w.text, w.bits, w.expects] for w in (*each.speaks_for, *each.speaks_against)]
    members = [odds for _, odds in each.members[:4]]
    return {"odds": each.odds, "members": members, "weights": weights, "clears": cleared}


def _test(each: Try) -> dict[str, Any]:
    outcomes = [
        [b.kind, b.label, b.low, b.high, b.share, [odds for _, odds in b.groups[:3]]]
        for b in each.outcomes
    ]
    return {"bits": each.bits, "seconds": each.seconds, "sound": each.sound, "outcomes": outcomes}


def _top(items: Sequence[T], worth: Callable[[T], float], count: int = 6) -> list[T]:
    """Return the first few, without those that only rounding tells from the next one."""
    ranked = sorted(items, key=worth, reverse=True)
    below = worth(ranked[count]) * 1.001 if len(ranked) > count else 0.0
    return [item for item in ranked[:count] if worth(item) > below]


def told(found: Insight, moments: tuple[Moment, ...]) -> dict[str, Any]:
    """Return what an insight says, as plain values."""
    return {
        "suspects": {s.key: _suspect(s) for s in _top(found.suspects, lambda s: s.odds)},
        "tests": {t.test.name: _test(t) for t in _top(found.tries, lambda t: t.bits / t.seconds)},
        "split": found.split and {found.split.test.name: _test(found.split)},
        "unknown": found.unknown,
        "nothing": found.nothing,
        "blocks": dict(sorted(found.by_block.items())),
        "expected": dict(found.expected),
        "at gates": {" ".join(sorted(off)): dict(v) for off, v in found.expected_at.items()},
        "cold": dict(found.cold),
        "entropy": found.entropy,
        "left out": found.left_out,
        "worst": found.worst and [found.worst[0].event, found.worst[1]],
        "moments": [
            [m.text, [odds for *_, odds in m.odds[:3]], dict(sorted(m.by_block.items()))]
            for m in moments
        ],
    }


@pytest.fixture(scope="module")
def made(library):
    return {name: Made(library, name) for name in (ORRERY, CINDER, OSTREL)}


class Made:
    """The engines of one profile."""

    def __init__(self, library: ProfileLibrary, name: str) -> None:
        self.profile = library.get(name)
        tree = compile_tree(self.profile)
        seconds = {p.net: p.seconds for p in self.profile.test_points}
        self.power = Engine.of(build_dictionary(tree), seconds) if tree else None
        self.logic = LogicEngine.of(self.profile)

    def tell(self, facts: Facts) -> Any:
        logic = self.logic if facts.logic else None
        found = insight_of(self.power, self.profile, facts, logic)
        moments = history_of(self.power, self.profile, facts, logic)
        return json.loads(msgspec.json.encode(told(found, moments)))


def differences(now: Any, kept: Any, place: str = "") -> Iterator[str]:
    """Yield each place where two trees of plain values are not the same, figures to 0.5 %."""
    if isinstance(now, dict) and isinstance(kept, dict):
        for key in now | kept:
            yield from differences(now.get(key), kept.get(key), f"{place} / {key}")
    elif isinstance(now, list) and isinstance(kept, list) and len(now) == len(kept):
        for number, pair in enumerate(zip(now, kept, strict=True)):
            yield from differences(*pair, f"{place} / {number}")
    elif isinstance(now, int | float) and isinstance(kept, int | float):
        if now != pytest.approx(kept, rel=5e-3, abs=2e-5):
            yield f"{place}: {kept} was kept, now {now}"
    elif now != kept:
        yield f"{place}: {kept} was kept, now {now}"


@pytest.mark.parametrize("name", CASES)
def test_the_reasoning_says_what_it_said(made, name):
    profile, facts = CASES[name]
    kept = json.loads(KEPT.read_text(encoding="utf-8"))[name]
    assert list(differences(made[profile].tell(facts), kept)) == []


def _rounded(value: Any) -> Any:
    if isinstance(value, float):
        return float(f"{value:.5g}")
    if isinstance(value, dict):
        return {k: _rounded(v) for k, v in value.items()}
    return [_rounded(v) for v in value] if isinstance(value, list) else value


def main() -> None:
    """Write what the reasoning says today."""
    library = ProfileLibrary()
    engines = {name: Made(library, name) for name in (ORRERY, CINDER, OSTREL)}
    all_told = {name: _rounded(engines[p].tell(facts)) for name, (p, facts) in CASES.items()}
    KEPT.write_text(json.dumps(all_told, indent=0) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()

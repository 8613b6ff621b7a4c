"""What a sound board reads: each net live, cold, and at each gate of the wake-up; and what its supplies give."""

from typing import Any

from bench_lamp.board import Profile
from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.checks.limiting import hung_at
from bench_lamp.circuit.elements import Array
from bench_lamp.reason.power.dictionary import Dictionary
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.power.outcomes import sound_range
from bench_lamp.reason.power.prediction import MOST_OHM
from bench_lamp.reason.values.tests import LIVE, Test

NOTHING: frozenset[str] = frozenset()


def sound_board(engine: Engine, profile: Profile) -> dict[str, Any]:
    """Return what a sound board reads, by the names of `Insight`: worked out once for each engine."""
    if "known" not in engine.memory:
        engine.memory["known"] = {
            "expected": expected(engine.dictionary, LIVE),
            **_at_gates(engine.dictionary, profile),
            "cold": _cold(engine),
        }
    found: dict[str, Any] = engine.memory["known"]
    return found


def _cold(engine: Engine) -> dict[str, tuple[tuple[float, float], tuple[float, float]]]:
    """Return ohms to the return on a sound board, both polarities, with the draws' spread."""
    found = {}
    for number, part in enumerate(engine.dictionary.tree.parts):
        red, black = (engine.dictionary.sound_ohms(number, lead) for lead in ("red", "black"))
        for net, is_ac in zip(part.nets, part.is_ac, strict=True):
            if not is_ac:
                i = part.index(net)
                found[net] = (_wide(red[:, i]), _wide(black[:, i]))
    return found


def _wide(ohms: Array) -> tuple[float, float]:
    """Return the range of ohms that is nothing to wonder at; open-ended where leakage decides."""
    high = float(ohms.max()) * 1.6
    return float(ohms.min()) / 1.6, high if high < MOST_OHM else float("inf")


def _at_gates(dictionary: Dictionary, profile: Profile) -> dict[str, Any]:
    """Return what a sound board reads and draws at each gate, by what is off and hangs on there."""
    later = set(profile.wake.off_at_gates() if profile.wake else ())
    sound = dictionary.without_faults()
    found = [(off, hung) for off in later | {NOTHING} for hung in {NOTHING, hung_at(profile, off)}]
    return {
        "expected_at": {off: expected(sound, Condition(out=off)) for off in later if off},
        "drawn_at": {
            (off, hung): _drawn(sound, Condition(out=off, hung=hung)) for off, hung in found
        },
    }


def _drawn(sound: Dictionary, condition: Condition) -> dict[str, tuple[float, float]]:
    """Return what each DC inlet gives on a sound board, in amperes."""
    found = {}
    for number, part in enumerate(sound.tree.parts):
        if part.is_dc:
            test = Test(
                kind=TestKind.AMPS,
                target=part.feeder,
                part=number,
                seconds=0.0,
                condition=condition,
            )
            found[part.feeder] = sound_range(test, sound.predict(test))
    return found


def expected(
    dictionary: Dictionary, condition: Condition, mains: float | None = None
) -> dict[str, tuple[float, float]]:
    """Return what each net reads on a sound board in a condition, in its own mode."""
    found = {}
    for number, part in enumerate(dictionary.tree.parts):
        for net, is_ac in zip(part.nets, part.is_ac, strict=True):
            test = Test(
                kind=TestKind.AC if is_ac else TestKind.DC,
                target=net,
                part=number,
                seconds=0.0,
                condition=condition,
            )
            found[net] = sound_range(test, dictionary.predict(test), mains)
    return found

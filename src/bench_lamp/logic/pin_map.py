"""A chip's pins toned to ground: which should beep, which did, and what the difference says."""

from collections.abc import Iterable
from typing import Literal

from msgspec import Struct

PinWord = Literal["burnt through", "wrong reference", "pin not grounded", "as expected"]


class PinVerdict(Struct, frozen=True, kw_only=True):
    """What the map of one chip says."""

    word: PinWord
    #: Pins that beep and should not; pins that should and do not.
    extra: tuple[int, ...]
    missing: tuple[int, ...]
    sentence: str

    @property
    def is_good(self) -> bool:
        """Whether nothing speaks against the chip; that is no proof that it is good."""
        return self.word == "as expected"


def judge_pins(
    pins: int, low: Iterable[int], found: Iterable[int], *, ground: int | None = None
) -> PinVerdict:
    """Judge a pin-to-ground map by its patterns.

    Parameters
    ----------
    pins : int
        Number of pins of the package.
    low : iterable of int
        Pins that are at ground on a good board: they must beep.
    found : iterable of int
        Pins that beeped.
    ground : int, optional
        The part's own ground pin, where the other lead lies: it must beep whenever any pin does.

    Raises
    ------
    ValueError
        When a pin is none of the package's.

    Notes
    -----
    Some extra lows are burnt through. When nothing beeps although something should, or all pins
    beep, or another pin does and the ground pin does not, the lead is on another net, or the pins
    were counted from another pin 1: that says nothing of the part. All as expected is no proof: a
    part can fail in other ways.

    Examples
    --------
    >>> judge_pins(16, [8], [3, 8]).word, judge_pins(16, [8], []).word
    ('burnt through', 'wrong reference')
    """
    wanted, beeped = frozenset(low), frozenset(found)
    strange = sorted(p for p in wanted | beeped if not 1 <= p <= pins)
    if strange:
        raise ValueError(f"pin {strange[0]} is not on a package of {pins} pins")
    extra, missing = tuple(sorted(beeped - wanted)), tuple(sorted(wanted - beeped))
    wrong = _wrong_reference(pins, wanted, beeped, ground)
    if wrong:
        return PinVerdict(word="wrong reference", extra=extra, missing=missing, sentence=wrong)
    word, sentence = _pattern(extra, missing)
    return PinVerdict(word=word, extra=extra, missing=missing, sentence=sentence)


def _wrong_reference(
    pins: int, wanted: frozenset[int], beeped: frozenset[int], ground: int | None
) -> str:
    """Say why a map is of another net, or counted from another pin; empty where it is not."""
    if wanted and not beeped:
        return (
            "Nothing beeps, not even its own ground pin: the lead is not on this part's ground. "
            "Move it to the part's ground pin and test again."
        )
    if len(beeped) == pins > len(wanted):
        return (
            "Every pin beeps: the leads touch, or the lead lies on a supply that is shorted to ground. "
            "Lift it, check that it is silent in the air, and test again."
        )
    if ground is not None and ground in wanted and beeped and ground not in beeped:
        others = ", ".join(map(str, sorted(beeped)))
        return (
            f"Its own ground pin {ground} is silent while {others} beeps: another net, or counted from "
            "the wrong pin 1. Find the notch, and test again."
        )
    return ""


def _pattern(extra: tuple[int, ...], missing: tuple[int, ...]) -> tuple[PinWord, str]:
    if extra:
        names = ", ".join(map(str, extra))
        plural = "s" if len(extra) > 1 else ""
        return "burnt through", f"Pin{plural} {names} at ground and should not be: burnt through."
    if missing:
        names = ", ".join(map(str, missing))
        return "pin not grounded", (
            f"Pin {names} should be at ground: a broken pin, joint or track before the part is blamed."
        )
    return (
        "as expected",
        "As expected. That is not proof: only a part that is burnt through shows here.",
    )

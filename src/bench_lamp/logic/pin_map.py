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


def judge_pins(pins: int, low: Iterable[int], found: Iterable[int]) -> PinVerdict:
    """Judge a pin-to-ground map by its three patterns.

    Parameters
    ----------
    pins : int
        Number of pins of the package.
    low : iterable of int
        Pins that are at ground on a good board: they must beep.
    found : iterable of int
        Pins that beeped.

    Raises
    ------
    ValueError
        When a pin is none of the package's.

    Notes
    -----
    Extra lows are burnt through. When nothing beeps although something should, the lead is not
    on the part's own ground. All as expected is no proof: a part can fail in other ways.

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
    word, sentence = _pattern(wanted, beeped, extra, missing)
    return PinVerdict(word=word, extra=extra, missing=missing, sentence=sentence)


def _pattern(
    wanted: frozenset[int], beeped: frozenset[int], extra: tuple[int, ...], missing: tuple[int, ...]
) -> tuple[PinWord, str]:
    if wanted and not beeped:
        return "wrong reference", (
            "Nothing beeps, not even its own ground pin: the lead is not on this part's ground. "
            "Move it to the part's ground pin and test again."
        )
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

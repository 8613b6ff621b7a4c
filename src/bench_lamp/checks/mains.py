"""Selector, sticker and fuse must agree before the set meets the mains."""

from collections.abc import Mapping, Sequence
from typing import Literal

from msgspec import Struct

from bench_lamp.board import MainsOption
from bench_lamp.units import FuseRating, UnitError, exact, parse_quantity

UNKNOWN = "not readable"
NONE = "none"
PLACES = ("selector", "sticker", "fuse")


class MainsVerdict(Struct, frozen=True, kw_only=True):
    """What the three places say together."""

    status: Literal["agree", "mismatch", "unknown", "unneeded"]
    reason: str
    #: The table's line for the volts that are set, where selector and sticker do not contradict.
    option: MainsOption | None = None

    @property
    def stops_the_wake_up(self) -> bool:
        """Whether the set must not be switched on as it is: what was not looked at may be wrong."""
        return self.status in {"mismatch", "unknown"}


def check_mains(options: Sequence[MainsOption], seen: Mapping[str, str]) -> MainsVerdict:
    """Compare what was seen at the places with the table of a set.

    `seen` has a text by place: `selector`, `sticker`, `fuse`.

    Selector and sticker must name the same of the table's voltages, and the fuse
    must have the rating and speed that belong to it. What could not be read is
    unknown, never taken as agreeing.
    """
    if not options:
        return MainsVerdict(status="unneeded", reason="the profile has no mains table")
    named = {place: seen.get(place, "") for place in PLACES}
    volts = {p: _volts(named[p]) for p in ("selector", "sticker")}
    known = [value for value in volts.values() if value is not None]
    if len(set(known)) > 1:
        words = ", ".join(f"{place} says {named[place]}" for place in volts)
        return _mismatch(f"{words}. Find out which is right before the set meets the mains.")
    option = next((o for o in options if known and o.volts == known[0]), None)
    if known and option is None:
        return _mismatch(f"{exact(known[0], 'V')} is not in the profile's table.")
    return _check_fuse(options, named, option)


def _check_fuse(
    options: Sequence[MainsOption], named: dict[str, str], option: MainsOption | None
) -> MainsVerdict:
    rating = fuse_seen(named["fuse"])
    if named["fuse"] == NONE:
        return _mismatch("There is no mains fuse in the holder.", option)
    if rating and option and rating != option.fuse:
        return _mismatch(
            f"The mains fuse is {rating}; at {exact(option.volts, 'V')} it must be {option.fuse}.",
            option,
        )
    if rating and rating not in {o.fuse for o in options}:
        return _mismatch(f"The mains fuse is {rating}, which belongs to no voltage of this set.")
    if option is None or rating is None:
        missing = [place for place, text in named.items() if not text or text == UNKNOWN]
        what = ", ".join(missing) or "the voltage"
        return MainsVerdict(
            status="unknown", reason=f"Mains side not known: {what}.", option=option
        )
    return MainsVerdict(
        status="agree", reason=f"{exact(option.volts, 'V')} and {option.fuse} agree", option=option
    )


def _mismatch(reason: str, option: MainsOption | None = None) -> MainsVerdict:
    return MainsVerdict(status="mismatch", reason=reason, option=option)


def _volts(text: str) -> float | None:
    try:
        return parse_quantity(text, "V").value if text not in {"", NONE, UNKNOWN} else None
    except UnitError:
        return None


def fuse_seen(text: str) -> FuseRating | None:
    """Read a fuse rating that was noted; None when it is none."""
    try:
        return FuseRating.parse(text)
    except UnitError:
        return None

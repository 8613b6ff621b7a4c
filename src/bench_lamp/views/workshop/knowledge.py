"""What a profile can do now, and what each next piece of knowledge would add."""

from collections.abc import Callable

from msgspec import Struct

from bench_lamp.board import Profile


class Knowledge(Struct, frozen=True, kw_only=True):
    """One piece of knowledge about a board."""

    name: str
    #: What it lets the program do.
    gives: str
    #: How one gets it in.
    how: str
    #: How much of it there is, in a few words; empty for none.
    have: str = ""


def _count(number: int, word: str) -> str:
    return f"{number} {word}{'s' if number != 1 else ''}" if number else ""


_PIECES: tuple[tuple[str, str, str, Callable[[Profile], str]], ...] = (
    (
        "points",
        "each reading stands beside the last visit’s",
        "say 5V 5, or paste a table",
        lambda p: _count(len(p.test_points), "point"),
    ),
    ("limits", "each reading has a verdict", "say them: TP3 4.75..5.25", lambda p: _limits(p)),
    (
        "fuses and parts",
        "Trace names them in its usual order",
        "F1 fuse 8 A slow",
        lambda p: _count(len(p.fuses) + len(p.parts), "part"),
    ),
    (
        "power tree",
        "every fault gets its odds",
        "add a supply: Alt+s",
        lambda p: _count(len(p.power), "block"),
    ),
    (
        "practice",
        "what good boards really read",
        "read a good board, Alt+g",
        lambda p: _count(sum(x.practice is not None for x in p.test_points), "point"),
    ),
    (
        "cold ohms",
        "a rail that is low is seen before power",
        "5V 150Ω on the card of a good board, Alt+g",
        lambda p: (
            _count(sum(x.cold is not None for x in p.test_points), "point")
            or ("by the model" if p.power else "")
        ),
    ),
    (
        "cold tests",
        "what is tested before power",
        "coils, rows, pin_maps in the file",
        lambda p: _count(sum(map(len, (p.coils, p.rows, p.pin_maps, p.semiconductors))), "test"),
    ),
    (
        "wake-up",
        "power goes on in stages, each gated by the one before",
        "wake in the file",
        lambda p: _count(len(p.wake.gates), "gate") if p.wake else "",
    ),
    (
        "lanes",
        "self-tests point at the chips on the lines they touch",
        "chips and lanes in the file",
        lambda p: _count(len(p.lanes) + len(p.self_tests), "test"),
    ),
)


def _limits(profile: Profile) -> str:
    known = sum(p.design is not None and not p.assumed for p in profile.test_points)
    assumed = sum(p.assumed for p in profile.test_points)
    said = _count(known, "point")
    if not assumed:
        return said
    return f"{said}, {assumed} assumed" if said else f"{assumed} assumed"


def knowledge(profile: Profile) -> tuple[Knowledge, ...]:
    """Return each piece of knowledge, in the order in which it pays."""
    return tuple(
        Knowledge(name=name, gives=gives, how=how, have=have(profile))
        for name, gives, how, have in _PIECES
    )


def next_piece(profile: Profile) -> Knowledge | None:
    """Return the first piece that is not there at all."""
    return next((k for k in knowledge(profile) if not k.have), None)

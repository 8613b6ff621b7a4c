"""The clock of a coil that must not stay energised: how long it may be on, how long it rests."""

from msgspec import Struct


class CoilClock(Struct, frozen=True, kw_only=True):
    """A coil that must not stay energised; moments in seconds of the clock, 0 for none."""

    name: str
    is_on: bool
    off_by: float
    rest_until: float
    on_s: float
    rest_s: float
    warm: float


def is_cold(coil: CoilClock, now: float) -> bool:
    """Return whether a coil is off, and has rested enough at a moment, in seconds of the same clock."""
    return not coil.is_on and coil.rest_until <= now


def coil_words(coil: CoilClock, now: float) -> tuple[str, str, float]:
    """Return what a coil’s clock says at a moment, its verdict, and what is left of its time, from 0 to 1.

    Parameters
    ----------
    coil : CoilClock
        As its last event left it.
    now : float
        In seconds of the same clock.
    """
    if coil.is_on:
        left = coil.off_by - now
        if left <= 0:
            return f"{coil.name}: LET GO NOW", "high", 0.0
        return (
            f"{coil.name} on: let go within {left:.0f}\u202fs",
            "edge",
            min(left / coil.on_s, 1.0),
        )
    rest = coil.rest_until - now
    if rest > 0:
        return f"{coil.name} rests {rest:.0f}\u202fs more", "noisy", min(rest / coil.rest_s, 1.0)
    return f"{coil.name} cold: {coil.on_s:g}\u202fs at most", "within", 1.0

"""The clocks on a card: a coil that must not stay energised, and a moment that something is due at."""

import math

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


class DueClock(Struct, frozen=True, kw_only=True):
    """A moment that something is due at, in seconds of the clock."""

    name: str
    due: float
    #: How long it takes in all, in seconds: for how full its bar is.
    span: float
    #: The probe may rest on the one point that is read: what stands there when it is due counts.
    rests: bool = False


def due_words(clock: DueClock, now: float) -> tuple[str, str, float]:
    """Return what a due moment’s clock says, its verdict, and what is left of its time, from 0 to 1.

    >>> due_words(DueClock(name="read A", due=90.0, span=60.0), 45.0)
    ('read A in 0:45', 'noisy', 0.75)
    >>> due_words(DueClock(name="read A", due=90.0, span=60.0), 91.0)[0]
    'now: read A'
    """
    left = clock.due - now
    if left <= 0:
        return f"now: {clock.name}", "edge", 0.0
    minutes, seconds = divmod(math.ceil(left), 60)
    hours, minutes = divmod(minutes, 60)
    words = f"{hours}:{minutes:02d}:{seconds:02d}" if hours else f"{minutes}:{seconds:02d}"
    return f"{clock.name} in {words}", "noisy", min(left / clock.span, 1.0) if clock.span else 0.0


def clock_words(clock: CoilClock | DueClock, now: float) -> tuple[str, str, float]:
    """Return what a card’s clock says at a moment, its verdict, and what is left, from 0 to 1."""
    if isinstance(clock, DueClock):
        return due_words(clock, now)
    return coil_words(clock, now)


def is_ticking(clock: CoilClock | DueClock | None) -> bool:
    """Return whether a clock changes by itself."""
    if clock is None:
        return False
    return isinstance(clock, DueClock) or clock.is_on or bool(clock.rest_until)


def is_quiet(clock: CoilClock | DueClock | None, now: float) -> bool:
    """Return whether a clock has nothing to say: a cold coil is no news."""
    return clock is None or (isinstance(clock, CoilClock) and is_cold(clock, now))


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

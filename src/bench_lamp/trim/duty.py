"""How long a coil may stay on: it warms on its allowed time, and cools over its rest.

A linear bucket: on time fills it in `on_s` seconds, rest empties it in `rest_s`. Heat that is left
counts against the next pull.
"""

from collections.abc import Sequence


def heat(pulls: Sequence[tuple[float, float]], now: float, *, on_s: float, rest_s: float) -> float:
    """Return how warm a coil is, from 0 cold to 1 at its limit, and above.

    Parameters
    ----------
    pulls : sequence of (begin, end)
        In seconds, rising; the last may still be on, with its end at `now`.
    now : float
        In seconds on the same clock.
    on_s, rest_s : float
        The longest pull of a cold coil, and the rest after it, in seconds.
    """
    warm, last = 0.0, pulls[0][0] if pulls else now
    for begin, end in pulls:
        warm = max(warm - (begin - last) / rest_s, 0.0) + (min(end, now) - begin) / on_s
        last = min(end, now)
    return max(warm - (now - last) / rest_s, 0.0)


def left_s(warm: float, on_s: float) -> float:
    """Return how long a coil may be on from now, in seconds; 0 at its limit."""
    return max(1.0 - warm, 0.0) * on_s


def rest_left_s(warm: float, rest_s: float) -> float:
    """Return how long it must rest until it is cold, in seconds."""
    return warm * rest_s

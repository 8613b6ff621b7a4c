"""Channels of a receiver: what a counter must show, how far it is off, and what that can claim.

f_LO = f_RX − f_IF with the injection below, f_RX + f_IF above; with a multiplier n the crystal is at f_LO/n.
Frequencies are whole hertz here, so nothing is rounded but what the counter rounds.
"""

from collections.abc import Sequence
from fractions import Fraction
from typing import Literal

from msgspec import Struct

Side = Literal["low", "high"]
#: Channels from which a common error is told from single ones.
LEAST_COMMON = 4
#: How much smaller the scatter about a common error must be than the error itself.
COMMON_SHARE = 0.35


class Injection(Struct, frozen=True, kw_only=True):
    """How a receiver makes its injection."""

    #: First intermediate frequency, in hertz.
    if_hz: int
    side: Side = "low"
    #: The counter sits before so much multiplication.
    multiplier: int = 1


class Deviation(Struct, frozen=True, kw_only=True):
    """How far a counter's reading is off, at the channel's own frequency."""

    #: Counter against what it should show, in hertz.
    hertz: float
    ppm: float
    #: How far off the counter itself may be, in hertz at the channel.
    doubt_hz: float
    word: Literal["within", "edge", "low", "high"]

    @property
    def channel_hz(self) -> float:
        """How far off the channel is, in hertz."""
        return self.hertz


def expected_hz(plan: Injection, channel_hz: int) -> Fraction:
    """Return what the counter must show for a channel, in hertz, exactly.

    >>> float(expected_hz(Injection(if_hz=21_400_000), 156_800_000))
    135400000.0
    >>> float(expected_hz(Injection(if_hz=21_400_000, multiplier=3), 156_800_000))
    45133333.333333336
    """
    sign = 1 if plan.side == "high" else -1
    return Fraction(channel_hz + sign * plan.if_hz, plan.multiplier)


def channel_of(plan: Injection, counter_hz: float) -> float:
    """Return the channel that a counter's reading makes, in hertz: reading + IF = channel."""
    sign = -1 if plan.side == "high" else 1
    return counter_hz * plan.multiplier + sign * plan.if_hz


def deviation(
    plan: Injection,
    channel_hz: int,
    counter_hz: float,
    *,
    allowed_hz: float,
    counter_ppm: float = 0.0,
    digit_hz: float = 0.0,
) -> Deviation:
    """Judge a reading of the counter.

    Parameters
    ----------
    plan : Injection
        Of the receiver.
    channel_hz : int
        What the channel must be, in hertz.
    counter_hz : float
        What the counter shows, in hertz.
    allowed_hz : float
        How far the channel may be off either way, in hertz.
    counter_ppm : float
        How far off the counter may be, in parts per million.
    digit_hz : float
        Value of the counter's last digit, in hertz.
    """
    off = Fraction(counter_hz).limit_denominator(1000) - expected_hz(plan, channel_hz)
    at_channel = float(off * plan.multiplier)
    doubt = (counter_hz * counter_ppm * 1e-6 + digit_hz / 2) * plan.multiplier
    ppm = float(off / expected_hz(plan, channel_hz) * 1_000_000)
    return Deviation(
        hertz=at_channel, ppm=ppm, doubt_hz=doubt, word=_word(at_channel, allowed_hz, doubt)
    )


def _word(off: float, allowed: float, doubt: float) -> Literal["within", "edge", "low", "high"]:
    if abs(off) > allowed + doubt:
        return "low" if off < 0 else "high"
    return "within" if abs(off) <= allowed - doubt else "edge"


def common_ppm(found: Sequence[float]) -> float | None:
    """Return by how much all channels are off alike, in parts per million; None where they are not.

    Then it is the counter, or the reference that all of them share: no trimmer of a channel.
    """
    if len(found) < LEAST_COMMON:
        return None
    middle = sorted(found)[len(found) // 2]
    away = sorted(abs(x - middle) for x in found)
    # One channel that is off for reasons of its own does not hide what the others share.
    scatter = away[int(0.8 * (len(away) - 1))]
    return middle if abs(middle) > 0 and scatter <= COMMON_SHARE * abs(middle) else None

"""Channels of a receiver as they were counted: which is off, by how much, and whether all are off alike."""

from collections.abc import Mapping

from msgspec import Struct

from bench_lamp.board.trims import Channel, ChannelsTrim
from bench_lamp.case.case import Case
from bench_lamp.case.trims.rounds import is_warm, reads_of, round_of, steps_done
from bench_lamp.journal.state import TrimTold
from bench_lamp.journal.trim_events import AdjusterTurned, TrimRead
from bench_lamp.trim.channels import (
    Deviation,
    Injection,
    channel_of,
    common_ppm,
    deviation,
    expected_hz,
)

#: The step in which what was counted cold is taken all the same.
COLD_TAKEN = "counted cold"


class Counted(Struct, frozen=True, kw_only=True):
    """All channels, those that were counted with how far off they are."""

    found: Mapping[str, Deviation]
    #: What the counter showed last of each, in hertz.
    shown: Mapping[str, float]
    #: Channels whose trimmer was turned since they were counted.
    turned: frozenset[str]
    #: Channels that were counted before it was warm: what they show now may drift yet.
    cold: frozenset[str]
    #: What all are off by alike, in parts per million; None where they are not.
    common: float | None

    def is_right(self, channel: str) -> bool:
        """Whether a channel is as near as it must be."""
        one = self.found.get(channel)
        if channel in self.turned:
            return False
        return one is not None and one.word in {"within", "edge"}


def injection_of(trim: ChannelsTrim) -> Injection:
    """Return how the receiver makes its injection."""
    return Injection(if_hz=round(trim.if_), side=trim.injection, multiplier=trim.multiplier)


def wanted_hz(trim: ChannelsTrim, channel: Channel) -> float:
    """Return what the counter must show for a channel, in hertz."""
    return float(expected_hz(injection_of(trim), round(channel.hertz)))


def counted(case: Case, trim: ChannelsTrim) -> Counted:
    """Judge every channel by its last reading."""
    told = round_of(case, trim)
    plan, found, shown, cold = injection_of(trim), {}, {}, set()
    for channel in trim.channels:
        reads = reads_of(told, channel.id)
        if not reads:
            continue
        last = reads[-1]
        shown[channel.id] = last.value
        if not is_warm(case, trim, last.seconds):
            cold.add(channel.id)
        found[channel.id] = deviation(
            plan,
            round(channel.hertz),
            last.value,
            allowed_hz=trim.allowed,
            counter_ppm=trim.counter_ppm,
            digit_hz=last.resolution,
        )
    ppm = [d.ppm for d in found.values()]
    # What the counter itself may be off by says nothing of the receiver.
    shared = common_ppm(ppm)
    if shared is not None and abs(shared) <= trim.counter_ppm:
        shared = None
    is_taken = COLD_TAKEN in steps_done(told)
    return Counted(
        found=found,
        shown=shown,
        common=shared,
        turned=_turned(trim, told),
        cold=frozenset() if is_taken else frozenset(cold),
    )


def _turned(trim: ChannelsTrim, told: tuple[TrimTold, ...]) -> frozenset[str]:
    by_trimmer = {c.trimmer: c.id for c in trim.channels if c.trimmer}
    turned: set[str] = set()
    for t in told:
        if isinstance(t.body, AdjusterTurned):
            turned.add(by_trimmer.get(t.body.adjuster, ""))
        elif isinstance(t.body, TrimRead):
            turned.discard(t.body.what)
    return frozenset(turned - {""})


def in_socket_order(trim: ChannelsTrim) -> tuple[Channel, ...]:
    """Return the channels by their crystals’ sockets, as the hand goes over the board."""
    return tuple(sorted(trim.channels, key=lambda c: (_number(c.socket), c.socket, _number(c.id))))


def _number(name: str) -> int:
    digits = "".join(d for d in name if d.isdigit())
    return int(digits) if digits else 0


def nearest(trim: ChannelsTrim, counter_hz: float) -> Channel:
    """Return the channel whose reading this is: reading + IF = channel."""
    at = channel_of(injection_of(trim), counter_hz)
    return min(trim.channels, key=lambda c: abs(c.hertz - at))

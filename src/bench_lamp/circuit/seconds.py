"""What may feed a net beside its own supply: a battery through a diode, dirt between two pins."""

import re
from collections.abc import Iterator, Mapping, Sequence

from bench_lamp.board import Profile
from bench_lamp.board.blocks import Diode, Inlet, Pin, second_feeders
from bench_lamp.circuit.parts import SecondSource, TreePart

#: Ohms of a second source whose profile gives none, with its diode.
BATTERY_OHMS = 5.0
#: The higher of two neighbours must have so many times the lower one's volts to lift it.
HIGHER = 1.4
_NUMBER = re.compile(r"(.+)\.(\d+)")


def second_sources(
    profile: Profile, part: TreePart, parts: Sequence[TreePart]
) -> Iterator[SecondSource]:
    """Yield what may feed the nets of a part beside their own supply."""
    yield from _backups(profile, part, parts)
    yield from _leaks(profile, part, parts)


def _backups(profile: Profile, part: TreePart, parts: Sequence[TreePart]) -> Iterator[SecondSource]:
    """Yield the sources that feed a net of the part through a diode of their own."""
    seconds = second_feeders(profile.power)
    for diode in (b for b in profile.power if isinstance(b, Diode) and b.id in seconds):
        home = next((p for p in parts if diode.from_ in p.nets), None)
        level = abs(_level(home, diode.from_)) if home is not None else 0.0
        if diode.to in part.nets and home is not part and level > diode.volts:
            feeder = profile.block(home.feeder) if home is not None else None
            ohms = feeder.ohms if isinstance(feeder, Inlet) else None
            yield SecondSource(
                block=diode.id,
                net=diode.to,
                volts=level - diode.volts,
                ohms=ohms or BATTERY_OHMS,
                is_wanted=True,
            )


def _leaks(profile: Profile, part: TreePart, parts: Sequence[TreePart]) -> Iterator[SecondSource]:
    """Yield the pins that a higher neighbour on the same connector may reach through dirt."""
    pins = {b.id: b for b in profile.power if isinstance(b, Pin)}
    for pin in (p for p in pins.values() if p.to in part.nets):
        low = _level(part, pin.to)
        for other in _neighbours(pin, pins):
            home = next((p for p in parts if other.to in p.nets), None)
            high = _level(home, other.to) if home is not None else 0.0
            if low * high > 0 and abs(high) > HIGHER * abs(low):
                yield SecondSource(
                    block=pin.id,
                    net=pin.to,
                    volts=abs(high),
                    ohms=0.0,
                    is_wanted=False,
                    from_net=other.to if home is part else "",
                )


def _neighbours(pin: Pin, pins: Mapping[str, Pin]) -> Iterator[Pin]:
    """Yield the pins beside one, by their numbers: J1.3 and J1.5 beside J1.4."""
    found = _NUMBER.fullmatch(pin.id)
    numbers = (int(found[2]) - 1, int(found[2]) + 1) if found else ()
    names = (f"{found[1]}.{number}" for number in numbers if found)
    yield from (pins[name] for name in names if name in pins)


def _level(part: TreePart, net: str) -> float:
    """Return what a DC net carries, signed; 0 of one on AC."""
    i = part.index(net)
    return 0.0 if part.is_ac[i] else part.nominal_v[i] * part.sign[i]

"""Pins that a logic probe looks at: of the processor first, when nothing runs."""

from bench_lamp.board import Profile
from bench_lamp.board.chips import ProbePin
from bench_lamp.logic.clue import LogicClue, LogicKind

#: Id of the item that stands for the processor's pins.
PINS = "pins"


def vital_pins(profile: Profile) -> dict[str, ProbePin]:
    """Return the pins that are looked at first when nothing runs, by `IC1:37`."""
    return {
        f"{chip.id}:{pin.pin}": pin for chip in profile.chips for pin in chip.probes if pin.vital
    }


def pin_of(profile: Profile, name: str) -> ProbePin | None:
    """Return a pin that is worth a probe, by `U7:26`."""
    part, _, number = name.partition(":")
    chip = profile.chip(part)
    return next((p for p in chip.probes if str(p.pin) == number), None) if chip else None


def pin_clue(profile: Profile, part: str, number: int, event: str, level: str) -> LogicClue | None:
    """Return the clue of a probed pin; None where the profile says nothing of it."""
    name = f"{part}:{number}"
    pin = pin_of(profile, name)
    if pin is None:
        return None
    return LogicClue(
        event=event,
        kind=LogicKind.PROBE,
        target=name,
        line=pin.line,
        code="right" if level == pin.should else "wrong",
        text=f"{part} pin {number} {level}",
    )

"""What can hurt on a kind of set beyond its volts, each with the steps that it belongs to."""

from typing import Literal

from bench_lamp.board.written import FromFile

HazardStep = Literal["look", "hands", "power"]
HazardKind = Literal[
    "picture tube", "isolation transformer", "laser", "battery", "hot parts", "moving parts"
]

_STEPS: dict[HazardKind, tuple[HazardStep, ...]] = {
    "picture tube": ("look", "hands"),
    "isolation transformer": ("power",),
    "laser": ("power",),
    "battery": ("look",),
    "hot parts": ("hands",),
    "moving parts": ("power",),
}
_WORDS: dict[HazardKind, str] = {
    "picture tube": "{place}: the picture tube holds thousands of volts for days. "
    "Keep hands off its anode, and do not knock its neck.",
    "isolation transformer": "{place}: an isolation transformer protects only from mains to earth. "
    "Across its output or a charged capacitor it protects from nothing.",
    "laser": "{place}: laser. Never look into the lens with power on; covers stay on.",
    "battery": "{place}: what leaks from a battery burns skin and eyes. Gloves and glasses.",
    "hot parts": "{place}: hot enough to burn for minutes after switching off.",
    "moving parts": "{place}: can move by itself with power on. Keep fingers away.",
}


class Hazard(FromFile, frozen=True, kw_only=True):
    """One hazard of a kind of set."""

    kind: HazardKind
    #: Where it is, as a person would say it: `the monitor`, `BT1 on the logic board`.
    place: str
    #: The part that it is, where it has a name of its own.
    part: str = ""

    @property
    def steps(self) -> tuple[HazardStep, ...]:
        """The steps that it belongs to."""
        return _STEPS[self.kind]

    @property
    def text(self) -> str:
        """The caution in plain words."""
        words = _WORDS[self.kind].format(place=self.place)
        return words[0].upper() + words[1:]

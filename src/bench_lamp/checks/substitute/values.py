"""What a rule of substitution says."""

from enum import StrEnum

from msgspec import Struct


class State(StrEnum):
    """How an offered part stands to a rule."""

    MET = "met"
    BETTER = "better than it came"
    #: The offered part does not say; it is to be looked up or measured.
    NOT_SAID = "not said"
    NOT_MET = "not met"


class Rule(Struct, frozen=True, kw_only=True):
    """One rule, and whether an offered part keeps it."""

    #: `volts`, `value`, `polarity`: what it is about.
    about: str
    state: State
    text: str


class Around(Struct, frozen=True, kw_only=True):
    """What the circuit around a part says of it; 0 or empty where nobody knows."""

    #: Working volts across it.
    volts: float = 0.0
    #: Peak of the current at switch-on, in amperes, and what the rectifier before it is made for.
    inrush: float = 0.0
    rectifier: float = 0.0
    #: Types that the profile allows in its place, with the order of their pins.
    equivalents: tuple[tuple[str, tuple[str, ...]], ...] = ()
    #: Right ratings of a fuse for this mains, as text; empty where the part's own counts.
    fuses: tuple[str, ...] = ()


def at_least(
    about: str, have: float, want: float, text: str, *, room: float = 1e-6
) -> tuple[Rule, ...]:
    """Return the rule that a figure is not below; none where it was not known of the part that was there."""
    if not want:
        return ()
    if not have:
        return (Rule(about=about, state=State.NOT_SAID, text=f"{about}: {text} at least"),)
    state = (
        State.NOT_MET
        if have < want * (1 - room)
        else State.BETTER
        if have > want * 1.05
        else State.MET
    )
    return (Rule(about=about, state=state, text=f"{about} {text} at least"),)


def same(about: str, have: str, want: str, *, why: str = "") -> tuple[Rule, ...]:
    """Return the rule that a word is the same; none where it was not known."""
    if not want:
        return ()
    if not have:
        return (Rule(about=about, state=State.NOT_SAID, text=f"{about}: {want}"),)
    is_same = have.lower() == want.lower()
    text = f"{about} {have} for {want}" if not is_same else f"{about} {have}"
    return (
        Rule(
            about=about,
            state=State.MET if is_same else State.NOT_MET,
            text=f"{text}{why if not is_same else ''}",
        ),
    )


def rule(about: str, is_met: bool, text: str, *, is_better: bool = False) -> tuple[Rule, ...]:
    """Return one rule that is met or not."""
    state = State.BETTER if is_met and is_better else State.MET if is_met else State.NOT_MET
    return (Rule(about=about, state=state, text=text),)

"""The marks that a cell of a self-test can be given, and the key of each."""

from msgspec import Struct


class MarkChoice(Struct, frozen=True, kw_only=True):
    """One way that a cell behaves."""

    key: str
    word: str
    text: str


#: By the kind of item, the marks that can be given, the usual one first.
MARK_CHOICES: dict[str, tuple[MarkChoice, ...]] = {
    "switches": (
        MarkChoice(key="c", word="good", text="Closes when worked"),
        MarkChoice(key="n", word="dead", text="Nothing shows"),
        MarkChoice(key="s", word="stuck", text="Shows with nothing on it"),
        MarkChoice(key="w", word="another", text="Another one shows …"),
    ),
    "lamps": (
        MarkChoice(key="l", word="good", text="Lights"),
        MarkChoice(key="d", word="dead", text="Stays dark"),
        MarkChoice(key="s", word="stuck", text="Stays lit"),
        MarkChoice(key="w", word="another", text="Another one lights …"),
    ),
    "coils": (
        MarkChoice(key="f", word="good", text="Fired"),
        MarkChoice(key="w", word="weak", text="Weak"),
        MarkChoice(key="s", word="dead", text="Silent"),
        MarkChoice(key="l", word="locked on", text="Stays in: LOCKED ON"),
    ),
    "sounds": (
        MarkChoice(key="p", word="good", text="Plays"),
        MarkChoice(key="w", word="weak", text="Weak or distorted"),
        MarkChoice(key="s", word="dead", text="Silent"),
    ),
    "harness": (
        MarkChoice(key="p", word="good", text="Passes"),
        MarkChoice(key="f", word="dead", text="Fails"),
    ),
    "pins": (
        MarkChoice(key="h", word="high", text="Steady high"),
        MarkChoice(key="l", word="low", text="Steady low"),
        MarkChoice(key="p", word="pulsing", text="Pulsing"),
        MarkChoice(key="f", word="floating", text="Floating"),
    ),
}


#: A switch that a ball works: what closes it matters.
BALL_CHOICES = (
    MarkChoice(key="c", word="good", text="Closes under the ball"),
    MarkChoice(key="f", word="finger only", text="A finger closes it, the ball does not"),
    *MARK_CHOICES["switches"][1:],
)

"""What tests look at a job with: its case and where the hand is, as one value for both."""

from typing import NamedTuple

from msgspec.structs import fields, replace

from bench_lamp import stages
from bench_lamp.cards.card import Answer, Choice, Typed
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand

HAND_FIELDS = {field.name for field in fields(Hand)}


class Seen(NamedTuple):
    """A case and a hand: `card_for("rails", *seen)`, `is_awake(seen.case)`."""

    case: Case
    hand: Hand = Hand()

    def but(self, **more: object) -> "Seen":
        """Return the same with some fields of either changed."""
        ours = {name: more.pop(name) for name in list(more) if name in HAND_FIELDS}
        return Seen(replace(self.case, **more) if more else self.case, replace(self.hand, **ours))


def take(stage: str, case: Case, hand: Hand, text: str, *, source: str = "") -> Answer | None:
    """Return what a typed answer on a stage's card means."""
    return stages.take(stage, case, hand, Typed(text=text, source=source))


def place(choice: Choice) -> str:
    """Write where a choice puts the lamp: `switches@2.3`, `switches`."""
    return f"{choice.focus}@{choice.cell}".rstrip("@")


def parted(place: str) -> dict[str, str]:
    """Return the hand's fields of a place: `switches@2.3` is a test and a cell."""
    focus, _, cell = place.partition("@")
    return {"focus": focus, "cell": cell}

"""What every part of the proof gives the stage: one protocol."""

from collections.abc import Callable

from msgspec import Struct

from bench_lamp.cards.card import Answer, Card, Entry, Typed
from bench_lamp.cards.picture import BenchPicture
from bench_lamp.cards.preview import Preview, preview_reading
from bench_lamp.cards.reading_entry import take_reading
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand


class ProofState(Struct, frozen=True):
    """How far a part of the proof is: a verdict's shape, and a word or count."""

    #: `within` done, `edge` open, `absent` bad; empty for not begun.
    verdict: str
    note: str = ""


class ProofPart(Struct, frozen=True, kw_only=True):
    """One part of the proof."""

    id: str
    name: str
    #: Key that puts it under the lamp, with Alt.
    key: str
    state: Callable[[Case], ProofState]
    #: The next thing to do in the order of the proof; None when nothing of it is wanted.
    next: Callable[[Case, Hand], Card | None]
    #: Its card when somebody picked it; there is always one.
    card: Callable[[Case, Hand], Card]
    take: Callable[[Case, Hand, Entry, Typed], Answer] = take_reading
    preview: Callable[[Case, Hand, Entry, str], Preview] = preview_reading
    #: What the surface shows while it is under the lamp; None for the ladder.
    picture: Callable[[Case, Hand], BenchPicture] | None = None


def nothing_left(part: str, title: str, why: tuple[str, ...]) -> Card:
    """Return the card of a part of which nothing is left to do."""
    return Card(id=f"prove-{part}-done", title=title, why_heading="How it stands", why=why)

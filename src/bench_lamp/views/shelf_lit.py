"""The lit card of the shelf: the next step of the picked job, or what there is to do on an empty one."""

from collections.abc import Sequence

from bench_lamp.cards.card import Card, Choice
from bench_lamp.cards.commands import BeginJob, BringIn, Describe, OpenDemo, OpenJob
from bench_lamp.views.shelf import ShelfCard


def _empty_card(notes: Sequence[str]) -> Card:
    """Return the card of an empty shelf: what there is to do, each by one key."""
    return Card(
        id="shelf-empty",
        kind="Begin",
        title="Put a board on the bench",
        choices=(
            Choice(
                key="Ctrl+N",
                text="New job, on any board",
                note="a tag and a name are enough",
                command=BeginJob(),
            ),
            Choice(
                key="Ctrl+T",
                text="Look at the demo bench",
                note="opens beside, on a copy of its own",
                command=OpenDemo(),
            ),
            Choice(
                key="Ctrl+E",
                text="Describe a board",
                note="its supplies and points, in the workshop",
                command=Describe(),
            ),
            Choice(
                key="Ctrl+O",
                text="Bring in profiles or a bundle",
                note="a look inside first",
                command=BringIn(),
            ),
        ),
        why_heading="What it takes",
        why=("Ten seconds to begin. The board is described while the work goes on.", *notes),
    )


def next_step_card(picked: ShelfCard | None, notes: Sequence[str] = ()) -> Card:
    """Return the lit card of the shelf: what to do with the picked job."""
    if picked is None:
        return _empty_card(notes)
    waits: tuple[str, ...] = ()
    if picked.power_is_live:
        waits = ("The board is marked LIVE. Check it before you touch it.",)
    elif picked.is_power_unsure:
        waits = ("It was LIVE when it was last confirmed. Look before you touch it.",)
    last = " ".join(x for x in (picked.last_text, picked.last_detail) if x)
    waits += (f"Do not switch on. {picked.stop}",) if picked.stop else ()
    lines = [f"Last: {last}." if last else "Nothing read yet."]
    lines += [f"Visit {picked.visits + 1} of this board."] if picked.visits else []
    lines += [f"Last time it said: {picked.advice}"] if picked.advice else []
    return Card(
        id=f"shelf:{picked.job}",
        kind=picked.job,
        title=picked.next_step if not picked.is_closed else f"{picked.job} was {picked.next_step}",
        cautions=waits,
        choices=(Choice(key="Enter", text=f"Open {picked.job}", command=OpenJob(picked.job)),),
        why_heading=picked.board,
        why=(*lines, *notes),
    )

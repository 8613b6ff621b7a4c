"""Which kind of board the workshop is opened on: one that is there, or a new one by its name."""

from collections.abc import Sequence

from bench_lamp.board import Profile
from bench_lamp.cards.card import Answer, Asked, Choice, Refused


def take_kind(text: str, profiles: Sequence[Profile]) -> Answer:
    """Take the name of a kind; one that nobody has described is begun after a question."""
    name = " ".join(text.split())
    words = name.lower().split()
    found = [p for p in profiles if all(w in f"{p.name} {p.id}".lower() for w in words)]
    exact = [p for p in found if name.lower() in {p.name.lower(), p.id.lower()}]
    if not any(c.isalnum() for c in name):
        return Refused(what="A name has a letter or figure in it", mend="Write maker and type.")
    new = Choice(key="n", text=f"Begin a new kind: {name[:40]}", draft={"begin": name[:60]})
    near = (exact or found)[:4]
    known = tuple(
        Choice(key=str(n), text=p.name, draft={"describe": p.id}) for n, p in enumerate(near, 1)
    )
    return Asked(
        question="Which is meant?" if known else "Nobody has described it yet.",
        choices=(*known, new),
    )

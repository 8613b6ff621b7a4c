"""The round after a journey: each plug, card, screw, ground bolt and adjuster is tried by hand, by place."""

from collections.abc import Mapping

from bench_lamp.board.trims import Shaken
from bench_lamp.cards.card import Card, Choice, Lead
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.journal.events import Body, Finding, Seen
from bench_lamp.journal.trim_events import PlaceTried, PlaceWord

#: The question's name among those of the intake, and what leaves the whole round out.
TRANSPORT, NO_JOURNEY = "transport", "no journey"
#: What is found, by the word.
SEEN: Mapping[PlaceWord, Seen] = {
    "was loose": "loose connector",
    "missing": "missing",
    "bad": "burnt",
}
#: How each is tried.
TRY = {
    "plug": "pull lightly, then push it home",
    "card": "rock it in its guides",
    "screw": "a quarter turn with the right blade",
    "ground": "a spanner, then tone it",
    "adjuster": "look, do not turn: note how it stands",
    "part": "hold and shake it lightly",
}


def by_place(case: Case) -> tuple[Shaken, ...]:
    """Return what is gone through, place by place in the profile’s order."""
    places = list(dict.fromkeys(s.place for s in case.profile.transport))
    return tuple(sorted(case.profile.transport, key=lambda s: places.index(s.place)))


def untried(case: Case) -> tuple[Shaken, ...]:
    """Return what was not tried yet; nothing where there was no journey."""
    if NO_JOURNEY in case.state.shaken:
        return ()
    return tuple(s for s in by_place(case) if s.id not in case.state.shaken)


def transport_words(case: Case) -> str:
    """Say how far the round is, for the intake’s sheet; empty before it is begun."""
    shaken, total = case.state.shaken, len(case.profile.transport)
    if NO_JOURNEY in shaken:
        return "no journey"
    bad = [f"{s.id} {shaken[s.id]}" for s in by_place(case) if shaken.get(s.id, "tight") != "tight"]
    done = sum(s.id in shaken for s in case.profile.transport)
    words = f"{done} of {total}{': ' if bad else ''}{', '.join(bad)}"
    return words if done else ""


def transport_card(case: Case, hand: Hand) -> Card:
    """Ask for the next one to be tried."""
    one = next(iter(untried(case)), None) or by_place(case)[-1]
    done = sum(s.id in case.state.shaken for s in case.profile.transport)
    none = PlaceTried(place=NO_JOURNEY, word="tight")
    skip = Choice(key="Alt+n", text="No journey: leave the round out", log=(none,))
    return Card(
        id=f"intake:{TRANSPORT}",
        kind=f"After the journey · {done + 1} of {len(case.profile.transport)}",
        title=f"{one.name[0].upper()}{one.name[1:]}",
        cautions=cautions.for_hands_in(case),
        leads=(Lead(kind="hand", text=one.place), Lead(kind="how", text=TRY[one.what])),
        choices=(
            Choice(key="1", text="Tight", log=_tried(case, one, "tight")),
            Choice(key="2", text="Was loose", note=one.mend, log=_tried(case, one, "was loose")),
            Choice(key="3", text="Missing", log=_tried(case, one, "missing")),
            Choice(key="4", text="Bad: burnt, torn, bent", log=_tried(case, one, "bad")),
        ),
        runners=(skip,) if not done else (),
        why_heading="Why",
        why=("What shakes loose on the road is found with the power off.",),
    )


def _tried(case: Case, one: Shaken, word: PlaceWord) -> tuple[Body, ...]:
    """Return the events; what was loose or missing is a finding on a part that the profile knows."""
    known = (*case.profile.part_ids(), *(b.id for b in case.profile.power))
    body = PlaceTried(place=one.id, word=word)
    if word not in SEEN or one.id not in known or (word == "was loose" and one.what != "plug"):
        return (body,)
    return (body, Finding(seen=SEEN[word], place=one.id))

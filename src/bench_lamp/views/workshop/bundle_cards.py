"""The cards of bundles: a look inside before anything is taken, and one's own to give away."""

from msgspec import Struct

from bench_lamp.board import Profile
from bench_lamp.board.bundle import Bundle
from bench_lamp.board.taking_in import blended
from bench_lamp.cards.card import Card, Choice, Entry
from bench_lamp.views.workshop.rows import RowsView, RowView

#: Differences that are shown.
MOST_LINES = 400


class LookedIn(Struct, frozen=True):
    """A bundle that was looked into, beside what is here."""

    bundle: Bundle
    #: Lines that differ: `- ` stands here, `+ ` in the bundle.
    differences: tuple[str, ...]
    #: The profile of that id that is here; None for none.
    mine: Profile | None


def bundle_card(looked: LookedIn) -> Card:
    """Say what is in a bundle, and offer what can be done with it; nothing here is overwritten."""
    bundle, mine = looked.bundle, looked.mine
    profile = bundle.profile
    made = ", ".join(filter(None, (bundle.made_by, bundle.made_at[:10], bundle.licence)))
    inside = [f"{len(profile.test_points)} points", f"{len(profile.power)} blocks"]
    inside += [f"{len(bundle.pictures)} pictures"] if bundle.pictures else []
    return Card(
        id="bundle",
        kind="A look inside",
        title=profile.name,
        choices=_choices(looked),
        why_heading="What it is",
        why=(
            f"Made by {made}." if made else "Nobody has said who made it.",
            f"{', '.join(inside)}.",
            "You have none of that name." if mine is None else _differs(looked),
            *(f"Changed: {line}" for line in bundle.history[-4:]),
        ),
        can_skip=False,
    )


def _differs(looked: LookedIn) -> str:
    count = len(looked.differences)
    if not count:
        return "It is the same as yours."
    return f"{count} lines differ from yours: they stand on the left, − yours, + the bundle’s."


def _choices(looked: LookedIn) -> tuple[Choice, ...]:
    if looked.mine is None:
        return (Choice(key="1", text="Take it among mine", draft={"bundle": "beside"}),)
    if not looked.differences:
        return (Choice(key="1", text="Done", draft={"bundle": "leave"}),)
    beside = Choice(
        key="1",
        text="Put it beside mine",
        note="under another name; mine stays as it is",
        draft={"bundle": "beside"},
    )
    bands = len(blended(looked.mine, looked.bundle.profile))
    if not bands:
        return (beside,)
    blend = Choice(
        key="2",
        text="Blend its practice into mine",
        note=f"{bands} bands become as wide as both; nothing else changes",
        draft={"bundle": "blend"},
    )
    return beside, blend


def bundle_rows(looked: LookedIn) -> RowsView:
    """Return a row for each line that differs."""
    shown = looked.differences[:MOST_LINES]
    rows = tuple(
        RowView(
            key="",
            name="yours" if line.startswith("-") else "bundle",
            have="",
            remark=line[1:].strip(),
            token="text",
        )
        for line in shown
    )
    more = len(looked.differences) - len(shown)
    note = f"line by line{f'; {more} more' if more > 0 else ''}"
    return RowsView("What differs" if looked.mine else "What is in it", note, rows)


def give_card(profile: Profile) -> Card:
    """Ask who made a profile, and under which licence it may be used."""
    return Card(
        id="bundle-give",
        kind="Workshop",
        title="Save as a bundle",
        entry=Entry(kind="text", field="give", hint="your name, CC BY 4.0"),
        why_heading="What is in it",
        why=(
            f"{profile.name} as open YAML with what it extends, its pictures, their sums, your name "
            "and the licence after the comma.",
            "Whoever opens it looks inside first; nothing of theirs is overwritten.",
        ),
        can_skip=False,
    )

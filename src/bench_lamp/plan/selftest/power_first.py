"""What a self-test needs of the power: on before it is asked, off before a chip comes out."""

from collections.abc import Iterator
from dataclasses import replace

from bench_lamp.plan import cautions
from bench_lamp.plan.card import Card, Choice, Lead
from bench_lamp.plan.selftest.items import Item, items
from bench_lamp.plan.selftest.lane_cards import capture, lane_how, lane_of
from bench_lamp.plan.selftest.standing import cells_now
from bench_lamp.plan.selftest.walk import cell_name
from bench_lamp.plan.selftest.walk_cards import how
from bench_lamp.plan.situation import Situation

#: Told with the board off, or by its very start: the answer asks whether it is live.
NOT_GATED = frozenset({"images", "blinks", "beeps"})


def on_first(situation: Situation, item: Item) -> Card | None:
    """Ask for the power before a test that says something only while the board runs.

    A capture of a lane may have been taken before: it can be read all the same.
    """
    is_told = item.status in {"good", "bad"}
    if situation.state.power.is_live or is_told or item.kind in NOT_GATED:
        return None
    test = situation.profile.self_test(item.id)
    card = switch_on(situation, f"Switch on for {item.name}", how(test) if test else ())
    if item.kind != "lane":
        return card
    lane = lane_of(situation.profile, item.id)
    return replace(card, leads=lane_how(lane), runners=(capture(lane),))


def switch_on(situation: Situation, title: str, leads: tuple[Lead, ...]) -> Card:
    """Ask for the power to be on; what speaks against that comes first."""
    from bench_lamp.plan.gates import wake_stops

    stops = tuple(f"Do not switch on. {reason}" for reason in wake_stops(situation))
    return Card(
        id="selftest-power",
        kind="Power",
        title=title,
        cautions=(*stops, *_stayed_in(situation)) or cautions.for_mains(situation),
        leads=leads,
        choices=(Choice(key="1", text="Confirm that it is on", command="power"),),
        why_heading="Why it is asked",
        why=("The board is marked off, and a board that is off tells nothing.",),
    )


def off_first(situation: Situation, title: str) -> Card:
    """Ask for the power to be off before hands go in."""
    return Card(
        id="",
        title=f"Switch off, then {title}",
        cautions=cautions.for_hands_in(situation),
        choices=(Choice(key="1", text="Confirm that it is off", command="power"),),
    )


def _stayed_in(situation: Situation) -> tuple[str, ...]:
    """Name the coils that stayed in when the board was last on."""
    return tuple(
        f"{coil} stayed in. Coil fuse out before the next start."
        for coil, _ in locked_on(situation)
    )


def locked_on(situation: Situation) -> Iterator[tuple[str, str]]:
    """Yield each coil that stayed in, by name, with the id of the event that said so."""
    for item in items(situation):
        marks = cells_now(situation, item.id) if item.kind == "coils" else {}
        # A profile may have changed since a cell was marked.
        for cell in item.cells:
            if cell in marks and marks[cell].mark == "locked on":
                yield cell_name(situation, item, cell), marks[cell].event

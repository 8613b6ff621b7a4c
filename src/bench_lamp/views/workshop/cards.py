"""The cards of the workshop: what is described next, and how it is said."""

from collections.abc import Callable, Mapping, Sequence

from bench_lamp.board import Block, Profile, TestPoint
from bench_lamp.board.block_entry import example_of, values_of
from bench_lamp.board.blocks import block_inputs, block_label, block_outputs
from bench_lamp.board.supply.kinds import KINDS, kind_of
from bench_lamp.cards.card import Card, Choice, Entry
from bench_lamp.cards.reading_card import drawing_words
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.readings import MODE_UNITS
from bench_lamp.units import band_text, exact
from bench_lamp.units.words import opening
from bench_lamp.views.workshop.bundle_cards import give_card
from bench_lamp.views.workshop.good_board import boards_words, ohms_words
from bench_lamp.views.workshop.knowledge import next_piece
from bench_lamp.views.workshop.map_cards import map_card, start_of
from bench_lamp.views.workshop.pasting import read_paste
from bench_lamp.views.workshop.proof_cards import Proved, good_card, proof_card
from bench_lamp.views.workshop.rails import rail_words

#: What the home card shows beside the board: the proof, a good board's readings.
PROOF, GOOD = "proof", "good"
#: Keys of the supplies, in their order.
KEYS = "1234567890ab"


def choose_card(profiles: Sequence[Profile], text: str = "") -> Card:
    """Ask which kind of board is described."""
    return Card(
        id="workshop-choose",
        kind="Workshop",
        title="Which kind of board?",
        entry=Entry(
            kind="text", field="kind", hint="its name; a new one begins it",
            options=tuple(p.name for p in profiles),
        ),
        choices=tuple(
            Choice(key="", text=p.name, note=p.maker, draft={"describe": p.id}) for p in profiles[:6]
        ),
        why_heading="What for",
        why=("A kind of board is described once. Ten points and a fuse list are useful already.",),
        can_skip=False,
    )  # fmt: skip


def workshop_card(
    case: Case, hand: Hand, proved: Proved | None = None, base: Profile | None = None
) -> Card:
    """Return the card for what is picked, or for the step that was begun.

    `base` is the profile that this one extends.
    """
    step = None if hand.focus else _step_card(case, hand.draft, proved, base)
    if step is not None:
        return step
    block = case.profile.block(hand.focus)
    if block is not None:
        return _block_card(case, block)
    point = case.profile.point(hand.focus)
    if point is not None:
        return _point_card(case, point)
    return _home_card(case)


def _step_card(
    case: Case, draft: Mapping[str, str], proved: Proved | None, base: Profile | None
) -> Card | None:
    """Return the card of the step that was begun; None for none."""
    steps: Mapping[str, Callable[[str], Card]] = {
        PROOF: lambda _: proof_card(case, proved),
        GOOD: lambda _: good_card(case, proved),
        "map": lambda _: map_card(case, draft, base),
        "variant": lambda _: _variant_card(case),
        "give": lambda _: give_card(case.profile),
        "supply": _supply_card,
        "choose": lambda _: _kinds_card(),
        "paste": lambda text: _paste_card(case, text),
    }
    return next((make(draft[name]) for name, make in steps.items() if name in draft), None)


def _home_card(case: Case) -> Card:
    piece = next_piece(case.profile)
    more = f"Next: {piece.name}. With it {piece.gives}. {opening(piece.how)}." if piece else ""
    return Card(
        id="workshop",
        kind="Workshop",
        title=f"Describe {case.profile.name}",
        entry=Entry(kind="text", field="home", hint="5V 4.75..5.25 · F1 fuse 8 A slow"),
        choices=(
            Choice(key="Alt+s", text="Add a supply", note="all of its blocks at once", draft={"choose": "supply"}),
            Choice(key="Alt+p", text="Let it prove itself", note="the model against the limits", draft={PROOF: "yes"}),
        ),
        runners=(
            Choice(key="Alt+m", text="The map", note="places on a picture", draft=start_of(case.profile)),
            Choice(key="Alt+g", text="Read a good board", note="practice from it", draft={GOOD: "yes"}),
            Choice(key="Alt+v", text="Another version of this board", draft={"variant": "yes"}),
            Choice(key="Alt+x", text="Export the tree as SPICE text", draft={"export": "spice"}),
            Choice(key="Alt+b", text="Save as a bundle", note="to give it to others", draft={"give": "yes"}),
        ),
        why_heading="As one says it",
        why=(
            "TP3 at J2.4 12 · TP4 6.3~ · ground hv at the large can",
            "F1 fuse 8 A slow · name … · maker … · year 1982",
            "Ctrl+V takes a table of points, a parts list (CSV) or a netlist. A click picks a block or point.",
            *((more,) if more else ()),
        ),
        can_skip=False,
    )  # fmt: skip


def _variant_card(case: Case) -> Card:
    return Card(
        id="workshop-variant",
        kind="Workshop",
        title="What do you call the other version?",
        entry=Entry(kind="text", field="variant", hint="its name and revision, as printed"),
        why_heading="What becomes of it",
        why=(
            f"All of {case.profile.name} is the same in it, now and later; only what lies elsewhere or "
            "is another value is said: A at J9, U1 5.1 V.",
        ),
        can_skip=False,
    )


def _kinds_card() -> Card:
    return Card(
        id="workshop-kinds",
        kind="Workshop",
        title="Add which supply?",
        choices=tuple(
            Choice(key=key, text=kind.title, note=kind.chain, draft={"supply": kind.id})
            for key, kind in zip(KEYS, KINDS, strict=True)
        ),
        can_skip=False,
    )


def _supply_card(name: str) -> Card:
    kind = kind_of(name)
    source = "Fed from a point, block or net that is there." if kind.needs_source else (
        "Its winding is guessed where it is not said; its parts get usual values."
    )  # fmt: skip
    return Card(
        id=f"workshop-supply:{name}",
        kind="Workshop",
        title=kind.title,
        entry=Entry(kind="text", field="supply", target=name, hint=kind.example),
        why_heading="It becomes",
        why=(
            f"{opening(kind.chain)}.",
            source,
            "A point that was read on this rail, and parts that were named for it, take their places.",
        ),
        can_skip=False,
    )


def _paste_card(case: Case, text: str) -> Card:
    found = read_paste(text, case.profile)
    bad = len(found.problems)
    take = Choice(
        key="Enter",
        text=f"Take {found.what}",
        note=f"{bad} left out" if bad else "",
        draft={"take": text},
    )
    return Card(
        id="workshop-paste",
        kind="Workshop",
        title=f"{found.what} in what was pasted",
        choices=(take,) if found.changes else (),
        why_heading="Not understood" if bad else "How it was read",
        why=found.problems[:8] or ("The rows on the left show what becomes of each.",),
        can_skip=False,
    )


def _block_card(case: Case, block: Block) -> Card:
    net = (block_outputs(block) or block_inputs(block))[0]
    example, values = example_of(block), values_of(block)
    return Card(
        id=f"workshop-block:{block.id}",
        kind="Block",
        title=f"{block.id}, {block_label(block)}",
        entry=Entry(kind="text", field="block", target=block.id, hint=example or "at …"),
        why_heading="As one says it",
        why=(
            *((f"Now {values}. Others: {example}",) if example else ()),
            "at … for its place · call … for its name · remove",
            "Behind it: J4.2 pin · F7 fuse 3 A slow · S2 switch · W3 wire · D4 diode",
            f"On {net}: C9 reservoir 100u 25V · LOGIC load 0.3 A · D9 indicator LED",
            f"A point on {net}: 5V 4.75..5.25",
            *rail_words(case, net),
        ),
        can_skip=False,
    )


def _point_card(case: Case, point: TestPoint) -> Card:
    unit = MODE_UNITS[point.mode]
    known = exact(point.nominal, unit) if point.nominal is not None else "no nominal yet"
    seen = f" from {boards_words(point)}" if point.boards_read else ""
    practice = f"practice {band_text(point.practice, unit)}{seen}" if point.practice else ""
    ground = case.profile.ground_of(point)
    return Card(
        id=f"workshop-point:{point.id}",
        kind="Point",
        title=f"{point.id}, {point.name}",
        expect=band_text(point.design, unit) if point.design else "",
        expect_notes=(
            " · ".join(filter(None, (known, drawing_words(point), practice, ohms_words(point)))),
        ),
        entry=Entry(kind="text", field="point", target=point.id, hint="4.75..5.25 · at J2.4"),
        why_heading="As one says it",
        why=(
            "4.75..5.25 for its limits · 5.05 for its nominal · practice 4.9..5.1 · cold 150, swapped 90 (Ω)",
            "at … · name … · alias VCC · printed SENSE · black … · on NET · AC · remove",
            f"Black on {ground.name or point.black}, {ground.place}.",
            *(rail_words(case, point.net) or ("It is not in the tree yet: on NET puts it there.",)),
        ),
        runners=(
            (Choice(key="Alt+c", text="Confirm what is assumed", draft={"confirm": point.id}),)
            if point.assumed
            else ()
        ),
        can_skip=False,
    )

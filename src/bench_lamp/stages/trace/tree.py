"""The power tree as a picture: what is proved live or dead, what is under suspicion, what reads what."""

from collections.abc import Mapping
from typing import Literal

from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.board import Block
from bench_lamp.board.blocks import (
    Converter,
    Indicator,
    Inlet,
    Load,
    Regulator,
    Transformer,
    block_inputs,
    block_outputs,
)
from bench_lamp.cards.leads import name_of, point_on, span
from bench_lamp.case.case import Case
from bench_lamp.case.fuses import label
from bench_lamp.case.hand import Hand
from bench_lamp.case.next_test import is_calling, lit_try
from bench_lamp.case.readings import part_facts, reading_text, steady
from bench_lamp.journal import Reading, fold
from bench_lamp.reason.values.insight import Moment
from bench_lamp.stages.trace.tree_layout import TreeLayout, lay_out

BlockState = Literal["live", "dead", "open", "out", "plain"]
#: Odds from which on a block is lit.
SUSPECT_ODDS = 0.02


class TreeBlock(Struct, frozen=True, kw_only=True):
    """One block in the picture."""

    id: str
    label: str
    state: BlockState
    #: Odds that it is the one; 0 when it is not under suspicion.
    odds: float
    is_load: bool


class NetLabel(Struct, frozen=True, kw_only=True):
    """What stands at a net: its reading with the verdict, else what it should read."""

    net: str
    #: Point's letter, where the net has one.
    name: str
    text: str
    #: Verdict; empty where nothing judges it, or where it is only expected.
    verdict: str
    is_read: bool
    #: Where the next test wants the lead.
    is_next: bool


class TreePicture(Struct, frozen=True, kw_only=True):
    """Everything that the tree shows."""

    layout: TreeLayout
    blocks: Mapping[str, TreeBlock]
    labels: Mapping[str, NetLabel]
    #: Block to keep in sight: where the next test wants the lead, else the first suspect.
    focus: str
    #: Net to whether it is proved live, proved dead, or neither.
    nets: Mapping[str, Literal["live", "dead", "plain"]]


def tree_picture(case: Case, hand: Hand, *, moment: Moment | None = None) -> TreePicture:
    """Return the picture as things stand; with a moment, with the odds of that moment."""
    layout = lay_out(case.profile)
    odds = _odds(case, moment)
    wanted = _wanted(case, hand) if moment is None else ""
    if moment is not None:
        case = _as_it_stood(case, moment)
    live, dead = _proved(case)
    known = {
        block.id: _block(case, block, odds.get(block.id, 0.0), live, dead)
        for block in (p.block for p in layout.places)
    }
    nets = {w.net for w in layout.wires}
    return TreePicture(
        layout=layout,
        blocks=known,
        focus=_focus(layout, wanted, known),
        labels={net: _label(case, net, wanted) for net in nets},
        nets={n: "live" if n in live else "dead" if n in dead else "plain" for n in nets},
    )


def _focus(layout: TreeLayout, wanted: str, known: Mapping[str, TreeBlock]) -> str:
    place = wanted if wanted in known else layout.labels.get(wanted, "")
    suspect = max(known.values(), key=lambda b: b.odds, default=None)
    return place or (suspect.id if suspect is not None and suspect.odds else "")


def _as_it_stood(case: Case, moment: Moment) -> Case:
    """Return the case with the job folded up to a moment, and no further."""
    first = next((m.event for m in case.moments if m.event), "")
    events = [logged.event for logged in case.state.tape]
    until = moment.event or first
    kept = [e for e in events if e.id <= until and (moment.event or e.id < first)]
    return replace(case, state=fold(case.profile, kept))


def _odds(case: Case, moment: Moment | None) -> Mapping[str, float]:
    if moment is not None:
        return moment.by_block
    return case.insight.by_block if case.insight else {}


def _proved(case: Case) -> tuple[frozenset[str], frozenset[str]]:
    """Return the nets that a good reading proves fed, and those that an absent one proves dead."""
    live: set[str] = set()
    dead: set[str] = set()
    for point in case.profile.test_points:
        found = steady(case, point, fresh=True)
        if found is not None and found.judgement.is_good:
            for block in case.tree.upstream(point.net):
                live.update(
                    (point.net,) if isinstance(block, Transformer) else block_outputs(block)
                )
        elif found is not None and found.judgement.verdict == "absent":
            dead |= case.tree.downstream_nets({point.net})
    for net in _nets_read(case):
        (live if _is_there(case, net) else dead).add(net)
    return frozenset(live), frozenset(dead - live)


def _nets_read(case: Case) -> list[str]:
    """Return the nets without a point of their own that were read live and whole."""
    return [r.net for r in _last_by_net(case).values()]


def _last_by_net(case: Case) -> dict[str, Reading]:
    return {
        r.net: r
        for r in case.state.readings
        if r.net and r.target == r.net and r.power == "live" and not r.is_stale and not r.is_cut
    }


def _is_there(case: Case, net: str) -> bool:
    reading = _last_by_net(case)[net]
    expected = case.insight.expected.get(net) if case.insight else None
    return abs(reading.value) > (0.5 * abs(expected[0]) if expected else 0.5)


def _block(
    case: Case, block: Block, odds: float, live: frozenset[str], dead: frozenset[str]
) -> TreeBlock:
    state: BlockState = "plain"
    outputs = block_outputs(block)
    if block.id in case.state.out or block.id.partition(".")[0] in case.state.out:
        state = "out"
    elif part_facts(case).get(block.id) == "open":
        state = "open"
    elif any(net in live for net in outputs or block_inputs(block)):
        state = "live"
    elif all(net in dead for net in outputs or block_inputs(block)):
        state = "dead"
    return TreeBlock(
        id=block.id,
        label=_short_label(case, block),
        state=state,
        odds=odds if odds >= SUSPECT_ODDS else 0.0,
        is_load=isinstance(block, Load | Indicator),
    )


def _short_label(case: Case, block: Block) -> str:
    words = {"dropper": "dropper", "transformer": "windings"}
    if isinstance(block, Inlet):
        return block.supply if block.is_dc else "inlet"
    if isinstance(block, Load):
        return f"{block.amps:g}\u202fA"
    if isinstance(block, Regulator):
        return label(case, block).replace(" regulator", " reg.")
    if isinstance(block, Converter):
        return f"to {block.volts:g}\u202fV"
    return words.get(block.kind) or label(case, block)


def _wanted(case: Case, hand: Hand) -> str:
    """Return the net, or the block, where the test under the lamp puts the red lead."""
    attempt = lit_try(case, hand)
    if attempt is None or (is_calling(case, hand) and hand.focus != attempt.test.name):
        return ""
    return attempt.test.target


def _label(case: Case, net: str, wanted: str) -> NetLabel:
    point = point_on(case, net)
    found = steady(case, point, fresh=True) if point else None
    name = point.id if point else ""
    if found is not None:
        return NetLabel(
            net=net,
            name=name,
            text=found.text,
            verdict=found.judgement.verdict,
            is_read=True,
            is_next=net == wanted,
        )
    reading = _last_by_net(case).get(net)
    if reading is not None:
        verdict = "within" if _is_there(case, net) else "absent"
        return NetLabel(
            net=net,
            name=name,
            text=reading_text(reading),
            verdict=verdict,
            is_read=True,
            is_next=net == wanted,
        )
    expected = case.insight.expected.get(net) if case.insight else None
    text = _middle(case, net, expected or (0.0, 0.0)) if expected or (point and point.volts) else ""
    return NetLabel(net=net, name=name, text=text, verdict="", is_read=False, is_next=net == wanted)


def _middle(case: Case, net: str, expected: tuple[float, float]) -> str:
    """Write what a net should read in one figure; the card has the range."""
    point = point_on(case, net)
    kind = "ac" if (point and point.mode == "ac V") or case.tree.is_ac(net) else "dc"
    value = point.volts if point and point.volts else 0.5 * (expected[0] + expected[1])
    return span(kind, value, value)


def block_facts(case: Case, block_id: str) -> tuple[str, ...]:
    """Say what is known of a block that is not among the suspects."""
    block = case.profile.block(block_id)
    if block is None:
        return ()
    lines = []
    if block.place:
        lines.append(block.place)
    proofs = [
        f"{p.id} {found.text}"
        for p in case.profile.test_points
        if (found := steady(case, p, fresh=True))
        and found.judgement.is_good
        and block in case.tree.upstream(p.net)
    ]
    if proofs and not isinstance(block, Transformer):
        lines.append(f"on the way to {', '.join(proofs)}, which is good")
    fact = part_facts(case).get(block_id)
    if fact:
        lines.append(fact)
    for net in block_outputs(block):
        expected = case.insight.expected.get(net) if case.insight else None
        if expected:
            words = span("ac" if case.tree.is_ac(net) else "dc", *expected)
            lines.append(f"{name_of(case, net).text} should read {words}")
    return tuple(lines)

"""The feed of each point in trouble, from the mains to its reading, as a picture."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from bench_lamp.board import Block, TestPoint
from bench_lamp.board.blocks import Transformer, block_label
from bench_lamp.plan.judged import part_facts, steady
from bench_lamp.plan.situation import Situation
from bench_lamp.plan.trace import lit_suspect, suspects
from bench_lamp.reason import PartFact, Suggestion

BlockState = Literal["good", "suspect", "open", "unknown"]


@dataclass(frozen=True, slots=True, kw_only=True)
class ChainBlock:
    """One block on the way from the mains to a point in trouble."""

    id: str
    label: str
    state: BlockState
    is_next: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Chain:
    """The feed of one point in trouble."""

    point: str
    name: str
    text: str
    verdict: str
    blocks: tuple[ChainBlock, ...]


def chains(situation: Situation) -> tuple[Chain, ...]:
    """Return one chain for each point that a suggestion came from."""
    found = {s.part: s for s in suspects(situation)}
    lit = lit_suspect(situation)
    facts = part_facts(situation)
    alive = _alive(situation)
    result = []
    for name in dict.fromkeys(s.point for s in found.values()):
        point = situation.profile.point(name)
        if point is not None:
            upstream = situation.tree.upstream(point.net)
            proved = max((i for i, b in enumerate(upstream) if b.id in alive), default=-1)
            fed = alive | {b.id for b in upstream[:proved]}
            blocks = tuple(
                ChainBlock(
                    id=block.id,
                    label=block_label(block),
                    state=_state(block, found, facts, fed),
                    is_next=lit is not None and lit.part == block.id,
                )
                for block in upstream
            )
            result.append(_chain(situation, point, blocks))
    return tuple(result)


def _chain(situation: Situation, point: TestPoint, blocks: tuple[ChainBlock, ...]) -> Chain:
    reading = steady(situation, point, fresh=True)
    return Chain(
        point=point.id,
        name=point.name,
        text=reading.text if reading else "—",
        verdict=reading.judgement.verdict if reading else "",
        blocks=blocks,
    )


def _alive(situation: Situation) -> frozenset[str]:
    """Return the blocks that some good point needs; a transformer only speaks for a winding."""
    good = [
        point
        for point in situation.profile.test_points
        if (reading := steady(situation, point, fresh=True)) and reading.judgement.is_good
    ]
    chain = [b for p in good for b in situation.tree.upstream(p.net)]
    return frozenset(b.id for b in chain if not isinstance(b, Transformer))


def _state(
    block: Block,
    found: Mapping[str, Suggestion],
    facts: Mapping[str, PartFact],
    alive: frozenset[str],
) -> BlockState:
    if facts.get(block.id) == "open":
        return "open"
    if block.id in found:
        return "suspect"
    return "good" if block.id in alive or facts.get(block.id) else "unknown"

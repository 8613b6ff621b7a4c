"""Which test Trace draws in place of the tree: the one that accuses the suspect picked, or the first."""

from bench_lamp.board.self_tests import SelfTestKind
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.logic_facts import logic_graph
from bench_lamp.case.looking_back import moment_at
from bench_lamp.case.selftest_list import Item, item_of, selftest_items


def accusing_test(case: Case, hand: Hand) -> Item | None:
    """Return the test that speaks against the suspect picked, or the first; None for the tree."""
    part = _suspect(case, hand)
    return (_accusing(case, part) or _own_lane(case, hand, part)) if part else None


def _suspect(case: Case, hand: Hand) -> str:
    """Return the part of the logic that is picked, or suspected first; empty for none."""
    insight, focus = case.insight, hand.focus
    if insight is None or moment_at(case, hand) is not None:
        return ""
    picked = next((s for s in insight.suspects if focus in {s.key, s.block}), None)
    if picked is None and case.profile.block(focus) is not None:
        return ""
    suspect = picked or next(iter(insight.suspects), None)
    if suspect is None or case.profile.block(suspect.block) is not None:
        return ""
    return suspect.block


def _accusing(case: Case, part: str) -> Item | None:
    """Return the test with something bad on a line that the part touches, lanes first."""
    graph = logic_graph(case)
    lines = graph.touches.get(part, frozenset())
    shown = {image.part for image in case.profile.images}
    found = [
        item
        for item in selftest_items(case)
        if item.bad
        and (
            lines & set(graph.units.get(item.id, ()))
            or (item.kind is SelfTestKind.IMAGES and part in shown)
        )
    ]
    found.sort(key=lambda item: item.kind is not SelfTestKind.LANE)
    return next(iter(found), None)


def _own_lane(case: Case, hand: Hand, part: str) -> Item | None:
    """Return a lane of the part that was picked, although nothing was read on it yet."""
    chip = case.profile.chip(part)
    if chip is None or hand.focus not in {part, f"{part}: logic"}:
        return None
    found = [x for x in case.profile.lanes if set(x.lines) & set(chip.lines)]
    found.sort(key=lambda lane: -len(set(lane.lines) & set(chip.lines)))
    return item_of(case, found[0].test_id) if found else None

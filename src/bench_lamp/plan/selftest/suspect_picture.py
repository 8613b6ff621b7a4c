"""What Trace draws in place of the tree: the test that accuses the suspect picked, or the first one."""

from dataclasses import replace

from bench_lamp.board.logic_graph import LogicGraph
from bench_lamp.plan.selftest.items import Item, item_of, items
from bench_lamp.plan.selftest.picture_kinds import LanePicture, Picture
from bench_lamp.plan.selftest.pictures import picture
from bench_lamp.plan.situation import Situation, remembered


def picture_of_suspect(situation: Situation) -> Picture | None:
    """Return the picture of what speaks against a suspect of the logic; None for the tree."""
    part = _suspect(situation)
    item = _accusing(situation, part) or _own_lane(situation, part) if part else None
    if item is None:
        return None
    drawn = picture(situation, item)
    # The list of suspects stands below: no need to say twice who can do this.
    return replace(drawn, covers=()) if isinstance(drawn, LanePicture) else drawn


def _suspect(situation: Situation) -> str:
    """Return the part of the logic that is picked, or suspected first; empty for none."""
    insight, focus = situation.insight, situation.focus
    if insight is None or situation.replay is not None:
        return ""
    picked = next((s for s in insight.suspects if focus in {s.key, s.block}), None)
    if picked is None and situation.profile.block(focus) is not None:
        return ""
    suspect = picked or next(iter(insight.suspects), None)
    if suspect is None or situation.profile.block(suspect.block) is not None:
        return ""
    return suspect.block


def _accusing(situation: Situation, part: str) -> Item | None:
    """Return the test with something bad on a line that the part touches, lanes first."""
    graph = _graph(situation)
    lines = graph.touches.get(part, frozenset())
    shown = {image.part for image in situation.profile.images}
    found = [
        item
        for item in items(situation)
        if item.bad
        and (lines & set(graph.units.get(item.id, ())) or (item.kind == "images" and part in shown))
    ]
    found.sort(key=lambda item: item.kind != "lane")
    return next(iter(found), None)


def _own_lane(situation: Situation, part: str) -> Item | None:
    """Return a lane of the part that was picked, although nothing was read on it yet."""
    chip = situation.profile.chip(part)
    if chip is None or situation.focus not in {part, f"{part}: logic"}:
        return None
    found = [x for x in situation.profile.lanes if set(x.lines) & set(chip.lines)]
    found.sort(key=lambda lane: -len(set(lane.lines) & set(chip.lines)))
    return item_of(situation, f"lane:{found[0].id}") if found else None


@remembered
def _graph(situation: Situation) -> LogicGraph:
    return LogicGraph.of(situation.profile)

"""The lane that Trace draws in place of the tree: that of the suspect picked, or of the first one."""

from dataclasses import replace

from bench_lamp.board.chips import Lane
from bench_lamp.plan.selftest.items import item_of
from bench_lamp.plan.selftest.picture_kinds import LanePicture, Picture
from bench_lamp.plan.selftest.pictures import picture
from bench_lamp.plan.selftest.standing import lane_bits
from bench_lamp.plan.situation import Situation


def lane_of_suspect(situation: Situation) -> Picture | None:
    """Return the picture of the lane that a suspect of the logic sits on; None for the tree."""
    insight = situation.insight
    if insight is None or situation.replay is not None:
        return None
    picked = next((s for s in insight.suspects if situation.focus in {s.key, s.block}), None)
    if picked is None and situation.focus and situation.profile.block(situation.focus) is not None:
        return None
    suspect = picked or next(iter(insight.suspects), None)
    chip = situation.profile.chip(suspect.block) if suspect else None
    if chip is None or situation.profile.block(chip.id) is not None:
        return None
    found = _lanes(situation, frozenset(chip.lines))
    item = item_of(situation, f"lane:{found[0].id}") if found else None
    drawn = picture(situation, item) if item else None
    # The list of suspects stands below: no need to say twice who can do this.
    return replace(drawn, covers=()) if isinstance(drawn, LanePicture) else None


def _lanes(situation: Situation, lines: frozenset[str]) -> list[Lane]:
    """Return the lanes on some lines, those with bad bits first, then the ones with most in common."""
    found = [x for x in situation.profile.lanes if lines & set(x.lines)]
    return sorted(
        found,
        key=lambda lane: (
            -sum(b.is_bad for b in lane_bits(situation, lane.id)),
            -len(lines & set(lane.lines)),
        ),
    )

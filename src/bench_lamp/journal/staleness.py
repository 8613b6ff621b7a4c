"""What a change to a part makes old: the readings of what it feeds, or hangs on."""

from bench_lamp.board import FeedTree, Profile
from bench_lamp.board.blocks import (
    Contact,
    Diode,
    Dropper,
    Indicator,
    Pin,
    Regulator,
    block_inputs,
    block_outputs,
)

#: What can be read by itself while the board is live.
_READ = Contact | Diode | Dropper | Regulator | Indicator


def targets_below(profile: Profile | None, part: str) -> tuple[str, ...]:
    """Return the points, nets and parts whose readings a change to a part makes old.

    The empty name stands for all of them: a change that nobody can place.
    """
    if profile is None or not profile.power:
        return ("",)
    nets = FeedTree.of(profile).nets_changed_by(part) or _supply_of(profile, part)
    points = (p.id for p in profile.test_points if p.net in nets)
    # What was read with both leads on a part, or of what shows that a net is alive.
    blocks = (
        b.id
        for b in profile.power
        if isinstance(b, _READ) and nets.intersection((*block_inputs(b), *block_outputs(b)))
    )
    is_known = bool(nets) or part in profile.part_ids()
    return (part, *points, *nets, *blocks) if is_known else ("",)


def _supply_of(profile: Profile, part: str) -> frozenset[str]:
    """Return the nets that a part outside the tree hangs on: a chip's supply; none for others.

    What a self-test showed of it is old after any repair, whatever it hangs on.
    """
    chip = profile.chip(part)
    if chip is None or not chip.supply:
        return frozenset()
    chain = FeedTree.of(profile).upstream(chip.supply)
    before = {block_inputs(b)[0] for b in chain[-1:] if isinstance(b, Pin)}
    return frozenset({chip.supply} | before)

"""Which parts are chips, by what the profile says of them and never by their names."""

from bench_lamp.board.chips import PACKAGES
from bench_lamp.case.case import Case


def may_be_chip(case: Case, part: str) -> bool:
    """Whether a part is a chip in a package of many pins, which is cut out or desoldered.

    A part that the profile does not name may be one.
    """
    from bench_lamp.case.logic_facts import logic_graph

    chip = logic_graph(case).chips.get(part)
    if chip is not None:
        return chip.family in PACKAGES
    if any(c.id == part for c in case.profile.pin_maps):
        return True
    return part not in case.profile.part_ids() and case.profile.block(part) is None

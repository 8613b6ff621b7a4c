"""Which parts are chips: by the profile, else by the letters that stand before their number."""

import re

from bench_lamp.board.chips import PACKAGES
from bench_lamp.case.case import Case

#: Reference letters of integrated circuits: U (IEEE 315), and IC as many boards print it.
_BY_LETTERS = re.compile(r"(?:U|IC)[A-Z]?\d+[A-Z]?", re.IGNORECASE)


def is_chip(case: Case, part: str) -> bool:
    """Whether a part is a chip in a package of many pins, which is cut out or desoldered.

    A part that the profile does not name is judged by its letters.
    """
    from bench_lamp.case.logic_facts import logic_graph

    chip = logic_graph(case).chips.get(part)
    if chip is not None:
        return chip.family in PACKAGES
    if any(c.id == part for c in case.profile.pin_maps):
        return True
    return part not in case.profile.part_ids() and bool(_BY_LETTERS.fullmatch(part))

"""The moment of the reasoning that is looked back at."""

from typing import TYPE_CHECKING

from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand

if TYPE_CHECKING:
    from bench_lamp.reason.values.insight import Moment


def moment_at(case: Case, hand: Hand) -> "Moment | None":
    """Return the moment that is looked back at; None for now.

    A moment that is gone, with a reading that was struck meanwhile, is now too.
    """
    at = hand.replay
    return case.moments[at] if at is not None and at < len(case.moments) else None

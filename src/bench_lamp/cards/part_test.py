"""What a test of a part is in the journal: mostly evidence, once a repair."""

from bench_lamp.journal.events import ActionDone
from bench_lamp.journal.logic_events import PartTried


def part_test_event(
    part: str, how: str, result: str, *, source: str = ""
) -> PartTried | ActionDone:
    """Return what is logged of a test of a part.

    A plug that was re-seated and cured the symptom is mended; all else put back is as it was.
    """
    if (how, result) == ("reseated", "gone"):
        return ActionDone(action="reseated", target=part)
    return PartTried(part=part, how=how, result=result, source=source)  # type: ignore[arg-type]
